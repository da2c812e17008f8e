import { performance } from "node:perf_hooks";

const time = async (work: () => unknown): Promise<number> => {
  const started = performance.now();
  await work();
  return performance.now() - started;
};

/** Median time of a few repeats, ms. */
export async function median(times: number, work: () => unknown): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < times; i++) all.push(await time(work));
  return all.sort((a, b) => a - b)[times >> 1];
}

/** How many times as long as a yardstick some work takes: the median of repeats, each beside a yardstick of its own, so that a machine that slows down slows both. */
export async function timesAsLong(times: number, work: () => unknown, yardstick: () => unknown): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < times; i++) {
    const before = await time(yardstick);
    const worked = await time(work);
    all.push((2 * worked) / (before + (await time(yardstick))));
  }
  return all.sort((a, b) => a - b)[times >> 1];
}

/** A line of the table. @param most what it shall not exceed; left out where nothing is aimed at */
export function report(name: string, value: number, most?: number): void {
  const aim = most === undefined ? "" : `aim ≤ ${most}${value <= most ? "" : ", missed"}`;
  console.log(`${name.padEnd(72)} ${value.toFixed(2).padStart(8)}   ${aim}`);
}
