import { screen, within } from "@testing-library/react";
import { designAreas } from "@/core/collector/content";
import { doubtKey, reachOf, stopsVerdict } from "@/core/judge/doubt/dismissed";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView, VerdictView } from "@/services/page/views";
import { WorkingProvider } from "@/ui/Working";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf, workingOf } from "../../../scripts/testing/screens/pages";
import { Bases } from "./Bases";
import { CostAndHeat } from "./CostAndHeat";
import { Crossings } from "./Crossings";
import { Doubts } from "./Doubts";
import { Effects } from "./Effects";
import { Judge } from "./Judge";
import { OperatingPoint } from "./OperatingPoint";
import { Pairs } from "./Pairs";
import { Ranking } from "./Ranking";

const viewOf = (name: string) => stepOf(name, "judge").view;
const shapes = () => viewOf("Absorber shapes");
const coating = () => viewOf("Paint or selective foil");
const tenWays = () => viewOf("Ten ways");

const spaced = (text: string) => text.replace(/[\s\u2009\u00a0\u202f]+/g, " ");
const heat = (si: number, expanded: number | null, signed = false, system: "metric" | "us" = "metric") =>
  spaced(quantityText(si, "heatFlux", { system, expanded: expanded ?? undefined, signed }));
const withVerdict = (view: ExperimentView, verdict: VerdictView): ExperimentView => ({ ...view, verdict });
const sentence = () => plain(screen.getByRole("heading", { level: 1 }));

const tied = {
  kind: "tie",
  lanes: ["D", "A"],
  best: ["D"],
  others: [["A"]],
  within: 15,
  difference: { si: 2, expanded: 9, quantity: "heatFlux" },
  tested: null,
} as const;

