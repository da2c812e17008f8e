import { renderToStaticMarkup } from "react-dom/server";
import { benchStations } from "@/core/plan/bench";
import { datedPlan } from "@/core/plan/dayPlan";
import type { DayNeeds } from "@/core/plan/daySky";
import { duration } from "@/core/plan/howLong";
import { statedPrecision, TYPICAL_BENCH } from "@/core/plan/precision";
import { swapSchedule } from "@/core/plan/schedule";
import { standardRules } from "@/core/log/windows";
import { presetDesign } from "@/core/collector/presets";
import { planSettingsSchema, type PlanSettings } from "@/core/experiment/schema/plan";
import { PLAIN_DETAIL } from "@/core/experiment/schema/site";
import type { PlanView } from "@/services/plan/plan";
import { HourMap } from "@/ui/chart/HourMap";
import { PreferencesProvider } from "@/ui/preferences";
import { BenchPlan } from "./BenchPlan";
import { HowLong } from "./HowLong";
import { Months } from "./Months";
import { ProtocolPanel } from "./ProtocolPanel";
import { Swaps } from "./Swaps";

const html = (node: React.ReactElement) =>
  renderToStaticMarkup(<PreferencesProvider system="metric">{node}</PreferencesProvider>).replace(/&#x27;/g, "’");
const text = (node: React.ReactElement) =>
  html(node)
    .replace(/<[^>]+>/g, " ")
    .replace(/\s+/g, " ");
const nothing = () => undefined;

const SITE = {
  id: 1,
  name: "Terrace",
  latitude: 46.31,
  longitude: 9.05,
  altitudeM: 1120,
  zone: "Europe/Zurich",
  detail: PLAIN_DETAIL,
};
const BOX = { widthM: 1, lengthM: 2, depthM: 0.12, mirrors: [] };

/** A plan of three lanes, two of them copies, over some October days. */
function planOf(over: Partial<PlanSettings> = {}, view: Partial<PlanView> = {}): PlanView {
  const settings = planSettingsSchema.parse({ days: 3, seed: 8, start: "2026-10-05", ...over });
  const stations = benchStations(
    { plane: { tilt: 55, azimuth: 180 }, rows: settings.bench.rows, gapM: 0.3, rowPitchM: 3.5, bottomM: 0.5 },
    [BOX, BOX, BOX],
  );
  const needs: DayNeeds = { protocol: settings.protocol, rules: standardRules("air"), b0: 0.1 };
  const schedule = settings.swaps === "none" ? null : swapSchedule(3, settings.days, settings.seed);
  const order = schedule?.order ?? Array.from({ length: settings.days }, () => [0, 1, 2]);
  const times = { settleS: 900, averageS: 600, swapS: 1800, checkS: 900 };
  const { days, passed } = datedPlan({
    site: SITE,
    stations,
    needs,
    times,
    levelsK: settings.levelsK,
    startMs: Date.UTC(2026, 9, 5, 12),
    days: settings.days,
    order,
    swapAtNoon: false,
    unavailable: [],
    skipped: [],
    moved: {},
  });
  const precision = statedPrecision(TYPICAL_BENCH);
  return {
    experimentId: 1,
    name: "Shapes",
    saved: true,
    today: "2026-10-05",
    settings,
    site: SITE,
    stations,
    times,
    order,
    days,
    passed,
    precision,
    specimens: ["A", "B", "C"].map((letter, i) => ({
      letter,
      name: letter,
      variantId: i === 2 ? 1 : i + 1,
      box: BOX,
      timeConstantS: 220,
      built: true,
      design: presetDesign("flat"),
    })),
    problems: [],
    timeConstant: { seconds: 220, from: "predicted", lane: "A" },
    balance: schedule?.balance ?? null,
    baths: [],
    unavailable: [],
    precisionFrom: "stated",
    pair: ["A", "B"],
    comparisons: 2,
    smallest: 15,
    flowPerArea: 0.02,
    heatWm2: 450,
    perDay: 12,
    duration: duration(
      {
        precision,
        probeK: 0.29,
        smallest: 15,
        specimens: 3,
        comparisons: 2,
        perDay: 12,
        swaps: settings.swaps,
        seed: settings.seed,
      },
      settings.power,
    ),
    months: [],
    climate: null,
    advice: null,
    rules: { name: "standard", minIrradiance: 700, minModifier: 0.98, flowBand: 0.02 },
    ...view,
  };
}

describe("order of stations", () => {
  test("even after a whole turn, with its copies named", () => {
    const words = text(<Swaps plan={planOf()} />);
    expect(words).toContain("Every lane stands at every place equally often");
    expect(words).toContain("A and C are copies");
    expect(words).toContain("dealt from seed 8");
  });
  test("uneven says what is left and how to mend it; never swapping says what that means", () => {
    const uneven = text(<Swaps plan={planOf({ days: 2 })} />);
    expect(uneven).toMatch(/25 % of what belongs to the places is left/);
    expect(uneven).toContain("a multiple of 3 days makes it even");
    expect(text(<Swaps plan={planOf({ swaps: "none" })} />)).toContain("Lanes never swap");
  });
  test("an odd day past a whole turn takes nothing back: places cancel, and it says what the days are worth", () => {
    const odd = text(<Swaps plan={planOf({ days: 4 })} />);
    expect(odd).toMatch(/what belongs to a place cancels\. These days are worth \d\d % of as many even ones/);
    expect(odd).toContain("a multiple of 3 days makes them even");
  });
  test("without copies it says what a second copy would show", () => {
    const plan = planOf();
    plan.specimens.forEach((s, i) => {
      s.variantId = i;
    });
    expect(text(<Swaps plan={plan} />)).toContain("No identical pair stands here");
  });
});

describe("how long", () => {
  const words = (view: Partial<PlanView>, settings: Partial<PlanSettings> = {}) => {
    const plan = planOf(settings, view);
    return text(<HowLong plan={plan} settings={plan.settings} change={nothing} />);
  };
  test("names days at both chances, what matters, and where the figures come from", () => {
    const w = words({});
    expect(w).toMatch(/80 % chance \d+ clear days/);
    expect(w).toMatch(/95 % chance \d+ clear days/);
    expect(w).toContain("No runs yet: typical values and stated limits");
    expect(w).toContain("2 comparisons at once share the 5 % (Holm)");
    expect(words({ precisionFrom: "runs" })).toContain("from this experiment’s own windows");
  });
  test("a bench that cannot says so instead of a number", () => {
    const stuck = words({}, { swaps: "none" });
    expect(stuck).toContain("over 60 days");
    expect(stuck).toContain("swap lanes every day");
  });
  test("each advice in words, with its bound or its chance", () => {
    const seen = { daysSoFar: 2, daysPlanned: 4, interim: true };
    expect(words({ advice: { kind: "detected", ...seen } })).toContain("Stop. A difference is detected after 2 days.");
    expect(words({ advice: { kind: "equal", ...seen } })).toMatch(
      /After 2 days a difference of 15 W\/m² or more is ruled out/,
    );
    expect(words({ advice: { kind: "warningFirst", ...seen } })).toMatch(/Solve the warning first/);
    expect(words({ advice: { kind: "goOn", chance: 0.999, share: 0.4, ifTrue: 15, ...seen } })).toMatch(
      /Continue\. The data hold 40 % of the information of 4 days\. If the true difference is 15 W\/m², those detect it with (>|&gt;) 99 % chance/,
    );
    expect(words({ advice: { kind: "hopeless", chance: 0.001, ifTrue: 15, ...seen } })).toMatch(
      /Stop and change something\. .*(<|&lt;) 1 % chance only/,
    );
    expect(words({ advice: { kind: "done", ...seen } })).toContain("More days need a new plan");
    expect(words({ advice: { kind: "done", ...seen, interim: false } })).not.toContain("Lan–DeMets");
  });
});

describe("months, protocol and bench", () => {
  test("a month without a climate has no chance, one without sun no windows", () => {
    const months = [
      { month: 0, clearShare: null, windows: 0, hours: 0, calendarDays: null, within14: null },
      { month: 5, clearShare: 0.6, windows: 12, hours: 4.2, calendarDays: 7, within14: 0.98 },
    ];
    const w = text(<Months plan={planOf({}, { months })} />);
    expect(w).toContain("no climate chosen");
    expect(w).toMatch(/Jan – none – –/);
    expect(w).toMatch(/Jun 60 % 12 in 4.2 h 98 % 7 d/);
  });
  test("the protocol panel gives times from the slowest lane and one flow for all", () => {
    const plan = planOf();
    const w = text(<ProtocolPanel plan={plan} settings={plan.settings} change={nothing} />);
    expect(w).toContain(
      "Settle 15 min, average 10 min: lane A is the slowest, time constant 220 s predicted from its design",
    );
    expect(w).toMatch(/A 0.04 kg\/s, B 0.04 kg\/s, C 0.04 kg\/s/);
    expect(
      text(
        <ProtocolPanel
          plan={planOf({}, { timeConstant: { seconds: 240, from: "assumed", lane: null } })}
          settings={plan.settings}
          change={nothing}
        />,
      ),
    ).toContain("240 s is assumed until a design is drawn");
  });
  test("the bench is drawn with every station and no coordinate lost, one row or two", () => {
    for (const rows of [1, 2]) {
      const plan = planOf({ bench: { rows } as PlanSettings["bench"] });
      const markup = html(<BenchPlan plan={plan} settings={plan.settings} change={nothing} />);
      expect(markup).not.toContain("NaN");
      expect(markup).toMatch(/station 1 holds [ABC], station 2 holds [ABC], station 3 holds [ABC]/);
      expect(markup).toContain(rows === 1 ? "nothing shades any station" : "Rows apart");
    }
  });
});

describe("a map of hours", () => {
  test("shows the hours asked for, reads the chosen one out, and leaves night pale", () => {
    const values = ["January", "February"].map(() => Array.from({ length: 24 }, (_, h) => (h < 8 ? null : h * 10)));
    const markup = html(
      <HourMap
        title="Sun"
        unit="W/m²"
        rows={["January", "February"]}
        values={values}
        hours={[7, 18]}
        shade={(v) => v / 240}
        color="var(--sun)"
        summary="Most 230."
        format={(v) => String(v)}
      />,
    );
    expect(markup.match(/fill="var\(--sun\)"/g)!.length).toBe(2 * 11);
    expect(markup).toContain("January, 12 to 13 h: 120 W/m²");
    expect(markup).toContain("Arrow keys read single hours");
    expect(markup.match(/var\(--well\)/g)!.length).toBe(2);
  });
});
