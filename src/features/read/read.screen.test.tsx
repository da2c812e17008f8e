import { fireEvent, screen, within } from "@testing-library/react";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/page/views";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf, tracesOf } from "../../../scripts/testing/screens/pages";
import { failureWords } from "@/words/judge";
import { Cleaning } from "./Cleaning";
import { FlowSteps } from "./FlowSteps";
import { Read } from "./Read";
import { Residuals } from "./Residuals";
import RulePopover from "./RulePopover";
import { Looser } from "./Looser";
import { SetAside } from "./SetAside";
import { traceCharts } from "./traceCharts";
import { unpackTraces } from "./traceData";
import { Traces } from "./Traces";
import { WindowTable } from "./WindowTable";

const pageOf = (name: string) => stepOf(name, "read");
const shapes = () => pageOf("Absorber shapes").view;
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });

/** The traces as their route packs them. */
function packed(experiment: string): ArrayBuffer {
  const { traces, ...rest } = tracesOf(experiment);
  const head = { ...rest, traces: traces.map(({ mean: _, out: __, ...t }) => t) };
  // The arrays after the head begin at a multiple of four.
  let text = JSON.stringify(head);
  text += " ".repeat((4 - (new TextEncoder().encode(text).length % 4)) % 4);
  const bytes = new TextEncoder().encode(text);
  const buffer = new ArrayBuffer(4 + bytes.length + traces.length * rest.buckets * 8);
  new DataView(buffer).setUint32(0, bytes.length, true);
  new Uint8Array(buffer, 4, bytes.length).set(bytes);
  let at = 4 + bytes.length;
  for (const t of traces)
    for (const array of [t.mean, t.out]) {
      new Float32Array(buffer, at, rest.buckets).set(array);
      at += rest.buckets * 4;
    }
  return buffer;
}

const server = jest.fn();
beforeEach(() => {
  server.mockReset();
  global.fetch = server as unknown as typeof fetch;
  server.mockImplementation(async () => ({ ok: true, arrayBuffer: async () => packed("Absorber shapes") }));
});