describe("the sentence", () => {
  test("names the winner, the next with its copies, the difference with its ±, and the point it holds at", async () => {
    const view = shapes();
    await show(<Judge view={view} versions={[]} worth={null} />);
    const verdict = view.verdict as VerdictView & { kind: "winner" };
    expect(verdict.kind).toBe("winner");
    expect(view.ranking[0].lane).toBe(verdict.best[0]);
    expect(sentence()).toContain(`(${verdict.best[0]})`);
    expect(sentence()).toContain("(A and D)");
    expect(sentence()).toContain(`${Math.round(verdict.difference.si)} ± ${Math.round(verdict.difference.expanded!)}`);
    expect(sentence()).toMatch(/^With 20 °C in and 6 °C outside/);
  });

  test("says it cannot tell, and what to do next, where the interval reaches over nothing", async () => {
    const view = coating();
    await show(<Judge view={view} versions={[]} worth={null} />);
    expect(sentence()).toMatch(/^Cannot tell whether .* gives more heat: \d+ ± \d+ W\/m²\.$/);
    expect(plain(document.body)).toContain("Next:");
    expect(plain(document.body)).toMatch(/swap/i);
  });

  test("as tested it says so, with the condition and how much more", async () => {
    const view = viewOf("Straight from outside");
    expect(view.way).toBe("tested");
    await show(<Judge view={view} versions={[]} worth={null} />);
    expect(sentence()).toMatch(
      /^As tested, with 1\d °C in, Mesh layers \(B\) gives \d+ % \(\d+ to \d+ %\) more heat per gross area than Corrugated sheet \(A\): \d+ ± \d+ W\/m²\. This exceeds the 15 W\/m² that matter\.$/,
    );
    const table = screen.getByRole("region", { name: "Heat ratios as tested" });
    for (const { unit, pairs } of view.tested!.by) {
      expect(pairs.length).toBe(1);
      expect(plain(table)).toContain(unit);
    }
    expect(screen.getByText(/the answer stands as tested/)).toBeInTheDocument();
  });

  test("figures that cannot be right stop the verdict and name their cause", async () => {
    const view = shapes();
    const found = { kind: "coolsByDay", lane: "A", riseK: -8, minutes: 300 } as const;
    const by = { kind: "impossible", run: "1", found, accepted: false, effect: null } as const;
    await show(<Judge versions={[]} worth={null} view={withVerdict(view, { kind: "stopped", by })} />);
    expect(sentence()).toBe("No verdict: A cools by day. Mend its cause first.");
    expect(screen.queryByText(/Chance (that another|of the reverse)/)).toBeNull();
  });

  test("a doubt that reaches over the decision is said before the chance", async () => {
    const view = shapes();
    const verdict = view.verdict as VerdictView & { kind: "winner" };
    const gate = { kind: "inletsDiffer", without: "winner", low: -6, high: 94, by: null } as const;
    const open = { ...verdict, kind: "cannotTell" as const, open: [], missesLimit: false };
    const shown = async (without: "winner" | "tie") =>
      show(<Judge versions={[]} worth={null} view={withVerdict(view, { ...open, gate: { ...gate, without } })} />);
    const { again } = await shown("winner");
    expect(sentence()).toMatch(/^Cannot tell/);
    expect(plain(document.body)).toContain(
      "The readings alone give an order, but one doubt could make it −6 W/m² to +94 W/m². Solve this first.",
    );
    again(
      <Judge versions={[]} worth={null} view={withVerdict(view, { ...open, gate: { ...gate, without: "tie" } })} />,
    );
    expect(plain(document.body)).toContain("The readings alone give no difference that matters, but");
  });

  test("no difference that matters is claimed of each rival against the best, with its figure, and asks for no more testing", async () => {
    const { again } = await show(<Judge versions={[]} worth={null} view={withVerdict(shapes(), tied as never)} />);
    expect(sentence()).toMatch(
      /no difference that matters between .*\(D\) and .*\(A\): 2 ± 9 W\/m² \(limit 15 W\/m²\)\.$/,
    );
    expect(plain(document.body)).toContain("A difference of 15 W/m² or more is ruled out (5 % tests)");
    const more = { ...tied, lanes: ["D", "A", "C"], others: [["A"], ["C"]] };
    again(<Judge versions={[]} worth={null} view={withVerdict(shapes(), more as never)} />);
    expect(sentence()).toMatch(/\(A\) and .*\(C\) are each within 15 W\/m² of .*\(D\): no difference that matters\.$/);
  });

  test.each([
    ["exceeds", "This exceeds the 15 W/m² that matter."],
    ["open", "It is open whether this reaches the 15 W/m² that matter."],
    ["below", "This is less than the 15 W/m² that matter."],
  ] as const)("a winner whose interval %s what matters says so and no more", async (meaning, words) => {
    const view = shapes();
    const verdict = view.verdict as VerdictView & { kind: "winner" };
    await show(<Judge versions={[]} worth={null} view={withVerdict(view, { ...verdict, meaning })} />);
    expect(sentence()).toContain(words);
  });

  test("a difference beyond its ± that several comparisons leave open says why, and who else is open", async () => {
    const view = shapes();
    const verdict = view.verdict as VerdictView & { kind: "winner" };
    const open = { ...verdict, kind: "cannotTell", open: [["C"]], gate: null, rivals: 3, missesLimit: true } as const;
    await show(<Judge versions={[]} worth={null} view={withVerdict(view, open as never)} />);
    expect(sentence()).toMatch(/^Cannot tell yet whether/);
    expect(plain(document.body)).toMatch(/does not pass the limit for 3 comparisons\. .*\(C\) is not separated from/);
  });

  test("a mirror turned by turns is its own comparison: the demo's question is answered", async () => {
    const view = viewOf("Bottom mirror");
    expect(view.verdict.kind).toBe("turned");
    const { again } = await show(<Judge versions={[]} worth={null} view={view} />);
    expect(sentence()).toMatch(
      /^With its mirror turned, With mirror \(A\) gives \d+ % \(\d+ to \d+ %\) more heat per gross area than with it turned back: \d+ ± \d+ W\/m²\. It is open whether this reaches/,
    );
    expect(plain(document.body)).toMatch(/By turns: 12 presses, 5 steady windows turned and 7 turned back on 2 days/);
    expect(plain(document.body)).toMatch(/taken together in the ranking and the pairs; the answer takes them apart/);
    const verdict = view.verdict as VerdictView & { kind: "turned" };
    const ratio = { value: 0.8, low: 0.7, high: 0.9 };
    again(<Judge versions={[]} worth={null} view={withVerdict(view, { ...verdict, decision: "less", ratio })} />);
    expect(sentence()).toMatch(/^With its mirror turned back, With mirror \(A\) gives 25 % \(11 to 43 %\) more heat/);
  });

  test("where windows leave it open and all daylight tells, the sentence says by which, on how much and what windows say", async () => {
    const view = coating();
    const daylight = {
      kind: "daylight",
      best: ["B"],
      next: ["A"],
      decision: "winner",
      difference: { si: 34, expanded: 6, quantity: "heatFlux" },
      meaning: "exceeds",
      chanceWrong: 0.0001,
      rivals: 1,
      hours: 38,
      days: 4,
      windows: { value: 24, expanded: 32, unit: "hour" },
    } as const satisfies VerdictView;
    const { again } = await show(<Judge versions={[]} worth={null} view={withVerdict(view, daylight)} />);
    expect(sentence()).toMatch(
      /^With 32 °C in and 6 °C outside, .*\(B\) gives 34 ± 6 W\/m² more heat per gross area than .*\(A\), by all daylight\. This exceeds/,
    );
    expect(plain(document.body)).toMatch(
      /38 h of changing light on 4 days, at the flow that was tested\. Hours alone leave it open \(24 ± 32 W\/m²\)/,
    );
    again(
      <Judge
        versions={[]}
        worth={null}
        view={withVerdict(view, { ...daylight, decision: "tie", meaning: null, windows: null })}
      />,
    );
    expect(sentence()).toMatch(/no difference that matters between .*\(B\) and .*\(A\), by all daylight: 34 ± 6/);
    expect(plain(document.body)).toContain("Steady windows alone are too few");
  });

  test("lanes that ran one after another are said to, in the sentence, the pairs and as tested", async () => {
    const view = viewOf("Bottom mirror");
    const pairs = view.pairs.map((p) => ({ ...p, inTurn: true }));
    const tested = { inletC: 13, ambientC: 13, inTurn: true, ratio: { value: 1.07, low: 1.05, high: 1.09 } };
    const winner = {
      ...{ kind: "winner", best: ["A"], next: ["B"], rivals: 1, chanceWrong: 0.001, remedy: { kind: "nothing" } },
      ...{ difference: { si: 38, expanded: 11, quantity: "heatFlux" }, meaning: "exceeds", expanded90: null },
      ...{ look: null, tested },
    };
    await show(<Judge versions={[]} worth={null} view={{ ...withVerdict(view, winner as never), pairs }} />);
    expect(sentence()).toMatch(
      /^Tested one after another, with 13 °C in and 13 °C outside, With mirror \(A\) gives 7 %/,
    );
    expect(plain(document.body)).toContain("one after another, brought to one condition");
    expect(plain(screen.getAllByRole("region", { name: /Pairwise/ })[0])).toContain(", one after another");
  });

  test.each([
    ["noRuns", /No run yet/],
    ["oneLane", /One lane alone cannot be compared/],
    ["noHeat", /No lane gave heat that can be reckoned/],
    ["tooShort", /Too short to compare/],
    ["noCommonSpans", /No two lanes were logged at the same time/],
  ] as const)("without a verdict (%s) says why", async (reason, words) => {
    await show(<Judge versions={[]} worth={null} view={withVerdict(tenWays(), { kind: "none", reason })} />);
    expect(sentence()).toMatch(words);
    expect(screen.queryByText(/Chance (that another|of the reverse)/)).toBeNull();
  });

  test("an experiment without runs draws no empty tables of results", async () => {
    await show(<Judge versions={[]} worth={null} view={tenWays()} />);
    expect(screen.queryByRole("table")).toBeNull();
    expect(screen.getByText("None found.")).toBeInTheDocument();
  });
});

