"use client";

import Link from "next/link";
import { Pause, Play, Square } from "lucide-react";
import type { ExperimentHead } from "@/core/experiment/types";
import type { LaneLive, LiveView } from "@/services/live/view";
import type { FigureRef } from "@/services/page/views";
import { Badge } from "@/ui/Badge";
import { FigureText, type FigureData } from "@/ui/FigureText";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { Figure as OpeningFigure } from "@/ui/Working";
import { CHANNEL_WORDS } from "@/words/channels";
import { countdown, heldBackWords, liveSentence } from "@/words/live";
import { timeOfDay, weekdayOf } from "@/words/times";
import { Alarms, AlarmTools } from "./Alarms";
import { endRun, followThePlan, pauseRun, reopenRun, resumeRun } from "./actions";
import { Events } from "./Events";
import { LaneTrace } from "./LaneTrace";
import { SoFarPanel } from "./SoFarPanel";
import { SteadyRuler } from "./SteadyRuler";
import { benchNow, useLive, type Live } from "@/features/experiment/useLive";
import { Button } from "@/ui/Button";

const FULL = "As many watch live benches as this Bravel serves at once; it asks again by itself";
const NOTHING_YET: Partial<Record<Live["link"], string>> = { lost: "No link to Bravel.", full: `${FULL}.` };
const OUT_OF_DATE: Partial<Record<Live["link"], string>> = { away: "Bravel does not reach its database", full: FULL };

/** What happens at the bench now: lanes side by side, what is shared on the yellow line, what is wrong, and what can be marked. */
export function LiveBench({ head }: { head: ExperimentHead }) {
  const { view, link, heardAt } = useLive(head.id);
  const { zone } = head.site;
  if (!view) return <p className="side py-3">{NOTHING_YET[link] ?? "Looking at the bench …"}</p>;
  const { known, doubt } = liveSentence(view.state, view.number, view.lanes);
  return (
    <section aria-label="Live bench">
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <h1 className="sentence min-w-0 flex-1 max-sm:basis-full">
          {known} {doubt && <span className="text-doubt">{doubt}</span>}
        </h1>
        <Controls view={view} />
      </div>
      <div className="flex flex-wrap items-center gap-x-6">
        <LinkState link={link} heardAt={heardAt} view={view} zone={zone} />
        <ByPlan view={view} zone={zone} />
        <AlarmTools view={view} zone={zone} />
      </div>
      <Alarms view={view} zone={zone} />
      <SharedLine view={view} />
      <div className="grid gap-x-8 xl:grid-cols-[1fr_260px]">
        <div className="min-w-0">
          <LaneColumns head={head} view={view} />
          <LaneRows head={head} view={view} />
          <Events head={head} view={view} />
        </div>
        <SoFarPanel view={view} zone={zone} />
      </div>
    </section>
  );
}

function Controls({ view }: { view: LiveView }) {
  const { busy, act, undoable } = useAct();
  const at = () => benchNow(view);
  const run = [view.experimentId, view.runId] as const;
  if (view.state === "ended" && view.takenBy)
    return (
      <p className="text-[13.5px]">
        Ended: its logger now feeds{" "}
        <Link className="text-action underline" href={`/experiments/${view.takenBy.experimentId}/run`}>
          run {view.takenBy.number} of {view.takenBy.experiment}
        </Link>
        .
      </p>
    );
  if (view.state === "ended")
    return (
      <Button disabled={busy} onClick={() => act(() => reopenRun(...run))}>
        <Play size={14} aria-hidden /> Open run {view.number} again
      </Button>
    );
  return (
    <div className="flex flex-wrap gap-2">
      {view.state === "paused" ? (
        <Button kind="main" disabled={busy} onClick={() => act(() => resumeRun(...run, at()))}>
          <Play size={14} aria-hidden /> Go on
        </Button>
      ) : (
        <Button disabled={busy} onClick={() => act(() => pauseRun(...run, at()))}>
          <Pause size={14} aria-hidden /> Pause
        </Button>
      )}
      <Button
        disabled={busy}
        onClick={() =>
          undoable(
            () => endRun(...run, at()),
            () => reopenRun(...run),
            `Run ${view.number} has ended. Its device’s readings are still kept.`,
          )
        }
      >
        <Square size={14} aria-hidden /> End run {view.number}
      </Button>
    </div>
  );
}

/** Who begins and ends the run: a person, or the plan's hours. */
function ByPlan({ view, zone }: { view: LiveView; zone: string }) {
  const { busy, act } = useAct();
  const { plan } = view;
  if (!plan || view.state === "ended") return null;
  return (
    <label className="flex min-h-[26px] items-center gap-1.5 text-[13.5px]">
      <input
        type="checkbox"
        checked={plan.followed}
        disabled={busy}
        onChange={(e) => act(() => followThePlan(view.experimentId, view.runId, e.target.checked, benchNow(view)))}
      />
      Begin and end by the plan{" "}
      <span className="side">
        {plan.next
          ? `${weekdayOf(plan.next.fromMs, zone)}, ${timeOfDay(plan.next.fromMs, zone)} to ${timeOfDay(plan.next.toMs, zone)}`
          : "its hours are over"}
      </span>
    </label>
  );
}

