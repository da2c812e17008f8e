import { opening } from "../collector/design";
import type { RigFaultKind, RigLaneSpec, RigSettings } from "../experiment/schema/rig";
import { drawnFigures } from "../collector/drawn";
import { designAreas } from "../collector/content";
import { sunFrom } from "../mirror/geometry";
import { mirrorPlace, reflectanceOf } from "../mirror/mirror";
import { beamsOf } from "../mirror/several";
import { density, specificHeat } from "../fluids/fluid";
import { standardPressure, warmedHumidity } from "../fluids/moistAir";
import { atMinute, startOfDay, toWall } from "../log/zone";
import { seededRandom, type Random } from "../random/seededRandom";
import { overallModifier, type Incidence, type PlaneIrradiance } from "../sun/clearSky";
import { incidenceAngle, sunPosition } from "../sun/position";
import { RigBox, type BoxNow } from "./box";
import { drawStation, round, type RigStation } from "./simulate";
import { lightInPlane, weatherProcess } from "./weather";

const { max, min, exp, PI } = Math;
const RAD = PI / 180;
/** The bench's ducts, m. */
export const RIG_DUCT_M = 0.125;
export const RIG_PROFILE = 0.86;
const LINKE = 2.7;
const LAG_S = 15;
const NOISE_K = 0.04;
const PULSE_LITRES = 0.1;

/** One frame as the rig's logger writes it, and what nobody at the bench knows. */
export interface RigFrame {
  atMs: number;
  values: [name: string, value: number][];
  truth: { irradianceWm2: number; heatW: Record<string, number>; plateC: Record<string, number> };
}

interface LaneState {
  spec: RigLaneSpec;
  box: RigBox;
  station: RigStation;
  b0: Incidence;
  tankC: number;
  running: boolean;
  drift: number;
  inletProbe: number;
  outletProbe: number;
  /** What a stuck probe shows. */
  held: number | null;
  litres: number;
}

/**
 * A bench of drawn boxes that lives through its days: weather, sun, boxes with their storage, fans, tanks, probes with hidden errors.
 * The same settings give the same bench; settings may change between steps. Nights are skipped.
 */
export class LiveRig {
  private readonly random: Random;
  private weather: ReturnType<typeof weatherProcess>;
  private day: number;
  private lanes: LaneState[];
  private plenumC: number | null = null;
  private readonly sunGain: number;
  private readonly ambientBiasK: number;

  constructor(
    private settings: RigSettings,
    private nowMs: number = settings.startMs,
  ) {
    this.random = seededRandom(settings.seed);
    const { accuracy } = settings;
    this.sunGain = this.random.within(accuracy.sunShare);
    this.ambientBiasK = this.random.within(accuracy.probeK);
    const stations = new Map<number, RigStation>();
    for (let n = 1; n <= 24; n++)
      stations.set(
        n,
        drawStation(this.random, {
          probeK: accuracy.probeK,
          speedShare: accuracy.flowShare,
          profileFactor: RIG_PROFILE,
          profileLimit: 0.02,
          heatShareSd: 0.004,
        }),
      );
    this.nowMs = this.inDaylight(nowMs);
    this.day = startOfDay(this.nowMs, settings.site.zone);
    this.weather = weatherProcess(settings.weather, this.random, settings.stepS);
    this.lanes = settings.lanes.map((spec) => this.laneState(spec, stations.get(spec.station)!));
  }

  get atMs(): number {
    return this.nowMs;
  }

  /** Weather, faults, speed and thermostats may change while it runs; boxes keep their warmth. */
  change(settings: RigSettings): void {
    if (JSON.stringify(settings.weather) !== JSON.stringify(this.settings.weather))
      this.weather = weatherProcess(settings.weather, this.random, settings.stepS);
    this.settings = settings;
    for (const lane of this.lanes) lane.spec = settings.lanes.find((l) => l.letter === lane.spec.letter) ?? lane.spec;
  }

  private laneState(spec: RigLaneSpec, station: RigStation): LaneState {
    const { b0, b0Across, slanted } = drawnFigures(spec.design);
    return {
      spec,
      box: new RigBox(spec.design),
      station,
      b0: { b0, b0Across, slanted },
      tankC: spec.loop.kind === "tank" ? spec.loop.startC : NaN,
      running: spec.thermostat === null,
      drift: 0,
      inletProbe: NaN,
      outletProbe: NaN,
      held: null,
      litres: Math.round(1000 * this.random.uniform()),
    };
  }

  /** The next instant within the hours that are lived through. */
  private inDaylight(ms: number): number {
    const { zone } = this.settings.site;
    const [from, to] = this.settings.hours;
    const hour = hourOf(ms, zone);
    if (hour >= from && hour < to) return ms;
    const day = startOfDay(hour < from ? ms : startOfDay(ms, zone) + 26 * 3600_000, zone);
    return atMinute(day, from * 60, zone);
  }

