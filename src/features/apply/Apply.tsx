"use client";

import dynamic from "next/dynamic";
import { useMemo, useState } from "react";
import type { ApplySettings } from "@/core/season/schema";
import { isLiquid } from "@/core/fluids/fluid";
import type { Asked } from "@/core/season/scenario";
import { formatNumber } from "@/core/quantity/format";
import type { SeasonAnswer, SeasonJob } from "@/core/season/job";
import type { Season } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import { Choice } from "@/ui/Choice";
import { Fetching } from "@/ui/Fetching";
import { ASKED_WORDS, seasonProblemWords } from "@/words/apply";
import { percent } from "@/words/sources";
import { CandidatesForm } from "./CandidatesForm";
import { MoneyPart, moneySentence, pricedAll } from "./MoneyPart";
import { ControlForm } from "./ControlForm";
import { ModesForm, PipesForm, RowsForm } from "./PlantForm";
import { SeasonPart } from "./SeasonPart";
import { StoreForm } from "./StoreForm";
import { UseForm } from "./UseForm";
import type { useSeason } from "./useSeason";
import { useKept } from "./useKept";
import { useWorked } from "./useWorked";
import { WeatherForm } from "./WeatherForm";
import { NotKept } from "@/ui/NotKept";
import { saidOf } from "@/ui/said";
import { Button } from "@/ui/Button";

/** What is fetched with the tab that shows it; the tab is chosen at once. */
const loading = () => (
  <p className="side" role="status">
    Fetching …
  </p>
);
const ControlPart = dynamic(() => import("./ControlPart").then((m) => m.ControlPart), { loading });
const MirrorPart = dynamic(() => import("./mirror/MirrorPart").then((m) => m.MirrorPart), { loading });
const SizingPart = dynamic(() => import("./SizingPart").then((m) => m.SizingPart), { loading });

const TABS = [
  ["season", "Season"],
  ["mirror", "Mirror"],
  ["control", "Controls"],
  ["sizing", "Sizing"],
  ["money", "Money"],
] as const;
type Tab = (typeof TABS)[number][0];

/** What the winner is worth where it will work: through the year, in money, with which mirror, store and control. */
export function Apply({ apply }: { apply: ApplyView }) {
  return (
    <Fetching>
      <Worked apply={apply} />
    </Fetching>
  );
}

function Worked({ apply }: { apply: ApplyView }) {
  const { settings, change, busy, error } = useKept(apply.experimentId, apply.settings);
  const [tab, setTab] = useState<Tab>("season");
  const [key, setKey] = useState<string | null>(null);
  const { asked, job, ready, result, answer, season, hours, asCame } = useWorked(apply, settings);
  const shown = answer?.seasons.find((s) => s.candidate.key === key) ?? answer?.seasons[0] ?? null;
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-4 xl:grid-cols-[minmax(0,1fr)_340px]">
      <section className="min-w-0 xl:col-span-2">
        <h1 className="sentence">
          {shown ? <SeasonSentence {...{ shown, settings, apply }} /> : <Waiting {...{ asked, job, apply }} />}
        </h1>
        {shown && answer && <Paid {...{ apply, settings, answer, shown }} />}
        <NotKept error={error} busy={busy} />
        <Running season={season} shown={asCame} />
        {hours.error && (
          <p className="font-semibold text-doubt">
            {saidOf(hours.error, "The hours of the weather file did not come. Reload the page.")}
          </p>
        )}
        {result && !result.ok && ready && (
          <ul role="alert" className="font-semibold text-danger">
            {result.problems.map((p) => (
              <li key={seasonProblemWords(p)}>{seasonProblemWords(p)}</li>
            ))}
          </ul>
        )}
      </section>
      <div className="grid min-w-0 grid-cols-1 content-start gap-4">
        <Choice label="Show" value={tab} options={TABS} onChange={setTab} />
        {tab === "season" && answer && shown && (
          <SeasonPart
            {...{ answer, shown, settings }}
            zone={apply.site.zone}
            latitude={apply.site.latitude}
            onShow={setKey}
          />
        )}
        {tab === "season" && !answer && <Empty />}
        {tab === "mirror" && <MirrorPart view={apply} {...{ settings, change }} hours={hours.data ?? null} />}
        {tab === "control" && (
          <ControlPart
            {...{ settings, shown, change }}
            plant={(shown && answer?.plants[shown.candidate.key]) ?? null}
          />
        )}
        {tab === "sizing" && <SizingPart view={apply} {...{ job, shown, answer }} />}
        {tab === "money" && <MoneyPart view={apply} {...{ settings, answer, change }} />}
      </div>
      <Plant {...{ apply, settings, change }} />
    </div>
  );
}