describe("the ranking", () => {
  test("keeps the order of heat and brackets those that cannot be told apart", async () => {
    const view = shapes();
    await show(<Ranking view={view} />);
    const items = screen.getAllByRole("listitem").map((li) => plain(li));
    expect(items).toHaveLength(view.ranking.length);
    for (const [i, r] of view.ranking.entries()) {
      expect(items[i]).toContain(heat(r.heat.si, r.heat.expanded));
      expect(items[i].includes("not separated")).toBe(r.rank[0] !== r.rank[1]);
    }
    const values = view.ranking.map((r) => r.heat.si);
    expect(values).toEqual([...values].sort((a, b) => b - a));
  });

  test("speaks the reader's units", async () => {
    const view = shapes();
    await show(<Ranking view={view} />, "us");
    const [first] = view.ranking;
    expect(plain(document.body)).toContain(heat(first.heat.si, first.heat.expanded, false, "us"));
    expect(plain(document.body)).not.toContain("W/m²");
  });

  test("stays in its frame when all values are the same", async () => {
    const view = shapes();
    const same = view.ranking.map((r) => ({ ...r, heat: { ...r.heat, si: 400, expanded: 0 } }));
    await show(<Ranking view={{ ...view, ranking: same }} />);
    for (const path of document.querySelectorAll("path")) expect(path.getAttribute("d")).not.toContain("NaN");
  });
});

