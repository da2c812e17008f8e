import { claimOf, groupBy, spanScatter } from "../analysis/scatter";
import { atPoint, type CompareInput } from "../judge/laneHeat";
import { fitErrorLeft, scaleKind } from "../judge/pairs";
import { subtract } from "../uncertainty/uncertain";
import { type SourceKind } from "../uncertainty/source";
import { PLACE_GROUPS, type PlaceGroup, type Precision } from "./precision";

const GROUP: Partial<Record<SourceKind, PlaceGroup>> = {
  probe: "probe",
  drift: "probe",
  speedMeter: "meter",
  volumeMeter: "meter",
  massMeter: "meter",
  profile: "profile",
  ductArea: "profile",
  station: "station",
};
const SCATTER: ReadonlySet<SourceKind> = new Set([
  "probeNoise",
  "speedNoise",
  "sunNoise",
  "otherNoise",
  "dayScatter",
  "weather",
]);

/**
 * What past windows say about a difference of two lanes: systematic parts from the budgets of single windows (before any swap
 * cancels them), scatter from the windows themselves, days apart where they differ. null with fewer than three shared windows.
 */
export function pastPrecision(input: CompareInput, a: string, b: string, repeatability: number): Precision | null {
  const { heats, slopes } = atPoint(input);
  const windowOf = (p: { run: string; window: number }) => `${p.run}/${p.window}`;
  const others = new Map((heats.get(b) ?? []).map((h) => [windowOf(h.point), h]));
  const shared = (heats.get(a) ?? []).flatMap((h) => {
    const other = others.get(windowOf(h.point));
    return other ? [{ a: h, b: other }] : [];
  });
  const keys = shared.map((s) => `${s.a.point.station}-${s.b.point.station}`);
  const arrangements = groupBy(keys);
  if (shared.length < 3 || shared.length <= arrangements.size) return null;
  const left = fitErrorLeft(
    shared.map((s) => s.a.heat),
    shared.map((s) => s.b.heat),
    keys,
  );
  const differences = shared.map((s) => scaleKind(subtract(s.a.heat, s.b.heat), "curveFit", left));
  const place: Record<PlaceGroup, number> = { probe: 0, meter: 0, profile: 0, station: 0 };
  // The curve that moves windows to the operating point was fitted to them: one error for all of them, which shrinks as they multiply.
  const fitMean = new Map<string, number>();
  // What stays acts on all windows at once, some more than others: its mean counts.
  const fixedMean = new Map<string, number>();
  for (const d of differences)
    for (const [key, { source, standard: part }] of d.parts) {
      const { kind } = source;
      if (SCATTER.has(kind)) continue;
      const group = GROUP[kind];
      if (group) place[group] += part ** 2;
      else if (kind === "curveFit") fitMean.set(key, (fitMean.get(key) ?? 0) + part / shared.length);
      else fixedMean.set(key, (fixedMean.get(key) ?? 0) + part / shared.length);
    }
  const n = shared.length;
  for (const g of PLACE_GROUPS) place[g] = Math.sqrt(place[g] / n);
  const scatter = spanScatter(
    differences.map((d) => d.value),
    differences.map(claimOf),
    shared.map((s) => s.a.point.day),
    keys,
    slopes,
  );
  return {
    place,
    fixed: lengthOf(fixedMean),
    window: Math.hypot(Math.sqrt(meanOf(scatter.variances)), Math.sqrt(n) * lengthOf(fitMean)),
    day: Math.sqrt(scatter.dayVariance),
    repeatability,
  };
}

const lengthOf = (parts: ReadonlyMap<string, number>): number =>
  Math.sqrt([...parts.values()].reduce((s, v) => s + v * v, 0));

const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;