  private has(kind: RigFaultKind, lane: string | null): number {
    const fault = this.settings.faults.find((f) => f.kind === kind && (f.lane === null || f.lane === lane));
    return fault ? fault.share : 0;
  }

  step(): RigFrame {
    const { settings } = this;
    const { site, stepS, plane } = settings;
    const before = this.nowMs;
    this.nowMs = this.inDaylight(this.nowMs + stepS * 1000);
    const { nowMs } = this;
    const day = startOfDay(nowMs, site.zone);
    if (day !== this.day) {
      this.day = day;
      this.weather = weatherProcess(settings.weather, this.random, stepS);
      // Boxes have cooled down overnight.
      if (nowMs - before > 3600_000) for (const lane of this.lanes) lane.box = new RigBox(lane.spec.design);
    }
    const w = this.weather(hourOf(nowMs, site.zone));
    const clouded = this.has("cloud", null) ? w.clearness * 0.35 : w.clearness;
    const light = lightInPlane(nowMs, { place: site, plane, linkeTurbidity: LINKE }, clouded);
    const around: Around = { ...w, light, pressurePa: standardPressure(site.altitudeM), atMs: nowMs };
    this.plenumC = this.plenum(around);
    const values: [string, number][] = [
      [
        "Sun (W/m2)",
        round(max(0, light.total * (1 + this.sunGain) + (light.total > 1 ? 2 * this.random.normal() : 0)), 0.1),
      ],
      ["Outside (°C)", round(w.ambient + this.ambientBiasK + 0.05 * this.random.normal(), 0.01)],
      ["Wind (m/s)", round(w.wind, 0.1)],
      ["Humidity (%)", round(100 * w.humidity, 0.1)],
    ];
    const truth: RigFrame["truth"] = { irradianceWm2: light.total, heatW: {}, plateC: {} };
    for (const lane of this.lanes) {
      const { now, shown } = this.laneStep(lane, around);
      values.push(...shown);
      truth.heatW[lane.spec.letter] = now.heatW;
      truth.plateC[lane.spec.letter] = now.plateC;
    }
    // As a logger writes them: without the dust of binary fractions.
    return { atMs: nowMs, values: values.map(([name, v]) => [name, Number(v.toFixed(4))]), truth };
  }

  private plenum({ ambient, atMs }: Around): number {
    const { plenum, site, stepS } = this.settings;
    const hour = hourOf(atMs, site.zone);
    const step = [...plenum].reverse().find((p) => hour >= p.fromHour);
    const target = ambient + (step?.aboveAmbientK ?? 0);
    const from = this.plenumC ?? target;
    return from + (target - from) * (1 - exp(-stepS / 180)) + 0.01 * this.random.normal();
  }

  private laneStep(lane: LaneState, around: Around): { now: BoxNow; shown: [string, number][] } {
    const { spec, station } = lane;
    const { stepS, plane } = this.settings;
    const { letter } = spec;
    const { light } = around;
    const shade = this.has("shade", letter);
    const K = light.total > 0 ? overallModifier(light, lane.b0, plane.tilt) : 1;
    const lit = (light.total * K + this.mirror(spec, around)) * (1 - shade) * (1 + station.heatShare);
    const inletC = this.inletOf(lane, around);
    lane.drift += -lane.drift * (stepS / 600) + 0.0008 * Math.sqrt(stepS / 10) * this.random.normal();
    const stopped = this.has("fanStop", letter) > 0;
    const sag = 1 - this.has("fanSag", letter) * 0.3;
    const set = spec.massFlowKgPerS === null ? null : spec.massFlowKgPerS * (1 + lane.drift) * sag;
    const now = lane.box.step(
      {
        irradianceWm2: max(0, lit),
        panelWm2: light.total * (1 - shade),
        ambientC: around.ambient,
        windMs: around.wind,
        inletC,
        tilt: plane.tilt,
        pressurePa: around.pressurePa,
      },
      set,
      lane.running && !stopped,
      stepS,
    );
    this.thermostat(lane, now);
    this.tank(lane, now, around);
    return { now, shown: this.shown(lane, now, inletC, around) };
  }

  private inletOf({ spec, tankC }: LaneState, { ambient }: Around): number {
    if (spec.loop.kind === "tank") return tankC;
    return spec.loop.kind === "plenum" ? (this.plenumC ?? ambient) : ambient;
  }

  /** What a mirror throws onto the box, W/m² of aperture. */
  private mirror({ design }: RigLaneSpec, { light, atMs }: Around): number {
    if (!design.mirrors.length || light.beam <= 0) return 0;
    const { plane, site } = this.settings;
    const sun = sunPosition(atMs, site);
    const normal = Math.cos(incidenceAngle(sun, plane) * RAD);
    if (normal <= 0.02) return 0;
    const box = opening(design);
    const { mirrors } = beamsOf(
      box,
      design.mirrors.map((m) => mirrorPlace(box, plane, m)),
      sunFrom(plane, sun),
    );
    const thrown = mirrors.reduce(
      (s, m, i) => s + reflectanceOf(design.mirrors[i], design.materials) * m.lit * m.cosine,
      0,
    );
    return (light.beam / normal) * thrown;
  }