describe("the sentence", () => {
  test("counts windows, days and points as the tables below do", async () => {
    const { view, predicted } = pageOf("Absorber shapes");
    await show(<Read view={view} predicted={predicted} />);
    const windows = view.runs.reduce((s, r) => s + r.windows.length, 0);
    const days = new Set(view.points.map((p) => p.day)).size;
    const sentence = plain(screen.getByRole("heading", { level: 1 }));
    expect(sentence).toContain(`${windows} steady windows on ${days} days give ${view.points.length} points`);
    for (const c of view.curves) expect(sentence).toContain(c.lane);
  });

  test("says why sunny minutes were not used, the commonest reason first", async () => {
    const view = shapes();
    await show(<Read view={view} predicted={[]} />);
    const words = plain(screen.getByText(/Sunny minutes not used/));
    const minutes = [...words.matchAll(/(\d+) min/g)].map((m) => Number(m[1]));
    expect(minutes.length).toBeGreaterThan(1);
    expect(minutes).toEqual([...minutes].sort((a, b) => b - a));
  });

  test("without a window says so in the colour of doubt, and lists what is missing", async () => {
    const view = shapes();
    const [run] = view.runs;
    const bare: ExperimentView = {
      ...view,
      points: [],
      curves: [],
      tested: null,
      runs: [
        {
          ...run,
          windows: [],
          missing: [
            { lane: null, what: "ambient" },
            { lane: "B", what: "flow" },
          ],
        },
      ],
    };
    await show(<Read view={bare} predicted={[]} />);
    expect(plain(screen.getByRole("heading", { level: 1 }))).toContain("No steady window found");
    expect(screen.getByText(/has no outside temperature: map a column/)).toBeInTheDocument();
    expect(screen.getByText(/has no flow for B/)).toBeInTheDocument();
    expect(screen.queryByRole("region", { name: /Windows of run/ })).toBeNull();
  });

  test("without a sun sensor the lanes are compared by heat, and no fault is made of it", async () => {
    const view = stepOf("Straight from outside", "read").view;
    await show(<Read view={view} predicted={[]} />);
    expect(plain(screen.getByRole("heading", { level: 1 }))).toMatch(
      /^\d+ shared hours on 4 days compare the lanes by their heat\.$/,
    );
    expect(screen.getByText(/efficiency and curves are not known/)).toBeInTheDocument();
    expect(screen.queryByText(/a curve needs/)).toBeNull();
    expect(screen.queryByRole("region", { name: "Fitted curves" })).toBeNull();
  });

  test("heat per day stands lane by lane with its ±, and adds up", async () => {
    const view = stepOf("Straight from outside", "read").view;
    await show(<Read view={view} predicted={[]} />);
    const table = screen.getByRole("region", { name: "Heat of each day" });
    expect(within(table).getAllByRole("row")).toHaveLength(1 + new Set(view.daily.map((d) => d.day)).size);
    const [first] = view.daily;
    expect(plain(table)).toContain(
      quantityText(first.energy.si, "energy", { system: "metric", expanded: first.energy.expanded! }).replace(
        /[\u2009\u202f\u00a0]/g,
        " ",
      ),
    );
    const all = view.daily.filter((d) => d.lane === "B").reduce((s, d) => s + d.energy.si, 0);
    expect(plain(document.body)).toContain(`B ${(all / 3.6e6).toFixed(1)} kWh`);
  });

  test("a lane whose curve cannot be fitted is named with its reason", async () => {
    const view = shapes();
    const failures: ExperimentView["failures"] = [{ kind: "tooFewPoints", lane: "C", points: 2, needed: 4 }];
    await show(<Read view={{ ...view, failures }} predicted={[]} />);
    expect(plain(document.body)).toContain(failureWords(failures[0]));
  });

  test("an efficiency above the optical limit is never shown without its doubt beside it", async () => {
    const view = shapes();
    const doubt = { kind: "negativeFlow", lane: "B", count: 12 } as never;
    await show(<Read view={{ ...view, doubts: [doubt] }} predicted={[]} />);
    expect(plain(document.body)).toMatch(/wrong way|negative|backwards/i);
  });

  test("without a run there is only the way to the import", async () => {
    const { view } = pageOf("Ten ways");
    await show(<Read view={view} predicted={[]} />);
    expect(screen.getByRole("link", { name: "Import a run" })).toHaveAttribute(
      "href",
      `/import?experiment=${view.head.id}`,
    );
  });
});

describe("rules and limits", () => {
  test("the other set of rules is one press", async () => {
    const view = shapes();
    const { user } = await show(<Read view={view} predicted={[]} />);
    await user.click(screen.getByRole("radio", { name: "backyard" }));
    await settle();
    expect(asked("chooseRules")).toEqual([view.head.id, "backyard"]);
  });

  test("a changed limit makes the set the backyard’s and leaves every other limit", async () => {
    const view = shapes();
    const { user } = await show(<RulePopover view={view} />);
    await user.clear(field("Sun at least"));
    await user.type(field("Sun at least"), "600{Enter}");
    await settle();
    expect(asked("changeSettings")).toEqual([
      view.head.id,
      { rules: { ...view.head.settings.rules, name: "backyard", minIrradiance: 600 } },
      { rules: view.head.settings.rules },
    ]);
  });

  test.each([
    ["Sun at least", "5000"],
    ["Flow within ±", "0"],
    ["Averaged over at least", "1 s"],
    ["Inlet within ±", "-1"],
  ])("%s: %s is no limit, and is refused", async (label, typed) => {
    const { user } = await show(<RulePopover view={shapes()} />);
    await user.clear(field(label));
    await user.type(field(label), `${typed}{Enter}`);
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(action("changeSettings")).not.toHaveBeenCalled();
  });
});

describe("what was left out", () => {
  test("stands channel by channel with its reason and count", async () => {
    const view = shapes();
    await show(<Cleaning view={view} />);
    const findings = view.runs.flatMap((r) => r.cleaning.flatMap((c) => c.findings.map((f) => ({ ...f, ...c }))));
    const rows = screen.getAllByRole("row").slice(1);
    expect(rows).toHaveLength(findings.length);
    for (const [i, f] of findings.entries()) {
      expect(plain(rows[i])).toContain(f.channel);
      expect(plain(rows[i])).toContain(String(f.count));
    }
  });

  test("nothing left out is said, not shown as an empty table", async () => {
    await show(<Cleaning view={pageOf("Paint or selective foil").view} />);
    expect(screen.queryByRole("table")).toBeNull();
    expect(screen.getByText(/no gaps, error codes, stuck probes or spikes/)).toBeInTheDocument();
  });
});

