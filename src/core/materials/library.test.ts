import { z } from "zod";
import { LIBRARY, libraryMaterial, type LibraryRow } from "./library";
import rows from "./library.json" with { type: "json" };
import { MATERIAL_FLAGS, MATERIAL_GROUPS, MATERIAL_UNITS } from "./material";

const share = z.number().min(0).max(1);
/** What a row of the library's file may hold: a place forgotten or a figure in another unit fails here. */
const rowSchema: z.ZodType<LibraryRow> = z.strictObject({
  group: z.enum(MATERIAL_GROUPS),
  key: z.string().regex(/^[a-z0-9-]{2,40}$/),
  name: z.string().min(2).max(80),
  density: z.number().min(5).max(12_000),
  specificHeat: z.number().min(100).max(5000),
  conductivity: z.number().min(0.01).max(450),
  absorptance: share,
  emittance: share,
  limitC: z.number().min(40).max(2000).nullable(),
  expansionPerMillion: z.number().min(0).max(400),
  thicknessMm: z.number().min(0.001).max(500),
  unit: z.enum(MATERIAL_UNITS),
  price: z.number().min(0).max(1000),
  pack: z.number().positive().max(1000),
  flags: z.array(z.enum(MATERIAL_FLAGS)),
  note: z.string().max(300),
  source: z.string().min(5).max(120),
  transmittance: share.optional(),
  index: z.number().min(1).max(2).optional(),
  infraredTransmittance: share.optional(),
});

test("every row of the library's file is one, under a key of its own", () => {
  for (const row of rows)
    expect({ key: row.key, fault: rowSchema.safeParse(row).error?.message }).toEqual({ key: row.key });
  expect(new Set(rows.map((r) => r.key)).size).toBe(rows.length);
  expect(LIBRARY).toHaveLength(rows.length);
});

test("a glazing has its light and its index, and nothing else has either", () => {
  for (const { key, group, transmittance, index } of rows as LibraryRow[])
    expect({ key, light: transmittance !== undefined && index !== undefined }).toEqual({
      key,
      light: group === "glazing",
    });
});

test("units of data sheets become SI", () => {
  const glass = libraryMaterial("glass-float");
  expect(glass.thicknessM).toBeCloseTo(0.004, 12);
  expect(glass.expansionPerK).toBeGreaterThan(5e-6);
  expect(glass.expansionPerK).toBeLessThan(1.2e-5);
  expect(glass.optics!.index).toBeCloseTo(1.526, 2);
});

test("a key that is not there is said", () => expect(() => libraryMaterial("nothing")).toThrow(RangeError));
