import type { Knex } from "knex";
import { z } from "zod";
import type { Design } from "../../core/collector/design";
import { designProblems } from "../../core/collector/validate";
import { rigFaultSchema, rigSettingsSchema, type RigSettings } from "../../core/experiment/schema/rig";
import type { DeviceRow } from "../../core/experiment/records";
import { startOfDay, atMinute } from "../../core/log/zone";
import { usualFlow } from "../../core/rig/liveRig";
import { deviceByToken, listDevices } from "../../data/device/devices";
import { listExperiments } from "../../data/experiment/experiments";
import { recordChange } from "../../data/journal";
import { newestOf } from "../../data/reading/readings";
import { findRig, noteRigHeard, saveRig, type RigRow } from "../../data/rig/rigs";
import { runsFedBy, type FedRun } from "../../data/run/live";
import { transact } from "../../data/transact";
import { command, done, refused } from "../web/command";
import { endLiveRun } from "../live/commands";
import { SCENARIOS } from "./scenarios";

export interface RigPage {
  rig: RigRow | null;
  device: DeviceRow | null;
  /** Runs that take what this bench sends: with other boxes on it they would take what is not theirs. */
  open: FedRun[];
  experiments: {
    id: number;
    name: string;
    site: RigSettings["site"];
    variants: { letter: string; variant: string; design: Design }[];
  }[];
}

/** The simulated bench as it stands, and what boxes may stand on it. */
export async function rigPage(knex: Knex): Promise<RigPage> {
  const [rig, devices, experiments] = await Promise.all([findRig(knex), listDevices(knex), listExperiments(knex)]);
  const device = devices.find((d) => d.id === rig?.deviceId) ?? devices.find((d) => d.kind === "rig") ?? null;
  return {
    rig,
    device,
    open: device ? (await runsFedBy(knex, device.streamId)).filter((r) => r.endedAt === null) : [],
    experiments: experiments
      .map(({ id, name, site, lanes, drawn }) => ({
        id,
        name,
        site: { latitude: site.latitude, longitude: site.longitude, altitudeM: site.altitudeM, zone: site.zone },
        variants: [...lanes, ...drawn]
          // What cannot be reckoned cannot stand on a bench: an unfinished drawing, a bought module whose curve nobody stated.
          .filter((v) => designProblems(v.design).length === 0 && /^[A-H]$/.test(v.letter))
          .map(({ letter, variant, design }) => ({ letter, variant, design })),
      }))
      .filter((e) => e.variants.length > 0),
  };
}

const letters = z
  .array(z.string().regex(/^[A-H]$/))
  .min(1, "choose a box")
  .max(8);

/**
 * Puts variants of an experiment on the simulated bench, in one of the scenarios that ship, and lets it run. A run that still takes
 * what the bench sends is ended first, and only when the person says so: the new boxes' readings are not its.
 */
export const setUpRig = command({
  right: "hand",
  input: z.tuple([
    z.object({
      experimentId: z.number().int().positive(),
      letters,
      scenario: z.enum(Object.keys(SCENARIOS) as [keyof typeof SCENARIOS, ...(keyof typeof SCENARIOS)[]]),
      speed: z.number().min(1).max(600),
      /** Open runs that are to end. */
      ends: z.array(z.number().int().positive()).max(100).default([]),
    }),
  ]),
  async run(knex, { experimentId, letters: wanted, scenario, speed, ends }) {
    const { experiments, open, device } = await rigPage(knex);
    const experiment = experiments.find((e) => e.id === experimentId);
    const variants = experiment?.variants.filter((v) => wanted.includes(v.letter)) ?? [];
    if (!experiment || variants.length < wanted.length)
      return refused("One of these boxes is no longer there. Reload the page and choose again.");
    const held = open.find((r) => !ends.includes(r.runId));
    if (held)
      return refused(
        `Run ${held.number} of “${held.experiment}” takes what this bench sends. End it first; nothing was changed.`,
      );
    const newestMs = device?.endMs ?? null;
    await transact(knex, async (trx) => {
      for (const run of open) await endLiveRun(trx, run, (newestMs ?? run.startedAt) + 1);
      await saveRig(trx, {
        settings: settingsFor(experiment.site, variants, scenario, speed, startDay(experiment.site.zone, newestMs)),
        running: true,
        anew: true,
      });
      await recordChange(trx, experimentId, "rig set up", { letters: wanted, scenario });
    });
    return done();
  },
  touches: () => "everything",
});

