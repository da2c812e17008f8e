import { setMaxListeners } from "node:events";
import type { Knex } from "knex";
import { LIVE, loadLive } from "../../../demo/live";
import { SITE } from "../../../demo/tansyRidge";
import { freshDatabase, ownUrl } from "../../../scripts/testing/database";
import { LiveRig } from "../../core/rig/liveRig";
import { findExperiment } from "../../data/experiment/experiments";
import { findRig } from "../../data/rig/rigs";
import { compactStream } from "../../data/reading/compact";
import { appendFrames } from "../../data/reading/tail";
import { planSettingsSchema } from "../../core/experiment/schema/plan";
import { createDatabase } from "../../data/database";
import { savePlan } from "../../data/plan/plans";
import { insertSite } from "../../data/site/sites";
import { analyse } from "../analysis/analyse";
import { changeRig, rigPage, setUpRig } from "../rig/rig";
import {
  acknowledgeAlarm,
  changeUnit,
  deleteEvent,
  editEvent,
  endRun,
  followThePlan,
  markEvent,
  pauseRun,
  reopenRun,
  resumeRun,
} from "./commands";
import { streamDetails } from "../experiment/queries";
import { runTraces } from "../read/traces";
import { followPlan } from "./byPlan";
import { liveVersion } from "../../data/run/live";
import { endingAtOnce, liveFeed } from "./feed";
import { openWorking } from "../working/working";
import { liveView, noteBench } from "./view";

let knex: Knex;
let experiment: number;
let run: number;
let stream: number;
beforeAll(async () => {
  knex = await freshDatabase("live_bench");
  const site = await insertSite(knex, SITE);
  await loadLive(knex, site);
  experiment = (await knex("experiment").where({ demo_key: LIVE.key }).first("id")).id;
  const [stored] = (await findExperiment(knex, experiment))!.runs;
  run = stored.id;
  stream = stored.streams[0].id;
}, 120_000);
afterAll(() => knex.destroy());

/** As it is seen once what is wrong was written down. */
const view = async () => {
  await noteBench(knex, experiment, Date.now());
  return (await liveView(knex, experiment, Date.now()))!;
};
/** Lets the rig go on for so many steps, under other settings perhaps. */
async function goOn(steps: number, faults: { kind: "fanStop" | "probeLost"; lane: string }[] = []): Promise<void> {
  const { settings } = (await findRig(knex))!;
  const { nowMs } = await view();
  const rig = new LiveRig({ ...settings, faults: faults.map((f) => ({ ...f, share: 0.5 })) }, nowMs);
  await appendFrames(
    knex,
    stream,
    Array.from({ length: steps }, () => rig.step()),
  );
}
const key = () => `key-${Math.random().toString(36).slice(2)}-${Date.now()}`.slice(0, 40).padEnd(16, "0");

test("the live view agrees with the whole analysis of the same readings", async () => {
  const live = await view();
  expect(live.state).toBe("running");
  expect(live.lanes.map((l) => l.letter)).toEqual(["A", "B", "C"]);
  const { reduction } = (await analyse(knex, experiment))!;
  const last = reduction.points.filter((p) => p.lane === "B").at(-1)!;
  const now = live.lanes[1];
  expect(now.heat!.si / last.heat.value).toBeGreaterThan(0.85);
  expect(now.heat!.si / last.heat.value).toBeLessThan(1.15);
  // One minute's mean scatters more than a window's.
  expect(now.heat!.expanded!).toBeGreaterThan(0);
  expect(live.soFar!.windows).toHaveLength(reduction.runs[0].windows.length);
  expect(live.trace!.lanes[0].outlet.length).toBeGreaterThan(60);
});

test("compaction changes neither the live view nor the verdict", async () => {
  const [before, points] = [await view(), (await analyse(knex, experiment))!.reduction.points.length];
  await compactStream(knex, stream, 100);
  const after = await view();
  expect(after.lanes).toEqual(before.lanes);
  expect(after.shared).toEqual(before.shared);
  expect((await analyse(knex, experiment))!.reduction.points).toHaveLength(points);
});

