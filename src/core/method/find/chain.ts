import { correlatedShare } from "./share";
import type { Finder, FinderInput, Finding } from "./finding";
import { heatShare } from "./stated";
import { laneIn, type MethodSpan } from "./span";

/** An inlet that follows another lane's outlet this closely is fed by it, K. */
const FED_K = 1.5;
/** Share of the sunny minutes it must do so. */
const MOSTLY = 0.8;
/** Outlets must stand apart from inlets to tell feeding from equal temperatures, K. */
const RISE_K = 3;
const BLOCK = 10;

/**
 * Boxes in series: a lane whose inlet is another's outlet. What the later one gives of what the earlier gives: less, as it begins warmer.
 * Silent where no lane is fed by another: lanes side by side are compared by the verdict itself.
 */
export const chain: Finder = (input) => {
  const findings = input.lanes.flatMap((later) =>
    input.lanes.flatMap((earlier) =>
      later.lane === earlier.lane ? [] : (pairOf(input, earlier.lane, later.lane) ?? []),
    ),
  );
  return { findings, gaps: findings.length ? [] : [{ lane: null, why: "notFed" }] };
};

function pairOf({ spans }: FinderInput, earlier: string, later: string): Finding | null {
  const fed = spans.filter((s) => isFed(s, earlier, later));
  const ratios = fed.flatMap((s) => ratiosOf(s, earlier, later));
  if (ratios.length < 6) return null;
  const shares = fed.flatMap((s) =>
    [earlier, later].map((l) => {
      const own = laneIn(s, l)!;
      return heatShare(own.lane, own.usualFlow, meanRise(own));
    }),
  );
  const days = new Set(ratios.map((r) => r.day)).size;
  return {
    name: "laterShare",
    lane: later,
    other: earlier,
    // A standard share counts as its limit over √3.
    figure: correlatedShare(ratios, {
      lane: later,
      method: "chain",
      meterShare: Math.sqrt(3) * Math.hypot(...shares.slice(0, 2)),
    }),
    quantity: "fraction",
    hours: (ratios.length * BLOCK) / 60,
    days,
  };
}

const meanRise = ({ inlet, outlet }: { inlet: Float64Array; outlet: Float64Array }): number => {
  const rises = [...outlet].map((v, i) => v - inlet[i]).filter((v) => v > RISE_K);
  return rises.length ? rises.reduce((s, v) => s + v, 0) / rises.length : RISE_K;
};

function isFed(span: MethodSpan, earlier: string, later: string): boolean {
  const [a, b] = [laneIn(span, earlier), laneIn(span, later)];
  if (!a || !b) return false;
  let [minutes, near] = [0, 0];
  for (let i = 0; i < span.minutes.count; i++) {
    if (!(a.outlet[i] - a.inlet[i] > RISE_K) || Number.isNaN(b.inlet[i])) continue;
    minutes++;
    if (Math.abs(b.inlet[i] - a.outlet[i]) < FED_K) near++;
  }
  return minutes >= 60 && near > MOSTLY * minutes;
}

function ratiosOf(span: MethodSpan, earlier: string, later: string): { day: number; value: number }[] {
  const [a, b] = [laneIn(span, earlier)!, laneIn(span, later)!];
  const out: { day: number; value: number }[] = [];
  for (let i = 0; i + BLOCK <= span.minutes.count; i += BLOCK) {
    let [first, second] = [0, 0];
    for (let k = i; k < i + BLOCK; k++) {
      first += a.heat[k] / a.lane.areaM2;
      second += b.heat[k] / b.lane.areaM2;
    }
    // Below it a ratio is noise, W/m².
    if (!(first / BLOCK > 50) || Number.isNaN(second)) continue;
    const day = Math.floor((span.minutes.startMs + i * span.minutes.stepMs) / 86_400_000);
    out.push({ day, value: second / first });
  }
  return out;
}
