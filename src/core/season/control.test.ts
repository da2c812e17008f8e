import { CONTROL_FIELDS, crossedIn, saidControl, type ControlDraft } from "./control";
import { controlSchema } from "./schema";

const DRAFTS: [string, ControlDraft, whole: boolean][] = [
  ["difference", { kind: "difference", onK: 8, offK: 3 }, true],
  ["crossed difference", { kind: "difference", onK: 3, offK: 8 }, false],
  ["one value missing", { kind: "thermostat", onC: 35 }, false],
  ["crossed thermostat", { kind: "thermostat", onC: 25, offC: 30 }, false],
  ["beyond its limits", { kind: "sun", panelW: 20_000, fanW: 10 }, false],
  ["a word for a figure", { kind: "sun", panelW: "30", fanW: 10 }, false],
  ["not a number", { kind: "sun", panelW: NaN, fanW: 10 }, false],
  ["fan on its panel", { kind: "sun", panelW: 30, fanW: 10 }, true],
];

test.each(DRAFTS)("%s: the form and what is stored agree", (_, draft, whole) => {
  const said = saidControl(draft);
  expect(said !== null && crossedIn(said) === null).toBe(whole);
  expect(controlSchema.safeParse(draft).success).toBe(whole);
  if (whole) expect(said).toEqual(controlSchema.parse(draft));
});

test("crossed set points are named as such", () => {
  expect(crossedIn({ kind: "difference", onK: 3, offK: 3 })).toMatch(/smaller difference/);
  expect(crossedIn({ kind: "thermostat", onC: 30, offC: 30 })).toMatch(/below/);
});

test("each kind asks for its two figures", () => {
  for (const fields of Object.values(CONTROL_FIELDS)) expect(Object.keys(fields)).toHaveLength(2);
});
