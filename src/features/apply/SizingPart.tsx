"use client";

import { useMemo, useState } from "react";
import type { Trace } from "@/core/season/account";
import type { SeasonAnswer, SeasonJob } from "@/core/season/job";
import { jobKey } from "@/core/season/jobKey";
import { thumbChecks, thumbError, type SeasonStudy, type Varied } from "@/core/season/study";
import { boxesOf } from "@/core/season/scenario";
import { usualSpecificHeat } from "@/core/judge/flowWay";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { QuantityField } from "@/ui/QuantityField";
import { percent } from "@/words/sources";
import { useWorkerAnswer } from "@/ui/useWorkerAnswer";
import { seasonWorker } from "@/workers/season";
import { Ducts } from "./Ducts";
import { DESKS, RESTS } from "./useSeason";
import { Wide } from "./Wide";
import { computationFailed } from "@/words/failure";
import { Head } from "@/ui/Head";

const VARIED_WORDS: Record<Varied, string> = {
  area: "area of the boxes",
  eta0: "zero-loss efficiency",
  losses: "loss of the boxes",
  flow: "flow",
  store: "size of the store",
  roomLoss: "loss of the room",
  setPoint: "temperature kept",
  pipe: "loss of ducts or hoses",
  light: "sunshine",
};

const RULE_WORDS = {
  flowPerArea: "flow for a square metre of box",
  floorServed: "floor that a square metre of box serves",
  wattsPerFlow: "fan’s watts for a cubic metre a second",
  noonTimesHours: "heat of a year: noon power × hours of sun",
  furnace: "furnace by its floor: 60 to 100 W/m²",
} as const;

interface SizedBy {
  view: ApplyView;
  job: SeasonJob;
  shown: Season;
  /** The shown year's hours. */
  trace: Trace;
  answer: SeasonAnswer;
}

/** How large: solved from the year itself, with the usual rules and their error beside it. */
export function SizingPart({
  view,
  job,
  shown,
  answer,
}: {
  view: ApplyView;
  job: SeasonJob;
  shown: Season | null;
  answer: SeasonAnswer | null;
}) {
  const [wanted, setWanted] = useState(0.3);
  const [riseK, setRise] = useState(20);
  const { last, busy, failed } = useSizes(answer && shown ? job : null, wanted);
  // Another question's sizes are no answer to this one.
  const study = busy || failed ? null : (last?.value ?? null);
  if (!shown || !answer) return <p>Say what the heat is for first: sizes are solved from the year.</p>;
  const { trace } = shown.year;
  if (!trace) return <p role="status">The hours of the year are being worked out …</p>;
  const plant = answer.plants[shown.candidate.key];
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      <div className="flex flex-wrap items-end gap-4">
        <QuantityField
          label="Wanted share of the need"
          quantity="fraction"
          si={wanted}
          min={0.01}
          max={0.99}
          onChange={setWanted}
        />
        <QuantityField
          label="Rise in the strongest hour"
          quantity="temperatureDifference"
          si={riseK}
          min={1}
          max={100}
          onChange={setRise}
        />
      </div>
      {study && <Solved {...{ study, wanted, job }} />}
      {failed && <p role="alert">{failed}</p>}
      {!study && !failed && <p role="status">Solving for the wanted share …</p>}
      {study && <Curves study={study} />}
      {study && <Sensitivity study={study} />}
      <Flow {...{ job, shown, trace, riseK }} />
      {plant && <Ducts {...{ view, job, shown, plant }} />}
      <Rules {...{ view, job, shown, trace, answer }} />
    </div>
  );
}

const useSizes = (job: SeasonJob | null, wanted: number) =>
  useWorkerAnswer<SeasonJob, SeasonStudy | null>({
    desk: DESKS.study,
    asked: job,
    key: JSON.stringify([job && jobKey(job), wanted]),
    answer: (asked) => seasonWorker("study").study(asked, wanted),
    failure: computationFailed("The sizes"),
    restMs: RESTS,
  });

