import type { Knex } from "knex";
import { figureBudget } from "../src/core/uncertainty/coverage";
import { predict } from "../src/core/collector/predict";
import type { Operating } from "../src/core/collector/prediction";
import { experimentView, type FigureRef } from "../src/services/page/views";
import { openWorking } from "../src/services/working/working";
import { DEMO, TEN_WAYS } from "./tansyRidge";

/** Twelve digits: more is the last bits of a sum's order, less would hide a change. */
const digits = (v: unknown): unknown => (typeof v === "number" && Number.isFinite(v) ? Number(v.toPrecision(12)) : v);
const rounded = <T>(value: T): T => JSON.parse(JSON.stringify(value, (_, v) => digits(v))) as T;

const OPERATING: Operating = {
  irradianceWm2: 850,
  ambientC: 6,
  inletC: 20,
  windMs: 1.5,
  tilt: 60,
  pressurePa: 88500,
  massFluxKgM2S: 0.02,
  extremeAmbientC: 32,
  extremeIrradianceWm2: 1050,
  basis: "gross",
  reduced: "mean",
};

/** Every figure the demo's verdicts rest on and show, as plain data without row ids, to be held against a kept copy. */
export async function demoFigures(knex: Knex): Promise<Record<string, unknown>> {
  const out: Record<string, unknown> = {};
  for (const { key } of DEMO) {
    const { id } = await knex("experiment").where({ demo_key: key }).first("id");
    const view = (await experimentView(knex, id))!;
    const refs: FigureRef[] = [
      { figure: "verdict" },
      ...view.pairs.map((p) => ({ figure: "difference" as const, a: p.a, b: p.b })),
      ...view.curves.flatMap((c) =>
        (["eta0", "a1"] as const).map((name) => ({ figure: "coefficient" as const, lane: c.lane, name })),
      ),
    ];
    const budgets: unknown[] = [];
    for (const ref of refs) {
      const working = await openWorking(knex, id, ref);
      budgets.push({
        ref,
        figure: working?.figure,
        coverage: working?.coverage,
        dof: working?.dof,
        budget: working?.budget.map((b) => ({ kinds: b.sources[0].kind, share: b.share })),
      });
    }
    out[key] = {
      points: view.points.map((p) => [
        p.run,
        p.window,
        p.lane,
        p.startMs,
        p.x,
        ...[p.efficiency, p.heat, p.massFlow, p.rise, p.irradiance].flatMap((f) => [f.si, f.expanded]),
      ]),
      windows: view.runs.map((r) => r.windows.map((w) => [w.startMs, w.endMs, w.lanes.join("")])),
      cleaning: view.runs.map((r) =>
        r.cleaning.map((c) => [c.channel, c.lane, c.findings.map((f) => [f.reason, f.count])]),
      ),
      curves: view.curves.map(({ band, residuals: _r, lackOfFit: _l, ...c }) => ({
        ...c,
        band: band.filter((_, i) => i % 10 === 0),
      })),
      // Chances of the later places came after the copy was kept.
      ranking: view.ranking.map(({ chances: _, ...r }) => r),
      pairs: view.pairs,
      verdict: view.verdict,
      doubts: view.doubts,
      crossings: view.crossings,
      operatingX: view.operatingX,
      repeatability: view.repeatability,
      budgets,
    };
  }
  return rounded(out);
}

/** What the model predicts for every design of the demo. */
export function demoPredictions(): Record<string, unknown> {
  const designs = [
    ...TEN_WAYS.variants,
    ...DEMO.flatMap((d) => [...d.lanes.map((l) => ({ name: l.variantName, design: l.design })), ...(d.drafts ?? [])]),
  ];
  return rounded(
    Object.fromEntries(
      designs.map(({ name, design }) => {
        const p = predict(design, OPERATING);
        return [
          name,
          {
            figures: Object.fromEntries(
              Object.entries(p.figures).map(([k, u]) => [k, [u.value, figureBudget(u).expanded]]),
            ),
            points: p.points.map((q) => [q.x, q.efficiency.value]),
            driven: p.drivenFlow,
            areaM2: p.areaM2,
          },
        ];
      }),
    ),
  );
}
