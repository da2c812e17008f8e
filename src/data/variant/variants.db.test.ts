import { presetDesign } from "@/core/collector/presets";
import { listSites } from "@/data/site/sites";
import { findExperiment, insertExperiment } from "@/data/experiment/experiments";
import { findRevision, saveDrawing, saveRevision } from "@/data/variant/revisions";
import {
  addSpecimen,
  findPhoto,
  insertPhoto,
  insertVariant,
  listVariants,
  markPhotoDeleted,
  markVariantRemoved,
  removeSpecimen,
  renameVariant,
  saveBill,
  saveChecklist,
  updateSpecimen,
} from "@/data/variant/variants";
import { analyse } from "@/services/analysis/analyse";
import { buildSpecimen, keepDrawing, saveVariant } from "@/services/variant/commands";
import { importRun } from "@/services/import/imports";
import { testDatabase } from "../../../scripts/testing/database";
import { twoBoxes } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("variants");
const never = new AbortController().signal;
const request = (lanes?: string) => twoBoxes(knex, lanes);

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
  test("what is drawn is the variant's at once, in a revision of its own until it is named, built, or drawn back", async () => {
    const { id } = (await insertVariant(knex, experimentId, "Drawn at", design))!;
    const drawn = async () => (await findExperiment(knex, experimentId))!.drawn.find((d) => d.variantId === id)!.design;
    const narrow = { ...design, grossWidthM: 0.8 };
    expect(await saveDrawing(knex, experimentId, id, narrow, design)).toBe(true);
    expect(await of(id)).toMatchObject({ revision: 2, design: narrow, workingFrom: design });
    expect(await drawn()).toEqual(narrow);
    expect(await findRevision(knex, id, 1)).toEqual(design);
    // Two pages, each from what it showed: both edits stand.
    const lower = { ...narrow, inSeries: 2 };
    await Promise.all([
      saveDrawing(knex, experimentId, id, lower, narrow),
      saveDrawing(knex, experimentId, id, { ...narrow, grossLengthM: 1.7 }, narrow),
    ]);
    expect(await of(id)).toMatchObject({ revision: 2, design: { ...lower, grossLengthM: 1.7 } });
    expect(await saveRevision(knex, experimentId, id, lower, "two in series")).toBe(2);
    expect(await of(id)).toMatchObject({ revision: 2, design: lower, workingFrom: null });
    // Drawn back to what it was: there is nothing of its own to keep.
    await saveDrawing(knex, experimentId, id, { ...lower, inSeries: 3 }, lower);
    expect((await of(id)).revision).toBe(3);
    await saveDrawing(knex, experimentId, id, lower, { ...lower, inSeries: 3 });
    expect(await of(id)).toMatchObject({ revision: 2, workingFrom: null });
    // Built from, it is a revision, and a later edit leaves it as it is.
    await saveDrawing(knex, experimentId, id, narrow, lower);
    await addSpecimen(knex, experimentId, id);
    expect(await of(id)).toMatchObject({ revision: 3, workingFrom: null });
    await saveDrawing(knex, experimentId, id, lower, narrow);
    expect((await of(id)).specimens[0].revision).toBe(3);
    expect(await findRevision(knex, id, 3)).toEqual(narrow);
    expect(await findRevision(knex, id, null)).toEqual(lower);
    expect(await saveDrawing(knex, experimentId, 999999, lower, narrow)).toBe(false);
    await removeSpecimen(knex, experimentId, (await of(id)).specimens[0].id);
    await markVariantRemoved(knex, experimentId, id, true);
  });
  test("half-drawn, it is neither built nor saved as a revision, and stays drawn", async () => {
    const { id } = (await insertVariant(knex, experimentId, "Half", design))!;
    const half = { ...design, layers: design.layers.filter((l) => l.kind !== "absorber") };
    expect(await keepDrawing.run(knex, experimentId, id, half, design)).toEqual({ ok: true });
    for (const refusal of [
      await buildSpecimen.run(knex, experimentId, id),
      await saveVariant.run(knex, experimentId, id, half, ""),
    ])
      expect(refusal).toMatchObject({ ok: false, error: expect.stringContaining("cannot be built yet") });
    expect((await of(id)).design).toEqual(half);
    await markVariantRemoved(knex, experimentId, id, true);
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
      await updateSpecimen(
        knex,
        experimentId,
        specimen.id,
        {
          asBuilt: { ...specimen.asBuilt, grossAreaM2: 4, massKg: 31, note: "cut short" },
          revision: 1,
        },
        specimen,
      ),
    ).toBe(true);
    const after = (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.efficiency.value;
    expect(after / before).toBeCloseTo(0.5, 6);
    expect(
      await updateSpecimen(knex, experimentId, specimen.id, { asBuilt: specimen.asBuilt, revision: 77 }, specimen),
    ).toBe(false);
    // Typed one after the other, each from what the page showed by then: both stand.
    const channelM = 0.031;
    const apertureAreaM2 = 3.7;
    await Promise.all(
      [{ channelM }, { apertureAreaM2 }].map((part) =>
        updateSpecimen(
          knex,
          experimentId,
          specimen.id,
          { ...specimen, asBuilt: { ...specimen.asBuilt, ...part } },
          specimen,
        ),
      ),
    );
    expect((await of(first.id)).specimens[0].asBuilt).toEqual({
      ...specimen.asBuilt,
      grossAreaM2: 4,
      massKg: 31,
      note: "cut short",
      channelM,
      apertureAreaM2,
    });
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
    // Two ticks at once, each on a page that does not know of the other, both stand.
    const tick = (key: string) => {
      const items = { ...now.checklist.items, [key]: { done: true, doneAt: 7, note: "" } };
      return saveChecklist(knex, experimentId, first.id, { ...now.checklist, items }, now.checklist);
    };
    await Promise.all([tick("glass"), tick("seal"), tick("paint")]);
    expect(Object.keys((await of(first.id)).checklist.items).sort()).toEqual(["glass", "paint", "seal", "smokeTest"]);
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
});
