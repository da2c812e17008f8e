import { benchStations } from "@/core/plan/bench";
import { datedPlan, type PlanDay } from "@/core/plan/dayPlan";
import { daySky, type DayNeeds } from "@/core/plan/daySky";
import { methodOf, METHOD_NAMES, type MethodName } from "@/core/method/list";
import { standardRules } from "@/core/log/windows";
import { PLAIN_SITE, type SiteWorld } from "@/core/site/site";
import { planSettingsSchema } from "@/core/experiment/schema/plan";
import type { PlanView } from "@/services/plan/plan";
import { entryWords, NEED_WORDS, RISK_WORDS } from "@/words/plan";
import { sheetBlocks } from "./sheet";

const SITE: SiteWorld = {
  latitude: 46.31,
  longitude: 9.05,
  altitudeM: 1120,
  zone: "Europe/Zurich",
  detail: PLAIN_SITE,
};
const BOX = { widthM: 1, lengthM: 2, depthM: 0.12, mirrors: [] };
const STATIONS = benchStations({ plane: { tilt: 55, azimuth: 180 }, rows: 1, gapM: 0.3, rowPitchM: 3, bottomM: 0.5 }, [
  BOX,
  BOX,
]);

/** What the sheet reads of a plan, with two days of a protocol on a clear October bench. */
function plan(protocol: MethodName, swapAtNoon = false): { view: PlanView; days: PlanDay[] } {
  const needs: DayNeeds = { protocol, rules: standardRules("air"), b0: 0.1 };
  const order = swapAtNoon
    ? [
        [0, 1],
        [1, 0],
        [1, 0],
        [0, 1],
      ]
    : [
        [0, 1],
        [1, 0],
      ];
  const { days } = datedPlan({
    site: SITE,
    stations: STATIONS,
    needs,
    times: { settleS: 900, averageS: 600, swapS: 1800, checkS: 900 },
    levelsK: [0, 15],
    startMs: Date.UTC(2026, 9, 5, 12),
    days: 2,
    order,
    swapAtNoon,
    unavailable: [],
    skipped: [],
    moved: {},
  });
  const specimens = ["A", "B"].map((letter) => ({ letter, name: letter, box: BOX }));
  const view = {
    settings: planSettingsSchema.parse({ protocol }),
    specimens,
    flowPerArea: 0.02,
    rules: { flowBand: 0.02 },
  } as unknown as PlanView;
  return { view, days };
}

describe("the day sheet", () => {
  test.each(METHOD_NAMES)(
    "%s: packs what it needs, every line has its own id, each caution stands once where it first matters",
    (protocol) => {
      const { view, days } = plan(protocol);
      expect(days.length).toBeGreaterThan(0);
      for (const day of days) {
        const blocks = sheetBlocks(view, day, "metric");
        expect(blocks[0].lines.map((l) => l.text)).toEqual(methodOf(protocol).needs.map((n) => NEED_WORDS[n]));
        const lines = blocks.flatMap((b) => b.lines);
        expect(new Set(lines.map((l) => l.id)).size).toBe(lines.length);
        const cautions = lines.flatMap((l) => (l.safety && l.safety !== RISK_WORDS.hotSurfaces ? [l.safety] : []));
        expect(new Set(cautions).size).toBe(cautions.length);
        expect(blocks.slice(1).every((b, i, all) => i === 0 || b.at!.fromMs >= all[i - 1].at!.fromMs)).toBe(true);
      }
    },
  );
  test("dangers stand at the act that brings them: mirror, stagnation, glass", () => {
    const said = (protocol: MethodName, text: string) =>
      sheetBlocks(plan(protocol).view, plan(protocol).days[0], "metric").find((b) =>
        b.lines.some((l) => l.safety === text),
      )?.title;
    expect(said("mirrorOnOff", RISK_WORDS.concentratedLight)).toMatch(/^Settle, mirror on/);
    expect(said("stagnation", RISK_WORDS.stagnation)).toMatch(/^Settle, flow off/);
    expect(said("timeConstant", RISK_WORDS.glassLifting)).toBe("Check");
  });
  test("swaps say who goes where: the day's arrangement in the morning, the other one at noon", () => {
    const { view, days } = plan("steady", true);
    const swaps = sheetBlocks(view, days[0], "metric").filter((b) => b.title === "Swap");
    expect(swaps).toHaveLength(1);
    expect(swaps[0].lines.filter((l) => l.id.includes("/to-")).map((l) => l.text.slice(0, 14))).toEqual([
      "B to station 1",
      "A to station 2",
    ]);
    const daily = plan("steady");
    const second = sheetBlocks(daily.view, daily.days[1], "metric").find((b) => b.title === "Swap")!;
    expect(second.lines.find((l) => l.id.endsWith("to-1"))!.text).toMatch(/^B to station 1/);
  });
  test("measuring carries the clear sky to compare the sensor with", () => {
    const { view, days } = plan("steady");
    const measure = sheetBlocks(view, days[0], "metric").filter((b) => b.title.startsWith("Measure"));
    expect(measure).toHaveLength(2);
    for (const b of measure) expect(b.sky).toMatch(/^clear sky [\d\u2009]+.W\/m², sun \d+° off the normal, no shade$/);
    expect(entryWords(days[0].entries.find((e) => e.kind === "measure")!)).toMatch(
      /^Measure, inlet as outside, \d+ windows$/,
    );
    expect(
      daySky(Date.UTC(2026, 9, 5, 12), SITE, STATIONS, { protocol: "steady", rules: standardRules("air"), b0: 0.1 })
        .spans,
    ).toEqual(days[0].sky.spans);
  });
});
