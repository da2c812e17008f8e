"use client";

import { withView } from "@/features/experiment/withView";
import Link from "next/link";
import { useState, type Dispatch, type SetStateAction } from "react";
import { chooseRules } from "@/features/experiment/actions";
import { ByMethods } from "@/features/experiment/ByMethods";
import { CurveChart } from "@/features/experiment/CurveChart";
import type { PredictedCurve } from "@/services/variant/variants";
import type { ExperimentView, PointView, RunView } from "@/services/page/views";
import { Choice } from "@/ui/Choice";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { doubtWords } from "@/words/doubts";
import { failureWords, LIMIT_WORDS, UNIT_WORDS } from "@/words/judge";
import { useAct } from "@/ui/useAct";
import { FlowSteps } from "./FlowSteps";
import { Cleaning } from "./Cleaning";
import { Daily } from "./Daily";
import { Looser } from "./Looser";
import { RuleEditor } from "./RuleEditor";
import { Readings } from "./Readings";
import { Residuals } from "./Residuals";
import { Traces } from "./Traces";
import { WindowTable } from "./WindowTable";
import type { CurveView } from "@/services/page/curveView";
import type { ExperimentHead } from "@/core/experiment/types";

/** The log with its windows and cleaning, the points and the fit. */
export function Read({ view, predicted }: { view: ExperimentView; predicted: readonly PredictedCurve[] }) {
  const { runs, head, points, curves, failures } = view;
  const [runId, setRunId] = useState(runs[0]?.id ?? 0);
  const { busy, act } = useAct();
  const { system } = usePreferences();
  const run = runs.find((r) => r.id === runId) ?? runs[0];
  if (!run)
    return (
      <p className="sentence">
        Nothing to read yet.{" "}
        <Link className="btn btn-main" href={`/import?experiment=${head.id}`}>
          Import a run
        </Link>
      </p>
    );
  const allByHand = runs.every((r) => r.byHand);
  const windows = runs.reduce((s, r) => s + r.windows.length, 0);
  const days = new Set(points.map((p) => p.day)).size;
  const refusals = Object.entries(
    runs.reduce<Record<string, number>>((sum, r) => {
      for (const [k, n] of Object.entries(r.refusals)) sum[k] = (sum[k] ?? 0) + n;
      return sum;
    }, {}),
  ).sort((a, b) => b[1] - a[1]);
  const rules = (name: "standard" | "backyard") => act(() => chooseRules(head.id, name));
  return (
    <div className="grid grid-cols-1 gap-x-6 gap-y-4 xl:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)]">
      <section className="xl:col-span-2">
        <Sentence {...{ windows, view, days, points, curves }} />
        {refusals.length > 0 && (
          <p className="mt-1 text-ink-2">
            Sunny minutes not used, first reason:{" "}
            {refusals.slice(0, 4).map(([k, n], i) => (
              <span key={k}>
                {i ? ", " : ""}
                {LIMIT_WORDS[k as keyof typeof LIMIT_WORDS]} {n} min
              </span>
            ))}
            .
          </p>
        )}
        {refusals.length > 0 && <Looser key={JSON.stringify(head.settings.rules)} view={view} />}
        <Missing view={view} />
        {view.doubts
          .filter((d) => d.kind === "aboveOpticalLimit" || d.kind === "negativeFlow" || d.kind === "impossible")
          .map((d) => {
            const words = doubtWords(d, { zone: head.site.zone, system });
            return (
              <p key={words.title} className="mt-1 font-semibold text-doubt">
                {words.title}. <span className="font-normal">{words.detail}</span> {words.remedy}
              </p>
            );
          })}
        {(points.length > 0 || !view.tested ? failures : []).map((f) => (
          <p key={f.lane} className="mt-1 font-semibold text-doubt">
            {failureWords(f)}
          </p>
        ))}
      </section>
      <section className="min-w-0">
        <Chosen {...{ run, runs, setRunId, allByHand, head, rules, view, busy }} />
        {run.byHand ? <Readings view={view} run={run} /> : <Traces key={run.id} view={view} run={run} />}
      </section>
      <section className="min-w-0">
        {curves.length > 0 && <CurveChart view={view} height={300} predicted={predicted} />}
        {curves.length > 0 && (
          <>
            <Curves curves={curves} />
            <Residuals view={view} />
            <p className="side">
              χ² near 1: scatter is noise alone; well above: wind, haze or drift move the points too. The band counts
              it. Plate without flow: each curve at 1,000{"\u2009"}W/m² and 30{"\u2009"}°C outside, far beyond its
              points.
            </p>
          </>
        )}
        <FlowSteps view={view} />
        <Cleaning view={view} />
      </section>
      <Daily view={view} />
      {!allByHand && (
        <div className="min-w-0 xl:col-span-2">
          <ByMethods view={view} />
        </div>
      )}
      <WindowTable view={view} run={run} />
    </div>
  );
}