describe("the windows of a run", () => {
  test("each has its lanes’ figures, or says they were not steady", async () => {
    const view = shapes();
    const [run] = view.runs;
    await show(<WindowTable view={view} run={run} />);
    await settle();
    const table = screen.getAllByRole("region", { name: /Windows of run 1/ }).at(-1)!;
    const rows = within(table).getAllByRole("row").slice(1);
    expect(rows).toHaveLength(run.windows.length);
    for (const [i, w] of run.windows.entries()) {
      const missing = view.head.lanes.filter((l) => !w.lanes.includes(l.letter)).length;
      expect(within(rows[i]).queryAllByText("not steady")).toHaveLength(missing);
    }
  });

  test("the worst deviation is a share of its limit, at most the whole", async () => {
    const view = shapes();
    const [run] = view.runs;
    await show(<WindowTable view={view} run={run} />);
    const shares = [...plain(document.body).matchAll(/± [A-D]? ?(\d+) %/g)].map((m) => Number(m[1]));
    for (const s of shares) expect(s).toBeLessThanOrEqual(100);
  });
});

describe("traces", () => {
  test("come once, for the run that is shown, and draw a chart for each kind that was logged", async () => {
    const view = shapes();
    await show(<Traces view={view} run={view.runs[0]} />);
    await settle();
    expect(server).toHaveBeenCalledTimes(1);
    expect(String(server.mock.calls[0][0])).toBe(
      `/api/experiments/${view.head.id}/runs/${view.runs[0].id}/traces?buckets=1200`,
    );
    for (const title of ["Air or water in and out", "Sun in the collector plane", "Speed at the flow meter"])
      expect(screen.getByRole("heading", { name: title })).toBeInTheDocument();
    expect(screen.queryByRole("heading", { name: "Flow" })).toBeNull();
  });

  test("a route that fails says so in words", async () => {
    server.mockImplementation(async () => ({ ok: false, status: 500, json: async () => ({}), text: async () => "" }));
    const view = shapes();
    await show(<Traces view={view} run={view.runs[0]} />);
    for (let i = 0; i < 20 && !screen.queryByRole("alert"); i++) await settle();
    expect(plain(screen.getByRole("alert")).length).toBeGreaterThan(10);
  });

  test("the packing keeps every bucket and name", () => {
    const set = tracesOf("Absorber shapes");
    const back = unpackTraces(packed("Absorber shapes"));
    expect(back.traces.map((t) => t.name)).toEqual(set.traces.map((t) => t.name));
    for (const [i, t] of set.traces.entries()) {
      expect(Array.from(back.traces[i].mean)).toEqual(Array.from(t.mean));
      expect(Array.from(back.traces[i].out)).toEqual(Array.from(t.out));
    }
  });
});

describe("distance from the curves", () => {
  test("every point of every curve, its leverage, and whether the shape holds", async () => {
    const view = shapes();
    const { user } = await show(<Residuals view={view} />);
    await user.click(screen.getByText("Distance of the points from their curves"));
    const text = plain(document.body);
    for (const c of view.curves) {
      expect(c.residuals).toHaveLength(c.points);
      expect(text).toMatch(new RegExp(`${c.lane}: (its shape (holds|does not hold)|too few points)`));
      const fitted = c.residuals.reduce((s, r) => s + r.leverage, 0);
      // Places have levels of their own; what a box holds was told beforehand.
      expect(fitted).toBeGreaterThan(1.5);
      expect(fitted).toBeLessThan(6);
    }
  });

  test("a shape that does not hold opens the panel and says so", async () => {
    const view = shapes();
    const curves = view.curves.map((c) => (c.lane === "B" ? { ...c, lackOfFit: { p: 0.002, groups: 6 } } : c));
    await show(<Residuals view={{ ...view, curves }} />);
    expect(plain(document.body)).toContain("B: its shape does not hold");
    expect(screen.getByRole("group")).toHaveAttribute("open");
  });
});

