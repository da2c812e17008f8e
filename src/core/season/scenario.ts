import type { ApplySettings, StoredUse } from "./schema";
import { ductPressure, ductSpeed, driveWatts } from "../flow/path";
import { fluidProperties, isLiquid, type Fluid } from "../fluids/fluid";
import { usualSpecificHeat } from "../judge/flowWay";
import type { Mirror } from "../mirror/mirror";
import type { Opening } from "../mirror/geometry";
import { sitePressure, type SiteWorld } from "../site/site";
import { effectiveLight, planeYear, plainLight, type PlaneYear, type SeasonMirror } from "./light";
import { effectiveness, type Run as Pipes, type Use } from "./parts";
import type { Candidate, Scenario, SeasonRow } from "./season";
import { stageWatts } from "./watts";
import { rockPressure } from "./store";
import { MONTH_DAYS, type WeatherYear } from "./weather";

/** Warmed air that is wanted as it comes passes by a store: it has no use for the evening's heat. */
export const usedStore = ({ use, store }: Pick<ApplySettings, "use" | "store">): ApplySettings["store"] =>
  use?.kind === "freshAir" || use?.kind === "drying" ? { kind: "none" } : store;

/** What still has to be said before a year can be computed. */
export const ASKED = ["use", "rows", "control", "pipes", "storeForWater"] as const;
export type Asked = (typeof ASKED)[number];

export function askedFor(a: ApplySettings): Asked[] {
  const asked: Asked[] = [];
  if (!a.use) asked.push("use");
  if (a.rows.length === 0) asked.push("rows");
  if (!a.control) asked.push("control");
  if (!a.pipes) asked.push("pipes");
  if (a.use?.kind === "hotWater" && a.store.kind !== "water") asked.push("storeForWater");
  return asked;
}

/** Heat held per floor area by what follows the air, and by walls and floors, J/(m²·K) (ISO 52016-1, 6.5.11; ISO 13790, table 12). */
const AIR_HEAT = 10_000;
const MASS_HEAT = { light: 110_000, medium: 165_000, heavy: 260_000 };
/** Surfaces per floor area, and between them and the air, W/(m²·K) (ISO 13790, 12.3.1 and 7.2.2.2). */
const SURFACES = { light: 2.5, medium: 2.5, heavy: 3 };
const SURFACE_TRANSFER = 9.1;

/** Draw of a household by hour: morning, evening, or all day alike; sums to 1. */
const DRAW: Record<"morning" | "evening" | "even", readonly number[]> = {
  morning: shaped([
    [6, 0.25],
    [7, 0.25],
    [8, 0.15],
    [12, 0.1],
    [18, 0.1],
    [20, 0.15],
  ]),
  evening: shaped([
    [7, 0.15],
    [12, 0.1],
    [18, 0.2],
    [19, 0.25],
    [20, 0.2],
    [21, 0.1],
  ]),
  even: Array<number>(24).fill(1 / 24),
};

function shaped(parts: readonly (readonly [number, number])[]): number[] {
  const out = Array<number>(24).fill(0);
  for (const [hour, share] of parts) out[hour] = share;
  return out;
}

/** Cold water by month: a cosine between its winter and summer, coldest a month after midwinter. */
export const coldByMonth = (winterC: number, summerC: number, latitude: number): number[] =>
  Array.from({ length: 12 }, (_, m) => {
    const turn = ((m - 1 - (latitude < 0 ? 6 : 0)) * 2 * Math.PI) / 12;
    return (winterC + summerC) / 2 - ((summerC - winterC) / 2) * Math.cos(turn);
  });

export function storedUse(u: StoredUse, site: SiteWorld): Use {
  switch (u.kind) {
    case "room":
      return {
        kind: "room",
        lossWK: u.lossWK,
        airJK: AIR_HEAT * u.floorM2,
        massJK: MASS_HEAT[u.build] * u.floorM2,
        joinWK: SURFACE_TRANSFER * SURFACES[u.build] * u.floorM2,
        gainsW: u.gainsW,
        sunM2: u.sunM2,
        setC: u.setC,
        capC: u.capC,
        heated: u.heated,
      };
    case "freshAir": {
      const air = fluidProperties({ kind: "air" }, 10, sitePressure(site));
      return { ...u, flowWK: u.flowM3PerS * air.density * air.specificHeat };
    }
    case "drying":
      return {
        kind: "drying",
        flowKgS: 0,
        waterKg: MONTH_DAYS.map((_, m) => (u.months.includes(m) ? u.waterKgADay : 0)),
        pickUp: u.pickUp,
        humidity: u.humidity,
        pressurePa: sitePressure(site),
        capC: u.capC,
      };
    case "hotWater":
      return {
        kind: "hotWater",
        litresADay: u.litresADay,
        coldC: coldByMonth(u.coldWinterC, u.coldSummerC, site.latitude),
        wantedC: u.wantedC,
        capC: u.capC,
        profile: DRAW[u.draw],
      };
  }
}