function Solved({ study, wanted, job }: { study: SeasonStudy; wanted: number; job: SeasonJob }) {
  const { system } = usePreferences();
  const area = (v: number) => quantityText(v, "area", { system, figures: 3 });
  const each = job.candidates[0].areaM2;
  return (
    <p className="sentence" data-testid="solved">
      {study.areaM2 === null
        ? `No area of ${study.name} up to sixteen times what there is gives ${percent(wanted)} of the need. ${area(study.bestArea.areaM2)} give most: ${percent(study.bestArea.share)}.`
        : `${area(study.areaM2)} of ${study.name}, ${formatNumber(study.areaM2 / each, 1)} boxes, give ${percent(wanted)} of the need; now ${percent(study.share)}.`}
      {study.byStore.length > 0 &&
        study.storeTimes === null &&
        study.bestStore &&
        ` No size of the store alone does; ${formatNumber(study.bestStore.times, 2)} times as large gives most: ${percent(study.bestStore.share)}.`}
      {study.byStore.length > 0 &&
        study.storeTimes !== null &&
        ` With the boxes as they are, a store ${formatNumber(study.storeTimes, 2)} times as large would do.`}
    </p>
  );
}

function Curves({ study }: { study: SeasonStudy }) {
  const spec = useMemo((): ChartSpec => {
    const rows = study.byArea;
    return {
      title: "Share of the need by area",
      summary: rows.map((r) => `${formatNumber(r.areaM2, 1)} m²: ${percent(r.share)}`).join("; "),
      x: { title: "area of boxes, m²", min: 0 },
      y: { title: "share of the need, %", min: 0 },
      series: [
        {
          label: study.name,
          color: "--action",
          kind: "line",
          points: rows.map((r) => ({ x: r.areaM2, y: 100 * r.share })),
        },
      ],
      table: {
        columns: ["area, m²", "useful, kWh", "share, %"],
        rows: rows.map((r) => [Number(r.areaM2.toFixed(2)), Math.round(r.useful), Number((100 * r.share).toFixed(1))]),
      },
    };
  }, [study]);
  const store = study.byStore;
  return (
    <>
      <Chart spec={spec} height={190} legend={false} />
      {store.length > 0 && (
        <p className="text-[13.5px]">
          Store, times what it is:{" "}
          {store.map((s) => (
            <span key={s.size} className="mr-4 inline-block">
              × {s.size}: <b className="font-[650]">{percent(s.share)}</b>, {formatNumber(s.useful, 0)} kWh
            </span>
          ))}
        </p>
      )}
    </>
  );
}

