import type { HeatPoint } from "../../analysis/points";
import type { EventKind } from "../../log/eventKind";
import { bestFirst, type DoubtFinder, type DoubtInput, type Effect } from "./doubt";

export interface ChangedMidway {
  kind: "changedMidway";
  run: string;
  lane: string;
  what: EventKind;
  /** The first time, and how often in all. */
  atMs: number;
  times: number;
  /** Spans compared before and after it; of a thing turned by turns, in the one state and in the other. */
  before: number;
  after: number;
  /** The answer itself takes both states apart; what lies below it does not. */
  answered: boolean;
  /** The answer as either side alone would have it; null where the lane is not one of the leading two. */
  effect: Effect | null;
}

/** What changes a lane for longer than the moment it was marked. */
const LASTING: readonly EventKind[] = ["coverCleaned", "snow", "probeMoved", "fanChanged", "mirror"];

/** Something of one lane was changed in the middle of a run, and both sides of it are in the answer as if they were one. */
export const changedMidway: DoubtFinder<ChangedMidway> = {
  find(input) {
    const { events, heats, verdict } = input;
    const groups = new Map<string, { run: string; kind: EventKind; lane: string; times: number[] }>();
    for (const { run, kind, lane, atMs } of events) {
      if (lane === null || !LASTING.includes(kind)) continue;
      const key = `${run}/${kind}/${lane}`;
      const group = groups.get(key) ?? { run, kind, lane, times: [] };
      group.times.push(atMs);
      groups.set(key, group);
    }
    return [...groups.values()].flatMap(({ run, kind, lane, times }): ChangedMidway[] => {
      times.sort((a, b) => a - b);
      const isAfter = (h: HeatPoint) => changed(kind, times, h);
      const own = heats.filter((h) => h.run === run && h.lane === lane);
      const before = own.filter((h) => isAfter(h) === false).length;
      const after = own.filter((h) => isAfter(h) === true).length;
      if (before === 0 || after === 0) return [];
      const effect = effectOf(input, { run, lane, isAfter });
      return [
        {
          ...{ kind: "changedMidway", run, lane, what: kind, atMs: times[0], times: times.length, before, after },
          answered: verdict.kind === "turned" && verdict.lane === lane && verdict.what === kind,
          effect,
        },
      ];
    });
  },
};

/** On which side of the changes a span lies; null where one falls within it. A mirror turned again is turned back. */
function changed(kind: EventKind, times: readonly number[], h: HeatPoint): boolean | null {
  if (times.some((t) => t > h.startMs && t < h.endMs)) return null;
  const passed = times.filter((t) => t <= h.startMs).length;
  return kind === "mirror" ? passed % 2 === 1 : passed > 0;
}

/** What the leading difference is on either side alone, less what it is over both. */
function effectOf(
  input: DoubtInput,
  { run, lane, isAfter }: { run: string; lane: string; isAfter: (h: HeatPoint) => boolean | null },
): Effect | null {
  const pair = bestFirst(input);
  if (!pair || (pair.best !== lane && pair.next !== lane)) return null;
  const of = (h: HeatPoint) => h.heat.value / h.area.value;
  const spans = input.heats
    .filter((h) => h.lane === pair.best)
    .flatMap((own) => {
      const other = input.heats.find((h) => h.lane === pair.next && h.run === own.run && h.window === own.window);
      return other ? [{ value: of(own) - of(other), after: own.run === run ? isAfter(own) : null }] : [];
    });
  const mean = (side: boolean | null) => {
    const own = spans.filter((s) => side === null || s.after === side);
    return own.length ? own.reduce((s, v) => s + v.value, 0) / own.length : null;
  };
  const [all, before, after] = [mean(null), mean(false), mean(true)];
  if (all === null || before === null || after === null) return null;
  return { low: Math.min(before, after) - all, high: Math.max(before, after) - all };
}
