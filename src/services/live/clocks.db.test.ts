import type { Knex } from "knex";
import { LIVE, loadLive } from "../../../demo/live";
import { SITE } from "../../../demo/tansyRidge";
import { freshDatabase } from "../../../scripts/testing/database";
import type { Alarm } from "../../core/live/alarms";
import { LiveRig } from "../../core/rig/liveRig";
import { renewToken } from "../../data/device/devices";
import { insertSite } from "../../data/site/sites";
import { findRig } from "../../data/rig/rigs";
import { ingest } from "../ingest/ingest";
import { endRun, resumeRun } from "./commands";
import { liveView, noteBench } from "./view";

/** A logger whose clock may be wrong, and who sends over the door of every logger. Times are those of the wall. */
let knex: Knex;
let experiment: number;
let device: number;
let token: string;
let wall: number;
let rig: LiveRig;
const HOUR = 3600_000;

beforeEach(async () => {
  knex = await freshDatabase("live_clocks");
  await loadLive(knex, await insertSite(knex, SITE));
  experiment = (await knex("experiment").where({ demo_key: LIVE.key }).first("id")).id;
  const row = await knex("device").first("id");
  device = row.id;
  token = (await renewToken(knex, device))!;
  // From here on it is a logger like any other.
  await knex("device").where({ id: device }).update({ simulated: false, name: "bench logger" });
  wall = Number((await knex("stream").first("t_end")).t_end);
  rig = new LiveRig((await findRig(knex))!.settings, wall);
}, 120_000);
afterEach(() => knex.destroy());

const fault = (kind: "fanStop", lane: string) => {
  const { settings } = rig as unknown as { settings: ConstructorParameters<typeof LiveRig>[0] };
  return new LiveRig({ ...settings, faults: [{ kind, lane, share: 1 }] } as typeof settings, wall);
};
/** The logger sends for so many steps of ten seconds, its clock ahead by so much. */
async function send(
  steps: number,
  aheadMs = 0,
  change: (values: Map<string, number>) => void = () => undefined,
): Promise<void> {
  for (let i = 0; i < steps; i++) {
    const values = new Map(rig.step().values);
    change(values);
    wall += 10_000;
    const answer = await ingest(
      knex,
      {
        authorization: `Bearer ${token}`,
        contentType: "application/json",
        precision: null,
        from: "127.0.0.1",
        body: JSON.stringify([{ time: wall + aheadMs, values: Object.fromEntries(values) }]),
      },
      wall,
    );
    expect(answer.status).toBe(200);
  }
}
const view = async () => (await liveView(knex, experiment, wall))!;
/** What is wrong now. */
async function alarms(): Promise<Alarm[]> {
  await noteBench(knex, experiment, wall);
  return (await view()).alarms.filter((a) => a.holds).map((a) => a.alarm);
}

test("frames stamped an hour ahead are held apart: Run shows what is so now, and a stopped fan in full sun is an alarm", async () => {
  await send(6);
  const before = await view();
  await send(4, HOUR);
  const during = await view();
  // Nothing of the hour to come; what was true a moment ago stands, with its age.
  expect(during.newestMs).toBe(before.newestMs);
  expect(during.trace!.startMs).toBeLessThan(wall);
  expect(await alarms()).toMatchObject([{ kind: "clock", lagMs: -HOUR }]);
  // The clock is set right, and the fan stops.
  rig = fault("fanStop", "B");
  await send(18);
  const after = await view();
  expect(after.newestMs).toBe(wall);
  expect(after.lanes.find((l) => l.letter === "B")!.flow!.si).toBeLessThan(0.2 * before.lanes[1].flow!.si);
  expect(await alarms()).toMatchObject([{ kind: "flowLost", lane: "B" }]);
}, 120_000);

test("a clock an hour slow is called slow and not silence; what was kept back is neither", async () => {
  await send(3);
  await send(2, -HOUR);
  expect(await alarms()).toEqual([]);
  await send(8, -HOUR);
  expect(await alarms()).toMatchObject([{ kind: "clock", lagMs: HOUR }]);
}, 120_000);

test("a logger silent for minutes, and for more than two hours, is an alarm; its last figures are not those of now", async () => {
  await send(6);
  wall += 10 * 60_000;
  expect(await alarms()).toMatchObject([{ kind: "silent", device: "bench logger", seconds: 600 }]);
  expect((await view()).lanes.every((l) => l.heat === null)).toBe(true);
  wall += 3 * HOUR;
  expect(await alarms()).toMatchObject([{ kind: "silent" }]);
  expect((await view()).newestMs).toBe(wall - 3 * HOUR - 10 * 60_000);
}, 120_000);

test("a simulated bench that falls silent is an alarm too", async () => {
  await knex("device").where({ id: device }).update({ simulated: true });
  await send(6);
  expect(await alarms()).toEqual([]);
  wall += 5 * 60_000;
  expect(await alarms()).toMatchObject([{ kind: "silent" }]);
}, 120_000);

test("the most urgent stands first whenever it began; an alarm of an ended run holds no longer", async () => {
  await send(6);
  await send(4, HOUR);
  expect(await alarms()).toMatchObject([{ kind: "clock" }]);
  rig = fault("fanStop", "B");
  // The clock stays wrong for some frames that come beside the true ones.
  await send(18);
  await send(1, HOUR);
  expect((await alarms()).map((a) => a.kind)).toEqual(["flowLost", "clock"]);
  const { runId, nowMs } = await view();
  expect(await endRun.run(knex, experiment, runId, nowMs)).toMatchObject({ ok: true });
  const ended = await view();
  expect(ended.alarms.length).toBeGreaterThan(1);
  expect(ended.alarms.every((a) => !a.holds && a.endedAt !== null)).toBe(true);
}, 120_000);

test("a logger set up anew is told from one that only lost a probe: its run is paused where the old channels went", async () => {
  await send(6);
  // One probe falls out: named once it has been away for minutes, and the run goes on.
  const [lost, other] = [...new Map(rig.step().values).keys()].filter((name) => /out/i.test(name));
  wall += 10_000;
  await send(24, 0, (values) => values.delete(lost));
  expect(await alarms()).toMatchObject([{ kind: "gone", channel: lost }]);
  expect((await view()).state).toBe("running");
  // Its program is changed: that column, and another, are called something else from here on.
  const changedAt = wall;
  await send(24, 0, (values) => {
    values.set("bath", values.get(other)!);
    values.delete(other);
    values.delete(lost);
  });
  expect(await alarms()).toMatchObject([{ kind: "rewired", came: ["bath"] }]);
  expect((await view()).state).toBe("paused");
  const { runId } = await view();
  const pausedAt = Number((await knex("run").where({ id: runId }).first("paused_at")).paused_at);
  expect(pausedAt).toBeLessThanOrEqual(changedAt);
  // Who goes on all the same is not stopped again by the same change.
  expect(await resumeRun.run(knex, experiment, runId, wall)).toMatchObject({ ok: true });
  await send(1, 0, (values) => values.delete(other));
  await alarms();
  expect((await view()).state).toBe("running");
}, 120_000);
