import { designFromOutline } from "../core/collector/outline";
import { presetDesign } from "../core/collector/presets";
import { libraryMaterial } from "../core/materials/library";
import { Readable } from "node:stream";
import type { Knex } from "knex";
import { createDatabase } from "../data/database";
import ICAL from "ical.js";
import { inventedEpw, writeEpw } from "../../scripts/testing/inventedEpw";
import { savePlan } from "../data/plan/plans";
import {
  findSite,
  insertSite,
  insertUnavailable,
  listClimates,
  listSites,
  listUnavailable,
  markClimateDeleted,
  markUnavailableDeleted,
  updateSite,
} from "../data/site/sites";
import type { Site } from "../core/experiment/types";
import { planCalendar } from "./calendar";
import { importEpw } from "./climates";
import { planView, todayOf } from "./plan";
import { benchPage } from "./pages";
import {
  findExperiment,
  findExperiments,
  insertExperiment,
  listExperiments,
  markExperimentDeleted,
  patchSettings,
} from "../data/experiment/experiments";
import { listProblems, markRunDeleted } from "../data/run/runs";
import { findFile, readFileChunks, readFileText, runsWithFile, storeFile } from "../data/file/files";
import { migrate, migrateBackTo, migrateDown } from "../data/migrate";
import {
  addSpecimen,
  findPhoto,
  findRevision,
  insertPhoto,
  insertVariant,
  listMaterials,
  listVariants,
  markMaterialDeleted,
  markPhotoDeleted,
  markVariantRemoved,
  removeSpecimen,
  renameVariant,
  saveBill,
  saveChecklist,
  saveMaterials,
  saveRevision,
  updateSpecimen,
} from "../data/variant/variants";
import { addLayer, applyCalibration, applyFlow, markLayersRemoved } from "../data/run/layers";
import { insertCalibration, listCalibrations, markCalibrationDeleted } from "../data/calibration/calibrations";
import {
  instrumentHistory,
  listInstruments,
  markInstrumentDeleted,
  saveInstrument,
} from "../data/instrument/instruments";
import { instrumentSchema } from "../core/experiment/schema/calibration";
import { PLAIN_DETAIL } from "../core/experiment/schema/site";
import { listSpots, recordSpot } from "../data/spot/spots";
import { standardUncertainty } from "../core/uncertainty/uncertain";
import { BLOCK, readChannels } from "../data/reading/readings";
import { CORRUGATED, simulateBench } from "../core/rig/bench";
import { standardRules } from "../core/log/windows";
import { laneLogCsv, weatherLogCsv } from "../../demo/logFiles";
import { analyse } from "./analysis/analyse";
import { ImportCancelled, importRun, inspectFile, type ImportProgress, type ImportRequest } from "./imports";
import { runTraces } from "./traces";
import { experimentView } from "./views";
import { openWorking } from "./working";

/** Against a real MariaDB; ./bravel test starts one of its own. */
const url = process.env.BRAVEL_TEST_DATABASE_URL;
if (!url) throw new Error("BRAVEL_TEST_DATABASE_URL is not set; run these through ./bravel test");

let knex: Knex;
const never = new AbortController().signal;
const keep = (name: string, content: string | Uint8Array, limit = 1 << 28) =>
  storeFile(knex, name, Readable.from([Buffer.from(content as string)]), limit);

beforeAll(async () => {
  knex = createDatabase(url);
  await migrate(knex);
}, 60000);
afterAll(() => knex.destroy());

