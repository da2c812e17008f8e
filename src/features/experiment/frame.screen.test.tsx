import { screen, within } from "@testing-library/react";
import type { ExperimentView } from "@/services/page/views";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { STEPS as CAPTURED, stepOf, workingOf } from "../../../scripts/testing/screens/pages";
import { CurveChart } from "./CurveChart";
import { Frame } from "./Frame";
import { NextStep } from "./NextStep";
import { nextOf, STEPS } from "./nextOf";
import { pathSteps } from "./steps";
import { VerdictSentence } from "./Verdict";

const viewOf = (name: string) => stepOf(name, "judge").view;
const shapes = () => viewOf("Absorber shapes");
const statusOf = (view: ExperimentView, name: string) => pathSteps(view).find((s) => s.name === name)!;

describe("the path of steps", () => {
  test("is the same on every step of an experiment", () => {
    const [first, ...others] = CAPTURED.map((step) => pathSteps(stepOf("Paint or selective foil", step).view));
    for (const other of others) expect(other).toEqual(first);
  });

  test("leads to each step by its own address", () => {
    const view = shapes();
    expect(pathSteps(view).map((s) => s.href)).toEqual(STEPS.map((s) => `/experiments/${view.head.id}/${s}`));
  });

  test("counts what is there: runs, windows, doubts, calibrations", () => {
    const view = shapes();
    const windows = view.runs.reduce((sum, r) => sum + r.windows.length, 0);
    expect(statusOf(view, "Run").status).toBe(`${view.runs.length} runs`);
    expect(statusOf(view, "Read").status).toBe(`${windows} windows`);
    expect(statusOf(view, "Judge")).toMatchObject({ state: "doubt", status: `${view.doubts.length} doubts` });
    expect(statusOf({ ...view, layers: 1 }, "Prove")).toMatchObject({ state: "done", status: "1 calibration" });
    expect(statusOf({ ...view, layers: 0 }, "Prove")).toMatchObject({ state: "doubt" });
  });

  test.each([
    [null, "open", "not planned"],
    [1, "done", "1 day"],
    [6, "done", "6 days"],
  ])("a plan of %s days", (plannedDays, state, status) => {
    const view = shapes();
    expect(statusOf({ ...view, head: { ...view.head, plannedDays } }, "Plan")).toMatchObject({ state, status });
  });

  test("nothing begun is open, never done", () => {
    const view = viewOf("Ten ways");
    for (const name of ["Prove", "Run", "Read", "Judge", "Apply"]) expect(statusOf(view, name).state).toBe("open");
    expect(statusOf({ ...view, head: { ...view.head, question: "" } }, "Ask")).toMatchObject({ status: "no question" });
    expect(statusOf({ ...view, head: { ...view.head, drawn: [] } }, "Build").status).toBe("nothing drawn");
  });

  test("a reading that is missing, a lane without a curve and a cannot-tell are doubts in their own step", () => {
    const view = shapes();
    const [run, ...rest] = view.runs;
    const missing = [{ lane: "A", what: "flow" }] as typeof run.missing;
    expect(statusOf({ ...view, runs: [{ ...run, missing }, ...rest] }, "Run").state).toBe("doubt");
    expect(statusOf({ ...view, curves: view.curves.slice(1) }, "Read").state).toBe("doubt");
    expect(statusOf({ ...view, points: [], tested: null }, "Read")).toMatchObject({
      state: "doubt",
      status: "no window",
    });
    const tested = { ...view.tested!, unit: "hour" as const, spans: 9 };
    expect(statusOf({ ...view, points: [], tested }, "Read")).toMatchObject({ state: "done", status: "9 hours" });
    expect(statusOf(viewOf("Paint or selective foil"), "Judge").status).toBe("cannot tell");
    expect(statusOf({ ...view, doubts: [] }, "Judge")).toMatchObject({ state: "done", status: "settled" });
  });
});