function Chosen({
  run,
  runs,
  setRunId,
  allByHand,
  head,
  rules,
  view,
  busy,
}: {
  run: RunView;
  runs: RunView[];
  setRunId: Dispatch<SetStateAction<number>>;
  allByHand: boolean;
  head: ExperimentHead;
  rules: (name: "standard" | "backyard") => void;
  view: ExperimentView;
  busy: boolean;
}) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-6 gap-y-1">
      <Choice
        label="Run"
        value={String(run.id)}
        options={runs.map((r) => [String(r.id), `${r.number}`] as const)}
        onChange={(v) => setRunId(Number(v))}
      />
      {!allByHand && (
        <>
          <Choice
            label="Rules"
            value={head.settings.rules.name}
            options={[
              ["standard", "standard"],
              ["backyard", "backyard"],
            ]}
            onChange={rules}
          />
          <RuleEditor view={view} />
        </>
      )}
      <span role="status" className="side">
        {busy ? "reading anew …" : ""}
      </span>
    </div>
  );
}

function Sentence({
  windows,
  view,
  days,
  points,
  curves,
}: {
  windows: number;
  view: ExperimentView;
  days: number;
  points: PointView[];
  curves: CurveView[];
}) {
  return (
    <h1 className="sentence">
      {windows === 0 ? (
        <NoWindow view={view} />
      ) : (
        <>
          {windows} steady windows on {days} day{days === 1 ? "" : "s"} give {points.length} points
          {curves.length ? (
            <>
              :{" "}
              {curves.map((c, i) => (
                <span key={c.lane}>
                  {i ? ", " : ""}
                  {c.lane} <Figure figure={c.eta0} opens={{ figure: "coefficient", lane: c.lane, name: "eta0" }} />
                </span>
              ))}{" "}
              at zero loss
            </>
          ) : (
            ""
          )}
        </>
      )}
      .
    </h1>
  );
}

/** Without a steady window lanes may still be compared, by their heat in shared hours. */
function NoWindow({ view: { tested, readings } }: { view: ExperimentView }) {
  if (!tested && readings.length > 0)
    return <>{readings.length} readings by hand: three rounds of every lane compare them</>;
  if (!tested) return <span className="text-doubt">No steady window found</span>;
  const [one, many] = UNIT_WORDS[tested.unit];
  return (
    <>
      {tested.spans} shared {tested.spans === 1 ? one : many} on {tested.days} day{tested.days === 1 ? "" : "s"} compare
      the lanes by their heat
    </>
  );
}

/** What runs lack: a lane's end or flow is a fault; without sun or outside air there is heat all the same. */
function Missing({ view: { runs, tested } }: { view: ExperimentView }) {
  const shared = runs.flatMap((r) => r.missing.filter((m) => !m.lane).map((m) => ({ run: r.number, what: m.what })));
  const own = runs.flatMap((r) => r.missing.filter((m) => m.lane).map((m) => ({ run: r.number, ...m })));
  const words = (what: string) => (what === "ambient" ? "outside temperature" : what);
  const kinds = [...new Set(shared.map((m) => words(m.what)))];
  const inRuns = [...new Set(shared.map((m) => m.run))];
  return (
    <>
      {kinds.length > 0 && (
        <p className={tested ? "mt-1 text-ink-2" : "mt-1 font-semibold text-doubt"}>
          Run {inRuns.join(", ")} {inRuns.length > 1 ? "have" : "has"} no {kinds.join(" and no ")}
          {tested ? ": heat is compared; efficiency and curves are not known." : ": map a column to it when importing."}
        </p>
      )}
      {own.map((m) => (
        <p key={`${m.run}${m.lane}${m.what}`} className="mt-1 font-semibold text-doubt">
          Run {m.run} has no {m.what} for {m.lane}: map a column to it when importing.
        </p>
      ))}
    </>
  );
}

const CURVE_COLUMNS: TableColumn<ExperimentView["curves"][number]>[] = [
  {
    id: "lane",
    title: "lane",
    rowHeader: true,
    value: (c) => c.lane,
    cell: (c) => <LaneMark lane={c.lane} size={12} />,
  },
  ...(["eta0", "a1"] as const).map((name): TableColumn<ExperimentView["curves"][number]> => ({
    id: name,
    title: name === "eta0" ? "η0" : "a1",
    number: true,
    value: (c) => c[name].si,
    cell: (c) => <Figure figure={c[name]} opens={{ figure: "coefficient", lane: c.lane, name }} />,
  })),
  {
    id: "stagnation",
    title: "plate without flow",
    number: true,
    value: (c) => c.stagnation?.si ?? null,
    cell: (c) =>
      c.stagnation ? (
        <Figure figure={c.stagnation} opens={{ figure: "coefficient", lane: c.lane, name: "stagnation" }} />
      ) : (
        "–"
      ),
  },
  {
    id: "windows",
    title: "windows",
    number: true,
    value: (c) => c.points,
    cell: (c) => (
      <>
        {c.points}
        <span className="side"> / {c.days} d</span>
      </>
    ),
  },
  {
    id: "scatter",
    title: "scatter",
    number: true,
    value: (c) => c.residualSd,
    cell: (c) => (
      <>
        {(c.residualSd * 100).toFixed(1)}
        <span className="text-ink-2">{"\u2009"}%</span>
      </>
    ),
  },
  {
    id: "chi",
    title: "χ²",
    number: true,
    value: (c) => c.reducedChiSquare,
    cell: (c) => c.reducedChiSquare.toFixed(1),
  },
];

/** The fitted coefficients, lane by lane. */
const Curves = ({ curves }: { curves: ExperimentView["curves"] }) => (
  <div className="mt-2">
    <DataTable label="Fitted curves" file="curves" columns={CURVE_COLUMNS} rows={curves} />
  </div>
);

/** The same from the page's packed data. */
export const ReadStep = withView(Read);
