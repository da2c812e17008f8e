import type { Knex } from "knex";
import type { RunEvent } from "../../core/experiment/schema/event";
import { pipeLength } from "../../core/collector/design";
import { METHOD_NAMES, methodOf, type MethodName } from "../../core/method/list";
import type { FindingName, FinderInput, Gap } from "../../core/method/find/finding";
import { methodSpans } from "../../core/method/find/span";
import { coverageFactor } from "../../core/uncertainty/coverage";
import { effectiveDof, standardUncertainty, subtract, exact, type Uncertain } from "../../core/uncertainty/uncertain";
import { findEvents } from "../../data/run/events";
import { withoutEachDay, type WithoutDay } from "../../core/judge/withoutDay";
import { analyse, judgedBy, verdictKey, type Analysis } from "../analysis/analyse";
import { fingerprint } from "../analysis/fingerprint";
import { jsonBytes } from "../analysis/memo";
import { store } from "../analysis/store";
import { figure, type FigureView } from "./figureView";

export interface FindingView {
  name: FindingName;
  lane: string;
  other: string | null;
  figure: FigureView;
  days: number;
  hours: number;
  event: { kind: string; atMs: number; times: number } | null;
}

/** One figure by two schools: from steady windows, and from all daylight. */
export interface BothSchools {
  name: "eta0" | "a1" | "heatAtPoint" | "difference";
  lane: string;
  other: string | null;
  steady: FigureView | null;
  dynamic: FigureView | null;
  /** They differ by more than both ± together allow. */
  apart: boolean;
  /** One has a curvature and the other none: their slopes are not the same thing. */
  bend: boolean;
}

/** The answer with one day left out. */
export type WithoutDayView = Omit<WithoutDay, "difference"> & { difference: FigureView | null };

export interface MethodsView {
  withoutDays: WithoutDayView[];
  methods: { name: MethodName; findings: FindingView[]; gaps: Gap[] }[];
  schools: BothSchools[];
}

/** What every method finds in the same readings; null when there is no such experiment. */
export async function methodsView(knex: Knex, experimentId: number): Promise<MethodsView | null> {
  const analysis = await analyse(knex, experimentId);
  if (!analysis) return null;
  const { experiment } = analysis;
  const events = await findEvents(
    knex,
    experiment.runs.map((r) => r.id),
  );
  return store.get(
    fingerprint(["methods", experimentId, verdictKey(experiment, events)]),
    () => viewOf(analysis, events),
    jsonBytes,
  );
}

async function viewOf(analysis: Analysis, events: ReadonlyMap<number, readonly RunEvent[]>): Promise<MethodsView> {
  const { experiment } = analysis;
  const spans = analysis.reduction.runs.flatMap((reduced) => {
    const run = experiment.runs.find((r) => String(r.number) === reduced.run);
    const assembled = run && analysis.assembled.get(run.id);
    return assembled ? methodSpans({ arrangements: reduced.arrangements, assembled }, events.get(run.id) ?? []) : [];
  });
  const input: FinderInput = {
    spans,
    lanes: experiment.lanes.map((l) => ({
      lane: l.letter,
      variant: l.variant,
      tank: experiment.settings.tanks[l.letter] ?? statedTank(spans, l.letter),
      pipeM: pipeLength(l.design),
      drawn: analysis.expected.get(l.letter) ?? null,
    })),
    basis: experiment.settings.basis,
    operatingPoint: experiment.settings.operatingPoint,
    stationShare: experiment.settings.stationShare,
  };
  const { reduction, judgement, expected } = analysis;
  const withoutDays = withoutEachDay(reduction, judgedBy(experiment, { expected, marked: events }), judgement).map(
    (w): WithoutDayView => ({ ...w, difference: w.difference && figure(w.difference, "heatFlux") }),
  );
  return { ...(await found(analysis, input)), withoutDays };
}

/** The water an import stated of the tank a lane's heat is counted by. */
function statedTank(spans: FinderInput["spans"], letter: string) {
  const flow = spans.flatMap((s) => s.setup.lanes).find((l) => l.lane === letter)?.flow;
  return flow?.kind === "tank" ? { massKg: flow.massKg, limitShare: flow.meter.limitShare } : null;
}

async function found(analysis: Analysis, input: FinderInput): Promise<Omit<MethodsView, "withoutDays">> {
  const methods: MethodsView["methods"] = [];
  let schools: BothSchools[] = [];
  for (const name of METHOD_NAMES) {
    const finders = await Promise.all(methodOf(name).finders.map((fetch) => fetch()));
    if (finders.length === 0) continue;
    const all = finders.map((find) => find(input));
    const findings = all.flatMap((f) => f.findings);
    if (methodOf(name).besideCurve) schools = bothSchools(analysis, findings);
    methods.push({
      name,
      findings: findings.map((f) => ({
        ...f,
        other: f.other ?? null,
        event: f.event ?? null,
        figure: figure(f.figure, f.quantity),
      })),
      gaps: all.flatMap((f) => f.gaps),
    });
  }
  return { methods, schools };
}

const NAMES = ["eta0", "a1", "heatAtPoint", "difference"] as const;

function bothSchools(
  { reduction, judgement }: Analysis,
  dynamic: readonly {
    name: FindingName;
    lane: string;
    other?: string;
    figure: Uncertain;
    quantity: FigureView["quantity"];
  }[],
): BothSchools[] {
  const point = judgement.way === "point" ? judgement : judgement.point;
  const steadyOf = (name: (typeof NAMES)[number], lane: string, other: string | undefined): Uncertain | null => {
    if (name === "eta0" || name === "a1") return reduction.curves.get(lane)?.[name] ?? null;
    if (name === "heatAtPoint") return point?.ranking.find((r) => r.lane === lane)?.heat ?? null;
    const pair = point?.pairs.find((p) => [p.a, p.b].includes(lane) && [p.a, p.b].includes(other!));
    if (!pair) return null;
    return pair.a === lane ? pair.difference : subtract(exact(0), pair.difference);
  };
  return NAMES.flatMap((name) =>
    dynamic
      .filter((f) => f.name === name)
      .map((f): BothSchools => {
        const steady = steadyOf(name, f.lane, f.other);
        const gap = steady && subtract(steady, f.figure);
        const bent = dynamic.some((d) => d.name === "a2" && d.lane === f.lane);
        const bend = name === "a1" && bent !== Boolean(reduction.curves.get(f.lane)?.a2);
        return {
          name,
          lane: f.lane,
          other: f.other ?? null,
          steady: steady && figure(steady, f.quantity),
          dynamic: figure(f.figure, f.quantity),
          bend,
          apart:
            gap !== null && !bend && Math.abs(gap.value) > coverageFactor(effectiveDof(gap)) * standardUncertainty(gap),
        };
      }),
  );
}