const [run] = simulateBench({
  seed: 5,
  stepS: 30,
  hours: [9, 17],
  accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  specimens: [
    { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "b", collector: { ...CORRUGATED, streamTransfer: 46 }, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  inletProgram: [
    { fromHour: 0, aboveAmbientK: 0 },
    { fromHour: 11.5, aboveAmbientK: 12 },
    { fromHour: 13, aboveAmbientK: 24 },
  ],
  runs: [
    {
      run: "1",
      days: [5, 6].map((d) => ({ dateMs: Date.UTC(2026, 9, d, 10), cloudiness: 0, meanAmbientC: 9, meanWind: 1.5 })),
      stations: { A: 1, B: 2 },
    },
  ],
});
const LANES = laneLogCsv(run.log, "Europe/Zurich");
const WEATHER = weatherLogCsv(run.log);

async function request(laneText = LANES): Promise<ImportRequest> {
  const files = await Promise.all([keep("lanes.csv", laneText), keep("weather.csv", WEATHER)]);
  const settings = await Promise.all(
    files.map(async (f) => ({ ...(await inspectFile(knex, f.id))!.layout!, zone: "Europe/Zurich" })),
  );
  const design = designFromOutline({ absorber: "flat", fluid: { kind: "air" }, covers: 1, grossAreaM2: 2 });
  return {
    target: {
      kind: "new",
      name: "Two boxes",
      question: "Which?",
      site: { kind: "new", name: "Terrace", latitude: 46.31, longitude: 9.05, altitudeM: 1120, zone: "Europe/Zurich" },
      settings: {
        rules: standardRules("air"),
        basis: "mean",
        areaBasis: "gross",
        operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
        smallestDifference: 15,
        stationShare: 0.004,
      },
    },
    newLanes: ["A", "B"].map((letter) => ({ letter, variantKey: letter, variantName: `Box ${letter}`, design })),
    run: {
      note: "",
      setup: {
        plane: { tilt: 55, azimuth: 180 },
        sunSensor: run.setup.sunSensor,
        ambientProbe: run.setup.ambientProbe,
        pressurePa: null,
        relativeHumidity: 0.5,
      },
      lanes: run.setup.lanes.map(
        ({
          lane,
          station,
          fluid,
          areaLimitShare,
          inletProbe,
          outletProbe,
          flow,
          fanShare,
          timeConstantS,
          b0,
          b0Limit,
        }) => ({
          letter: lane,
          station,
          setup: { fluid, areaLimitShare, inletProbe, outletProbe, flow, fanShare, timeConstantS, b0, b0Limit },
        }),
      ),
    },
    files: files.map((f, i) => ({ fileId: f.id, settings: settings[i] })),
  };
}

const rows = async () =>
  Promise.all(
    ["experiment", "run", "stream", "reading_block", "site", "variant"].map(async (t) =>
      Number((await knex(t).count({ n: "*" }))[0].n),
    ),
  );

describe("schema", () => {
  test("goes up, down and up again", async () => {
    await migrateDown(knex);
    const [gone] = (await knex.raw("SHOW TABLES LIKE 'reading_block'")) as [unknown[]];
    expect(gone).toHaveLength(0);
    await migrate(knex);
    const [there] = (await knex.raw("SHOW TABLES LIKE 'reading_block'")) as [unknown[]];
    expect(there).toHaveLength(1);
  }, 60000);
});

describe("variants that were a few words become designs", () => {
  test("with their areas kept by the specimen, and back again", async () => {
    const { experimentId } = await importRun(knex, await request(), () => undefined, never);
    await migrateBackTo(knex, "20261125_0002_designs");
    const [old] = await knex("variant_revision").orderBy("id").select("specification");
    const specification = typeof old.specification === "string" ? JSON.parse(old.specification) : old.specification;
    expect(specification).toMatchObject({ absorber: "flat", fluid: "air", covers: 1 });
    await knex("variant_revision").update({
      specification: JSON.stringify({
        ...specification,
        absorber: "mesh",
        grossAreaM2: 1.9,
        apertureAreaM2: 1.7,
        absorberAreaM2: 1.6,
      }),
    });
    await migrate(knex);
    const [lane] = (await findExperiment(knex, experimentId))!.lanes;
    expect(lane.design.layers.some((l) => l.kind === "absorber" && l.form === "mesh")).toBe(true);
    expect(lane.design.sketch).toBe(true);
    expect(lane.asBuilt).toMatchObject({ grossAreaM2: 1.9, apertureAreaM2: 1.7, absorberAreaM2: 1.6 });
    expect((await listVariants(knex, experimentId)).map((v) => v.letter)).toEqual(["A", "B"]);
    expect((await analyse(knex, experimentId))?.reduction.points.length).toBeGreaterThan(3);
  }, 120000);
});

describe("sites before they knew their skyline", () => {
  test("keep their turbidity as twelve months, and give it back when the step is undone", async () => {
    const id = await insertSite(knex, {
      name: "Old hut",
      latitude: 46,
      longitude: 9,
      altitudeM: 500,
      zone: "Europe/Zurich",
      detail: { ...PLAIN_DETAIL, turbidity: Array(12).fill(4) },
    });
    await migrateBackTo(knex, "20261125_0004_site_and_plan");
    expect(Number((await knex("site").where({ id }).first("linke_turbidity")).linke_turbidity)).toBe(4);
    await migrate(knex);
    expect((await findSite(knex, id))!.detail).toEqual({ ...PLAIN_DETAIL, turbidity: Array(12).fill(4) });
  }, 60000);
});

describe("site and plan", () => {
  let experimentId: number;
  beforeAll(async () => {
    ({ experimentId } = await importRun(knex, await request(), () => undefined, never));
  }, 60000);
  const october = Date.UTC(2026, 9, 1, 6);

  test("a plan is settings; its days follow from them, at the same place whoever asks and whenever", async () => {
    const before = (await planView(knex, experimentId, october))!;
    expect(before.saved).toBe(false);
    expect(before.days).toHaveLength(4);
    expect(before.days[0].date).toBe("2026-10-01");
    expect(before.precisionFrom).toBe("runs");
    const settings = { ...before.settings, start: "2026-10-05", days: 6, seed: 9 };
    expect(await savePlan(knex, experimentId, settings)).toBe(true);
    const [a, b] = [
      (await planView(knex, experimentId, october))!,
      (await planView(knex, experimentId, Date.UTC(2026, 11, 1)))!,
    ];
    expect(a.days.map((d) => d.date)).toEqual([
      "2026-10-05",
      "2026-10-06",
      "2026-10-07",
      "2026-10-08",
      "2026-10-09",
      "2026-10-10",
    ]);
    expect(b.days).toEqual(a.days);
    expect(b.order).toEqual(a.order);
    expect(a.balance).toMatchObject({ placesEven: true });
    expect((await experimentView(knex, experimentId))!.plannedDays).toBe(6);
    expect(await savePlan(knex, 999999, settings)).toBe(false);
    await expect(savePlan(knex, experimentId, { ...settings, days: 0 })).rejects.toThrow("at least one day");
  }, 60000);
  test("being away cuts days out, and coming back brings them back", async () => {
    const free = (await planView(knex, experimentId, october))!;
    const id = await insertUnavailable(knex, {
      kind: "once",
      fromMs: Date.UTC(2026, 9, 6),
      toMs: Date.UTC(2026, 9, 7),
      reason: "fair",
    });
    const away = (await planView(knex, experimentId, october))!;
    expect(away.days.map((d) => d.date)).not.toContain("2026-10-06");
    expect(away.passed).toContainEqual({ date: "2026-10-06", reason: "unavailable" });
    await markUnavailableDeleted(knex, id, true);
    expect((await planView(knex, experimentId, october))!.days).toEqual(free.days);
    expect((await listUnavailable(knex)).some((u) => u.id === id)).toBe(false);
  }, 60000);
  test("the skyline of the site moves the hours, and the journal keeps what it was", async () => {
    const { site } = (await planView(knex, experimentId, october))!;
    const free = (await planView(knex, experimentId, october))!.days[0].sky.spans[0];
    await updateSite(knex, site.id, {
      ...site,
      detail: {
        ...site.detail,
        horizon: [
          { azimuth: 60, altitude: 45 },
          { azimuth: 170, altitude: 45 },
          { azimuth: 175, altitude: 2 },
        ],
      },
    });
    const ridge = (await planView(knex, experimentId, october))!.days[0].sky.spans[0];
    expect(ridge.fromMs).toBeGreaterThan(free.fromMs + 3600000);
    const [entry] = await knex("journal").where({ action: "site" }).orderBy("id", "desc").limit(1);
    expect(JSON.stringify(entry.detail)).toContain("Terrace");
    await updateSite(knex, site.id, site);
    expect((await planView(knex, experimentId, october))!.days[0].sky.spans[0]).toEqual(free);
  }, 60000);
  test("the calendar file reads back: every entry at its instant, in UTC, with its own id", async () => {
    const plan = (await planView(knex, experimentId, october))!;
    const events = new ICAL.Component(ICAL.parse(planCalendar(plan)))
      .getAllSubcomponents("vevent")
      .map((v) => new ICAL.Event(v));
    const entries = plan.days.flatMap((d) => d.entries);
    expect(events).toHaveLength(entries.length + plan.baths.length);
    expect(events.slice(0, entries.length).map((e) => e.startDate.toJSDate().getTime())).toEqual(
      entries.map((e) => e.fromMs),
    );
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
  }, 60000);
  test("a typical-weather file gives twelve months, keeps its bytes, and refuses what was cut", async () => {
    const text = writeEpw(inventedEpw());
    const good = await keep("ridge.epw", text);
    const answer = await importEpw(knex, good.id, "free");
    expect(answer).toMatchObject({ ok: true, hours: 8760 });
    const own = (await listClimates(knex)).find((c) => answer.ok && c.id === answer.id)!;
    expect(own).toMatchObject({ kind: "epw", licence: "free", rawFileId: good.id });
    expect(await readFileText(knex, own.rawFileId!)).toBe(text);
    const cut = await keep("cut.epw", text.slice(0, text.length / 2));
    expect(await importEpw(knex, cut.id, "")).toMatchObject({ ok: false, problem: { kind: "cutShort" } });
    expect(await importEpw(knex, 999999, "")).toMatchObject({ ok: false, problem: { kind: "gone" } });
    await markClimateDeleted(knex, own.id, true);
    expect((await listClimates(knex)).some((c) => c.id === own.id)).toBe(false);
  }, 60000);
  test("the bench's next window is the plan's, then the site's own, then says why there is none", async () => {
    const sites = await listSites(knex);
    const today = (await todayOf(knex, await findExperiments(knex, null), Date.UTC(2026, 9, 6, 15)))!;
    expect(today.next).toMatchObject({ experimentId, date: "2026-10-07", day: 3, days: 6 });
    const after = (await todayOf(knex, await findExperiments(knex, null), Date.UTC(2026, 9, 20, 6)))!;
    expect(after.next).toMatchObject({ experimentId: null, date: "2026-10-20" });
    const polar: Site = { ...sites[0], latitude: 78, longitude: 15, zone: "Arctic/Longyearbyen" };
    expect(
      await todayOf(
        knex,
        [{ ...(await findExperiment(knex, experimentId))!, id: 999999, site: polar }],
        Date.UTC(2026, 10, 20),
      ),
    ).toMatchObject({
      next: null,
      none: "polarNight",
    });
  }, 60000);
});

describe("variants", () => {
  const design = presetDesign("corrugated");
  let experimentId: number;
  beforeAll(async () => {
    ({ experimentId } = await importRun(knex, await request(), () => undefined, never));
  }, 60000);
  const of = async (id: number) => (await listVariants(knex, experimentId)).find((v) => v.id === id)!;

  test("take the next free letter, keep every revision, and take one away again", async () => {
    const added = (await insertVariant(knex, experimentId, "Third", design))!;
    expect(added.letter).toBe("C");
    expect(await saveRevision(knex, experimentId, added.id, { ...design, grossWidthM: 0.9 }, "narrower")).toBe(2);
    expect(await findRevision(knex, added.id, 1)).toEqual(design);
    expect((await of(added.id)).design.grossWidthM).toBe(0.9);
    expect((await of(added.id)).revisions.map((r) => r.note)).toEqual(["", "narrower"]);
    expect(await renameVariant(knex, experimentId, added.id, "Narrow")).toBe(true);
    expect(await markVariantRemoved(knex, experimentId, added.id, true)).toBe(true);
    expect(await of(added.id)).toBeUndefined();
    await markVariantRemoved(knex, experimentId, added.id, false);
    expect((await of(added.id)).name).toBe("Narrow");
    expect(await saveRevision(knex, experimentId, 999999, design, "")).toBeNull();
  });
  test("on the bench cannot be taken out, and a saved revision leaves what is built as it is", async () => {
    const [first] = await listVariants(knex, experimentId);
    expect(await markVariantRemoved(knex, experimentId, first.id, true)).toBe(false);
    const before = (await analyse(knex, experimentId))!.reduction.points[0].efficiency.value;
    await saveRevision(
      knex,
      experimentId,
      first.id,
      { ...first.design, grossWidthM: first.design.grossWidthM * 2 },
      "twice as wide, to be built",
    );
    expect((await findExperiment(knex, experimentId))!.lanes[0].revision).toBe(1);
    expect((await analyse(knex, experimentId))!.reduction.points[0].efficiency.value).toBe(before);
  }, 60000);
  test("specimens: next copy gets a lane; measured areas change the result, a run keeps them", async () => {
    const [first] = await listVariants(knex, experimentId);
    const copy = await addSpecimen(knex, experimentId, first.id);
    expect(copy).toMatchObject({ number: 2 });
    expect(copy!.letter).not.toBe("A");
    const specimen = (await of(first.id)).specimens[0];
    const before = (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.efficiency.value;
    expect(
      await updateSpecimen(knex, experimentId, specimen.id, {
        asBuilt: { ...specimen.asBuilt, grossAreaM2: 4, massKg: 31, note: "cut short" },
        revision: 1,
      }),
    ).toBe(true);
    const after = (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.efficiency.value;
    expect(after / before).toBeCloseTo(0.5, 6);
    expect(await updateSpecimen(knex, experimentId, specimen.id, { asBuilt: specimen.asBuilt, revision: 77 })).toBe(
      false,
    );
    expect(await removeSpecimen(knex, experimentId, specimen.id)).toBe(false);
    expect(await removeSpecimen(knex, experimentId, (await of(first.id)).specimens[1].id)).toBe(true);
  }, 60000);
  test("a drawn variant becomes the lane of its letter when a log of it comes", async () => {
    const base = await request();
    const id = await insertExperiment(knex, {
      name: "Drawn first",
      question: "",
      siteId: (await listSites(knex))[0].id,
      settings:
        base.target.kind === "new"
          ? base.target.settings
          : (() => {
              throw new Error("a new one");
            })(),
      lanes: [],
    });
    await insertVariant(knex, id, "Drawn A", design);
    await insertVariant(knex, id, "Drawn B", { ...design, grossWidthM: 0.9 });
    expect((await findExperiment(knex, id))!.drawn.map((d) => d.variant)).toEqual(["Drawn A", "Drawn B"]);
    await importRun(
      knex,
      { ...base, target: { kind: "existing", experimentId: id }, newLanes: [] },
      () => undefined,
      never,
    );
    const after = (await findExperiment(knex, id))!;
    expect(after.lanes.map((l) => [l.letter, l.variant, l.design.grossWidthM])).toEqual([
      ["A", "Drawn A", 1],
      ["B", "Drawn B", 0.9],
    ]);
    expect(after.drawn).toEqual([]);
  }, 60000);
  test("bill, checklist and photos stay with the variant", async () => {
    const [first] = await listVariants(knex, experimentId);
    await saveBill(knex, experimentId, first.id, {
      ...first.bill,
      currency: "CHF",
      lines: { screws: { scrounged: "always" } },
    });
    await saveChecklist(knex, experimentId, first.id, {
      items: { smokeTest: { done: true, doneAt: 5, note: "tight" } },
      own: [{ key: "o1", text: "Label the box" }],
    });
    const photo = (await insertPhoto(knex, {
      experimentId,
      variantId: first.id,
      item: "smokeTest",
      type: "image/png",
      sha256: "0".repeat(64),
      content: Buffer.from([1, 2, 3]),
    }))!;
    const now = await of(first.id);
    expect(now.bill.lines.screws).toEqual({ scrounged: "always" });
    expect(now.checklist.items.smokeTest.note).toBe("tight");
    expect(now.photos).toMatchObject([{ id: photo, item: "smokeTest", bytes: 3 }]);
    expect((await findPhoto(knex, photo))!.content.equals(Buffer.from([1, 2, 3]))).toBe(true);
    await markPhotoDeleted(knex, photo, true);
    expect(await findPhoto(knex, photo)).toBeNull();
    await markPhotoDeleted(knex, photo, false);
    expect(
      await insertPhoto(knex, {
        experimentId: 999999,
        variantId: first.id,
        item: "x",
        type: "image/png",
        sha256: "0".repeat(64),
        content: Buffer.from([1]),
      }),
    ).toBeNull();
  });
  test("own materials are kept, changed and taken out", async () => {
    const mine = { ...libraryMaterial("wool-mineral"), key: "my-wool", name: "Wool from the ridge" };
    await saveMaterials(knex, [mine]);
    await saveMaterials(knex, [{ ...mine, price: 0 }]);
    expect((await listMaterials(knex)).find((m) => m.key === "my-wool")).toEqual({ ...mine, price: 0 });
    await markMaterialDeleted(knex, "my-wool", true);
    expect((await listMaterials(knex)).some((m) => m.key === "my-wool")).toBe(false);
    await expect(saveMaterials(knex, [{ ...mine, density: -1 }])).rejects.toThrow();
  });
});

describe("calibrations and layers", () => {
  let experimentId: number;
  const correction = (offsetK: number) => ({
    t0C: 40,
    offsetK,
    slope: 0,
    standardOffsetK: 0.02,
    standardSlope: 0,
    covariance: 0,
    range: [15, 65] as [number, number],
    atMs: Date.UTC(2026, 9, 4),
  });
  beforeAll(async () => {
    ({ experimentId } = await importRun(knex, await request(), () => undefined, never));
  }, 60000);
  const rise = async () => (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.rise;

  test("a calibration laid over a run moves rise and its ±, raw readings stay; taken off, all is as before", async () => {
    const before = await rise();
    const raw = await readChannels(knex, (await findExperiment(knex, experimentId))!.runs[0].streams[0].id, [1]);
    const id = await insertCalibration(knex, {
      name: "pot",
      rawFileId: null,
      settings: {},
      atMs: Date.UTC(2026, 9, 4),
      result: {
        kind: "bath",
        referenceStandardK: 0.3,
        spanC: [15, 65],
        spreadBeforeK: 0.2,
        spreadAfterK: 0.03,
        probes: [
          { key: "1-in", correction: correction(0.1), lagS: 12, residualSdK: 0.02, outlier: false },
          { key: "1-out", correction: correction(-0.15), lagS: null, residualSdK: 0.02, outlier: false },
        ],
      },
    });
    const run = (await findExperiment(knex, experimentId))!.runs[0];
    const probes = { "1-in": "1-in", "1-out": "1-out" };
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "pot" }),
    ).toBe(true);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "again" }),
    ).toBe(true);
    const layered = (await findExperiment(knex, experimentId))!.runs[0];
    expect(layered.layers.filter((l) => l.kind === "calibration")).toHaveLength(1);
    const after = await rise();
    expect(after.value - before.value).toBeCloseTo(0.25, 6);
    expect(Math.abs(after.parts.get("probe:1-out")!.standard)).toBeLessThan(
      0.3 * Math.abs(before.parts.get("probe:1-out")!.standard),
    );
    expect(standardUncertainty(after)).toBeLessThan(standardUncertainty(before));
    expect(
      [...after.parts.keys()].some((k) => k.startsWith("reference:") && Math.abs(after.parts.get(k)!.standard) > 1e-9),
    ).toBe(false);
    expect(await readChannels(knex, layered.streams[0].id, [1])).toEqual(raw);
    await markLayersRemoved(
      knex,
      experimentId,
      layered.layers.filter((l) => l.kind === "calibration").map((l) => l.id),
      true,
    );
    expect((await rise()).value).toBe(before.value);
    await markLayersRemoved(
      knex,
      experimentId,
      layered.layers.filter((l) => l.kind === "calibration").map((l) => l.id),
      false,
    );
    await markCalibrationDeleted(knex, id, true);
    expect((await rise()).value).toBe(before.value);
    expect((await listCalibrations(knex)).some((c) => c.id === id)).toBe(false);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "" }),
    ).toBe(false);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: 999999, runIds: [run.id], probes, reason: "" }),
    ).toBe(false);
  }, 60000);
  test("a traversed factor replaces the one said at import, one a meter", async () => {
    const flow = async () =>
      (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.massFlow.value;
    const before = await flow();
    const run = (await findExperiment(knex, experimentId))!.runs[0];
    const old = run.places[0].setup.flow;
    if (old.kind !== "speed") throw new Error("the bench logs speed");
    for (const factor of [0.5, old.profileFactor * 0.9])
      expect(
        await applyFlow(knex, experimentId, {
          runIds: [run.id],
          detail: { meter: "1", method: "traverse", factor, limit: 0.01 },
          reason: "traverse",
        }),
      ).toBe(true);
    expect((await flow()) / before).toBeCloseTo(0.9, 6);
    const layers = (await findExperiment(knex, experimentId))!.runs[0].layers.filter((l) => l.kind === "flow");
    expect(layers).toHaveLength(1);
    await markLayersRemoved(
      knex,
      experimentId,
      layers.map((l) => l.id),
      true,
    );
    expect(await flow()).toBe(before);
  }, 60000);
  test("instruments: labels are unique, changes are remembered; spot readings stay with the experiment", async () => {
    const probe = instrumentSchema.parse({
      label: "P1",
      kind: "probe",
      limitFixed: 0.5,
      limitShare: 0,
      resolution: 0.1,
      lagS: 15,
      range: [-40, 125],
      calibrateEveryDays: 180,
      retired: false,
      note: "",
    });
    const id = (await saveInstrument(knex, null, probe))!;
    expect(await saveInstrument(knex, null, probe)).toBeNull();
    expect(await saveInstrument(knex, id, { ...probe, retired: true })).toBe(id);
    expect((await instrumentHistory(knex, id)).map((h) => h.action)).toEqual([
      "instrument changed",
      "instrument added",
    ]);
    await markInstrumentDeleted(knex, id, true);
    expect((await listInstruments(knex)).some((i) => i.id === id)).toBe(false);
    expect(await recordSpot(knex, experimentId, { text: "20 in, 41 out", values: { heatW: 800 } })).toBe(true);
    expect((await listSpots(knex, experimentId))[0]).toMatchObject({ run: 1, text: "20 in, 41 out" });
    expect(await recordSpot(knex, 999999, { text: "x", values: {} })).toBe(false);
  });
});