/** Conductivity of duct and pipe insulation, W/(m·K), and of the air film outside, W/(m²·K) (ISO 12241, typical values). */
const WRAP = 0.038;
const FILM = 8;

/** One way of a round duct or pipe: series of insulation and film per length (ISO 12241, 4.1.3). */
export function pipeLossWK({ lengthM, diameterM, insulationM }: NonNullable<ApplySettings["pipes"]>): number {
  const outer = diameterM + 2 * insulationM;
  const wrap = insulationM > 0 ? Math.log(outer / diameterM) / (2 * Math.PI * WRAP) : 0;
  return lengthM / (wrap + 1 / (Math.PI * outer * FILM));
}

const pipesOf = (p: NonNullable<ApplySettings["pipes"]>): Pipes => {
  const each = pipeLossWK(p);
  return { supplyWK: each, returnWK: each, leakShare: p.leakShare };
};

/** Light on each plane of the rows, worked out once and shared by all candidates. */
export interface Lights {
  /** By `tilt/azimuth`, and with a candidate's mirrors by its key behind it. */
  planes: Map<string, PlaneYear>;
}

/** Mirrors of a candidate with the opening they stand at. */
export interface Mirrored {
  box: Opening;
  mirrors: readonly SeasonMirror[];
}

/** A box a metre up in the middle of the bench: where the site's obstacles were measured from. */
const receiverOf = (tilt: number, azimuth: number) => ({
  centre: [0, 0, 1] as const,
  plane: { tilt, azimuth },
  widthM: 1,
  lengthM: 2,
});

export function lightsOf(
  a: ApplySettings,
  site: SiteWorld,
  weather: WeatherYear,
  candidates: readonly Candidate[],
  mirrored: ReadonlyMap<string, Mirrored>,
): Lights {
  const world = withoutObstacles(site, a.without);
  const planes = new Map<string, PlaneYear>();
  for (const { tilt, azimuth } of a.rows)
    for (const key of ["", ...candidates.map((c) => c.key)]) {
      const own = mirrored.get(key);
      if (key && !own?.mirrors.length) continue;
      const name = planeKey(tilt, azimuth, key);
      if (!planes.has(name))
        planes.set(name, planeYear(world, receiverOf(tilt, azimuth), weather, own?.box ?? null, own?.mirrors ?? []));
    }
  return { planes };
}

const planeKey = (tilt: number, azimuth: number, key: string) => `${tilt}/${azimuth}/${key}`;

export const withoutObstacles = (site: SiteWorld, without: readonly string[]): SiteWorld => ({
  ...site,
  detail: { ...site.detail, obstacles: site.detail.obstacles.filter((o) => !without.includes(o.id)) },
});

/** A candidate's scenario. @throws RangeError while something is still asked for */
export function scenarioOf(a: ApplySettings, site: SiteWorld, c: Candidate, lights: Lights, fluid: Fluid): Scenario {
  if (!a.use || !a.control || !a.pipes || askedFor(a).length) throw new RangeError("asked for first");
  const rows = a.rows.map((r): SeasonRow => {
    const year =
      lights.planes.get(planeKey(r.tilt, r.azimuth, c.key)) ?? lights.planes.get(planeKey(r.tilt, r.azimuth, ""))!;
    return {
      inSeries: r.inSeries,
      sideBySide: r.sideBySide,
      light: effectiveLight(year, c),
      plainLight: plainLight(year),
    };
  });
  return {
    rows,
    secondStage: a.secondStage,
    control: a.control.kind === "sun" ? { kind: "sun" } : a.control,
    panel:
      a.control.kind === "sun"
        ? {
            fullWm2: (1000 * a.control.fanW) / a.control.panelW,
            startWm2: (100 * a.control.fanW) / a.control.panelW,
            tracked: a.control.tracked ?? false,
          }
        : null,
    run: pipesOf(a.pipes),
    exchanger: a.exchanger && !isLiquid(fluid) ? exchangerOf(a.exchanger, c.flowWK * streamsOf(a)) : null,
    pumpW: pumpOf(a, fluid),
    path: [1, ...(a.secondStage ? [a.secondStage.flow] : [])].map((times) => pathOf(a, site, fluid, c, times)),
    use: storedUse(a.use, site),
    store: usedStore(a),
    modes: a.modes,
  };
}

