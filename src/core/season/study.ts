import { THUMB_RULES } from "../collector/thumbRules";
import type { ApplySettings } from "./schema";
import type { Fluid } from "../fluids/fluid";
import type { SiteWorld } from "../site/site";
import { seasonOf, withoutBoxes, type Candidate, type Scenario } from "./season";
import type { HourlyYear } from "./simulate";
import type { StoreSpec } from "./store";
import type { WeatherYear } from "./weather";
import { weatherOf, type SeasonJob } from "./job";
import { boxesOf, lightsOf, pathOf, scenarioOf } from "./scenario";

/** What is solved for and how things hang together, for the first candidate. */
export interface SeasonStudy {
  key: string;
  name: string;
  /** Share of the need against area, m². */
  byArea: { areaM2: number; useful: number; share: number }[];
  /** Smallest area for the wanted share; null where no area up to sixteen times what there is gives it; and the area that gives most. */
  areaM2: number | null;
  bestArea: { areaM2: number; share: number };
  /** Share against store, kg of water or what holds as much; empty without a store. */
  byStore: { size: number; useful: number; share: number }[];
  /** Times the present store for the wanted share; null where none gives it or there is no store. */
  storeTimes: number | null;
  bestStore: { times: number; share: number } | null;
  /** Useful heat when one thing is a fifth less, and a fifth more; widest first. */
  sensitivity: { what: Varied; low: number; high: number }[];
  useful: number;
  share: number;
}

export const VARIED = ["area", "eta0", "losses", "flow", "store", "roomLoss", "setPoint", "pipe", "light"] as const;
export type Varied = (typeof VARIED)[number];

const MOST = 16;

/** A store times a factor, its loss with its surface. */
function scaled(s: StoreSpec, f: number): StoreSpec {
  const loss = f ** (2 / 3);
  switch (s.kind) {
    case "none":
      return s;
    case "water":
      return { ...s, kg: s.kg * f, lossWK: s.lossWK * loss };
    case "bottles":
      return { ...s, count: s.count * f, lossWK: s.lossWK * loss };
    case "rock":
      return { ...s, volumeM3: s.volumeM3 * f, lossWK: s.lossWK * loss };
    case "slab":
      return { ...s, areaM2: s.areaM2 * f, lossWK: s.lossWK * f, exchangeWK: s.exchangeWK * f };
    case "latent":
      return { ...s, kg: s.kg * f, lossWK: s.lossWK * loss, exchangeWK: s.exchangeWK * f };
  }
}

/** @param wanted share of the need, 0 to 1 @returns null where there is no weather or no candidate */
export function studySeason(job: SeasonJob, wanted: number): SeasonStudy | null {
  const { weather } = weatherOf(job);
  const [first] = job.candidates;
  if (!weather || !first) return null;
  const c: Candidate = { ...first, covariance: null };
  const { settings, site } = job;
  const mirrored = new Map(Object.entries(job.mirrored));
  const lights = lightsOf(settings, site, weather, [c], mirrored);
  const asHeated = (s: Scenario): Scenario => (s.use.kind === "room" ? { ...s, use: { ...s.use, heated: true } } : s);
  const scenario = asHeated(scenarioOf(settings, site, c, lights, job.fluid));
  const base = withoutBoxes(scenario, weather);
  const run = (candidate: Candidate, s: Scenario, b: HourlyYear) => seasonOf(candidate, s, weather, b)!;
  const area = remembering((f) => run(times(c, f), scenario, base));
  const now = run(c, scenario, base);
  const areaM2 = c.areaM2 * boxesOf(settings);
  const byArea = [0.25, 0.5, 1, 2, 4, 8].map((f) => {
    const s = area(f);
    return { areaM2: areaM2 * f, useful: s.useful, share: s.share };
  });
  const hasStore = scenario.store.kind !== "none";
  const store = remembering((f) => {
    const s = { ...scenario, store: scaled(scenario.store, f) };
    // A slab is there without boxes too; what else stores is empty then.
    return run(c, s, scenario.store.kind === "slab" ? withoutBoxes(s, weather) : base);
  });
  const byAreaSolved = solve((f) => area(f).share, wanted);
  const byStoreSolved = hasStore ? solve((f) => store(f).share, wanted) : null;
  const byStore = hasStore
    ? [0.25, 0.5, 1, 2, 4].map((f) => {
        const s = store(f);
        return { size: f, useful: s.useful, share: s.share };
      })
    : [];
  return {
    key: c.key,
    name: c.name,
    byArea,
    areaM2: byAreaSolved.times === null ? null : byAreaSolved.times * areaM2,
    bestArea: { areaM2: byAreaSolved.best.times * areaM2, share: byAreaSolved.best.share },
    byStore,
    storeTimes: byStoreSolved?.times ?? null,
    bestStore: byStoreSolved?.best ?? null,
    sensitivity: sensitivityOf(c, scenario, weather, base),
    useful: now.useful,
    share: now.share,
  };
}