function LinkState({ link, heardAt, view, zone }: Live & { view: LiveView; zone: string }) {
  const newest = view.newestMs === null ? "nothing yet" : timeOfDay(view.newestMs, zone);
  return (
    <p className="side" role="status">
      {link === "open" ? (
        <>
          since {timeOfDay(view.startedAt, zone)}, newest reading {newest}
          {view.simulated && "; simulated bench, on its own clock"}
        </>
      ) : (
        <b className="font-semibold text-doubt">
          {OUT_OF_DATE[link] ?? "No link to Bravel"}: what you see is from {new Date(heardAt).toLocaleTimeString()}.
          What you mark is kept and sent later.
        </b>
      )}
    </p>
  );
}

/** Sun, outside air, wind: one line for all lanes. */
function SharedLine({ view }: { view: LiveView }) {
  const { shared } = view;
  const entries: [string, FigureData | null][] = [
    [CHANNEL_WORDS.irradiance, shared.irradiance],
    [CHANNEL_WORDS.ambient, shared.ambient],
    [CHANNEL_WORDS.wind, shared.wind],
    [CHANNEL_WORDS.humidity, shared.humidity],
    [CHANNEL_WORDS.pressure, shared.pressure],
  ];
  return (
    <div className="mt-3">
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {entries.map(
          ([name, figure]) =>
            figure && (
              <div key={name} className="flex items-baseline gap-1.5">
                <dt className="text-[13px] font-semibold first-letter:uppercase">{name}</dt>
                <dd>
                  <FigureText figure={figure} />
                </dd>
              </div>
            ),
        )}
        {!shared.irradiance && <p className="side">no sun sensor in this run</p>}
      </dl>
      <div className="mt-1 h-1.5 border-y-[1.5px] border-ink bg-sun" aria-hidden="true" />
    </div>
  );
}

const laneOf = (head: ExperimentHead, letter: string) => head.lanes.find((l) => l.letter === letter);

type LiveFigure = Extract<FigureRef, { figure: "live" }>["name"];
/** Name, figure, size, and the working it opens. */
const ROWS: readonly [string, (l: LaneLive) => FigureData | null, string, LiveFigure?][] = [
  ["Out", (l) => l.outlet, "text-[17px]"],
  ["In", (l) => l.inlet, ""],
  ["Rise", (l) => l.rise, "text-[17px]", "rise"],
  ["Heat", (l) => l.heat, "text-[17px]", "heat"],
  ["Efficiency", (l) => l.efficiency, "text-[17px]", "efficiency"],
  ["Flow per gross area", (l) => l.flow, "", "massFlow"],
];
const liveRef = (lane: string, name: LiveFigure | undefined): FigureRef | undefined =>
  name && { figure: "live", lane, name };

/** At the desk lanes stand side by side as on the bench. */
function LaneColumns({ head, view }: { head: ExperimentHead; view: LiveView }) {
  const columns = { gridTemplateColumns: `110px repeat(${view.lanes.length}, minmax(0, 1fr))` };
  return (
    <div className="mt-2 hidden sm:block" data-testid="lanes-desk">
      <div className="grid gap-x-4" style={columns}>
        <span className="self-end pb-1 text-[12.5px] text-ink-2">
          In and out, °C
          <br />
          last 30 min
        </span>
        {view.lanes.map((l) => (
          <LaneHead key={l.letter} lane={l} own={laneOf(head, l.letter)} trace={view.trace} />
        ))}
      </div>
      <LaneTable view={view} />
    </div>
  );
}

function LaneHead({
  lane,
  own,
  trace,
}: {
  lane: LaneLive;
  own: ExperimentHead["lanes"][number] | undefined;
  trace: LiveView["trace"];
}) {
  return (
    <div className="min-w-0">
      <p className="flex flex-wrap items-center gap-2">
        <LaneMark lane={lane.letter} size={16} />
        {own && <Badge design={own.design} lane={lane.letter} scale={0.75} />}
        <span className="truncate text-[13px] font-semibold">{own?.variant}</span>
        <span className="side">place {lane.station || "?"}</span>
      </p>
      {trace && <LaneTrace trace={trace} letter={lane.letter} />}
      {lane.hotterYetLess && (
        <p className="text-[13px] font-semibold text-doubt">hotter than {lane.hotterYetLess}, yet less heat</p>
      )}
    </div>
  );
}

