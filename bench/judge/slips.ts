import type { LoggedChannel } from "../../src/core/analysis/assemble";
import type { Slip } from "./benches";

const change = (list: LoggedChannel[], which: (c: LoggedChannel) => boolean, f: (v: Float64Array) => Float64Array) =>
  list.map((c) => (which(c) ? { ...c, values: f(c.values) } : c));
const share = (from: number, to: number, f: (v: number, i: number) => number) => (v: Float64Array) =>
  v.map((x, i) => (i > from * v.length && i < to * v.length ? f(x, i) : x));
export const SLIPS: Slip[] = [
  {
    name: "A's speed in mph taken for m/s",
    channels: (l, a) =>
      change(
        l,
        (c) => c.kind === "speed" && c.station === a,
        (v) => v.map((x) => x * 2.237),
      ),
  },
  {
    name: "A's speed in ft/min taken for m/min",
    channels: (l, a) =>
      change(
        l,
        (c) => c.kind === "speed" && c.station === a,
        (v) => v.map((x) => x * 3.281),
      ),
  },
  {
    name: "all temperatures in °F taken for °C",
    channels: (l) =>
      change(
        l,
        (c) => ["inlet", "outlet", "ambient"].includes(c.kind),
        (v) => v.map((x) => 1.8 * x + 32),
      ),
  },
  {
    name: "A's in and out exchanged",
    channels: (l, a) =>
      l.map((c) =>
        c.station === a && (c.kind === "inlet" || c.kind === "outlet")
          ? { ...c, kind: c.kind === "inlet" ? ("outlet" as const) : ("inlet" as const) }
          : c,
      ),
  },
  { name: "the clock nine hours off", channels: (l) => l.map((c) => ({ ...c, clockOffsetMs: 9 * 3600000 })) },
  { name: "the clock an hour off", channels: (l) => l.map((c) => ({ ...c, clockOffsetMs: 3600000 })) },
  {
    name: "A's fan stopped for an hour each day",
    channels: (l, a) =>
      change(
        change(
          l,
          (c) => c.kind === "speed" && c.station === a,
          (v) => v.map((x, i) => (stopped(i, v.length) ? 0 : x)),
        ),
        (c) => c.kind === "outlet" && c.station === a,
        (v) => v.map((x, i) => (stopped(i, v.length) ? x + 35 : x)),
      ),
  },
  {
    name: "A shaded for an hour each day",
    channels: (l, a) => {
      const inlet = l.find((c) => c.kind === "inlet" && c.station === a)!.values;
      return change(
        l,
        (c) => c.kind === "outlet" && c.station === a,
        (v) => v.map((x, i) => (stopped(i, v.length) ? inlet[i] + 0.4 * (x - inlet[i]) : x)),
      );
    },
  },
  {
    name: "A's area half of what it is",
    setup: (s) => ({ ...s, lanes: s.lanes.map((x) => (x.lane === "A" ? { ...x, areaM2: x.areaM2 / 2 } : x)) }),
  },
  {
    name: "an hourly barometer",
    channels: (l) => {
      const times = Float64Array.from({ length: 24 }, (_, i) => l[0].times[0] + i * 3600000);
      return [
        ...l,
        { ...l[0], id: 991, name: "baro", kind: "pressure", station: null, times, values: times.map(() => 88500) },
      ];
    },
  },
  {
    name: "A's probes both on one column",
    channels: (l, a) => {
      const inlet = l.find((c) => c.kind === "inlet" && c.station === a)!.values;
      return change(
        l,
        (c) => c.kind === "outlet" && c.station === a,
        () => inlet,
      );
    },
  },
  { name: "a quarter of the run's outlet readings stuck", channels: (l, a) => stuck(l, a) },
  {
    name: "all flows in L/s taken for m³/h",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "speed",
        (v) => v.map((x) => x / 3.6),
      ),
  },
  {
    name: "all speeds in mph taken for m/s",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "speed",
        (v) => v.map((x) => x * 2.237),
      ),
  },
  { name: "the plane entered facing north", setup: (s) => ({ ...s, plane: { ...s.plane, azimuth: 0 } }) },
  {
    name: "the sun sensor half shaded an hour a day",
    channels: (l) =>
      change(
        l,
        (c) => c.kind === "irradiance",
        (v) => v.map((x, i) => (stopped(i, v.length) ? 0.5 * x : x)),
      ),
  },
  {
    name: "A's outlet on B's column and the other way about",
    channels: (l) => l.map((c) => (c.kind === "outlet" ? { ...c, station: 3 - c.station! } : c)),
  },
  { name: "the places exchanged a day later than noted", swapLate: 1 },
  { name: "the places never exchanged, though noted", swapLate: 2 },
  { name: "B's logger 95 s off", channels: (l, a) => later(l, 3 - a, 95_000) },
  {
    name: "the clock an hour off in the second run",
    channels: (l, _, run) => (run ? l.map((c) => ({ ...c, clockOffsetMs: 3600000 })) : l),
  },
  {
    name: "A's fan on and off by a thermostat, its flow stated as if it ran",
    channels: (l, a) => {
      const inlet = l.find((c) => c.kind === "inlet" && c.station === a)!.values;
      const steady = change(
        l,
        (c) => c.kind === "speed" && c.station === a,
        (v) => v.map(() => usual(v)),
      );
      return change(
        steady,
        (c) => c.kind === "outlet" && c.station === a,
        (v) => v.map((x, i) => (i % 45 < 25 ? x : inlet[i] + 1.6 * (x - inlet[i]))),
      );
    },
  },
  {
    name: "A's centre speed taken for the mean (asked at import; nothing else sees it)",
    setup: (s) => ({
      ...s,
      lanes: s.lanes.map((x) =>
        x.lane === "A" && x.flow.kind === "speed" ? { ...x, flow: { ...x.flow, profileFactor: 1 } } : x,
      ),
    }),
  },
];
function stuck(l: LoggedChannel[], a: number) {
  const held = (v: Float64Array) => share(0.3, 0.55, () => v[Math.floor(0.3 * v.length)])(v);
  return change(l, (c) => c.kind === "outlet" && c.station === a, held);
}
/** An hour at noon of a day of ten hours, two days a run. */
const stopped = (i: number, n: number) => {
  const day = n / 2;
  const at = (i % day) / day;
  return at > 0.45 && at < 0.55;
};

/** One station's channels as a logger of its own whose clock is off. */
const later = (l: LoggedChannel[], station: number, ms: number) =>
  l.map((c) => (c.station === station ? { ...c, id: 2000 + c.id, times: c.times.map((t) => t + ms) } : c));
const usual = (v: Float64Array): number => [...v].sort((p, q) => p - q)[Math.floor(v.length / 2)];
