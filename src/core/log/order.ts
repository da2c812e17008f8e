import type { Column } from "./column";
import type { LogAnswers, LogQuestion } from "./question";

/** Rows as they stand in a file, in its order. Arrays may be longer than `count`. */
export interface ReadRows {
  count: number;
  times: Float64Array;
  /** Line of each row, from 1. */
  lines: Uint32Array;
  /** How each row's time was written, as a place in `patternNames`. */
  patterns: Uint8Array;
  patternNames: readonly string[];
  /** One array a column; rows with one time may be joined in place. */
  columns: readonly Column[];
  /** Columns that stand for something: only these can make two rows of one time contradict each other. */
  used: readonly Column[];
}

export interface OrderedRows {
  /** Rows kept, by rising time. */
  order: Uint32Array;
  times: Float64Array;
  /** Rows set aside for the way their time is written, and for a time far from all others. */
  otherPattern: number[];
  strays: number[];
  /** Rows whose time another row has too: told apart, and joined because they do not contradict each other. */
  conflicts: { row: number; kept: number }[];
  joined: number;
  backwardTimes: number;
  largestBackwardStepMs: number;
  questions: LogQuestion[];
}

const DAY = 86400000;
/** Readings further than this from the next begin an island of their own. */
const ISLAND_GAP = 20 * DAY;
/** An island with less than this share of the rows is no part of the measurement. */
const ISLAND_SHARE = 0.1;
/** Above this share of a file's rows a person is asked. */
export const ASK_ABOVE = 0.01;
/** No logger's clock was set before this. */
const EARLIEST = Date.UTC(2000, 0, 1);

/**
 * Puts a file's rows into the order of time. A file writes its times in one way, over one span, each time once: what does
 * not fit is set aside and named, and above one row in a hundred a person is asked. Nothing is decided by which row came later.
 *
 * @param latestMs now, ms UTC: readings cannot lie beyond it
 */
export function putInOrder(rows: ReadRows, answers: LogAnswers, latestMs = Infinity): OrderedRows {
  const questions: LogQuestion[] = [];
  const many = (n: number) => n > ASK_ABOVE * rows.count;
  const of = (found: readonly number[]) => ({
    rows: found.length,
    share: found.length / rows.count,
    row: rows.lines[found[0]],
  });

  let kept = Array.from({ length: rows.count }, (_, i) => i);
  let otherPattern: number[] = [];
  const main = mainPattern(rows);
  if (answers.otherPattern !== "keep") {
    otherPattern = kept.filter((i) => rows.patterns[i] !== main);
    if (otherPattern.length) kept = kept.filter((i) => rows.patterns[i] === main);
    if (many(otherPattern.length) && !answers.otherPattern)
      questions.push({ kind: "otherPattern", ...of(otherPattern) });
  }
  const { backwardTimes, largestBackwardStepMs } = sortByTime(kept, rows.times);

  let strays: number[] = [];
  if (answers.strayTimes !== "keep") {
    const islands = splitIslands(kept, rows.times);
    const largest = Math.max(...islands.map((i) => i.length));
    const minor = (island: number[]) =>
      island.length < largest && (island.length < ISLAND_SHARE * kept.length || island.length === 1);
    strays = islands.filter(minor).flat();
    kept = strays.length ? islands.filter((i) => !minor(i)).flat() : kept;
    if (many(strays.length) && !answers.strayTimes)
      questions.push({
        kind: "strayTimes",
        ...of(strays),
        fromMs: rows.times[strays[0]],
        toMs: rows.times[strays[strays.length - 1]],
      });
  }
  const [first, last] = [rows.times[kept[0]], rows.times[kept[kept.length - 1]]];
  if (kept.length && (first < EARLIEST || last > latestMs + DAY) && !answers.oddDates)
    questions.push({ kind: "oddDates", fromMs: first, toMs: last });

  if (answers.sameTime === "spread") spread(kept, rows.times);
  const ties = joinTies(kept, rows, answers.sameTime);
  if (many(ties.conflicts.length) && !answers.sameTime)
    questions.push({ kind: "sameTime", ...of(ties.conflicts.map((c) => c.row)) });
  return {
    order: Uint32Array.from(ties.kept),
    times: Float64Array.from(ties.kept, (i) => rows.times[i]),
    otherPattern,
    strays,
    conflicts: ties.conflicts,
    joined: ties.joined,
    backwardTimes,
    largestBackwardStepMs,
    questions,
  };
}