describe("readings as corrected and as logged", () => {
  test("differ by the calibration, and by nothing where there is none", () => {
    const view = shapes();
    const set = tracesOf("Absorber shapes");
    const correction = { t0C: 30, offsetK: 0.4, slope: 0.01 };
    const traces = set.traces.map((t) => (t.kind === "outlet" && t.lane === "B" ? { ...t, correction } : t));
    const drawn = (shown: "corrected" | "logged") =>
      traceCharts({
        set: { ...set, traces },
        run: view.runs[0],
        zone: "UTC",
        system: "metric",
        shown,
        least: 700,
      })[0].spec.series;
    const [corrected, logged] = [drawn("corrected"), drawn("logged")];
    logged.forEach((s, i) => {
      const moved = s.points.filter((p, k) => p.y !== corrected[i].points[k].y && !Number.isNaN(p.y));
      const own = traces.filter((t) => ["inlet", "outlet", "ambient", "tank"].includes(t.kind))[i];
      expect(moved.length > 0).toBe(own.correction !== null && own.correction !== undefined);
      for (const [k, p] of s.points.entries())
        if (own.correction && !Number.isNaN(p.y))
          expect(p.y - corrected[i].points[k].y).toBeCloseTo(0.4 + 0.01 * (p.y - 30), 5);
    });
  });

  test("the least sun of a window is a line to drag on the sun's chart alone", () => {
    const view = shapes();
    const charts = traceCharts({
      set: tracesOf("Absorber shapes"),
      run: view.runs[0],
      zone: "UTC",
      system: "metric",
      shown: "logged",
      least: 640,
    });
    expect(charts.filter((c) => c.spec.lines?.some((l) => l.drag)).map((c) => c.spec.title)).toEqual([
      "Sun in the collector plane",
    ]);
    expect(charts[1].spec.lines!.at(-1)).toMatchObject({ y: 640, drag: true });
  });
});

describe("looser limits", () => {
  test("are tried at a press, told with what each would give, and taken one by one", async () => {
    const view = shapes();
    const rules = { ...view.head.settings.rules, name: "backyard" as const, flowBand: 0.05 };
    action("loadLooser").mockImplementation(async () => [
      { limit: "flowBand", from: 0.02, to: 0.05, windows: 40, points: view.points.length + 12, rules },
    ]);
    const { user } = await show(<Looser view={view} />);
    await user.click(screen.getByRole("button", { name: "What would looser limits give?" }));
    await settle();
    expect(plain(screen.getByRole("list", { name: "Looser limits" }))).toMatch(
      /Flow within ± 5 % instead of 2 %: 12 more points, 40 windows in all/,
    );
    await user.click(screen.getByRole("button", { name: "Loosen it" }));
    await settle();
    expect(asked("changeSettings")).toEqual([view.head.id, { rules }]);
  });

  test("where none would give more, that is said", async () => {
    action("loadLooser").mockImplementation(async () => []);
    const { user } = await show(<Looser view={shapes()} />);
    await user.click(screen.getByRole("button", { name: "What would looser limits give?" }));
    await settle();
    expect(screen.getByText("No limit alone would give more points.")).toBeVisible();
  });
});