/**
 * The day on which a bench begins: today, or the day after its newest reading where its clock has run ahead. Nothing it sends then
 * falls into a span that another bench has filled.
 */
const startDay = (zone: string, newestMs: number | null): number =>
  Math.max(Date.now(), newestMs === null ? 0 : startOfDay(newestMs, zone) + 36 * 3600_000);

/** A bench for some boxes. Its day begins in the morning, on its own clock. */
export function settingsFor(
  site: RigSettings["site"],
  variants: readonly { letter: string; design: Design }[],
  scenario: keyof typeof SCENARIOS,
  speed: number,
  day = Date.now(),
): RigSettings {
  const { weather, plenum, loop, thermostat, driven } = SCENARIOS[scenario];
  const startMs = atMinute(startOfDay(day, site.zone), 8 * 60, site.zone);
  return rigSettingsSchema.parse({
    seed: 1120,
    site,
    plane: { tilt: 55, azimuth: site.latitude >= 0 ? 180 : 0 },
    startMs,
    hours: [7, 19],
    stepS: 10,
    weather,
    plenum,
    accuracy: { probeK: 0.3, flowShare: 0.03, sunShare: 0.02 },
    faults: [],
    speed,
    lanes: variants.map(({ letter, design }, i) => ({
      letter,
      design,
      station: i + 1,
      massFlowKgPerS: driven === "drawing" ? null : usualFlow(design),
      loop: design.fluid.kind === "air" ? loop : { kind: "tank", litres: 120, startC: 14, lossWPerK: 3 },
      // The box's own switch, if it has one.
      thermostat: design.thermostat ?? (thermostat ? { onC: 35, offC: 25 } : null),
    })),
  });
}

type Fault = RigSettings["faults"][number];

/** One fault of one lane turned on or off among those that are on. */
const turnedFaults = (faults: readonly Fault[], { fault, on }: { fault: Fault; on: boolean }): Fault[] => [
  ...faults.filter((f) => f.kind !== fault.kind || f.lane !== fault.lane),
  ...(on ? [fault] : []),
];

/** Speed, weather, faults and whether it runs: the boxes keep their warmth. */
export const changeRig = command({
  right: "hand",
  input: z.tuple([
    rigSettingsSchema
      .pick({ speed: true, weather: true, faults: true })
      .partial()
      .extend({
        running: z.boolean().optional(),
        /** One fault on or off; the others stay as they are by then. */
        fault: z.object({ fault: rigFaultSchema, on: z.boolean() }).optional(),
      }),
  ]),
  async run(knex, { running, fault: turned, ...change }) {
    const rig = await findRig(knex);
    if (!rig) return refused("No box stands on the simulated bench yet.");
    await saveRig(knex, {
      settings: { ...rig.settings, ...change, ...(turned && { faults: turnedFaults(rig.settings.faults, turned) }) },
      running: running ?? rig.running,
      anew: false,
    });
    return done();
  },
  touches: () => "everything",
});

export interface RigOrders {
  running: boolean;
  version: number;
  epoch: number;
  settings: RigSettings | null;
  /** Newest frame that arrived, ms: where a driver that begins goes on. */
  newestMs: number | null;
}

/** What the process that drives the bench is to do; null for a token that is not its. */
export async function rigOrders(knex: Knex, token: string, nowMs: number): Promise<RigOrders | null> {
  const device = await deviceByToken(knex, token);
  if (!device || device.revokedAt !== null || !device.simulated) return null;
  const rig = await findRig(knex);
  if (rig) await noteRigHeard(knex, nowMs);
  return {
    running: rig?.running ?? false,
    version: rig?.version ?? 0,
    epoch: rig?.epoch ?? 0,
    settings: rig?.settings ?? null,
    newestMs: await newestOf(knex, device.streamId),
  };
}