export interface SeasonPath {
  /** Of all streams together, kg/s, and in the duct or pipe, m/s. */
  massFlow: number;
  speedMs: number;
  ductPa: number;
  bedPa: number;
  ductW: number;
  bedW: number;
}

export const NO_PATH: SeasonPath = { massFlow: 0, speedMs: 0, ductPa: 0, bedPa: 0, ductW: 0, bedW: 0 };

/** Duct or pipe and bin of stones beside the boxes themselves, with all streams passing: what Season books, Sizing shows and Money pays. @param times the stream of the first stage */
export function pathOf(
  a: Pick<ApplySettings, "pipes" | "store" | "use" | "rows">,
  site: SiteWorld,
  fluid: Fluid,
  c: Pick<Candidate, "flowWK">,
  times = 1,
): SeasonPath {
  const massFlow = (times * streamsOf(a) * c.flowWK) / usualSpecificHeat(fluid, 25);
  const p = fluidProperties(fluid, PATH_C, sitePressure(site));
  const ductPa = a.pipes ? ductPressure(a.pipes, massFlow, p, waysOf(a.use)) : 0;
  const store = usedStore(a);
  const bedPa = store.kind === "rock" && fluid.kind === "air" ? rockPressure(store, massFlow, p) : 0;
  return {
    massFlow,
    speedMs: a.pipes ? ductSpeed(a.pipes.diameterM, massFlow, p.density) : 0,
    ductPa,
    bedPa,
    ductW: driveWatts(ductPa, massFlow, p.density),
    bedW: driveWatts(bedPa, massFlow, p.density),
  };
}

const pumpOf = (a: Pick<ApplySettings, "exchanger">, fluid: Fluid): number =>
  a.exchanger && !isLiquid(fluid) ? a.exchanger.pumpW : 0;

export interface Plant {
  path: SeasonPath;
  /** Electricity of the first stage while the stream flows, W: of the boxes alone, of all, and more while it passes the bin. */
  boxesW: number;
  powerW: number;
  bedW: number;
}

export function plantOf(a: ApplySettings, site: SiteWorld, fluid: Fluid, c: Candidate): Plant {
  const path = pathOf(a, site, fluid, c);
  const boxesW = c.powerW * boxesOf(a);
  return { path, boxesW, ...stageWatts(boxesW, path, pumpOf(a, fluid)) };
}

/** What passes ducts and bins is taken at this, °C: over a year's warmth its density moves by a tenth. */
const PATH_C = 30;

/** Outside air that is warmed or dries needs no way back. */
export const waysOf = (use: ApplySettings["use"]): 1 | 2 =>
  use?.kind === "freshAir" || use?.kind === "drying" ? 1 : 2;

export const streamsOf = (a: Pick<ApplySettings, "rows">): number => a.rows.reduce((n, r) => n + r.sideBySide, 0);
export const boxesOf = (a: Pick<ApplySettings, "rows">): number =>
  a.rows.reduce((n, r) => n + r.sideBySide * r.inSeries, 0);

/** ε on the side of the collector's stream. */
function exchangerOf({ uaWK, waterKgS }: NonNullable<ApplySettings["exchanger"]>, airWK: number): number {
  const waterWK = waterKgS * 4186;
  const [small, large] = [Math.min(airWK, waterWK), Math.max(airWK, waterWK)];
  return (effectiveness(uaWK / small, small / large) * small) / airWK;
}

/** Mirrors as the season takes them. */
export const seasonMirrors = (
  mirrors: readonly Mirror[],
  reflectance: (m: Mirror) => number,
  snow: readonly number[],
): SeasonMirror[] =>
  mirrors.map((mirror) => ({
    mirror,
    reflectance: reflectance(mirror),
    // Snow stays on what lies; a mirror that hangs over sheds it.
    snow: mirror.stand === "bottom" || mirror.stand === "free" ? snow : [],
  }));