/** Everything that is said of the use and the plant. */
function Plant({
  apply,
  settings,
  change,
}: {
  apply: ApplyView;
  settings: ApplySettings;
  change: (part: Partial<ApplySettings>) => void;
}) {
  return (
    <aside aria-label="The use and the plant" className="grid min-w-0 grid-cols-1 content-start gap-4">
      <UseForm use={settings.use} onChange={(use) => change({ use })} />
      <RowsForm rows={settings.rows} bench={apply.bench} onChange={(rows) => change({ rows })} />
      <ControlForm
        control={settings.control}
        drawn={apply.candidates[0]?.design.thermostat ?? null}
        secondStage={settings.secondStage}
        onChange={(control) => change({ control })}
        onStage={(secondStage) => change({ secondStage })}
      />
      <PipesForm
        pipes={settings.pipes}
        exchanger={settings.exchanger}
        air={!isLiquid(apply.fluid)}
        onChange={(pipes) => change({ pipes })}
        onExchanger={(exchanger) => change({ exchanger })}
      />
      <StoreForm use={settings.use} store={settings.store} onChange={(store) => change({ store })} />
      <ModesForm modes={settings.modes} onChange={(modes) => change({ modes })} />
      <CandidatesForm {...{ apply, settings, change }} />
      <WeatherForm {...{ apply, settings, change }} />
    </aside>
  );
}

export function SeasonSentence({
  shown,
  settings,
  apply,
}: {
  shown: Season;
  settings: ApplySettings;
  apply: ApplyView;
}) {
  const boxes = settings.rows.reduce((n, r) => n + r.inSeries * r.sideBySide, 0);
  const spread = shown.usefulSd > 0 ? ` ± ${formatNumber(1.96 * shown.usefulSd, 0)}` : "";
  const brought = shown.months.reduce((s, m) => s + m.useful + m.stored + m.surplus + m.vented, 0);
  const wasted = brought > 0 ? (shown.vented + shown.surplus) / brought : 0;
  return (
    <>
      At {apply.site.name} {boxes === 1 ? "one box" : `${boxes} boxes`} ({shown.candidate.name}) give
      {boxes === 1 ? "s" : ""} {formatNumber(shown.useful, 0)}
      {spread} kWh of useful heat a year{spread && " (95 %, efficiency curve only; weather not included)"},{" "}
      {percent(shown.share)} of the need
      {wasted > 0.02 ? `; ${percent(wasted)} of what they bring finds no use` : ""}.
    </>
  );
}

function Paid({
  apply,
  settings,
  answer,
  shown,
}: {
  apply: ApplyView;
  settings: ApplySettings;
  answer: SeasonAnswer;
  shown: Season;
}) {
  const priced = useMemo(() => pricedAll(apply, settings, answer), [apply, settings, answer]);
  const own = priced.find((p) => p.season === shown);
  return own && settings.money ? <p className="mt-1 text-ink-2">{moneySentence(own, settings.money)}</p> : null;
}

function Waiting({ asked, job, apply }: { asked: readonly Asked[]; job: SeasonJob; apply: ApplyView }) {
  if (apply.candidates.length === 0) return <>Nothing to put to work yet: draw a variant in Build, or import a log.</>;
  if (asked.length) return <>Say {list(asked.map((a) => ASKED_WORDS[a]))}, and the year is worked out.</>;
  if (job.candidates.length === 0)
    return <>No variant has a curve or a drawing to go by. Draw one in Build, or type a curve in.</>;
  return <>Working out the year …</>;
}

const list = (parts: readonly string[]) =>
  parts.length < 2 ? parts.join("") : `${parts.slice(0, -1).join("; ")}; and ${parts.at(-1)}`;

/** @param shown the year stands already, as it came with the page: nobody waits for it */
function Running({ season, shown }: { season: ReturnType<typeof useSeason>; shown: boolean }) {
  if (season.failed)
    return (
      <p role="alert" className="font-semibold text-danger">
        {season.failed}
      </p>
    );
  if (season.stopped)
    return (
      <p className="mt-1">
        Stopped. <Button onClick={season.again}>Work it out again</Button>
      </p>
    );
  if (season.progress === null || shown) return null;
  return (
    <p className="mt-1 flex items-center gap-2" role="status">
      <progress max={1} value={season.progress} aria-label="Working out the year" />
      <span className="side">{Math.round(season.progress * 100)} %</span>
      <Button className="min-h-[28px]" onClick={season.stop}>
        Stop
      </Button>
    </p>
  );
}

const Empty = () => (
  <p className="side">
    Here stand the months of heat, day by day how it ran, and what a tree, a mirror or a store changes. Say at the right
    what the heat is for.
  </p>
);
