import { z } from "zod";
import { GLYCOLS } from "../../fluids/water";
import { SCROUNGED } from "../../collector/bill";
import type { Design } from "../../collector/design";
import { ABSORBER_FORMS } from "../../collector/form/list";
import { MIRROR_STANDS, mirrorsOf, type OneMirror } from "../../mirror/mirror";
import { MATERIAL_FLAGS, MATERIAL_GROUPS, MATERIAL_UNITS, type Material } from "../../materials/material";
import { lineSchema } from "../../text/line";

const positive = z.number().positive();
const share = z.number().min(0).max(1);

const finite = z.number();
const materialKey = z.string().min(1).max(60);

export const materialSchema: z.ZodType<Material, Material> = z.object({
  key: materialKey,
  name: lineSchema().min(1, "a material needs a name").max(120),
  group: z.enum(MATERIAL_GROUPS),
  density: positive.max(25000),
  specificHeat: positive.max(10000),
  conductivity: positive.max(2000),
  absorptance: share,
  emittance: share,
  optics: z.object({ index: z.number().min(1).max(3.9), extinctionPerM: z.number().min(0).max(1e5) }).nullable(),
  infraredTransmittance: z.number().min(0).max(0.95),
  limitC: finite.min(-50).max(3000).nullable(),
  expansionPerK: z.number().min(0).max(0.01),
  thicknessM: positive.max(1),
  unit: z.enum(MATERIAL_UNITS),
  price: z.number().min(0).max(1e7),
  pack: positive.max(1e6),
  flags: z.array(z.enum(MATERIAL_FLAGS)).max(MATERIAL_FLAGS.length),
  note: z.string().max(400),
  source: z.string().max(200),
});

/** Of a drawing the share may be half-typed: core/collector/validate says so; here it only must be a number. */
export const fluidSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("air") }),
  z.object({ kind: z.literal("water") }),
  z.object({ kind: z.literal("glycol"), massFraction: z.number().min(0).max(0.6), glycol: z.enum(GLYCOLS).optional() }),
]);

const fanSchema = z.object({
  points: z
    .array(z.object({ flowM3PerS: z.number().min(0).max(100), pressurePa: z.number().min(0).max(1e7) }))
    .min(2)
    .max(40),
  powerW: positive.max(1e5),
});
const layerBase = { id: z.string().min(1).max(40), thicknessM: finite };
const layerSchema = z.discriminatedUnion("kind", [
  z.object({ ...layerBase, kind: z.literal("cover"), material: materialKey }),
  z.object({ ...layerBase, kind: z.literal("gap") }),
  z.object({ ...layerBase, kind: z.literal("channel") }),
  z.object({
    ...layerBase,
    kind: z.literal("absorber"),
    form: z.enum(ABSORBER_FORMS),
    material: materialKey,
    coating: materialKey.nullable(),
    shape: z.record(z.string().max(20), finite),
  }),
  z.object({ ...layerBase, kind: z.literal("sheet"), material: materialKey, coating: materialKey.nullable() }),
  z.object({ ...layerBase, kind: z.literal("insulation"), material: materialKey }),
]);

const monthDay = z.string().regex(/^(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/, "a month and a day, as 03-15");
const mirrorSchema = z.object({
  id: z.string().min(1).max(40),
  material: materialKey,
  stand: z.enum(MIRROR_STANDS),
  depthM: finite,
  widthM: finite.nullable(),
  angle: finite,
  gapM: finite,
  reflectance: share.nullable(),
  free: z.object({ awayM: finite, rightM: finite, higherM: finite, turn: finite }).nullable(),
  up: z.object({ from: monthDay, until: monthDay }).nullable(),
  cost: z.number().min(0).max(1e7).nullable(),
});

/** Earlier designs held one mirror or none, and no thermostat. */
const asListed = (value: unknown): unknown => {
  if (typeof value !== "object" || value === null || !("reflector" in value)) return value;
  const { reflector, ...rest } = value as { reflector: OneMirror | null };
  return { ...rest, mirrors: mirrorsOf(reflector), thermostat: null };
};

/** Form only: whether a stack can be built is for core/collector/validate to say, so that half-built drafts can be kept too. */
const designObject: z.ZodType<Design, Design> = z.object({
  fluid: fluidSchema,
  grossWidthM: finite,
  grossLengthM: finite,
  frame: z.object({ material: materialKey, thicknessM: finite }),
  layers: z.array(layerSchema).max(60),
  ports: z.object({ diameterM: finite, count: finite }),
  manifoldLoss: finite,
  drive: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("fan"), fan: fanSchema }),
    z.object({ kind: z.literal("pump"), fan: fanSchema }),
    z.object({ kind: z.literal("photovoltaicFan"), fan: fanSchema, panelW: finite, tracked: z.boolean().optional() }),
    z.object({ kind: z.literal("natural"), heightM: finite }),
  ]),
  mirrors: z.array(mirrorSchema).max(8),
  thermostat: z.object({ kind: z.enum(["pair", "snap"]), onC: finite, offC: finite }).nullable(),
  concentration: finite,
  inSeries: z.number().int(),
  inParallel: z.number().int(),
  exchanger: finite.nullable(),
  materials: z.record(materialKey, materialSchema),
  sketch: z.boolean(),
});
export const designSchema: z.ZodType<Design, Design> = z.preprocess(asListed, designObject) as z.ZodType<
  Design,
  Design