test("paused, readings are kept and count for nothing; going on makes the pause a layer", async () => {
  const { nowMs } = await view();
  expect(await pauseRun.run(knex, experiment, run, nowMs)).toMatchObject({ ok: true });
  expect(await pauseRun.run(knex, experiment, run, nowMs)).toMatchObject({ ok: false });
  await goOn(30);
  expect((await view()).state).toBe("paused");
  const until = (await view()).nowMs;
  expect(await resumeRun.run(knex, experiment, run, until)).toMatchObject({ ok: true });
  const stored = (await findExperiment(knex, experiment))!.runs[0];
  expect(stored.layers.find((l) => l.kind === "exclusion")).toMatchObject({
    reason: "paused",
    detail: { fromMs: nowMs, toMs: until },
  });
  expect((await view()).state).toBe("running");
});

test("an event is there once however often it is sent, is corrected, taken away and put back", async () => {
  const { nowMs } = await view();
  const event = { key: key(), atMs: nowMs, kind: "cloud" as const, lane: "A", text: "", photoId: null };
  const first = await markEvent.run(knex, experiment, run, event);
  expect(await markEvent.run(knex, experiment, run, event)).toEqual(first);
  const id = (first as unknown as { id: number }).id;
  expect((await view()).events).toHaveLength(1);
  await editEvent.run(knex, experiment, run, { eventId: id, atMs: nowMs - 60_000, text: "a thin one" });
  expect((await view()).events[0]).toMatchObject({ atMs: nowMs - 60_000, text: "a thin one", lane: "A" });
  await deleteEvent.run(knex, experiment, run, id, true);
  expect((await view()).events).toHaveLength(0);
  await deleteEvent.run(knex, experiment, run, id, false);
  expect((await view()).events).toHaveLength(1);
  expect(await markEvent.run(knex, experiment, 9e8, { ...event, key: key() })).toMatchObject({ ok: false });
});

test("a swap splits the run; moved it moves, deleted the boxes stand as before; an impossible one is refused", async () => {
  const { nowMs } = await view();
  const at = nowMs - 600_000;
  const swap = {
    key: key(),
    atMs: at,
    kind: "swap" as const,
    lane: null,
    lanes: ["A", "C"] as [string, string],
    text: "",
    photoId: null,
  };
  const made = (await markEvent.run(knex, experiment, run, swap)) as unknown as { id: number };
  const stations = async () => (await view()).lanes.map((l) => l.station);
  expect(await stations()).toEqual([3, 2, 1]);
  const arrangements = async () =>
    (await analyse(knex, experiment))!.reduction.runs[0].arrangements.map((a) => a.fromMs);
  expect(await arrangements()).toEqual([null, at]);
  await editEvent.run(knex, experiment, run, { eventId: made.id, atMs: at - 300_000, text: "" });
  expect(await arrangements()).toEqual([null, at - 300_000]);
  await deleteEvent.run(knex, experiment, run, made.id, true);
  expect(await stations()).toEqual([1, 2, 3]);
  const impossible = { ...swap, key: key(), lanes: ["A", "H"] as [string, string] };
  // Sent again, as a phone does that missed the answer, it is refused again.
  for (let sent = 0; sent < 2; sent++)
    expect(await markEvent.run(knex, experiment, run, impossible)).toMatchObject({
      ok: false,
      error: expect.stringContaining("do not both stand"),
    });
  expect((await view()).events.some((e) => e.key === impossible.key)).toBe(false);
});

test("a stopped fan is an alarm, logged, acknowledged and over; meant, it is none", async () => {
  await goOn(12, [{ kind: "fanStop", lane: "B" }]);
  await new Promise((r) => setTimeout(r, 2100));
  await view();
  const open = (await view()).alarms.find((a) => a.alarm.kind === "flowLost")!;
  expect(open).toMatchObject({ endedAt: null, acknowledgedAt: null, alarm: { lane: "B" } });
  expect(await acknowledgeAlarm.run(knex, experiment, run, open.id, Date.now())).toMatchObject({ ok: true });
  expect((await view()).alarms.find((a) => a.id === open.id)!.acknowledgedAt).not.toBeNull();
  await goOn(30);
  await new Promise((r) => setTimeout(r, 2100));
  await view();
  expect((await view()).alarms.find((a) => a.id === open.id)!.endedAt).not.toBeNull();
  const { nowMs } = await view();
  const still = { key: key(), atMs: nowMs, kind: "stillBegin" as const, lane: null, text: "", photoId: null };
  await markEvent.run(knex, experiment, run, still);
  await goOn(12, [{ kind: "fanStop", lane: "B" }]);
  await new Promise((r) => setTimeout(r, 2100));
  await view();
  const again = await view();
  expect(again.stagnationMeant).toBe(true);
  expect(again.alarms.filter((a) => a.endedAt === null && a.alarm.kind === "flowLost")).toEqual([]);
}, 30_000);

