import type { Knex } from "knex";
import type { Arrangement } from "../../core/experiment/layers";
import { changesOf, MOST_SWAPS, standsAfter, type Swap } from "../../core/experiment/swaps";
import type { LogData } from "../../core/log/logData";
import { insertLayer } from "../../data/run/layers";
import { ImportRefused, type FullRequest } from "./importRequest";

/** The same swap in two records, ms. */
const SAME_SWAP_MS = 120_000;
const alike = (a: Swap, b: Swap): boolean => [...a.lanes].sort().join() === [...b.lanes].sort().join();

/** Swaps typed, or told by a column, as layers of their own: each can be switched off. */
export async function layerSwaps(
  trx: Knex.Transaction,
  runId: number,
  { run: { swaps, lanes }, liveFromMs, liveUntilMs }: FullRequest,
  files: readonly { settings: { zone: string }; clock?: { offsetMs: number }; data: LogData }[],
): Promise<void> {
  const spans = files.map(({ data }) => data.times);
  // What is shown of a device's readings is the latest of them; its run may reach further back.
  const fromMs = liveFromMs ?? Math.min(...spans.map((t) => t[0]));
  const toMs = liveUntilMs ?? Math.max(...spans.map((t) => t[t.length - 1]));
  const stray = swaps.find(({ atMs }) => !(atMs > fromMs && atMs < toMs));
  if (stray)
    throw new ImportRefused({ kind: "swapOutside", atMs: stray.atMs, fromMs, toMs, zone: files[0].settings.zone });
  const told = files.flatMap(({ data, clock }) =>
    data.channels
      .filter((c) => c.use.kind === "swap")
      .flatMap((c) => changesOf(data.times, c.values))
      .map((ms) => ms + (clock?.offsetMs ?? 0)),
  );
  if (told.length > MOST_SWAPS || (told.length > 0 && lanes.length !== 2))
    throw new ImportRefused({ kind: "swapsUnclear", changes: told.length, lanes: lanes.length });
  const all: (Swap & { reason: string })[] = [
    ...swaps.map((s) => ({ ...s, reason: "swap typed at import" })),
    ...told.map((atMs) => ({
      atMs,
      lanes: [lanes[0].letter, lanes[1].letter] as const,
      reason: "swap told by a column of the log",
    })),
  ]
    .sort((a, b) => a.atMs - b.atMs)
    // Told by two files, or typed and told, it is one swap and not there and back.
    .filter((s, i, sorted) => i === 0 || s.atMs - sorted[i - 1].atMs > SAME_SWAP_MS || !alike(s, sorted[i - 1]));
  let now: Arrangement[] = [{ fromMs: null, untilMs: null, lanes: new Map(lanes.map((l) => [l.station, l.letter])) }];
  for (const { reason, ...swap } of all) {
    const stands = standsAfter(now, swap);
    if (!stands) throw new ImportRefused({ kind: "laneUnknown", letter: swap.lanes.join(" or ") });
    await insertLayer(trx, runId, { kind: "assignment", detail: { mounts: [], stands }, reason });
    const last = new Map(now[now.length - 1].lanes);
    for (const { station, lane } of stands) last.set(station, lane!);
    now = [
      ...now.slice(0, -1),
      { ...now[now.length - 1], untilMs: swap.atMs },
      { fromMs: swap.atMs, untilMs: null, lanes: last },
    ];
  }
}