describe("the pairs", () => {
  test("each stands once, the warmer first, with its ± and its decision", async () => {
    const view = shapes();
    await show(<Pairs view={view} />);
    const rows = screen.getAllByRole("row").slice(1);
    expect(rows).toHaveLength((view.head.lanes.length * (view.head.lanes.length - 1)) / 2);
    for (const [i, p] of view.pairs.entries()) {
      const row = plain(rows[i]);
      expect(row).toContain(heat(Math.abs(p.difference.si), p.difference.expanded, true));
      expect(row.includes("equal")).toBe(p.decision === "equal");
      expect(row.includes("identical pair")).toBe(p.identical);
      expect(row).toContain(`${p.windows} / ${p.days} d`);
    }
  });

  test("turning a pair round turns its sign, never its words", async () => {
    const view = shapes();
    const [pair] = view.pairs;
    const turned = { ...pair, a: pair.b, b: pair.a, difference: { ...pair.difference, si: -pair.difference.si } };
    const one = await show(<Pairs view={{ ...view, pairs: [pair] }} />);
    const before = plain(one.container);
    one.unmount();
    const two = await show(<Pairs view={{ ...view, pairs: [turned] }} />);
    expect(plain(two.container)).toBe(before);
  });

  test("what cannot be told is never given a chance", async () => {
    await show(<Pairs view={coating()} />);
    const row = plain(screen.getAllByRole("row")[1]);
    expect(row).toContain("cannot tell");
    expect(row).not.toMatch(/1 in/);
  });

  test("nothing is drawn of a single lane", async () => {
    const { container } = await show(<Pairs view={{ ...shapes(), pairs: [] }} />);
    expect(container.querySelector("table")).toBeNull();
  });
});

describe("the bases", () => {
  test("the heat of a box is its heat per area times that area", async () => {
    const view = shapes();
    const { user } = await show(<Bases view={view} />);
    await user.click(screen.getByText(/The same per box/));
    const rows = screen.getAllByRole("row").slice(1);
    for (const [i, r] of view.ranking.entries()) {
      const lane = view.head.lanes.find((l) => l.letter === r.lane)!;
      const gross = lane.asBuilt.grossAreaM2 ?? designAreas(lane.design).gross;
      const text = spaced(quantityText(r.heat.si * gross, "power", { expanded: r.heat.expanded! * gross }));
      expect(plain(rows[i])).toContain(text);
    }
  });

  test("opens by itself and says so when another basis has another winner", async () => {
    const view = shapes();
    const [first, second] = view.ranking;
    const lanes = view.head.lanes.map((l) =>
      l.letter === first.lane ? { ...l, asBuilt: { ...l.asBuilt, apertureAreaM2: 40 } } : l,
    );
    await show(<Bases view={{ ...view, head: { ...view.head, lanes } }} />);
    const summary = plain(document.querySelector("summary"));
    expect(summary).toMatch(/^Highest value by basis, not tested/);
    expect(summary).toContain(`${second.lane} per aperture`);
    expect(document.querySelector("details")).toHaveAttribute("open");
  });

  test("a single lane has nothing to be compared on", async () => {
    const view = shapes();
    const { container } = await show(<Bases view={{ ...view, ranking: view.ranking.slice(0, 1) }} />);
    expect(container.querySelector("details")).toBeNull();
  });
});

