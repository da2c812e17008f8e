import { withSource } from "../../uncertainty/uncertain";
import { autocorrelatedMean } from "../../uncertainty/typeA";
import type { EventKind } from "../../log/eventKind";
import { localDay } from "../../log/zone";
import { grouped, type Finder, type FinderInput, type Finding, type Found } from "./finding";
import { laneIn, minuteMs, type MethodEvent, type MethodSpan } from "./span";

/** What changes a lane for longer than the moment it was pressed. */
const CHANGES: readonly EventKind[] = ["coverCleaned", "snow", "mirror", "fanChanged", "probeMoved"];
/** Minutes about the press that belong to neither side. */
const AROUND = 10;
/** What is compared before and after, minutes at most. */
const REACH = 120;
const BLOCK = 5;
const LEAST_BLOCKS = 4;
/** W; below it a ratio is noise. */
const LEAST_W = 100;

/**
 * What an event did to the heat of its lane: its heat over that of the lanes nothing happened to, after against before, so that the
 * sun's own change cancels. A thing turned again and again (a mirror on, off, on) is one comparison: each press begins the other state.
 */
export const events: Finder = (input) => {
  const found: Found = { findings: [], gaps: [] };
  const marked = input.spans.flatMap((s) => s.events.filter((e) => CHANGES.includes(e.kind) && e.lane !== null));
  for (const [key, own] of grouped(marked, (e) => `${e.kind}/${e.lane}`)) {
    const [kind, lane] = key.split("/") as [EventKind, string];
    const effect = effectOf(input, kind, lane, own);
    if (effect) found.findings.push(effect);
  }
  if (found.findings.length === 0) found.gaps.push({ lane: null, why: "noEvent" });
  return found;
};

function effectOf({ spans }: FinderInput, kind: EventKind, lane: string, own: readonly MethodEvent[]): Finding | null {
  const sides = spans.flatMap((s) => logRatios(s, kind, lane));
  const days = new Set(sides.map((b) => b.day)).size;
  const at = (after: boolean) => autocorrelatedMean(sides.filter((b) => b.after === after).map((b) => b.value));
  const [before, after] = [at(false), at(true)];
  if (before.count < LEAST_BLOCKS || after.count < LEAST_BLOCKS) return null;
  const ratio = Math.exp(after.mean - before.mean);
  const standard = ratio * Math.hypot(before.standardError, after.standardError);
  return {
    name: "eventRatio",
    lane,
    figure: withSource(ratio, standard, {
      kind: "methodScatter",
      method: "events",
      figure: `${lane}/${kind}`,
      owner: lane,
      dof: Math.max(1, Math.min(before.effectiveSize, after.effectiveSize) - 1),
    }),
    quantity: "number",
    hours: (sides.length * BLOCK) / 60,
    days,
    event: { kind, atMs: Math.min(...own.map((e) => e.atMs)), times: own.length },
  };
}

/** ln of the lane's heat over the others', five minutes each, before and after the events of a kind. */
function logRatios(span: MethodSpan, kind: EventKind, lane: string): { day: string; after: boolean; value: number }[] {
  const own = laneIn(span, lane);
  const presses = span.events
    .filter((e) => e.kind === kind && e.lane === lane)
    .map((e) => e.atMs)
    .sort((a, b) => a - b);
  const disturbed = new Set(span.events.filter((e) => e.lane !== null && CHANGES.includes(e.kind)).map((e) => e.lane));
  const others = span.minutes.lanes.filter((l) => l.lane.lane !== lane && !disturbed.has(l.lane.lane));
  if (!own || presses.length === 0) return [];
  // Alone on the bench a lane is held against the sun.
  const sun = span.minutes.irradiance;
  const compared = others.map((l) => l.heat);
  if (compared.length === 0 && sun) compared.push(sun);
  if (compared.length === 0) return [];
  const out: { day: string; after: boolean; value: number }[] = [];
  for (let i = 0; i + BLOCK <= span.minutes.count; i += BLOCK) {
    const ms = minuteMs(span, i + (BLOCK >> 1));
    const nearest = presses.reduce((a, p) => (Math.abs(ms - p) < Math.abs(ms - a) ? p : a));
    const apart = Math.abs(ms - nearest) / 60_000;
    if (apart < AROUND || apart > REACH) continue;
    // A mirror turned again is turned back; a cover cleaned again is clean again.
    const after = kind === "mirror" ? presses.filter((p) => p <= ms).length % 2 === 1 : ms > nearest;
    const mine = meanOf(own.heat, i);
    const theirs = compared.reduce((s, a) => s + meanOf(a, i), 0) / compared.length;
    if (!(mine > LEAST_W && theirs > LEAST_W)) continue;
    out.push({ day: localDay(ms, span.setup.zone), after, value: Math.log(mine / theirs) });
  }
  return out;
}

const meanOf = (a: Float64Array, from: number): number => {
  let sum = 0;
  for (let k = 0; k < BLOCK; k++) sum += a[from + k];
  return sum / BLOCK;
};