describe("files", () => {
  test("come back byte for byte, whatever their size", async () => {
    for (const size of [1, 1 << 20, (1 << 20) + 17, 3_500_000]) {
      const bytes = Buffer.alloc(size, "0123456789abcdef\n");
      const file = await storeFile(
        knex,
        "x.csv",
        Readable.from([bytes.subarray(0, size >> 1), bytes.subarray(size >> 1)]),
        1 << 24,
      );
      const parts: Buffer[] = [];
      for await (const chunk of readFileChunks(knex, file.id)) parts.push(chunk);
      expect(Buffer.concat(parts).equals(bytes)).toBe(true);
      expect((await findFile(knex, file.id))!.bytes).toBe(size);
    }
  });
  test("one too large leaves nothing", async () => {
    const before = await knex("raw_file").count({ n: "*" });
    await expect(keep("big.csv", "x".repeat(5000), 4000)).rejects.toThrow(RangeError);
    expect(await knex("raw_file").count({ n: "*" })).toEqual(before);
  });
  test.each([
    ["empty.csv", "", "empty"],
    ["picture.csv", Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0, 0]), "binary"],
    ["head.csv", "Time;A in;A out\n", "headerOnly"],
    ["line.csv", "7".repeat(300000), "longLine"],
  ])("%s is refused with its reason", async (name, content, kind) => {
    const inspection = await inspectFile(knex, (await keep(name, content)).id);
    expect(inspection).toMatchObject({ layout: null, problem: { kind } });
  });
  test("UTF-16 with a byte-order mark reads like any other", async () => {
    const text = `\uFEFF${LANES.slice(0, 4000)}`;
    const inspection = await inspectFile(knex, (await keep("wide.csv", Buffer.from(text, "utf16le"))).id);
    expect(inspection).toMatchObject({ encoding: "utf-16le", layout: { delimiter: ";", timeColumns: [0] } });
    expect(inspection!.layout!.columns.filter((c) => c.kind === "inlet").map((c) => c.lane)).toEqual(["A", "B"]);
  });
});