/** What a fifth less or more of each thing does to the useful heat: bars about what it is. */
function Sensitivity({ study }: { study: SeasonStudy }) {
  const most = Math.max(
    1,
    ...study.sensitivity.flatMap((s) => [Math.abs(s.low - study.useful), Math.abs(s.high - study.useful)]),
  );
  const x = (v: number) => 50 + (48 * (v - study.useful)) / most;
  return (
    <section aria-labelledby="sensitivity">
      <Head id="sensitivity" title="What matters most" side="useful heat with a fifth less and a fifth more of each" />
      <Wide label="Each thing and its heat">
        <table className="grid-table text-[13.5px]">
          <tbody>
            {study.sensitivity.map((s) => (
              <tr key={s.what}>
                <th scope="row" className="w-[190px]">
                  {VARIED_WORDS[s.what]}
                </th>
                <td>
                  <svg viewBox="0 0 100 8" className="block h-3 w-full" preserveAspectRatio="none" aria-hidden="true">
                    <rect
                      x={Math.min(x(s.low), 50)}
                      width={Math.abs(x(s.low) - 50)}
                      y="0.5"
                      height="3.2"
                      fill="var(--doubt-line)"
                    />
                    <rect
                      x={Math.min(x(s.high), 50)}
                      width={Math.abs(x(s.high) - 50)}
                      y="4.2"
                      height="3.2"
                      fill="var(--action)"
                    />
                    <line x1="50" x2="50" y1="0" y2="8" stroke="var(--ink)" strokeWidth="0.4" />
                  </svg>
                </td>
                <td className="num w-[110px]">
                  {signed(s.low - study.useful)} / {signed(s.high - study.useful)} kWh
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

const signed = (v: number) => `${v >= 0 ? "+" : "−"}${formatNumber(Math.abs(v), 0)}`;

/** Flow that keeps the strongest hour's rise, beside the flow the curve is for. */
function Flow({ job, shown, trace, riseK }: Pick<SizedBy, "job" | "shown" | "trace"> & { riseK: number }) {
  const { system } = usePreferences();
  const cp = usualSpecificHeat(job.fluid, 25);
  const strongest = trace.collected.reduce((a, b) => Math.max(a, b), 0) / boxesOf(job.settings);
  const flow = (kgS: number) => quantityText(kgS, "massFlow", { system, figures: 2 });
  return (
    <p className="text-[13.5px]">
      The strongest hour brings {formatNumber(strongest, 0)} W a box: a rise of {formatNumber(riseK, 0)} K asks for{" "}
      <b className="font-[650]">{flow(strongest / (cp * riseK))}</b>; the curve is for{" "}
      {flow(shown.candidate.flowWK / cp)}. Less flow is hotter and gives less heat.
    </p>
  );
}

type Check = ReturnType<typeof thumbChecks>[number];

/** A rule's figure as people say it; flow in both unit systems. Rules take air as at the sea's level, 1.2 kg/m³. */
function ruleText(rule: Check["rule"], v: number, air: boolean, system: "metric" | "us"): string {
  switch (rule) {
    case "flowPerArea": {
      const other = air
        ? `${formatNumber((v / 1.2) * 2118.88 * 0.092903, 1)} cfm/ft²`
        : `${formatNumber(v * 60, 1)} L/min·m²`;
      return `${quantityText(v, "massFlowPerArea", { system, figures: 2 })}, ${other}`;
    }
    case "floorServed":
      return `${formatNumber(v, 1)} m²`;
    case "wattsPerFlow":
      return `${formatNumber(v, 0)} W`;
    case "noonTimesHours":
      return `${formatNumber(v, 0)} kWh`;
    case "furnace":
      return `${formatNumber(v / 1000, 1)} kW`;
  }
}

function checksOf({ view, job, shown, trace, answer }: SizedBy): Check[] {
  const plant = answer.plants[shown.candidate.key];
  const { use } = job.settings;
  const room = use?.kind === "room" ? use : null;
  const { collected, running } = trace;
  return thumbChecks({
    candidate: shown.candidate,
    boxes: boxesOf(job.settings),
    watts: plant?.powerW ?? 0,
    massFlow: plant?.path.massFlow ?? 0,
    fluid: view.fluid,
    cp: usualSpecificHeat(job.fluid, 25),
    useful: shown.useful,
    noonW: collected.reduce((a, b) => Math.max(a, b), 0),
    sunHours: running.reduce((n, r) => n + (r > 0 ? 1 : 0), 0),
    floorM2: room?.floorM2 ?? null,
    peakNeedW: room ? room.lossWK * (room.setC - answer.weather.lowestC) : null,
  });
}

function Rules(sized: SizedBy) {
  const { system } = usePreferences();
  const air = sized.view.fluid.kind === "air";
  const says = ({ rule, thumb: [low, high] }: Check) =>
    low === high
      ? ruleText(rule, low, air, system)
      : `${ruleText(rule, low, air, system)} to ${ruleText(rule, high, air, system)}`;
  const off = (k: Check) => {
    const error = thumbError(k);
    return error === 0 ? "within" : `${error > 0 ? "+" : "−"}${percent(Math.abs(error))}`;
  };
  return (
    <section aria-labelledby="rules">
      <Head id="rules" title="Rules of thumb" side="what people say, beside what the model says" />
      <Wide label="Rules and model">
        <table className="grid-table text-[13.5px]">
          <thead>
            <tr>
              <th scope="col">rule</th>
              {["says", "here", "off by"].map((title) => (
                <th key={title} scope="col" className="num">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {checksOf(sized).map((k) => (
              <tr key={k.rule}>
                <th scope="row">{RULE_WORDS[k.rule]}</th>
                <td className="num">{says(k)}</td>
                <td className="num">{ruleText(k.rule, k.model, air, system)}</td>
                <td className="num">{off(k)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}