>;

/** No box and no part of one is longer, m. */
const LONGEST_M = 100;

/** Every material that a design names. */
const materialsNamed = (d: Design): string[] => [
  d.frame.material,
  ...d.layers.flatMap((l) => [
    ...("material" in l ? [l.material] : []),
    ...("coating" in l && l.coating !== null ? [l.coating] : []),
  ]),
  ...d.mirrors.map((m) => m.material),
];

/** A design that somebody sends: its parts are of materials that it brings along, and no size is beyond every bench. It may be half-drawn. */
export const sentDesignSchema = designSchema.superRefine((d, ctx) => {
  const issue = (message: string) => ctx.addIssue({ code: "custom", message });
  const missing = materialsNamed(d).find((key) => !Object.hasOwn(d.materials, key));
  if (missing) issue(`the drawing names the material “${missing}”, and nobody says what that is`);
  const sizes: [string, number][] = [
    ["its width", d.grossWidthM],
    ["its length", d.grossLengthM],
    ["its frame", d.frame.thicknessM],
    ...d.layers.map((l): [string, number] => [`its ${l.kind}`, l.thicknessM]),
  ];
  const odd = sizes.find(([, size]) => !(Math.abs(size) <= LONGEST_M));
  if (odd) issue(`${odd[0]} is ${odd[1]} m: nothing on a bench is`);
});

/** A box that was built and tested: whatever else is not drawn, it has a width and a length. */
export const builtDesignSchema = sentDesignSchema.superRefine((d, ctx) => {
  const flat = [
    ["width", d.grossWidthM],
    ["length", d.grossLengthM],
  ].find(([, size]) => !(Number(size) > 0));
  if (flat)
    ctx.addIssue({ code: "custom", message: `a box whose ${flat[0]} is ${flat[1]} m has no area to be tested by` });
});

/** What a specimen measures where it differs from the plan; null: as planned. */
export const asBuiltSchema = z.object({
  grossAreaM2: positive.max(400).nullable().default(null),
  apertureAreaM2: positive.max(400).nullable().default(null),
  absorberAreaM2: positive.max(800).nullable().default(null),
  massKg: positive.max(5000).nullable().default(null),
  channelM: positive.max(1).nullable().default(null),
  note: z.string().max(500).default(""),
});
export type AsBuilt = z.infer<typeof asBuiltSchema>;

export const billSchema = z.object({
  currency: lineSchema().min(1).max(8),
  lines: z.record(
    z.string().max(60),
    z.object({
      quantity: z.number().min(0).max(1e6).optional(),
      price: z.number().min(0).max(1e7).optional(),
      pack: positive.max(1e6).optional(),
      scrounged: z.enum(SCROUNGED).optional(),
    }),
  ),
  extra: z
    .array(
      z.object({
        name: lineSchema().min(1, "a line needs a name").max(120),
        unit: z.enum(MATERIAL_UNITS),
        quantity: z.number().min(0).max(1e6),
        price: z.number().min(0).max(1e7),
        pack: positive.max(1e6),
        scrounged: z.enum(SCROUNGED),
      }),
    )
    .max(100),
  hoursFirst: z.number().min(0).max(10000).nullable(),
  hoursRepeat: z.number().min(0).max(10000).nullable(),
  wage: z.number().min(0).max(10000),
});

/** Ticks and notes by item key, and items of one's own. */
export const checklistSchema = z.object({
  items: z.record(
    z.string().max(120),
    z.object({ done: z.boolean(), doneAt: z.number().nullable().default(null), note: z.string().max(1000) }),
  ),
  own: z.array(z.object({ key: z.string().min(1).max(60), text: lineSchema().min(1).max(300) })).max(60),
});
export type ChecklistState = z.infer<typeof checklistSchema>;
