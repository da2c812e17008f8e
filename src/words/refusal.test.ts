import { z } from "zod";
import { applySchema } from "../core/season/schema";
import { experimentSettingsSchema } from "../core/experiment/schema/settings";
import { standardSettings } from "../core/experiment/standardSettings";
import { issuesWords, issueWords } from "./refusal";

const said = (schema: z.ZodType, value: unknown) => issuesWords(schema.safeParse(value).error!.issues);
/** What only a program would say. */
const RAW = /expected|received|Invalid|Too (?:small|big)|undefined|NaN|>=|<=|[a-z][A-Z]|enum|schema/;

test("a value that cannot be is refused by the field's words and by what it must be", () => {
  const settings = standardSettings("air");
  const { operatingPoint } = settings;
  const at = (point: object) =>
    said(experimentSettingsSchema, { ...settings, operatingPoint: { ...operatingPoint, ...point } });
  expect(at({ inletC: 400 })).toBe("Operating point, inlet (°C) must be at most 120.");
  expect(at({ irradianceWm2: 3 })).toBe("Operating point, irradiance (W/m²) must be at least 50.");
  expect(at({ flowPerArea: 0 })).toBe("Operating point, flow per area (kg/(s·m²)) must be at least 0.0001.");
  expect(at({ ambientC: undefined })).toBe("Operating point, outside temperature (°C) is missing.");
  expect(at({ ambientC: "warm" })).toBe("Operating point, outside temperature (°C) must be a number.");
  expect(said(experimentSettingsSchema, { ...settings, basis: "middle" })).toBe("Basis is none of what can be chosen.");
});

test("our own reasons are said as they are written", () => {
  const settings = { ...standardSettings("air"), ask: { factors: [{ name: "", aspects: [] }] } };
  expect(said(experimentSettingsSchema, settings)).toBe("A factor needs a name.");
  expect(issueWords({ code: "custom", path: ["x"], message: "set points are crossed" }, 1)).toBe(
    "Set points are crossed.",
  );
});

test("nothing a year can be asked is refused in a program's words", () => {
  const wrongs: unknown[] = [
    { rows: [{ inSeries: 1.5, sideBySide: 0, tilt: 91, azimuth: "south" }] },
    { store: { kind: "rock", volumeM3: 0, lengthM: 99, stoneM: null } },
    { use: { kind: "attic" } },
    { seed: -1 },
    { modes: ["heat"] },
    { money: { currency: "" } },
    { typed: { eta0: 2 } },
    { pipes: 7 },
    null,
  ];
  for (const wrong of wrongs) expect(said(applySchema, wrong)).not.toMatch(RAW);
});