describe("crossings", () => {
  test("copies of a variant cross once, and the one better with mild use is named so", async () => {
    const view = viewOf("One or two glazings");
    expect(view.crossings.length).toBeGreaterThan(1);
    await show(<Crossings view={view} />);
    const words = screen.getAllByText(/cross at/);
    const variants = new Set(
      view.crossings.map(({ a, b }) =>
        [a, b]
          .map((l) => view.head.lanes.find((x) => x.letter === l)!.variantId)
          .sort()
          .join(),
      ),
    );
    expect(words).toHaveLength(variants.size);
    const [{ a, b }] = view.crossings;
    const eta0 = (lane: string) => view.curves.find((c) => c.lane === lane)!.eta0.si;
    expect(plain(words[0])).toContain(`(mild use, strong sun) ${eta0(a) > eta0(b) ? a : b} gives more`);
  });
});

describe("doubts", () => {
  test("each has what it is and what would settle it", async () => {
    const view = shapes();
    await show(<Doubts view={view} />);
    const items = screen.getAllByRole("listitem");
    expect(items).toHaveLength(view.doubts.length);
    for (const item of items) expect(plain(item.querySelector("b"))).not.toBe("");
  });

  test("one goes only with a reason, which stays beside the answer and can be taken back", async () => {
    const view = shapes();
    const { user, unmount } = await show(<Doubts view={view} />);
    const before = screen.getAllByRole("listitem").length;
    await user.click(screen.getAllByRole("button", { name: /^Dismiss: / })[0]);
    const send = screen.getByRole("button", { name: "Dismiss it" });
    await user.type(screen.getByLabelText("Why it does not count"), "no");
    expect(send).toBeDisabled();
    await user.type(screen.getByLabelText("Why it does not count"), " wind that week, log kept");
    await user.click(send);
    const key = doubtKey(view.doubts.find((d) => !stopsVerdict(d))!);
    expect(asked("dismissDoubt")).toEqual([view.head.id, key, "no wind that week, log kept"]);
    unmount();
    const doubt = view.doubts.find((d) => doubtKey(d) === key)!;
    const dismissed = { [key]: { reason: "no wind that week", atMs: 0, reach: reachOf(doubt) } };
    const head = { ...view.head, settings: { ...view.head.settings, dismissed } };
    const again = await show(<Doubts view={{ ...view, head }} />);
    const list = within(screen.getByRole("list", { name: "Dismissed doubts" }));
    expect(list.getByText("no wind that week")).toBeVisible();
    expect(screen.getAllByRole("listitem")).toHaveLength(before);
    await again.user.click(list.getByRole("button", { name: /^Take back: / }));
    expect(asked("dismissDoubt")).toEqual([view.head.id, key, null]);
  });

  test("minutes that are known to be wrong are set aside by one press, each stretch with its lane and reason", async () => {
    const view = shapes();
    const [run] = view.runs;
    const spells = [0, 2].map((h) => ({
      fromMs: run.startMs + h * 3_600_000,
      toMs: run.startMs + (h + 1) * 3_600_000,
    }));
    const found = { kind: "noFlowInSun", lane: "B", minutes: 120, share: 0.3, spells } as const;
    const doubt = { kind: "impossible", run: String(run.number), found, accepted: false, effect: null } as const;
    const { user, again } = await show(<Doubts view={{ ...view, doubts: [doubt] }} />);
    await user.click(screen.getByRole("button", { name: "Set these 2 stretches aside" }));
    await settle();
    expect(action("setSpanAside").mock.calls.map(([, detail]) => detail)).toEqual(
      spells.map((s) => ({ runId: run.id, lane: "B", ...s, reason: "B had no flow in the sun" })),
    );
    const exclusions = spells.map((s, id) => ({ id, lane: "B", ...s, reason: "" }));
    again(<Doubts view={{ ...view, doubts: [doubt], runs: [{ ...run, exclusions }, ...view.runs.slice(1)] }} />);
    expect(screen.queryByRole("button", { name: /aside$/ })).toBeNull();
  });

  test("a bar only where there is an answer to weaken", async () => {
    const view = shapes();
    const drawn = await show(<Doubts view={view} />);
    const bars = drawn.container.querySelectorAll("svg[aria-hidden=true][width='150']").length;
    expect(bars).toBe(view.doubts.filter((d) => d.effect).length);
    drawn.unmount();
    const none = await show(<Doubts view={withVerdict(view, { ...tied, lanes: ["A", "D"] } as never)} />);
    expect(none.container.querySelectorAll("svg[width='150']")).toHaveLength(0);
  });
});