function mainPattern({ patterns, patternNames, count }: ReadRows): number {
  const seen = new Uint32Array(Math.max(1, patternNames.length));
  for (let i = 0; i < count; i++) seen[patterns[i]]++;
  return seen.indexOf(Math.max(...seen));
}

/** Sorts places by their time, equal ones in the order read, and says how far out of order they stood. */
function sortByTime(places: number[], times: Float64Array) {
  let latest = -Infinity;
  let backwardTimes = 0;
  let largestBackwardStepMs = 0;
  for (const i of places) {
    if (times[i] < latest) {
      backwardTimes++;
      largestBackwardStepMs = Math.max(largestBackwardStepMs, latest - times[i]);
    } else latest = times[i];
  }
  if (backwardTimes > 0) places.sort((a, b) => times[a] - times[b] || a - b);
  return { backwardTimes, largestBackwardStepMs };
}

function splitIslands(sorted: readonly number[], times: Float64Array): number[][] {
  const islands: number[][] = [[]];
  for (let k = 0; k < sorted.length; k++) {
    if (k > 0 && times[sorted[k]] - times[sorted[k - 1]] > ISLAND_GAP) islands.push([]);
    islands[islands.length - 1].push(sorted[k]);
  }
  return islands;
}

/** Calls back for each stretch of places with one time. */
function eachTie(sorted: readonly number[], times: Float64Array, found: (from: number, to: number) => void): void {
  for (let from = 0, to = 0; from < sorted.length; from = to) {
    for (to = from + 1; to < sorted.length && times[sorted[to]] === times[sorted[from]];) to++;
    found(from, to);
  }
}

/**
 * Rows whose clock shows no seconds stand several to the minute: spread evenly over it. The first minute may have begun
 * before the file, so its rows stand at its end.
 */
function spread(sorted: readonly number[], times: Float64Array): void {
  const groups: [from: number, to: number][] = [];
  eachTie(sorted, times, (from, to) => groups.push([from, to]));
  if (groups.length < 2) return;
  const middle = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1];
  const starts = groups.map(([from]) => times[sorted[from]]);
  const interval = middle(starts.slice(1).map((t, i) => t - starts[i]));
  const usual = middle(groups.map(([from, to]) => to - from));
  groups.forEach(([from, to], g) => {
    const step = interval / Math.max(usual, to - from);
    const begin = starts[g] + (g === 0 ? interval - (to - from) * step : 0);
    for (let k = from; k < to; k++) times[sorted[k]] = Math.round(begin + (k - from) * step);
  });
}

/** One row for each time. Rows that complete each other are joined; of rows that contradict each other the answer decides. */
function joinTies(sorted: readonly number[], { times, columns, used }: ReadRows, answer: LogAnswers["sameTime"]) {
  const kept: number[] = [];
  const conflicts: { row: number; kept: number }[] = [];
  let joined = 0;
  eachTie(sorted, times, (from, to) => {
    if (to - from === 1) return void kept.push(sorted[from]);
    const group = sorted.slice(from, to);
    const contradicts = (a: number, b: number) =>
      used.some((c) => c.at(a) !== c.at(b) && !isNaN(c.at(a)) && !isNaN(c.at(b)));
    const target = answer === "last" ? group[group.length - 1] : group[0];
    kept.push(target);
    const against = group.filter((i) => i !== target && contradicts(i, target));
    for (const row of against) conflicts.push({ row, kept: target });
    joined += group.length - 1 - against.length;
    for (const column of columns) {
      const own = group.map((i) => column.at(i)).filter((v) => !isNaN(v));
      if (answer === "mean" && own.length) column.set(target, own.reduce((s, v) => s + v, 0) / own.length);
      else if (isNaN(column.at(target)))
        for (const i of group) if (!against.includes(i) && !isNaN(column.at(i))) column.set(target, column.at(i));
    }
  });
  return { kept, conflicts, joined };
}
