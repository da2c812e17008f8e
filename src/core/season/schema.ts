import { z } from "zod";
import { numbersOf } from "../quantity/numbersOf";
import { CONTROL_FIELDS, crossedIn } from "./control";
import { ORIGINS } from "./origins";
import { MODES } from "./parts";
import { lineSchema } from "../text/line";

const positive = z.number().positive();
const share = z.number().min(0).max(1);
const celsius = z.number().min(-60).max(150);
const months = z.array(z.number().int().min(0).max(11)).max(12);

/** How much heat a room's walls and floors hold (ISO 13790, table 12). */
export const BUILDS = ["light", "medium", "heavy"] as const;
export const DRAWS = ["morning", "evening", "even"] as const;

const roomSchema = z
  .object({
    kind: z.literal("room"),
    lossWK: positive.max(20000),
    floorM2: positive.max(5000),
    build: z.enum(BUILDS),
    gainsW: z.number().min(0).max(50000),
    sunM2: z.number().min(0).max(1000),
    setC: celsius.max(40),
    capC: celsius.max(60),
    heated: z.boolean(),
  })
  .refine((r) => r.setC < r.capC, {
    message: "heat is let out above the wanted temperature, not below it",
    path: ["capC"],
  });

const freshAirSchema = z
  .object({
    kind: z.literal("freshAir"),
    flowM3PerS: positive.max(20),
    setC: celsius.max(60),
    fromHour: z.number().int().min(0).max(23),
    toHour: z.number().int().min(1).max(24),
  })
  .refine((r) => r.fromHour < r.toHour, { message: "the hours end after they begin", path: ["toHour"] });

const dryingSchema = z.object({
  kind: z.literal("drying"),
  waterKgADay: positive.max(5000),
  months: months.min(1, "choose a month"),
  /** Share of what the air could take up that it does. */
  pickUp: share.min(0.05),
  humidity: share.min(0.1).max(0.99),
  capC: celsius.max(120),
});

const hotWaterSchema = z
  .object({
    kind: z.literal("hotWater"),
    litresADay: positive.max(100_000),
    coldWinterC: z.number().min(0).max(40),
    coldSummerC: z.number().min(0).max(40),
    wantedC: z.number().min(20).max(95),
    capC: z.number().min(30).max(98),
    draw: z.enum(DRAWS),
  })
  .refine((r) => Math.max(r.coldWinterC, r.coldSummerC) < r.wantedC, {
    message: "wanted water is warmer than cold water",
    path: ["wantedC"],
  })
  .refine((r) => r.wantedC <= r.capC, { message: "the pump stops above the wanted temperature", path: ["capC"] });

export const storedUseSchema = z.discriminatedUnion("kind", [roomSchema, freshAirSchema, dryingSchema, hotWaterSchema]);
export type StoredUse = z.infer<typeof storedUseSchema>;

const lossWK = z.number().min(0).max(1000);
const inRoom = z.boolean();
const kg = positive.max(1_000_000);
export const storeSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("none") }),
  z.object({ kind: z.literal("water"), kg, lossWK, exchangeWK: positive.max(100_000).nullable(), inRoom }),
  z.object({
    kind: z.literal("bottles"),
    count: z.number().int().positive().max(100_000),
    litresEach: positive.max(1000),
    diameterM: positive.max(2),
    lossWK,
    inRoom,
  }),
  z.object({
    kind: z.literal("rock"),
    volumeM3: positive.max(1000),
    lengthM: positive.max(20),
    stoneM: z.number().min(0.005).max(0.3),
    voidShare: z.number().min(0.2).max(0.6),
    lossWK,
    inRoom,
  }),
  z.object({
    kind: z.literal("slab"),
    areaM2: positive.max(5000),
    thicknessM: positive.max(1),
    exchangeWK: positive.max(100_000),
    lossWK,
  }),
  z.object({
    kind: z.literal("latent"),
    kg,
    meltC: celsius,
    heatJPerKg: positive.max(1e6),
    exchangeWK: positive.max(100_000),
    lossWK,
    inRoom,
  }),
]);

export const controlSchema = z
  .discriminatedUnion("kind", [
    z.object({ kind: z.literal("difference"), ...numbersOf(CONTROL_FIELDS.difference) }),
    z.object({ kind: z.literal("thermostat"), ...numbersOf(CONTROL_FIELDS.thermostat) }),
    z.object({ kind: z.literal("sun"), ...numbersOf(CONTROL_FIELDS.sun), tracked: z.boolean().optional() }),
  ])
  .superRefine((control, check) => {
    const message = crossedIn(control);
    if (message) check.addIssue({ code: "custom", message });
  });