test("the feed sends the whole view at once and again when something changed", async () => {
  const abort = new AbortController();
  const reader = liveFeed(knex, experiment, view, abort.signal, async () => true).getReader();
  const next = async (): Promise<string> => {
    for (;;) {
      const text = new TextDecoder().decode((await reader.read()).value);
      if (text.startsWith("id:")) return text;
    }
  };
  const first = await next();
  expect(first).toContain(`"runId":${run}`);
  expect(first.startsWith(`id: ${await liveVersion(knex, experiment)}`)).toBe(true);
  await goOn(1);
  const second = await next();
  expect(second.split("\n")[0]).not.toBe(first.split("\n")[0]);
  abort.abort();
  await reader.cancel();
});

test("ended and opened again; what came meanwhile is in the run", async () => {
  const { nowMs } = await view();
  await endRun.run(knex, experiment, run, nowMs);
  await goOn(10);
  expect((await view()).state).toBe("ended");
  const ended = (await findExperiment(knex, experiment))!.runs[0].streams[0];
  expect(ended.endMs).toBeLessThan(nowMs);
  await reopenRun.run(knex, experiment, run);
  const open = (await findExperiment(knex, experiment))!.runs[0].streams[0];
  expect(open.frames).toBe(ended.frames + 11);
});

test("readings of a span that nothing came into do not change a run's results", async () => {
  const { nowMs } = await view();
  await endRun.run(knex, experiment, run, nowMs + 1);
  const version = async () => (await findExperiment(knex, experiment))!.runs[0].streams[0].live!.version;
  const before = await version();
  await goOn(5);
  expect(await version()).toBe(before);
  await appendFrames(knex, stream, [{ atMs: nowMs - 5, values: [["A in (°C)", 20]] }]);
  expect(await version()).toBe(before + 1);
  await reopenRun.run(knex, experiment, run);
});

test("a unit said wrongly is mended for every reading of the run, and none is touched", async () => {
  const of = { experimentId: experiment, runId: run, streamId: stream };
  const channel = (await findExperiment(knex, experiment))!.runs[0].streams[0].channels.find(
    (c) => c.name === "A out (°C)",
  )!;
  const range = async () => (await streamDetails(knex, of)).ranges.find((r) => r.channelNo === channel.channelNo)!;
  const before = await range();
  const outlet = async () => (await view()).lanes[0].outlet!.si;
  const now = await outlet();
  const change = (unit: string) => changeUnit.run(knex, experiment, run, stream, channel.channelNo, unit);
  expect(await change("°F")).toMatchObject({ ok: true });
  expect(await outlet()).toBeCloseTo(((now - 32) * 5) / 9, 1);
  expect((await range()).highest).toBeCloseTo(((before.highest! - 32) * 5) / 9, 6);
  expect(await change("m/s")).toMatchObject({ ok: false });
  expect(await change("°C")).toMatchObject({ ok: true });
  expect(await outlet()).toBe(now);
  expect(await range()).toEqual(before);
});

test("what was marked stands on the traces", async () => {
  const traces = (await runTraces(knex, experiment, run, { buckets: 200 }))!;
  expect(traces.events).toContainEqual(expect.objectContaining({ kind: "cloud", lane: "A" }));
});

test("a live figure opens its working, with the ± it shows", async () => {
  const { lanes } = await view();
  for (const name of ["heat", "efficiency", "rise"] as const) {
    const working = (await openWorking(knex, experiment, { figure: "live", lane: "A", name }))!;
    expect(working.figure.si).toBeCloseTo(lanes[0][name]!.si, 9);
    expect(working.figure.expanded).toBeCloseTo(lanes[0][name]!.expanded!, 9);
    expect(working.budget.reduce((s, b) => s + b.share, 0)).toBeGreaterThan(0.8);
    expect(working.inputs.length).toBeGreaterThan(1);
  }
  expect(await openWorking(knex, experiment, { figure: "live", lane: "H", name: "heat" })).toBeNull();
});