/** So many times the boxes, stream and fan with them. */
const times = (c: Candidate, f: number): Candidate => ({
  ...c,
  areaM2: c.areaM2 * f,
  flowWK: c.flowWK * f,
  powerW: c.powerW * f,
});

/** Sizes that are looked at, as multiples of what there is. */
const GRID = [1 / MOST, 1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 8, MOST];

/** The smallest size that gives the wanted share, and the best there is: a share may fall again where more boxes share one store. */
interface Solved {
  times: number | null;
  best: { times: number; share: number };
}

/** @param share of the need by size; asked once for each of {@link GRID} */
function solve(share: (f: number) => number, wanted: number): Solved {
  const shares = GRID.map(share);
  const top = shares.reduce((b, s, i) => (s > shares[b] ? i : b), 0);
  const best = { times: GRID[top], share: shares[top] };
  const first = shares.findIndex((s) => s >= wanted);
  if (first < 0) return { times: null, best };
  if (first === 0) return { times: GRID[0], best };
  let [low, high] = [GRID[first - 1], GRID[first]];
  for (let i = 0; i < 7; i++) {
    const middle = Math.sqrt(low * high);
    if (share(middle) < wanted) low = middle;
    else high = middle;
  }
  return { times: high, best };
}

/** A function that is asked for the same again remembers. */
function remembering<T>(f: (x: number) => T): (x: number) => T {
  const known = new Map<number, T>();
  return (x) => {
    if (!known.has(x)) known.set(x, f(x));
    return known.get(x)!;
  };
}

function sensitivityOf(c: Candidate, s: Scenario, weather: WeatherYear, base: HourlyYear): SeasonStudy["sensitivity"] {
  const useful = (candidate: Candidate, scenario: Scenario, own = base) =>
    seasonOf(candidate, scenario, weather, own)!.useful;
  const light = (f: number): Scenario => ({
    ...s,
    rows: s.rows.map((r) => ({ ...r, light: r.light.map((v) => v * f), plainLight: r.plainLight.map((v) => v * f) })),
  });
  const curve = (part: Partial<Candidate["curve"]>): Candidate => ({ ...c, curve: { ...c.curve, ...part } });
  const changed: Record<Varied, ((f: number) => number) | null> = {
    area: (f) => useful(times(c, f), s),
    eta0: (f) => useful(curve({ eta0: c.curve.eta0 * f }), s),
    losses: (f) => useful(curve({ a1: c.curve.a1 * f, a2: c.curve.a2 * f }), s),
    flow: (f) => useful({ ...c, flowWK: c.flowWK * f }, s),
    store: s.store.kind === "none" ? null : (f) => useful(c, { ...s, store: scaled(s.store, f) }),
    roomLoss:
      s.use.kind === "room"
        ? (f) => {
            const other: Scenario = {
              ...s,
              use: { ...s.use, lossWK: (s.use as { lossWK: number }).lossWK * f } as Scenario["use"],
            };
            return useful(c, other, withoutBoxes(other, weather));
          }
        : null,
    setPoint:
      s.use.kind === "room"
        ? (f) => {
            const { setC, capC } = s.use as { setC: number; capC: number };
            const other: Scenario = {
              ...s,
              use: { ...s.use, setC: Math.min(capC - 0.5, setC * f) } as Scenario["use"],
            };
            return useful(c, other, withoutBoxes(other, weather));
          }
        : null,
    pipe:
      s.run.supplyWK > 0
        ? (f) =>
            useful(c, {
              ...s,
              run: {
                ...s.run,
                supplyWK: s.run.supplyWK * f,
                returnWK: s.run.returnWK * f,
                leakShare: s.run.leakShare * f,
              },
            })
        : null,
    light: (f) => useful(c, light(f)),
  };
  return VARIED.flatMap((what) => {
    const of = changed[what];
    return of ? [{ what, low: of(0.8), high: of(1.2) }] : [];
  }).sort((a, b) => Math.abs(b.high - b.low) - Math.abs(a.high - a.low));
}

