import fc from "fast-check";
import { bench, day } from "../../scripts/testing/threeLanes";
import { assembleRun, seriesFor } from "./analysis/assemble";
import { heatRecord } from "./analysis/heatRecord";
import type { RunSeries } from "./analysis/setup";
import { isBought } from "./collector/design";
import { ABSORBER_FORMS } from "./collector/form/list";
import { predict } from "./collector/predict";
import type { Operating } from "./collector/prediction";
import { presetDesign } from "./collector/presets";
import { designAreas } from "./collector/content";
import { fluidProperties } from "./fluids/fluid";
import { standardPressure } from "./fluids/moistAir";
import { lanesNow } from "./live/lanesNow";
import { standardRules } from "./log/windows";
import { simulateBench } from "./rig/bench";
import { stepRow } from "./season/collectorStep";
import type { Field } from "./season/parts";

/** What Build says of a drawing and what Apply makes of its curve: two ways to one quantity, held together over drawn inputs. */
const OPERATING: Operating = {
  irradianceWm2: 900,
  ambientC: 12,
  inletC: 20,
  windMs: 1.5,
  tilt: 55,
  pressurePa: standardPressure(1120),
  massFluxKgM2S: 0.02,
  extremeAmbientC: 12,
  extremeIrradianceWm2: 900,
  basis: "gross",
  reduced: "mean",
};
/** Forms whose flow is set, and whose drawing gives a curve. */
const FORMS = ABSORBER_FORMS.filter((f) => {
  const design = presetDesign(f);
  return !isBought(design) && design.drive.kind !== "natural" && predict(design, OPERATING).figures.eta0 !== undefined;
});

/** A row of boxes as Apply takes it, until it stands still. */
function rowOf(form: (typeof FORMS)[number], inSeries: number, op: Operating, flows: boolean) {
  const one = presetDesign(form);
  const { figures } = predict(one, op);
  const area = designAreas(one).gross;
  const { specificHeat } = fluidProperties(one.fluid, op.inletC + 8, op.pressurePa);
  const field: Field = {
    areaM2: area * inSeries,
    inSeries,
    curve: { eta0: figures.eta0!.value, a1: figures.a1!.value, a2: figures.a2?.value ?? 0 },
    capacityJK: 9000 * area * inSeries,
    light: new Float64Array(),
    plainLight: new Float64Array(),
    flowShare: 1,
  };
  let boxes = new Float64Array(inSeries).fill(op.ambientC);
  let after = { takenW: 0, supplyC: op.inletC, returnC: op.inletC };
  for (let k = 0; k < 200; k++) {
    const next = new Float64Array(inSeries);
    const step = {
      light: op.irradianceWm2,
      outsideC: op.ambientC,
      flowWK: flows ? op.massFluxKgM2S * area * specificHeat : 0,
      duty: flows ? 1 : 0,
      share: 1,
      sinkC: op.inletC,
    };
    after = stepRow(field, boxes, next, step, 600);
    boxes = next;
  }
  return { ...after, hottestC: Math.max(...boxes) };
}

const condition = fc.record({
  form: fc.constantFrom(...FORMS),
  inletC: fc.double({ min: 5, max: 50, noNaN: true }),
  flux: fc.double({ min: 0.01, max: 0.05, noNaN: true }),
  sun: fc.double({ min: 500, max: 1050, noNaN: true }),
});

test("boxes in series: Apply's row gives the heat and the outlet that Build's array gives", () => {
  fc.assert(
    fc.property(condition, fc.integer({ min: 1, max: 10 }), ({ form, inletC, flux, sun }, n) => {
      const op = { ...OPERATING, inletC, massFluxKgM2S: flux, irradianceWm2: sun };
      const built = predict({ ...presetDesign(form), inSeries: n }, op).figures;
      const heat = (built.arrayHeat ?? built.heat)!.value;
      const outlet = (built.arrayOutlet ?? built.outlet)!.value;
      const row = rowOf(form, n, op, true);
      const absorbed = n * sun * designAreas(presetDesign(form)).gross;
      expect(Math.abs(row.takenW - heat) / absorbed).toBeLessThan(0.03);
      expect(Math.abs(row.supplyC - outlet)).toBeLessThan(0.06 * Math.max(20, Math.abs(outlet - inletC)));
    }),
    { numRuns: 25 },
  );
}, 120_000);

test("stagnation: a row without flow stands where Build says, and no row with flow is hotter", () => {
  fc.assert(
    fc.property(condition, fc.integer({ min: 1, max: 10 }), ({ form, inletC, flux, sun }, n) => {
      const op = { ...OPERATING, inletC, massFluxKgM2S: flux, irradianceWm2: sun, extremeIrradianceWm2: sun };
      const still = predict(presetDesign(form), op).figures.stagnationHere!.value - op.ambientC;
      const row = rowOf(form, n, op, false).hottestC - op.ambientC;
      // A curve is drawn on far beyond its points, and stands for the stream, not for the plate.
      expect(row / still).toBeGreaterThan(0.5);
      expect(row / still).toBeLessThan(1.5);
      const flowing = rowOf(form, n, op, true);
      expect(flowing.supplyC - op.ambientC).toBeLessThan(Math.max(row, inletC - op.ambientC) + 0.5);
    }),
    { numRuns: 25 },
  );
}, 120_000);

test("Run and Read: what the live bench shows of a whole minute is what the record holds of it", () => {
  const [logged] = simulateBench(
    bench(4, { stepS: 20, runs: [{ run: "1", days: [day(5)], stations: { A: 1, B: 2, C: 3 } }] }),
  );
  const series = seriesFor(assembleRun(logged.channels), logged.setup.lanes);
  const { minutes } = heatRecord(logged.setup, series);
  const perMinute = minutes!.stepMs / series.stepMs;
  const cut = <T>(value: T, from: number, to: number): T =>
    (value instanceof Float64Array ? value.subarray(from, to) : value) as T;
  let held = 0;
  for (let at = 60; at < minutes!.values.length; at += 37) {
    const [from, to] = [(at - 59) * perMinute, (at + 1) * perMinute];
    const part = (o: object) => Object.fromEntries(Object.entries(o).map(([k, v]) => [k, cut(v, from, to)]));
    const hour = {
      ...part(series),
      startMs: series.startMs + from * series.stepMs,
      lanes: new Map([...series.lanes].map(([l, s]) => [l, part(s)])),
    } as unknown as RunSeries;
    const { lanes } = lanesNow(logged.setup, hour, { basis: "mean", rules: standardRules("air") });
    if (!(minutes!.values[at] > 500) || lanes.some((l) => !l.heat)) continue;
    const together = lanes.reduce((s, l) => s + l.heat!.value, 0);
    expect(Math.abs(together / minutes!.values[at] - 1)).toBeLessThan(0.01);
    held++;
  }
  expect(held).toBeGreaterThan(5);
}, 60_000);