function LaneTable({ view }: { view: LiveView }) {
  return (
    <table className="mt-1 w-full table-fixed border-collapse" aria-label="Lanes now">
      <colgroup>
        <col style={{ width: 110 }} />
      </colgroup>
      <thead className="sr-only">
        <tr>
          <th scope="col">figure</th>
          {view.lanes.map((l) => (
            <th key={l.letter} scope="col">
              {l.letter}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {ROWS.map(([name, of, size, opens]) => (
          <tr key={name} className="border-t border-hair">
            <th scope="row" className="py-1 text-left text-[13px] font-semibold">
              {name}
            </th>
            {view.lanes.map((l) => (
              <td key={l.letter} className={`py-1 pl-2 ${size}`}>
                <Figure figure={of(l)} opens={liveRef(l.letter, opens)} />
              </td>
            ))}
          </tr>
        ))}
        <tr className="border-t border-b-[1.5px] border-hair border-b-ink">
          <th scope="row" className="py-1 text-left align-top text-[13px] font-semibold">
            Steady
            <br />
            <span className="side font-normal">{wanted(view)}</span>
          </th>
          {view.lanes.map((l) => (
            <td key={l.letter} className="py-1 pl-2 align-top">
              <SteadyRuler steady={l.steady} lane={l.letter} />
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

const Figure = ({ figure, opens }: { figure: FigureData | null; opens: FigureRef | undefined }) =>
  figure ? <OpeningFigure figure={figure} opens={opens} /> : <span className="side">not known</span>;

function wanted(view: LiveView): string {
  const needed = view.lanes.find((l) => l.steady)?.steady?.neededMs;
  return needed ? `${Math.round(needed / 60_000)} min wanted` : "";
}

/** How far the steadiest lane is: the countdown of the next window. */
function longestSteady(view: LiveView): string {
  const steady = view.lanes.flatMap((l) => l.steady ?? []);
  if (!steady.length) return "";
  const best = steady.reduce((a, b) => (b.forMs > a.forMs ? b : a));
  return best.heldBack ? `${countdown(best.neededMs - best.forMs)} left` : "steady now";
}

/** On the phone one lane is one row: read at the top, press below. */
function LaneRows({ head, view }: { head: ExperimentHead; view: LiveView }) {
  const { system } = usePreferences();
  return (
    <table className="mt-2 w-full border-collapse sm:hidden" aria-label="Lanes now" data-testid="lanes-phone">
      <thead>
        <tr className="border-b border-rule text-right text-[13px] text-ink-2">
          <th scope="col" className="text-left font-normal">
            {longestSteady(view)}
          </th>
          <th scope="col" className="font-normal">
            Rise
          </th>
          <th scope="col" className="font-normal">
            Heat
          </th>
          <th scope="col" className="font-normal">
            Efficiency
          </th>
        </tr>
      </thead>
      <tbody>
        {view.lanes.map((l) => (
          <PhoneRow key={l.letter} lane={l} design={laneOf(head, l.letter)?.design}>
            {l.steady?.heldBack && l.steady.forMs === 0 && (
              <p className="text-[13.5px] font-semibold text-doubt">
                Not steady: {heldBackWords(l.steady.heldBack, system)}
              </p>
            )}
            {l.hotterYetLess && (
              <p className="text-[13.5px] font-semibold text-doubt">Hotter than {l.hotterYetLess}, yet less heat</p>
            )}
          </PhoneRow>
        ))}
      </tbody>
    </table>
  );
}

function PhoneRow({
  lane,
  design,
  children,
}: {
  lane: LaneLive;
  design: ExperimentHead["lanes"][number]["design"] | undefined;
  children: React.ReactNode;
}) {
  const share = lane.steady ? Math.min(1, lane.steady.forMs / lane.steady.neededMs) : 0;
  return (
    <>
      <tr className="h-[46px] text-right">
        <th scope="row" className="text-left">
          <span className="flex items-center gap-2 text-[17px]">
            <LaneMark lane={lane.letter} size={16} />
            {design && <Badge design={design} lane={lane.letter} scale={0.8} />}
          </span>
        </th>
        {(["rise", "heat", "efficiency"] as const).map((name) => (
          <td key={name} className="pl-2 leading-tight">
            {lane[name] ? (
              <StackedFigure figure={lane[name]} opens={liveRef(lane.letter, name)} />
            ) : (
              <span className="side">–</span>
            )}
          </td>
        ))}
      </tr>
      <tr className="border-b border-hair">
        <td colSpan={4} className="pb-1">
          <div className="h-1.5 bg-well" aria-hidden="true">
            <div className="h-full bg-ink" style={{ width: `${100 * share}%` }} />
          </div>
          {children}
        </td>
      </tr>
    </>
  );
}

/** Value above, ± and unit below: readable at arm's length. */
function StackedFigure({ figure, opens }: { figure: FigureData; opens: FigureRef | undefined }) {
  return (
    <span className="[&_b]:block [&_b]:text-[21px] [&_b]:leading-none [&_span]:text-[13px]">
      <OpeningFigure figure={figure} opens={opens} />
    </span>
  );
}