/** Round ducts that are sold, m. */
export const DUCTS: readonly number[] = [0.1, 0.125, 0.15, 0.16, 0.2, 0.25, 0.315, 0.4];

export interface DuctChoice {
  diameterM: number;
  speedMs: number;
  lossPa: number;
  fanW: number;
}

/** What each size of duct or pipe costs in speed, pressure and power; what is there stands among them. */
export function ductChoices(
  a: Pick<ApplySettings, "pipes" | "store" | "use" | "rows">,
  site: SiteWorld,
  fluid: Fluid,
  c: Pick<Candidate, "flowWK">,
): DuctChoice[] {
  const { pipes } = a;
  if (!pipes || pipes.lengthM === 0) return [];
  const sizes = fluid.kind === "air" ? DUCTS : [0.012, 0.015, 0.02, 0.025, 0.032, 0.04];
  return [...new Set([...sizes, pipes.diameterM])]
    .sort((x, y) => x - y)
    .map((diameterM) => {
      const path = pathOf({ ...a, pipes: { ...pipes, diameterM } }, site, fluid, c);
      return { diameterM, speedMs: path.speedMs, lossPa: path.ductPa, fanW: path.ductW };
    });
}

/** Rules of thumb beside what the model says. */
export interface ThumbCheck {
  rule: "flowPerArea" | "floorServed" | "wattsPerFlow" | "noonTimesHours" | "furnace";
  /** Lowest and highest that is said. */
  thumb: [number, number];
  model: number;
}

/** How far a rule lies off the model, as a share of it: nothing where the model lies within the rule. */
export const thumbError = ({ thumb: [low, high], model }: ThumbCheck): number =>
  model >= low && model <= high ? 0 : (model < low ? low - model : high - model) / Math.abs(model);

export interface ThumbInput {
  candidate: Candidate;
  boxes: number;
  /** The fan's whole electricity and the stream it moves. */
  watts: number;
  massFlow: number;
  fluid: Fluid;
  /** J/(kg·K) */
  cp: number;
  /** kWh a year. */
  useful: number;
  /** Strongest hour, W, and hours of sun above 120 W/m² in the plane. */
  noonW: number;
  sunHours: number;
  floorM2: number | null;
  /** Loss of the room on the coldest hour, W. */
  peakNeedW: number | null;
}

/** The usual rules against the model: flow and floor per area, watts for a flow, noon power × hours of sun, and a furnace by its floor. */
export function thumbChecks(t: ThumbInput): ThumbCheck[] {
  const area = t.candidate.areaM2 * t.boxes;
  const flow = t.candidate.flowWK / t.cp;
  const [low, high] = THUMB_RULES[t.fluid.kind];
  const noon = (t.noonW * t.sunHours) / 1000;
  const checks: ThumbCheck[] = [
    { rule: "flowPerArea", thumb: [low, high], model: flow / t.candidate.areaM2 },
    { rule: "noonTimesHours", thumb: [noon, noon], model: t.useful },
  ];
  if (t.floorM2 !== null) checks.push({ rule: "floorServed", thumb: [8, 20], model: t.floorM2 / area });
  if (t.fluid.kind === "air" && t.watts > 0)
    checks.push({ rule: "wattsPerFlow", thumb: [500, 1500], model: t.watts / (t.massFlow / 1.2) });
  if (t.floorM2 !== null && t.peakNeedW !== null)
    checks.push({ rule: "furnace", thumb: [60 * t.floorM2, 100 * t.floorM2], model: t.peakNeedW });
  return checks;
}