describe("the operating point", () => {
  const field = (name: string) => screen.getByRole("textbox", { name });

  test("takes any unit, keeps the rest of the point, and sends what changed once", async () => {
    const view = shapes();
    const { user } = await show(<OperatingPoint view={view} />);
    await user.clear(field("Inlet"));
    await user.type(field("Inlet"), "77 F{Enter}");
    const [id, change] = asked("changeSettings") as [number, { operatingPoint: Record<string, number> }];
    expect(id).toBe(view.head.id);
    expect(change.operatingPoint.inletC).toBeCloseTo(25, 6);
    expect(change.operatingPoint.irradianceWm2).toBe(view.head.settings.operatingPoint.irradianceWm2);
    expect(Object.keys(change)).toEqual(["operatingPoint"]);
  });

  test.each([
    ["Inlet", "400", /At most 120/],
    ["Sun in plane", "10", /At least 50/],
    ["Outside", "warm", /./],
  ])("%s: %s is refused where it stands, and nothing is sent", async (name, typed, words) => {
    const { user } = await show(<OperatingPoint view={shapes()} />);
    await user.clear(field(name));
    await user.type(field(name), `${typed}{Enter}`);
    expect(screen.getByRole("alert")).toHaveTextContent(words);
    expect(field(name)).toHaveValue(typed);
    expect(action("changeSettings")).not.toHaveBeenCalled();
  });

  test("fields typed before the server has answered keep one another", async () => {
    const view = shapes();
    const answers: (() => void)[] = [];
    action("changeSettings").mockImplementation(() => new Promise((done) => answers.push(() => done({ ok: true }))));
    const { user } = await show(<OperatingPoint view={view} />);
    const typed = { Inlet: ["31", "inletC"], Outside: ["-4", "ambientC"], "Sun in plane": ["640", "irradianceWm2"] };
    for (const [name, [text]] of Object.entries(typed)) {
      await user.clear(field(name));
      await user.type(field(name), `${text}{Enter}`);
    }
    for (const [name, [text]] of Object.entries(typed))
      expect((field(name) as HTMLInputElement).value.replace("−", "-")).toMatch(new RegExp(`^${text} `));
    const [, last, before] = asked("changeSettings") as [number, ...{ operatingPoint: Record<string, number> }[]];
    expect(last.operatingPoint).toMatchObject({ inletC: 31, ambientC: -4, irradianceWm2: 640 });
    // Sent with what it was made from: the server changes what differs and nothing else.
    expect(before.operatingPoint).toMatchObject({ inletC: 31, ambientC: -4 });
    for (const answer of answers) answer();
    await settle();
  });

  test("basis and area are one press each", async () => {
    const { user } = await show(<OperatingPoint view={shapes()} />);
    await user.click(screen.getByRole("radio", { name: "aperture" }));
    expect(asked("changeSettings")![1]).toEqual({ areaBasis: "aperture" });
    await user.click(screen.getByRole("radio", { name: "inlet" }));
    expect(asked("changeSettings")![1]).toEqual({ basis: "inlet" });
  });
});

