import { statedReading, type LaneSetup, type ProbeSetup } from "../../core/analysis/setup";
import type { Analysis } from "../analysis/analyse";
import { resultsOf } from "./results";

/** An instrument as the answer took it: what it is called, what it is for, how good it is taken to be. */
export interface InstrumentRow {
  runs: string;
  lane: string | null;
  what: "inlet" | "outlet" | "flow" | "sun" | "outside";
  label: string;
  limit: { si: number; quantity: "temperatureDifference" | "fraction" };
  how: "calibrated" | "stated" | "assumed" | "modelled";
}

export interface ReportView {
  fingerprint: string;
  instruments: InstrumentRow[];
  /** Means over all windows, or over all hours where there are none; null where not measured. */
  conditions: {
    spans: number;
    days: number;
    irradianceWm2: number | null;
    ambientC: number | null;
    inletC: number;
    windMs: number | null;
  };
  curves: { lane: string; names: string[]; covariance: number[][] }[];
}

const mean = (values: readonly number[]): number | null => {
  const known = values.filter((v) => Number.isFinite(v));
  return known.length ? known.reduce((a, b) => a + b, 0) / known.length : null;
};

/** What a report says beyond the pages: instruments, conditions, covariances, and the fingerprint of the results. */
export function reportView(analysis: Analysis): ReportView {
  const { reduction } = analysis;
  const { points } = reduction;
  const spans = points.length ? points : reduction.heat.hours;
  const results = resultsOf(analysis);
  return {
    fingerprint: results.fingerprint,
    instruments: instrumentsOf(analysis),
    conditions: {
      spans: new Set(spans.map((p) => `${p.run}/${p.window}`)).size,
      days: new Set(spans.map((p) => p.day)).size,
      irradianceWm2: mean(points.map((p) => p.irradiance.value)),
      ambientC: mean(points.map((p) => p.ambient.value)),
      inletC: mean(spans.map((p) => p.inlet.value)) ?? NaN,
      windMs: mean(points.map((p) => p.wind)),
    },
    curves: (results.curves as { lane: string; covarianceOf: string[]; covariance: number[][] }[]).map((c) => ({
      lane: c.lane,
      names: c.covarianceOf,
      covariance: c.covariance,
    })),
  };
}

/** Rows alike in all runs stand once. */
function instrumentsOf({ reduction }: Analysis): InstrumentRow[] {
  const rows = new Map<string, InstrumentRow & { in: string[] }>();
  for (const { run, arrangements } of reduction.runs)
    for (const { setup } of arrangements) {
      const assumed = setup.assumed ?? [];
      const put = (row: Omit<InstrumentRow, "runs">) => {
        const key = JSON.stringify(row);
        const known = rows.get(key);
        if (!known) rows.set(key, { ...row, runs: "", in: [run] });
        else if (!known.in.includes(run)) known.in.push(run);
      };
      const { sunSensor } = setup;
      put({
        lane: null,
        what: "sun",
        label: sunSensor.key,
        limit: { si: sunSensor.limitShare, quantity: "fraction" },
        how: sunSensor.mounting === "modelled" ? "modelled" : known(assumed.includes("sunSensor")),
      });
      put({ lane: null, what: "outside", ...probe(setup.ambientProbe, assumed.includes("outside")) });
      for (const lane of setup.lanes) {
        put({ lane: lane.lane, what: "inlet", ...probe(lane.inletProbe, assumed.includes("probes")) });
        put({ lane: lane.lane, what: "outlet", ...probe(lane.outletProbe, assumed.includes("probes")) });
        put({ lane: lane.lane, what: "flow", ...meter(lane, assumed.includes("flowMeter")) });
      }
    }
  return [...rows.values()]
    .map(({ in: runs, ...row }) => ({ ...row, runs: runs.join(", ") }))
    .sort((a, b) => (a.lane ?? "").localeCompare(b.lane ?? ""));
}

const known = (assumed: boolean) => (assumed ? "assumed" : "stated");

function probe(p: ProbeSetup, assumed: boolean): Pick<InstrumentRow, "label" | "limit" | "how"> {
  const how = p.calibration ? "calibrated" : known(assumed);
  return { label: p.key, limit: { si: p.limitK, quantity: "temperatureDifference" }, how };
}

function meter({ flow }: LaneSetup, assumed: boolean): Pick<InstrumentRow, "label" | "limit" | "how"> {
  const how = assumed || statedReading(flow) !== null ? "assumed" : "stated";
  return { label: flow.meter.key, limit: { si: flow.meter.limitShare, quantity: "fraction" }, how };
}