test("a run that follows the plan rests outside its hours and ends with the last of them", async () => {
  const { nowMs, startedAt } = await view();
  const day = new Date(startedAt + 86_400_000).toISOString().slice(0, 10);
  expect(await followThePlan.run(knex, experiment, run, true, nowMs)).toMatchObject({ ok: false });
  await savePlan(knex, experiment, planSettingsSchema.parse({ start: day, days: 2 }));
  await knex("experiment").where({ id: experiment }).increment("changed_at", 1);
  const plan = (await view()).plan!;
  expect(plan).toMatchObject({ followed: false });
  const hours = plan.next!;
  expect(hours.fromMs).toBeGreaterThan(nowMs);
  expect(await followThePlan.run(knex, experiment, run, true, nowMs)).toMatchObject({ ok: true });
  expect(await followPlan(knex, experiment, nowMs)).toBe(1);
  expect((await view()).state).toBe("paused");
  expect(await followPlan(knex, experiment, hours.fromMs + 60_000)).toBe(1);
  expect((await view()).state).toBe("running");
  const layers = (await findExperiment(knex, experiment))!.runs[0].layers;
  expect(layers.at(-1)).toMatchObject({
    kind: "exclusion",
    detail: { fromMs: nowMs, toMs: hours.fromMs },
    reason: "paused",
  });
  expect(await followPlan(knex, experiment, hours.fromMs + 90_000_000 * 3)).toBeGreaterThan(1);
  const ended = await view();
  expect(ended.state).toBe("ended");
  expect(ended.endedAt).toBeGreaterThan(hours.toMs);
  expect(await followPlan(knex, experiment, hours.fromMs + 90_000_000 * 4)).toBe(0);
  await reopenRun.run(knex, experiment, run);
  await followThePlan.run(knex, experiment, run, false, nowMs);
});

test("what one instance took another shows within the second, and a reader that comes back gets the whole view", async () => {
  const other = createDatabase(ownUrl("live_bench"));
  // Another process has memories of its own.
  const holder = globalThis as { bravelFeeds?: unknown };
  const mine = holder.bravelFeeds;
  holder.bravelFeeds = undefined;
  jest.resetModules();
  const elsewhere = (await import("./feed")) as { liveFeed: typeof liveFeed };
  try {
    const heard = async () => {
      const stop = new AbortController();
      const reader = elsewhere
        .liveFeed(
          other,
          experiment,
          () => liveView(other, experiment, Date.now()),
          stop.signal,
          async () => true,
        )
        .getReader();
      const next = async () => {
        for (;;) {
          const text = new TextDecoder().decode((await reader.read()).value);
          const data = /data: (\{.*\})/.exec(text)?.[1];
          if (data) return JSON.parse(data) as { newestMs: number };
        }
      };
      return { next, close: () => stop.abort() };
    };
    const first = await heard();
    const before = await first.next();
    const atMs = before.newestMs + 10_000;
    const sent = performance.now();
    await appendFrames(knex, stream, [{ atMs, values: [["A in (°C)", 15]] }]);
    let seen = before.newestMs;
    while (seen < atMs) seen = (await first.next()).newestMs;
    // Looked at every 0.4 s; a busy machine may take longer to draw it up.
    expect(performance.now() - sent).toBeLessThan(5000);
    first.close();
    await appendFrames(knex, stream, [{ atMs: atMs + 10_000, values: [["A in (°C)", 15]] }]);
    const again = await heard();
    expect((await again.next()).newestMs).toBe(atMs + 10_000);
    again.close();
  } finally {
    holder.bravelFeeds = mine;
    await other.destroy();
  }
});

/** What a stream said until it ended, or until enough was heard. */
const heardUntil = async (stream: ReadableStream<Uint8Array>, enough: (text: string) => boolean): Promise<string> => {
  const reader = stream.getReader();
  let text = "";
  while (!enough(text)) {
    const { done, value } = await reader.read();
    if (done) return `${text}|ended`;
    text += new TextDecoder().decode(value);
  }
  await reader.cancel();
  return text;
};