  private thermostat(lane: LaneState, { plateC }: BoxNow): void {
    const { thermostat } = lane.spec;
    if (!thermostat) lane.running = true;
    else if (plateC > thermostat.onC) lane.running = true;
    else if (plateC < thermostat.offC) lane.running = false;
  }

  /** The tank moves towards what comes in and what is around, and never past them, however small it is. */
  private tank(lane: LaneState, { heatW, outletC }: BoxNow, { ambient }: Around): void {
    const { loop, design } = lane.spec;
    if (loop.kind !== "tank") return;
    const state = { temperatureC: lane.tankC, pressurePa: 101325, relativeHumidity: 0 };
    const held = (loop.litres / 1000) * density(design.fluid, state) * specificHeat(design.fluid, state);
    const over = outletC - lane.tankC;
    const streamWK = Math.abs(over) > 1e-9 ? max(0, heatW / over) : 0;
    const all = streamWK + loop.lossWPerK;
    if (all <= 0) return;
    const aim = (streamWK * outletC + loop.lossWPerK * ambient) / all;
    lane.tankC += (aim - lane.tankC) * -Math.expm1((-all * this.settings.stepS) / held);
  }

  /** What the lane's probes and meter show. */
  private shown(lane: LaneState, now: BoxNow, inletC: number, around: Around): [string, number][] {
    const { spec, station } = lane;
    const { letter, design } = spec;
    const { stepS } = this.settings;
    const leak = this.has("leak", letter) * 0.4;
    const outletC = now.massFlowKgPerS > 0 ? now.outletC + leak * (around.ambient - now.outletC) : inletC;
    const lag = 1 - exp(-stepS / LAG_S);
    const follow = (probe: number, true_: number) => (Number.isNaN(probe) ? true_ : probe + lag * (true_ - probe));
    lane.inletProbe = follow(lane.inletProbe, inletC);
    lane.outletProbe = follow(lane.outletProbe, outletC);
    const noisy = (c: number, bias: number) => round(c + bias + NOISE_K * this.random.normal(), 0.01);
    const inlet = noisy(lane.inletProbe, station.inletBiasK);
    let outlet = noisy(lane.outletProbe, station.outletBiasK);
    if (this.has("probeStuck", letter)) outlet = lane.held ??= outlet;
    else lane.held = null;
    if (this.has("probeLost", letter)) outlet = -127;
    const state = {
      temperatureC: outletC,
      pressurePa: around.pressurePa,
      relativeHumidity: warmedHumidity(around.humidity, around.ambient, outletC),
    };
    const volume = now.massFlowKgPerS / density(design.fluid, state);
    const noise = (1 + station.speedGain) * (1 + 0.012 * this.random.normal());
    const own: [string, number][] = [
      [`${letter} in (°C)`, inlet],
      [`${letter} out (°C)`, outlet],
    ];
    if (design.fluid.kind === "air") {
      const mean = (volume * design.inParallel) / ((PI / 4) * RIG_DUCT_M ** 2);
      own.push([`${letter} air (m/s)`, round(max(0, (mean / station.profileFactor) * noise), 0.01)]);
    } else {
      const perSecond = volume * design.inParallel * noise;
      if (this.has("counterReset", letter)) lane.litres = 0;
      lane.litres += 1000 * perSecond * stepS;
      own.push([`${letter} flow (L/min)`, round(max(0, perSecond * 60_000), 0.01)]);
      own.push([`${letter} pulses`, Math.floor(lane.litres / PULSE_LITRES)]);
    }
    if (spec.loop.kind === "tank") own.push([`${letter} tank (°C)`, round(lane.tankC, 0.01)]);
    if (spec.thermostat) own.push([`${letter} fan on`, now.massFlowKgPerS > 0 ? 1 : 0]);
    own.push([`${letter} plate (°C)`, round(now.plateC + 0.2 * this.random.normal(), 0.1)]);
    return own;
  }
}

interface Around {
  ambient: number;
  wind: number;
  humidity: number;
  light: PlaneIrradiance;
  pressurePa: number;
  atMs: number;
}

const hourOf = (ms: number, zone: string): number => {
  const wall = toWall(ms, zone);
  return (wall - Math.floor(wall / 86400000) * 86400000) / 3600_000;
};

/** A flow that suits a box, kg/s: 0.02 kg/(s·m²), as comparisons usually run. */
export const usualFlow = (design: RigLaneSpec["design"]): number => min(10, 0.02 * designAreas(design).gross);
