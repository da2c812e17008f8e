import type { Knex } from "knex";
import Papa from "papaparse";
import { freshDatabase } from "../../../scripts/testing/database";
import { LANES, run, twoBoxes, WEATHER } from "../../../scripts/testing/twoBoxes";
import { findExperiment } from "../../data/experiment/experiments";
import { insertDevice, listDevices } from "../../data/device/devices";
import { appendFrames } from "../../data/reading/tail";
import { analyse } from "../analysis/analyse";
import { offerDevice } from "../device/offer";
import { reopenRun } from "../live/commands";
import { liveView } from "../live/view";
import type { ImportRefused, ImportRequest } from "./importRequest";
import { importRun, inspectFile } from "./imports";

/** A device that sent the two days of two boxes; runs are spans of them, however far back. */
let knex: Knex;
let device: number;
let stream: number;
beforeAll(async () => {
  knex = await freshDatabase("importspan");
  ({ id: device, streamId: stream } = await insertDevice(knex, { name: "bench", kind: "logger" }));
  const rows = (text: string) => Papa.parse<string[]>(text.trim()).data;
  const [[, ...laneNames], ...lanes] = rows(LANES);
  const [[, ...weatherNames], ...weather] = rows(WEATHER);
  await appendFrames(
    knex,
    stream,
    Array.from(run.log.times, (atMs, i) => ({
      atMs,
      values: [
        ...laneNames.map((n, k) => [n, Number(lanes[i][k + 1])] as const),
        ...weatherNames.map((n, k) => [n, Number(weather[i][k + 1])] as const),
      ],
    })),
  );
}, 60000);
afterAll(() => knex.destroy());

const go = (asked: ImportRequest) => importRun(knex, asked, () => undefined, new AbortController().signal);
const refusal = (asked: ImportRequest) =>
  go(asked).then(
    () => null,
    (e: ImportRefused) => e.failure,
  );
const at = (day: number, hour: number) => Date.UTC(2026, 9, day, hour);

async function spanned(liveFromMs: number, liveUntilMs: number | null): Promise<ImportRequest> {
  const offered = await offerDevice.run(knex, device);
  if (!offered.ok) throw new Error(offered.error);
  // What is shown to map by reaches back some hours: no further than the second day.
  expect(offered.firstMs).toBeGreaterThan(at(6, 6));
  expect(offered.startMs).toBe(run.log.times[0]);
  const layout = (await inspectFile(knex, offered.fileId))!.layout!;
  const base = await twoBoxes(knex);
  return {
    ...base,
    files: [{ fileId: offered.fileId, settings: { ...layout, zone: "Europe/Zurich" }, live: { streamId: stream } }],
    liveFromMs,
    liveUntilMs,
  };
}

test("a run is any span of what a device has sent, and gives what the same hours give as a file", async () => {
  const { experimentId } = await go(await spanned(at(5, 6), at(5, 23)));
  const [kept] = (await findExperiment(knex, experimentId))!.runs;
  expect(kept.live).toMatchObject({ startedAt: at(5, 6), endedAt: at(5, 23) });
  const times = [...run.log.times].filter((t) => t < at(5, 23));
  expect(kept.streams[0].frames).toBe(times.length);
  // The same hours as a log, whole.
  const [head, ...lines] = LANES.trimEnd().split("\r\n");
  const file = await go(await twoBoxes(knex, [head, ...lines.slice(0, times.length)].join("\r\n")));
  const [live, logged] = await Promise.all(
    [experimentId, file.experimentId].map(async (id) => (await analyse(knex, id))!.reduction),
  );
  expect(live.points.length).toBeGreaterThan(4);
  expect(live.points.map((p) => [p.lane, p.startMs])).toEqual(logged.points.map((p) => [p.lane, p.startMs]));
  live.points.forEach((p, i) => expect(p.heat.value).toBeCloseTo(logged.points[i].heat.value, 6));
});

test("a span that holds nothing, ends before it begins or ahead of now is refused, and nothing is kept", async () => {
  const runs = async () => Number((await knex("run").count({ n: "*" }))[0].n);
  const before = await runs();
  for (const [from, until] of [
    [at(1, 6), at(1, 20)],
    [at(5, 12), at(5, 10)],
    [at(6, 6), Date.now() + 3600_000],
  ])
    expect(await refusal(await spanned(from, until))).toMatchObject({
      kind: "spanEmpty",
      fromMs: from,
      untilMs: until,
    });
  expect(await runs()).toBe(before);
});

test("one experiment holds a reading once: a span that another of its runs has is refused, beside it it is taken", async () => {
  const { experimentId } = await go(await spanned(at(5, 6), at(5, 23)));
  const again = { kind: "existing" as const, experimentId };
  const into = async (from: number, until: number | null) => ({
    ...(await spanned(from, until)),
    target: again,
    newLanes: [],
  });
  expect(await refusal(await into(at(5, 22), null))).toMatchObject({ kind: "spanTaken", run: 1, untilMs: at(5, 23) });
  expect(await refusal(await into(at(5, 8), at(5, 9)))).toMatchObject({ kind: "spanTaken", run: 1 });
  expect(await go(await into(at(5, 23), null))).toMatchObject({ run: 2 });
  expect(await refusal(await into(at(6, 8), at(6, 9)))).toMatchObject({ kind: "spanTaken", run: 2, untilMs: null });
  expect((await listDevices(knex))[0].startMs).toBe(run.log.times[0]);
});

test("a logger moved to another bench ends the run that read its collectors there, and that run is not opened again", async () => {
  const first = await go(await spanned(at(5, 6), null));
  const runOf = async (id: number) => (await findExperiment(knex, id))!.runs[0];
  const second = await go(await spanned(at(5, 12), null));
  expect((await runOf(first.experimentId)).live).toMatchObject({ startedAt: at(5, 6), endedAt: at(5, 12) });
  expect((await runOf(second.experimentId)).live!.endedAt).toBeNull();
  const before = await runOf(first.experimentId);
  expect(await reopenRun.run(knex, first.experimentId, before.id)).toMatchObject({
    ok: false,
    error: expect.stringMatching(/run 1 of “.*” has taken what this device sends/),
  });
  expect((await liveView(knex, first.experimentId, at(5, 13)))!.takenBy).toMatchObject({ number: 1 });
  expect((await liveView(knex, second.experimentId, at(5, 13)))!.takenBy).toBeNull();
  // One that reaches back past the beginning of the other leaves it what it had.
  const third = await go(await spanned(at(5, 8), null));
  expect((await runOf(second.experimentId)).live!.endedAt).toBeGreaterThan(at(5, 12));
  expect((await runOf(third.experimentId)).live!.endedAt).toBeNull();
  // A past span of the same readings takes nothing away.
  await go(await spanned(at(5, 9), at(5, 10)));
  expect((await runOf(third.experimentId)).live!.endedAt).toBeNull();
});

test("of two that take the same span in the same moment one is refused", async () => {
  const { experimentId } = await go(await spanned(at(5, 8), at(5, 9)));
  const twice = await Promise.all(
    [1, 2].map(async () =>
      refusal({
        ...(await spanned(at(5, 10), at(5, 12))),
        target: { kind: "existing", experimentId },
        newLanes: [],
      }),
    ),
  );
  expect(twice.filter((r) => r === null)).toHaveLength(1);
  expect(twice.filter((r) => r !== null)).toEqual([expect.objectContaining({ kind: "spanTaken", run: 2 })]);
});