/** One signal for many streams, as no browser has it. */
const stopOfMany = () => {
  const stop = new AbortController();
  setMaxListeners(0, stop.signal);
  return stop;
};

test("a hundred who watch one experiment cost one view, and one who may no longer is let go within seconds", async () => {
  const make = jest.fn(view);
  const stop = stopOfMany();
  let may = true;
  const streams = Array.from({ length: 100 }, (_, i) =>
    liveFeed(knex, experiment, make, stop.signal, async () => i > 0 || may),
  );
  const first = await Promise.all(streams.slice(1).map((s) => heardUntil(s, (t) => t.includes("data:"))));
  expect(first.every((t) => t.includes(`"runId":${run}`))).toBe(true);
  expect(make.mock.calls.length).toBeLessThan(4);
  may = false;
  expect(await heardUntil(streams[0], () => false)).toMatch(/data:.*\|ended$/s);
  stop.abort();
}, 20_000);

test("a right taken away here ends its stream at once, not with the next round of asking", async () => {
  const stop = stopOfMany();
  let may = true;
  const stream = liveFeed(knex, experiment, view, stop.signal, async () => may);
  // While the clock stands no round of asking is due.
  const clock = jest.spyOn(Date, "now").mockReturnValue(Date.now());
  const over = heardUntil(stream, () => false);
  await endingAtOnce(Promise.resolve((may = false)));
  expect(await over).toMatch(/\|ended$/);
  clock.mockRestore();
  stop.abort();
}, 20_000);

test("more than two hundred are told to come again, and take nothing from those who watch", async () => {
  const stop = stopOfMany();
  const open = () => liveFeed(knex, experiment, view, stop.signal, async () => true);
  const watching = Array.from({ length: 200 }, open);
  expect(await heardUntil(open(), () => false)).toMatch(/event: full.*"most":200.*\|ended$/s);
  expect(await heardUntil(watching[0], (t) => t.includes("data:"))).toContain(`"runId":${run}`);
  // One place is free again.
  expect(await heardUntil(open(), (t) => t.includes("data:"))).toContain(`"runId":${run}`);
  stop.abort();
}, 20_000);

// The last: it ends the run.
test("any drawn variant can be put on the rig; faults and pace change while it runs", async () => {
  const { experiments, open, device } = await rigPage(knex);
  const [first] = experiments;
  const set = { experimentId: first.id, letters: ["A", "B"], scenario: "ownDrive" as const, speed: 600, ends: [] };
  // A run takes what this bench sends: it ends first, and only when that is said.
  expect(open).toMatchObject([{ runId: run, experiment: LIVE.name, endedAt: null }]);
  const epoch = (await findRig(knex))!.epoch;
  expect(await setUpRig.run(knex, set)).toMatchObject({ ok: false, error: expect.stringContaining(LIVE.name) });
  expect((await findRig(knex))!.epoch).toBe(epoch);
  expect((await view()).state).toBe("running");
  const verdict = async () => JSON.stringify((await analyse(knex, experiment))!.judgement);
  const judged = await verdict();
  expect(await setUpRig.run(knex, { ...set, ends: [run] })).toMatchObject({ ok: true });
  expect((await view()).state).toBe("ended");
  // What the new boxes send falls into no span of the run before, however far its clock had run.
  const anew = (await findRig(knex))!.settings;
  expect(anew.startMs).toBeGreaterThan(device!.endMs!);
  const boxes = new LiveRig(anew);
  await appendFrames(
    knex,
    stream,
    Array.from({ length: 60 }, () => boxes.step()),
  );
  expect(await verdict()).toBe(judged);
  expect(await reopenRun.run(knex, experiment, run)).toMatchObject({
    ok: false,
    error: expect.stringMatching(/set up anew/),
  });
  const before = (await findRig(knex))!;
  expect(before.settings.lanes.map((l) => l.massFlowKgPerS)).toEqual([null, null]);
  await changeRig.run(knex, { speed: 10, faults: [{ kind: "shade", lane: "A", share: 0.5 }] });
  const after = (await findRig(knex))!;
  expect(after).toMatchObject({ epoch: before.epoch, version: before.version + 1, settings: { speed: 10 } });
  expect(await setUpRig.run(knex, { ...set, letters: ["H"] })).toMatchObject({ ok: false });
});