describe("setting a span aside", () => {
  const span: [number, number] = [Date.UTC(2026, 9, 6, 10), Date.UTC(2026, 9, 6, 10, 20)];

  test("takes typed times of the site's clock without any zoom, and refuses those that are none", async () => {
    const view = shapes();
    const { user } = await show(<SetAside view={view} run={view.runs[0]} range={null} />);
    const type = (from: string, to: string) => {
      fireEvent.change(screen.getByLabelText("Set aside from"), { target: { value: from } });
      fireEvent.change(screen.getByLabelText("to"), { target: { value: to } });
    };
    await user.type(field("because"), "a ladder leaned on it");
    type("2026-10-06T12:00:00", "2026-10-06T11:00:00");
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    expect(screen.getByRole("alert")).toHaveTextContent("The end must come after the beginning.");
    type("2027-10-06T12:00:00", "2027-10-06T13:00:00");
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    expect(screen.getByRole("alert")).toHaveTextContent("outside this run");
    expect(action("setSpanAside")).not.toHaveBeenCalled();
    type("2026-10-06T12:00:00", "2026-10-06T12:20:00");
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    await settle();
    expect(asked("setSpanAside")).toEqual([
      view.head.id,
      { runId: view.runs[0].id, lane: null, fromMs: span[0], toMs: span[1], reason: "a ladder leaned on it" },
    ]);
  });

  test("takes the span, one lane or all, and a reason", async () => {
    const view = shapes();
    const { user } = await show(<SetAside view={view} run={view.runs[0]} range={span} />);
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    expect(action("setSpanAside")).not.toHaveBeenCalled();
    await user.selectOptions(screen.getByRole("combobox", { name: "of" }), "lane B");
    await user.type(field("because"), "shade of the chimney");
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    await settle();
    expect(asked("setSpanAside")).toEqual([
      view.head.id,
      { runId: view.runs[0].id, lane: "B", fromMs: span[0], toMs: span[1], reason: "shade of the chimney" },
    ]);
    expect(field("because")).toHaveValue("");
  });

  test("boxes that changed places in the span are swapped at its middle, and the span is set aside", async () => {
    action("swapLanes").mockImplementation(async () => ({ ok: true, id: 9 }));
    const view = shapes();
    const { user } = await show(<SetAside view={view} run={view.runs[0]} range={span} />);
    await user.selectOptions(screen.getByRole("combobox", { name: /changed places here/ }), "B and D");
    await user.click(screen.getByRole("button", { name: "Swap here" }));
    await settle();
    const runId = view.runs[0].id;
    expect(asked("swapLanes")).toEqual([
      view.head.id,
      { runId, atMs: (span[0] + span[1]) / 2, lanes: ["B", "D"], reason: "picked on the trace" },
    ]);
    expect(asked("setSpanAside")![1]).toMatchObject({ runId, lane: null, fromMs: span[0], toMs: span[1] });
  });

  test("a refusal keeps the reason in its field", async () => {
    action("setSpanAside").mockImplementation(async () => ({ ok: false, error: "the run is gone" }));
    const view = shapes();
    const { user } = await show(<SetAside view={view} run={view.runs[0]} range={span} />);
    await user.type(field("because"), "shade");
    await user.click(screen.getByRole("button", { name: "Set aside" }));
    await settle();
    expect(field("because")).toHaveValue("shade");
  });

  test("is taken back by its layer", async () => {
    const view = shapes();
    const exclusions = [{ id: 77, lane: "B", fromMs: span[0], toMs: span[1], reason: "shade" }];
    const { user } = await show(<SetAside view={view} run={{ ...view.runs[0], exclusions }} range={null} />);
    expect(plain(screen.getByRole("listitem"))).toContain("lane B: shade");
    await user.click(screen.getByRole("button", { name: /Take back/ }));
    await settle();
    expect(asked("removeLayers")).toEqual([view.head.id, [77], true]);
  });
});

test("a lane that was run at several flows has a row for each, and says which its curve is of", async () => {
  const step = (flow: number, si: number, main: boolean) => ({
    ...{ lane: "A", flow, windows: 12, days: 2, main, reducedTemperature: 0.01 },
    efficiency: { si, expanded: 0.02, quantity: "fraction" as const },
  });
  const { again } = await show(<FlowSteps view={{ flowSteps: [step(0.011, 0.52, true), step(0.025, 0.61, false)] }} />);
  const rows = screen.getAllByRole("row").slice(1).map(plain);
  expect(rows[0]).toMatch(/0\.011 kg\/\(s·m²\).*52 ± 2 %.*12 on 2 days.*curve and verdict/);
  expect(rows[1]).toMatch(/0\.025.*61 ± 2 %/);
  expect(rows[1]).not.toContain("curve and verdict");
  again(<FlowSteps view={{ flowSteps: [] }} />);
  expect(screen.queryByRole("table")).toBeNull();
});