describe("opening a figure", () => {
  test("its working comes from the server, closes with Escape, and gives the focus back", async () => {
    const view = shapes();
    const load = jest.fn(async () => workingOf("Absorber shapes"));
    const { user } = await show(
      <WorkingProvider load={load}>
        <Judge view={view} versions={[]} worth={null} />
      </WorkingProvider>,
    );
    const figure = within(screen.getByRole("heading", { level: 1 })).getByRole("button");
    await user.click(figure);
    await settle();
    expect(load).toHaveBeenCalledWith({ figure: "verdict" });
    const panel = screen.getByRole("complementary", { name: "Working" });
    const verdict = view.verdict as VerdictView & { kind: "winner" };
    expect(plain(panel)).toContain(heat(verdict.difference.si, verdict.difference.expanded, true));
    expect(figure).toHaveAttribute("aria-expanded", "true");
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("complementary", { name: "Working" })).toBeNull();
    expect(figure).toHaveFocus();
  });

  test("a figure that is gone says so instead of an empty panel", async () => {
    const { user } = await show(
      <WorkingProvider load={async () => null}>
        <Pairs view={shapes()} />
      </WorkingProvider>,
    );
    await user.click(screen.getAllByRole("button", { name: /open its working/ })[0]);
    await settle();
    expect(screen.getByRole("alert")).toHaveTextContent(/no longer there/);
  });
});

describe("cost against heat", () => {
  test("says what more money buys along the front, and marks what another beats", async () => {
    const { view, worth } = stepOf("Absorber shapes", "judge");
    const { user } = await show(<CostAndHeat worth={worth!} experimentId={view.head.id} />);
    const table = screen.getByRole("region", { name: "Variants by cost" });
    for (const o of worth!.repeat) expect(plain(table)).toContain(o.cost.toFixed(0));
    const beaten = worth!.repeat.filter((o) => !o.front);
    for (const o of beaten) expect(plain(table)).toContain(`${o.beatenBy} `);
    expect(plain(document.body)).toMatch(/costs least/);
    await user.click(screen.getByRole("radio", { name: "the first box" }));
    for (const o of worth!.first)
      expect(plain(screen.getByRole("region", { name: "Variants by cost" }))).toContain(o.cost.toFixed(0));
    // Whole packs cost more than what a box uses of them.
    for (const o of worth!.first)
      expect(o.cost).toBeGreaterThanOrEqual(worth!.repeat.find((r) => r.lanes[0] === o.lanes[0])!.cost - 1e-9);
  });

  test("a sketch is left out of cost, and says so", async () => {
    const { view, worth } = stepOf("Absorber shapes", "judge");
    const left = { ...worth!, left: [{ lanes: ["C"], why: "sketch" as const }] };
    await show(<CostAndHeat worth={left} experimentId={view.head.id} />);
    expect(plain(document.body)).toContain("C left out: its box is a sketch");
  });
});

describe("effects", () => {
  test("of a set of four: each change, and how the one depends on the other", async () => {
    const { view, worth } = stepOf("Foil, second pane, or both", "judge");
    expect(worth!.effects.map((e) => [e.aspects[0], e.over?.aspects[0] ?? null])).toEqual([
      ["coating", null],
      ["glazing", null],
      ["coating", "glazing"],
    ]);
    await show(<Effects worth={worth!} head={view.head} />);
    const table = plain(screen.getByRole("region", { name: "Effects of the changes" }));
    expect(table).toContain("Coating: selective foil");
    expect(table).toContain("Coating × Panes");
    for (const e of worth!.effects) expect(table).toContain(String(Math.round(Math.abs(e.difference.si))));
  });

  test("of one change alone nothing is said twice; what never changes alone is not told", async () => {
    const { view, worth } = stepOf("One or two glazings", "judge");
    const { container } = await show(<Effects worth={worth!} head={view.head} />);
    expect(plain(container)).not.toContain("What each change did");
    const together = { ...worth!, effects: [], confounded: ["coating" as const, "glazing" as const] };
    await show(<Effects worth={together} head={view.head} />);
    expect(plain(document.body)).toContain("never change one without another");
  });
});

describe("chance of each place", () => {
  test("adds up to one in each place and for each variant; copies are one", async () => {
    const view = shapes();
    const { user } = await show(<Ranking view={view} />);
    await user.click(screen.getByText("Chance of each place"));
    const table = screen.getByRole("region", { name: "Chance of each place" });
    expect(within(table).getAllByRole("row")).toHaveLength(1 + 3);
    const variants = view.ranking.filter((r) => r.lane !== "D");
    for (let k = 0; k < 3; k++) expect(variants.reduce((s, r) => s + r.chances[k], 0)).toBeCloseTo(1, 9);
    for (const r of view.ranking) expect(r.chances.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  });
});