const rowSchema = z.object({
  inSeries: z.number().int().min(1).max(50),
  sideBySide: z.number().int().min(1).max(200),
  tilt: z.number().min(0).max(90),
  azimuth: z.number().min(0).max(360),
});

const pipesSchema = z.object({
  lengthM: z.number().min(0).max(500),
  diameterM: positive.max(2),
  insulationM: z.number().min(0).max(0.5),
  leakShare: z.number().min(0).max(0.9),
});

const typedSchema = z.object({
  name: lineSchema().min(1).max(60),
  eta0: z.number().min(0.01).max(1.2),
  a1: z.number().min(0).max(60),
  a2: z.number().min(0).max(1),
  basis: z.enum(["mean", "inlet"]),
  areaM2: positive.max(400),
  b0: z.number().min(-0.2).max(0.5),
  capacityJM2K: positive.max(200_000),
  massFlowKgS: positive.max(20),
  powerW: z.number().min(0).max(10_000),
  cost: z.number().min(0).max(1e7),
});

const money = z.number().min(0).max(1e8);
const moneySchema = z.object({
  currency: lineSchema().min(1).max(8),
  unit: z.enum(["first", "repeat"]),
  /** Fan, ducts, store, controls: what is not a box. */
  other: money,
  renewals: z
    .array(z.object({ name: lineSchema().min(1).max(60), cost: money, everyYears: positive.max(100) }))
    .max(10),
  fuel: lineSchema().min(1).max(40),
  fuelPrice: positive.max(1000),
  fuelEfficiency: positive.max(10),
  electricityPrice: z.number().min(0).max(1000),
  upkeep: money,
  lifeYears: positive.max(100),
  interest: z.number().min(-0.05).max(0.5),
  priceRise: z.number().min(-0.2).max(0.5),
  doubt: z.object({ price: share, cost: share, life: share, use: share }),
});

const panelsSchema = z.object({
  efficiency: z.number().min(0.01).max(0.5),
  performance: z.number().min(0.1).max(1),
  /** Heat of a kilowatt-hour: 1 resistive. */
  cop: z.number().min(1).max(8),
  costPerM2: positive.max(1e6),
  /** Beside the panels: heater or heat pump, inverter. */
  other: money,
});

/** What Apply holds: where and what for the winner works. null: not said yet, and nothing is computed from it. */
export const applySchema = z.object({
  weather: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("monthly") }),
      z.object({ kind: z.literal("hours"), climateId: z.number().int().positive() }),
    ])
    .default({ kind: "monthly" }),
  seed: z.number().int().min(1).max(999_999).default(1),
  rows: z.array(rowSchema).max(6).default([]),
  /** Obstacles of the site that are taken to be gone. */
  without: z.array(z.string().max(60)).max(60).default([]),
  origins: z.record(z.string().max(8), z.enum(ORIGINS)).default({}),
  left: z.array(z.string().max(8)).max(8).default([]),
  typed: typedSchema.nullable().default(null),
  control: controlSchema.nullable().default(null),
  secondStage: z
    .object({ flow: z.number().min(1.05).max(5), power: z.number().min(1).max(20), aboveC: celsius })
    .nullable()
    .default(null),
  pipes: pipesSchema.nullable().default(null),
  exchanger: z
    .object({ uaWK: positive.max(100_000), waterKgS: positive.max(50), pumpW: z.number().min(0).max(5000) })
    .nullable()
    .default(null),
  use: storedUseSchema.nullable().default(null),
  store: storeSchema.default({ kind: "none" }),
  modes: z.array(z.enum(MODES)).length(12).default(Array(12).fill("heatAndCharge")),
  money: moneySchema.nullable().default(null),
  panels: panelsSchema.nullable().default(null),
  mirror: z
    .object({
      /** Whose mirrors, and on whose box they are put. */
      lane: z.string().max(8),
      box: z.string().max(8),
      /** Tried here, not drawn: by the mirror's id. */
      tried: z
        .record(
          z.string().max(40),
          z.object({
            angle: z.number().min(1).max(179),
            depthM: positive.min(0.05).max(10),
            widthM: positive.min(0.05).max(60).nullable(),
          }),
        )
        .default({}),
      /** Boxes of the first row touch and one mirror runs along them all: no light is lost between. */
      joined: z.boolean().default(false),
      snow: months.default([]),
      /** Degrees by which the angle may lie off before the list asks to turn it. */
      toleranceDeg: z.number().min(1).max(30).default(5),
      /** Above outside, K. */
      aboveK: z.number().min(0).max(120).default(30),
      riseK: z.number().min(1).max(100).default(20),
    })
    .nullable()
    .default(null),
});
export type ApplySettings = z.infer<typeof applySchema>;
export type StoredStore = z.infer<typeof storeSchema>;