describe("importing a run", () => {
  let experimentId = 0;

  test("is all or nothing: cancelled half way, it leaves not a row", async () => {
    const before = await rows();
    const abort = new AbortController();
    const importing = importRun(
      knex,
      await request(),
      (p) => {
        if (p.phase === "writing") abort.abort();
      },
      abort.signal,
    );
    await expect(importing).rejects.toThrow(ImportCancelled);
    expect(await rows()).toEqual(before);
  }, 30000);

  test("a file without one readable row is refused, and nothing is kept", async () => {
    const before = await rows();
    const asked = await request();
    asked.files[0].settings.timeFormat = { kind: "unix", unit: "s" };
    await expect(importRun(knex, asked, () => undefined, never)).rejects.toMatchObject({ failure: { kind: "noRows" } });
    expect(await rows()).toEqual(before);
  }, 30000);

  test("stores every reading exactly as logged, with progress", async () => {
    const steps: ImportProgress[] = [];
    const lines = LANES.split("\r\n");
    lines.splice(50, 0, "not a row", "99.99.2026 10:00:00;1;2;3;4;5;6");
    const asked = await request(lines.join("\r\n"));
    ({ experimentId } = await importRun(knex, asked, (p) => steps.push(p), never));
    const stored = (await findExperiment(knex, experimentId))!;
    expect(steps.at(-1)).toMatchObject({
      phase: "done",
      streams: [{ summary: { rowsRejected: 2 } }, { summary: { rowsRejected: 0 } }],
    });
    const stream = stored.runs[0].streams[0];
    expect(stream.frames).toBe(run.log.times.length);
    expect(stream.frames % BLOCK).not.toBe(0);
    const readings = await readChannels(knex, stream.id, [0, 1, 2]);
    expect(readings.get(0)).toEqual(run.log.times);
    expect([...readings.get(1)!].map((v) => v.toFixed(2))).toEqual(
      [...run.log.lanes.get("A")!.inlet].map((v) => v.toFixed(2)),
    );
    expect(await listProblems(knex, stream.id)).toEqual([
      expect.objectContaining({ kind: "fieldCount", row: 51 }),
      expect.objectContaining({ kind: "badTime", row: 52, reason: "noSuchDate" }),
    ]);
  }, 30000);

  test("the same bytes dropped again are noticed", async () => {
    const again = await keep("again.csv", WEATHER);
    expect(await runsWithFile(knex, again.sha256)).toContainEqual({ experimentId, experiment: "Two boxes", run: 1 });
  });

  test("it is analysed, shown, and every figure opens", async () => {
    const view = (await experimentView(knex, experimentId))!;
    expect(view.points.length).toBeGreaterThan(10);
    expect(view.curves.map((c) => c.lane)).toEqual(["A", "B"]);
    const [first] = view.points;
    const refs = [
      { figure: "verdict" },
      { figure: "difference", a: "B", b: "A" },
      { figure: "laneHeat", lane: "A" },
      { figure: "coefficient", lane: "B", name: "a1" },
      ...(["efficiency", "heat", "massFlow", "rise"] as const).map((name) => ({
        figure: "point" as const,
        run: first.run,
        window: first.window,
        lane: first.lane,
        name,
      })),
    ] as const;
    for (const ref of refs) {
      const working = (await openWorking(knex, experimentId, ref))!;
      expect(working.inputs.length).toBeGreaterThan(0);
      expect(working.budget.reduce((s, b) => s + b.share, 0)).toBeLessThanOrEqual(1.0001);
      expect(working.budget[0].share).toBeGreaterThan(0);
      expect(working.figure.expanded).toBeGreaterThan(0);
    }
    expect(await openWorking(knex, experimentId, { figure: "laneHeat", lane: "H" })).toBeNull();
    expect(await openWorking(knex, 999999, { figure: "verdict" })).toBeNull();
    const ab = (await openWorking(knex, experimentId, { figure: "difference", a: "A", b: "B" }))!;
    const ba = (await openWorking(knex, experimentId, { figure: "difference", a: "B", b: "A" }))!;
    expect(ab.figure.si).toBeCloseTo(-ba.figure.si, 9);
  }, 30000);

  test("a point's working can be followed by hand", async () => {
    const analysis = (await analyse(knex, experimentId))!;
    const p = analysis.reduction.points[0];
    expect(p.heat.value).toBeCloseTo(p.massFlow.value * p.specificHeat.value * (p.outlet.value - p.inlet.value), 6);
    expect(p.efficiency.value).toBeCloseTo(p.heat.value / (2 * p.irradiance.value), 9);
    expect(p.massFlow.value).toBeCloseTo(
      p.density.value * (Math.PI / 4) * 0.125 ** 2 * 0.86 * p.indicatedFlow.value,
      9,
    );
  });

  test("traces are thinned by mean and count what was left out", async () => {
    const { runs } = (await findExperiment(knex, experimentId))!;
    const all = (await runTraces(knex, experimentId, runs[0].id, { buckets: 200 }))!;
    expect(all.traces.length).toBe(10);
    expect(all.traces.every((t) => t.mean.length === all.buckets)).toBe(true);
    const inlet = all.traces.find((t) => t.kind === "inlet" && t.lane === "A")!;
    const raw = run.log.lanes.get("A")!.inlet;
    expect(Math.max(...[...inlet.mean].filter((v) => !Number.isNaN(v)))).toBeLessThanOrEqual(Math.max(...raw) + 1e-3);
    expect(await runTraces(knex, experimentId, 999999, { buckets: 200 })).toBeNull();
  });

  test("a span set aside changes the answer and can be taken back", async () => {
    const before = (await experimentView(knex, experimentId))!;
    const w = before.runs[0].windows[0];
    const id = await addLayer(knex, experimentId, before.runs[0].id, {
      kind: "exclusion",
      detail: { lane: null, fromMs: w.startMs, toMs: w.endMs },
      reason: "door open",
    });
    const during = (await experimentView(knex, experimentId))!;
    expect(during.runs[0].windows.some((x) => x.startMs < w.endMs && x.endMs > w.startMs)).toBe(false);
    expect(await markLayersRemoved(knex, experimentId, [id!], true)).toBe(1);
    const after = (await experimentView(knex, experimentId))!;
    expect(after.points).toEqual(before.points);
    expect(Number((await knex("journal").where({ experiment_id: experimentId }).count({ n: "*" }))[0].n)).toBe(3);
  }, 30000);

  test("settings change the verdict's point and are kept; deletion can be undone", async () => {
    const stored = (await findExperiment(knex, experimentId))!;
    await patchSettings(knex, experimentId, {
      operatingPoint: { ...stored.settings.operatingPoint, inletC: 35 },
    });
    expect((await findExperiment(knex, experimentId))!.settings.operatingPoint.inletC).toBe(35);
    expect(await patchSettings(knex, experimentId, { smallestDifference: -1 })).toMatchObject({ ok: false });
    await markRunDeleted(knex, experimentId, stored.runs[0].id, true);
    expect((await experimentView(knex, experimentId))!.verdict).toEqual({ kind: "none", reason: "noRuns" });
    await markRunDeleted(knex, experimentId, stored.runs[0].id, false);
    await markExperimentDeleted(knex, experimentId, true);
    expect(await findExperiment(knex, experimentId)).toBeNull();
    await markExperimentDeleted(knex, experimentId, false);
    expect((await findExperiment(knex, experimentId))!.runs).toHaveLength(1);
  }, 30000);

  test("the bench keeps its sentence until something it rests on changes", async () => {
    const first = (await benchPage(knex, Date.now())).experiments.find((b) => b.head.id === experimentId)!;
    const kept = await knex("result_summary").where({ experiment_id: experimentId }).first("fingerprint");
    expect((await benchPage(knex, Date.now())).experiments.find((b) => b.head.id === experimentId)!.summary).toEqual(
      first.summary,
    );
    await patchSettings(knex, experimentId, { smallestDifference: 40 });
    await benchPage(knex, Date.now());
    expect(
      (await knex("result_summary").where({ experiment_id: experimentId }).first("fingerprint")).fingerprint,
    ).not.toBe(kept.fingerprint);
    expect((await listExperiments(knex)).length).toBeGreaterThan(0);
    expect((await listSites(knex)).map((s) => s.name)).toContain("Terrace");
  }, 30000);
});