describe("the next step", () => {
  const bar = () => screen.getByRole("region", { name: "Next step" });
  const at = async (step: string, path = pathSteps(shapes())) => {
    await show(<NextStep steps={path} current={step} />);
    return plain(bar());
  };

  test("is the first after this one that is not done, then the first before it; its button leads there", async () => {
    const path = pathSteps(shapes());
    const open = path.map((s, i) => ({ ...s, state: i === 3 || i === 6 ? ("open" as const) : ("done" as const) }));
    expect(nextOf(open, "ask")!.step).toBe("plan");
    expect(nextOf(open, "plan")!.step).toBe("judge");
    expect(nextOf(open, "judge")!.step).toBe("plan");
    expect(nextOf(open, "apply")!.step).toBe("plan");
    expect(await at("plan", open)).toContain("6 of 8 steps done. Next: Judge");
    expect(within(bar()).getByRole("link")).toHaveAttribute("href", open[6].href);
  });

  test("of an experiment that is done everywhere is none", async () => {
    const done = pathSteps(shapes()).map((s) => ({ ...s, state: "done" as const }));
    expect(await at("judge", done)).toBe("All steps are done.");
    expect(within(bar()).queryByRole("link")).toBeNull();
  });

  test("counts warnings apart from what is done", async () => {
    const path = pathSteps(shapes());
    const [done, warned] = ["done", "doubt"].map((state) => path.filter((s) => s.state === state).length);
    expect(await at("build")).toContain(`${done} of 8 steps done, ${warned} with warnings.`);
  });
});

describe("the frame", () => {
  test("keeps question, lanes and path in sight, copies named by their pair", async () => {
    const view = shapes();
    await show(
      <Frame head={view.head} path={pathSteps(view)} step="judge" strip={null}>
        <p>inside</p>
      </Frame>,
    );
    const text = plain(document.body);
    expect(text).toContain(view.head.question);
    expect(text).toContain("pair of A");
    expect(screen.getByRole("link", { name: /Judge/ })).toHaveAttribute("aria-current", "step");
    expect(screen.getByText("inside")).toBeInTheDocument();
  });

  test("a figure inside asks the server for its working, of this experiment", async () => {
    action("loadWorking").mockImplementation(async () => workingOf("Absorber shapes"));
    const view = shapes();
    const { user } = await show(
      <Frame head={view.head} path={pathSteps(view)} step="judge" strip={null}>
        <h1>
          <VerdictSentence verdict={view.verdict} head={view.head} opens />
        </h1>
      </Frame>,
    );
    await user.click(screen.getByRole("button", { name: /open its working/ }));
    await settle();
    expect(asked("loadWorking")).toEqual([view.head.id, { figure: "verdict" }]);
    const working = within(screen.getByRole("complementary", { name: "Working" }));
    const { inputs, formula, layers } = workingOf("Absorber shapes")!;
    expect(working.getAllByRole("row")).toHaveLength(inputs.length);
    expect(formula.length).toBeGreaterThan(0);
    expect(plain(working.getByTestId("working"))).toContain(layers[0]);
  });

  test("where figures do not open there is plain text", async () => {
    const view = shapes();
    await show(<VerdictSentence verdict={view.verdict} head={view.head} opens={false} />);
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("the curves", () => {
  test("say in words what they show, and have a table of every point", async () => {
    const view = shapes();
    const { user } = await show(<CurveChart view={view} height={200} markPoint />);
    const picture = screen.getByRole("img", { name: /^Efficiency curves\./ });
    for (const c of view.curves) expect(picture.getAttribute("aria-label")).toContain(`${c.lane}: η0`);
    await user.click(screen.getByRole("button", { name: "Show as table" }));
    for (let i = 0; i < 20 && !screen.queryByRole("table"); i++) await settle();
    const region = screen.getByRole("region", { name: "Efficiency curves, table" });
    expect(within(region).getByRole("table")).toHaveAttribute("aria-rowcount", String(view.points.length + 1));
    await user.click(screen.getByRole("button", { name: "Show as chart" }));
    expect(screen.getByRole("img", { name: /^Efficiency curves\./ })).toBeInTheDocument();
  });

  test("speak of predicted lines only where there are any", async () => {
    const { view, predicted } = stepOf("Absorber shapes", "read");
    const one = await show(<CurveChart view={view} height={200} predicted={predicted} />);
    expect(plain(document.body).includes("Dashed: predicted")).toBe(predicted.length > 0);
    one.unmount();
    await show(<CurveChart view={view} height={200} />);
    expect(plain(document.body)).not.toContain("Dashed: predicted");
  });
});
