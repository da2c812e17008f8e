import { density } from "../fluids/fluid";
import type { AssembledRun } from "./assemble";
import { gridMean } from "../log/grid";
import type { EfficiencyPoint } from "./points";
import type { RunSetup } from "./setup";

/** What second instruments of the same thing say. */
export interface SecondReadings {
  /** Share of a lane's stream that a second meter at its other end does not see, and the ± limit of the two meters, share. */
  leaks: { lane: string; share: number; limitShare: number }[];
  /** Mean wind of each anemometer over the run's common time, m/s. */
  windsMs: number[];
}

/** Kinds of meters a second one may be, by the kind that heat is counted by. */
export const SECOND_METERS = {
  speed: ["massFlow", "volumeFlow"],
  volume: ["massFlow"],
  mass: ["volumeFlow"],
  constant: [],
  tank: [],
} as const;

export const secondReadings = (
  setup: RunSetup,
  assembled: AssembledRun,
  points: readonly EfficiencyPoint[],
): SecondReadings => ({
  leaks: setup.lanes.flatMap((l) => leakOf(l.lane, { setup, assembled, points }) ?? []),
  windsMs: windsOf(assembled),
});

function leakOf(
  lane: string,
  { setup, assembled, points }: { setup: RunSetup; assembled: AssembledRun; points: readonly EfficiencyPoint[] },
): SecondReadings["leaks"][number] | null {
  const own = setup.lanes.find((l) => l.lane === lane)!;
  const place = assembled.places.get(own.station);
  const kind = SECOND_METERS[own.flow.kind].find((k) => place?.[k]);
  if (!place || !kind) return null;
  const { startMs, stepMs } = assembled.shared;
  const ratios = points
    .filter((p) => p.lane === lane && p.station === own.station)
    .flatMap((p) => {
      const second = meanOf(place[kind]!, (p.startMs - startMs) / stepMs, (p.endMs - startMs) / stepMs);
      const temperatureC = own.flow.meter.at === "outlet" ? p.inlet.value : p.outlet.value;
      const { pressurePa, relativeHumidity } = setup;
      const mass =
        second * (kind === "volumeFlow" ? density(own.fluid, { temperatureC, pressurePa, relativeHumidity }) : 1);
      return p.massFlow.value > 0 && mass > 0 ? [mass / p.massFlow.value] : [];
    });
  if (ratios.length === 0) return null;
  const share = 1 - ratios.reduce((s, r) => s + r, 0) / ratios.length;
  // The second meter is taken to be no better than the first.
  return { lane, share, limitShare: Math.SQRT2 * own.flow.meter.limitShare };
}

function meanOf(values: Float64Array, from: number, to: number): number {
  const known = [...values.subarray(Math.max(0, Math.round(from)), Math.round(to))].filter((v) => !Number.isNaN(v));
  return known.length ? known.reduce((s, v) => s + v, 0) / known.length : NaN;
}

/** Hours over which anemometers are compared. */
const HOUR = 3_600_000;

function windsOf({ cleaning, shared }: AssembledRun): number[] {
  const own = cleaning.filter((c) => c.channel.kind === "wind");
  if (own.length < 2 || !shared.wind) return [];
  const count = Math.max(1, Math.floor((shared.wind.length * shared.stepMs) / HOUR));
  const hourly = own.map(({ channel: { times, values, clockOffsetMs }, codes }) =>
    gridMean(times, values, codes, { startMs: shared.startMs - clockOffsetMs, stepMs: HOUR, count }),
  );
  const common = Array.from({ length: count }, (_, i) => i).filter((i) => hourly.every((h) => !Number.isNaN(h[i])));
  if (common.length < 2) return [];
  return hourly.map((h) => common.reduce((s, i) => s + h[i], 0) / common.length);
}
