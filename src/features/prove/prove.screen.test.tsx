import { fireEvent, screen, within } from "@testing-library/react";
import { boilingPoint } from "@/core/calibration/twoPoint";
import { standardPressure } from "@/core/fluids/moistAir";
import type { StoredInstrument } from "@/core/experiment/records";
import { cellIrradiance } from "@/core/sun/cell";
import type { ProveView } from "@/services/prove/prove";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { uploadsAnswered } from "../../../scripts/testing/screens/upload";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf, workingOf } from "../../../scripts/testing/screens/pages";
import { Bath } from "./Bath";
import { Budget } from "./Budget";
import { Flow } from "./Flow";
import { Placement } from "./Placement";
import { Prove } from "./Prove";
import { Register } from "./Register";
import { SunSensor } from "./SunSensor";
import { TwoPoint } from "./TwoPoint";

const pageOf = (name: string) => {
  const { view, prove } = stepOf(name, "prove");
  return { view, prove: prove! };
};
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const put = async (user: Awaited<ReturnType<typeof show>>["user"], name: string | RegExp, text: string) => {
  await user.clear(field(name));
  await user.type(field(name), `${text}{Enter}`);
};
beforeEach(() => action("loadWorking").mockImplementation(async () => workingOf("Absorber shapes")));
const open = (name: RegExp) => fireEvent.click(screen.getByText(name, { selector: "summary" }));

describe("are the instruments good enough", () => {
  test("says whose limits count, what the difference is with them, and what would help most", async () => {
    const { view, prove } = pageOf("Paint or selective foil");
    await show(<Prove view={view} prove={prove} />);
    const sentence = plain(screen.getByRole("heading", { level: 1 }));
    expect(sentence).toContain("Every probe counts with its maker’s limit");
    expect(sentence).toContain("not enough to tell");
    expect(plain(document.body)).toMatch(/Largest gain: .+ \(expected ± \d/);
    const rows = within(screen.getByTestId("what-if")).getAllByRole("row");
    expect(rows).toHaveLength(prove.whatIf!.options.length);
    const gains = prove.whatIf!.options.map((o) => o.gain);
    expect(gains).toEqual([...gains].sort((a, b) => b - a));
  });

  test("with a calibration laid over the runs, says over which", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const applied = [{ calibrationId: 1, layerIds: [8, 9], runs: [2, 1], reason: "bath", probes: { "1-in": "1-in" } }];
    await show(<Prove view={view} prove={{ ...prove, applied }} />);
    expect(plain(screen.getByRole("heading", { level: 1 }))).toContain("Calibrated probes count in runs 1, 2");
    expect(screen.getByRole("button", { name: "Take it off" })).toBeEnabled();
  });

  test("an experiment without a log still says what its instruments would make of a test", async () => {
    const { view, prove } = pageOf("Ten ways");
    await show(<Prove view={view} prove={prove} />);
    expect(screen.getByTestId("planned")).toBeInTheDocument();
    expect(screen.queryByTestId("what-if")).toBeNull();
  });
});

describe("calibrations", () => {
  test("are laid over every run with the probes matched by label", async () => {
    const { view, prove } = pageOf("Paint or selective foil");
    const { user } = await show(<Prove view={view} prove={prove} />);
    await user.click(screen.getByRole("button", { name: "Apply to this experiment" }));
    await settle();
    const [id, request] = asked("applyToRuns") as [number, { runIds: number[]; probes: Record<string, string> }];
    expect(id).toBe(view.head.id);
    expect(request.runIds).toEqual(prove.runs.map((r) => r.id));
    const own = prove.calibrations[0].result.probes.map((p) => p.key);
    for (const [bench, bath] of Object.entries(request.probes)) {
      expect(bench).toBe(bath);
      expect(own).toContain(bath);
    }
  });

  test("a probe may be matched by hand, or left out", async () => {
    const { view, prove } = pageOf("Paint or selective foil");
    const { user } = await show(<Prove view={view} prove={prove} />);
    open(/probes of this bench matched by label/);
    const own = prove.calibrations[0].result.probes.map((p) => p.key);
    await user.selectOptions(screen.getByRole("combobox", { name: /^1-in is/ }), own.at(-1)!);
    await user.selectOptions(screen.getByRole("combobox", { name: /^1-out is/ }), "not in it");
    await user.click(screen.getByRole("button", { name: "Apply to this experiment" }));
    await settle();
    const [, request] = asked("applyToRuns") as [number, { probes: Record<string, string> }];
    expect(request.probes["1-in"]).toBe(own.at(-1));
    expect(request.probes).not.toHaveProperty("1-out");
  });

  test("one of another bench’s probes alone cannot be applied", async () => {
    const { view, prove } = pageOf("Paint or selective foil");
    const [c] = prove.calibrations;
    const probes = c.result.probes.map((p) => ({ ...p, key: `other-${p.key}` }));
    const calibrations = [{ ...c, result: { ...c.result, probes } }] as ProveView["calibrations"];
    await show(<Prove view={view} prove={{ ...prove, calibrations }} />);
    expect(screen.getByRole("button", { name: "Apply to this experiment" })).toBeDisabled();
  });

  test("taking one off switches its layers, all of them", async () => {
    const { view, prove } = pageOf("Paint or selective foil");
    const applied = [{ calibrationId: 1, layerIds: [8, 9], runs: [1], reason: "bath", probes: { "1-in": "1-in" } }];
    const { user } = await show(<Prove view={view} prove={{ ...prove, applied }} />);
    await user.click(screen.getByRole("button", { name: "Take it off" }));
    await settle();
    expect(asked("removeLayers")).toEqual([view.head.id, [8, 9], true]);
  });
});

describe("a bath", () => {
  const columns = ["1-in (°C)", "1-out (°C)"].map((header, i) => ({ index: i + 1, header, unit: "°C", used: true }));
  let sent: File[];
  beforeEach(() => {
    sent = uploadsAnswered(() => ({ file: { id: 5 } }));
    action("lookAtBath").mockImplementation(async () => ({ ok: true, fileId: 5, columns }));
    action("tryBath").mockImplementation(async () => ({ ok: false, problem: { kind: "gone" } }));
  });
  const type = async (text: string) => {
    const shown = await show(<Bath zone="Europe/Zurich" />);
    await shown.user.click(screen.getByRole("button", { name: "or type a table" }));
    fireEvent.change(screen.getByRole("textbox", { name: /First row the labels/ }), { target: { value: text } });
    await shown.user.click(screen.getByRole("button", { name: "Use this table" }));
    await settle();
    return shown;
  };

  test("a typed table becomes a log of one row a minute, decimal commas understood", async () => {
    await type("1-in\t1-out\n41,2\t41,5\n39,8\t40,1");
    const text = await new Promise<string>((done) => {
      const reader = new FileReader();
      reader.onload = () => done(String(reader.result));
      reader.readAsText(sent[0]);
    });
    expect(text).toBe("elapsed (s);1-in;1-out\n0;41.2;41.5\n60;39.8;40.1\n");
    expect(asked("tryBath")![0]).toMatchObject({ fileId: 5, columns });
  });

  test("columns without a unit are shown as °C until it is said, once for all of them", async () => {
    const plainColumns = columns.map((c, i) => ({ ...c, header: `p${i}`, said: false }));
    action("lookAtBath").mockImplementation(async () => ({ ok: true, fileId: 5, columns: plainColumns }));
    const { user } = await type("p0\tp1\n105\t106\n100\t101");
    expect(screen.getByTestId("bath-unit")).toHaveTextContent(/p0, p1: the header names no unit/);
    await user.click(screen.getByRole("radio", { name: "°F" }));
    await settle();
    expect(screen.queryByTestId("bath-unit")).toBeNull();
    const [request] = asked("tryBath") as [{ columns: { unit: string }[] }];
    expect(request.columns.map((c) => c.unit)).toEqual(["°F", "°F"]);
  });

  test("one row is no bath, and says what is needed", async () => {
    await type("1-in\t1-out");
    expect(screen.getByRole("alert")).toHaveTextContent(/at least two rows of readings/);
    expect(sent).toEqual([]);
  });

  test("a server that does not answer loses nothing", async () => {
    uploadsAnswered(() => new Error("gone"));
    await type("1-in\t1-out\n41\t41\n40\t40");
    expect(screen.getByRole("alert")).toHaveTextContent(/did not arrive: the connection broke/);
    expect(screen.getByRole("textbox", { name: /First row the labels/ })).toHaveValue("1-in\t1-out\n41\t41\n40\t40");
  });

  test("an answer that is none breaks nothing, and is said", async () => {
    uploadsAnswered(() => null);
    await type("1-in\t1-out\n41\t41\n40\t40");
    expect(screen.getByRole("alert")).toHaveTextContent("typed table.csv was refused (400). Try again.");
  });

  test("a file that is no log says what a log needs", async () => {
    action("lookAtBath").mockImplementation(async () => ({ ok: false }));
    await type("1-in\t1-out\n41\t41\n40\t40");
    expect(screen.getByRole("alert")).toHaveTextContent(/time column and one column for each probe/);
  });

  test("a column in another unit or left out is tried anew at once", async () => {
    const { user } = await type("1-in\t1-out\n41\t41\n40\t40");
    await user.selectOptions(screen.getByRole("combobox", { name: "Unit of 1-out" }), "°F");
    await settle();
    expect(asked("tryBath")![0]).toMatchObject({ columns: [columns[0], { ...columns[1], unit: "°F" }] });
    await user.click(screen.getByRole("checkbox", { name: "1-in" }));
    await settle();
    expect((asked("tryBath")![0] as { columns: { used: boolean }[] }).columns[0].used).toBe(false);
  });
});

describe("flow", () => {
  const shown = async () => {
    const { view, prove } = pageOf("Absorber shapes");
    return show(<Flow experimentId={view.head.id} prove={prove} />);
  };

  test("a traverse by keyboard alone: Enter goes on, the mean comes when all places are read, the factor with the usual one", async () => {
    const { user } = await shown();
    open(/Traverse worksheet/);
    const places = screen.getAllByRole("textbox", { name: /^Speed at place/ });
    expect(places).toHaveLength(12);
    places[0].focus();
    for (let i = 0; i < places.length; i++) await user.keyboard("3.4{Enter}");
    expect(screen.getByRole("textbox", { name: /usual place/ })).toHaveFocus();
    expect(plain(screen.getByTestId("traverse"))).toMatch(/read the usual place too/);
    await user.keyboard("4 m/s");
    expect(plain(screen.getByTestId("traverse"))).toMatch(/mean ÷ read speed 0.850/);
  });

  test("the factor goes over every run, for the chosen meter", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const { user } = await show(<Flow experimentId={view.head.id} prove={prove} />);
    open(/Traverse worksheet/);
    await user.selectOptions(screen.getByRole("combobox", { name: "Diameters" }), "one");
    for (const box of screen.getAllByRole("textbox", { name: /^Speed at place/ }))
      fireEvent.change(box, { target: { value: "3" } });
    fireEvent.change(screen.getByRole("textbox", { name: /usual place/ }), { target: { value: "3.5" } });
    await user.selectOptions(screen.getByRole("combobox", { name: "Meter" }), "2");
    await user.click(screen.getByRole("button", { name: "Use this factor for meter 2" }));
    await settle();
    const [id, request] = asked("applyFlowFactor") as [number, { runIds: number[]; detail: Record<string, unknown> }];
    expect(id).toBe(view.head.id);
    expect(request.runIds).toEqual(prove.runs.map((r) => r.id));
    expect(request.detail).toMatchObject({ meter: "2", method: "traverse" });
    expect(request.detail.factor).toBeCloseTo(3 / 3.5, 6);
    expect(request.detail.limit).toBeGreaterThan(0);
  });

  test.each([
    ["-2", /not negative/],
    ["fast", /./],
  ])("a reading of %s is refused at its place and counts as unread", async (text, words) => {
    await shown();
    open(/Traverse worksheet/);
    fireEvent.change(screen.getAllByRole("textbox", { name: /^Speed at place/ })[0], { target: { value: text } });
    expect(screen.getByRole("alert")).toHaveTextContent(words);
    expect(plain(screen.getByTestId("traverse"))).toMatch(/^0 of 12 places read/);
  });

  test("nothing read is neither balanced nor tight", async () => {
    await shown();
    expect(plain(document.body)).not.toMatch(/: balanced|tight enough/);
    expect(plain(document.body)).toMatch(/0 of 4 lanes read/);
    expect(plain(document.body)).toContain("Read both ends");
  });

  test("lanes apart beyond the tolerance are told where to bring them; within it, balanced", async () => {
    const { user } = await shown();
    for (const [lane, flow] of [
      ["D", "0.04"],
      ["C", "0.041"],
      ["B", "0.04"],
      ["A", "0.044"],
    ])
      await put(user, `Lane ${lane}`, `${flow} kg/s`);
    expect(plain(document.body)).toMatch(/Apart by 9\.7 %: bring them within 3\.0 %/);
    await put(user, "Lane A", "0.0405 kg/s");
    expect(plain(document.body)).toMatch(/Apart by 2\.5 %: balanced/);
  });

  test("a leak is said with its direction", async () => {
    const { user } = await shown();
    await put(user, "At the inlet", "0.04 kg/s");
    await put(user, "At the outlet", "0.036 kg/s");
    expect(plain(document.body)).toMatch(/10\.0 % leaks out: seal the box/);
    await put(user, "At the outlet", "0.0401 kg/s");
    expect(plain(document.body)).toMatch(/tight enough/);
  });

  test("a bucket says nothing of a speed; a bag does, and its factor is laid over the meter it was held against", async () => {
    const { user } = await shown();
    expect(plain(document.body)).toContain("a bucket says nothing of a speed");
    const { prove } = pageOf("Absorber shapes");
    const [meter] = prove.meters;
    const read = 0.1 / 3 / meter.ductAreaM2! / 0.9;
    await user.type(screen.getAllByRole("textbox", { name: "showed" })[0], `${read.toFixed(5)} m/s{Enter}`);
    expect(plain(document.body)).toMatch(/True ÷ shown 0\.900 ± 0\.1/);
    await user.click(screen.getAllByRole("button", { name: `Use it for meter ${meter.key}` })[0]);
    await settle();
    const [, input] = asked("applyFlowFactor")! as [
      number,
      { detail: { method: string; meter: string; factor: number } },
    ];
    expect(input.detail).toMatchObject({ method: "bag", meter: meter.key });
    expect(input.detail.factor).toBeCloseTo(0.9, 3);
  });

  test("a factor that cannot be is not used", async () => {
    const { user } = await shown();
    await user.type(screen.getAllByRole("textbox", { name: "showed" })[0], "60 m/s{Enter}");
    expect(plain(document.body)).toContain("a unit is wrong somewhere");
    expect(screen.getAllByRole("button", { name: /Use it for meter/ })[0]).toBeDisabled();
  });
});

describe("sun sensor, fixed points, places", () => {
  test("the cell’s irradiance follows its current", async () => {
    const { prove } = pageOf("Absorber shapes");
    const { user } = await show(<SunSensor prove={prove} />);
    await put(user, "Its current now", "0.3 A");
    const expected = cellIrradiance(0.3, 0.5, 35);
    expect(plain(document.body)).toContain(`${Math.round(expected)} ± ${Math.round(expected * 0.05)} W/m²`);
    for (const c of prove.clearSky) expect(plain(document.body)).toContain(c.day);
  });

  test("water boils where the site’s pressure says, and an unlabelled probe cannot be kept", async () => {
    const { user } = await show(<TwoPoint altitudeM={1120} />);
    const pressurePa = Math.round(standardPressure(1120) / 100) * 100;
    expect(plain(document.body)).toContain(`${boilingPoint(pressurePa).toFixed(2)} °C`);
    expect(screen.getByRole("button", { name: "Keep" })).toBeDisabled();
    await user.type(field("Probe"), "1-in");
    // What the probe showed is never assumed: a label alone would keep a faultless probe.
    expect(screen.getByRole("button", { name: "Keep" })).toBeDisabled();
    await put(user, "Shows in ice", "0.3");
    expect(screen.getByRole("button", { name: "Keep" })).toBeDisabled();
    await put(user, "Shows in boiling water", "96.8");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await settle();
    expect(asked("keepTwoPoint")![0]).toMatchObject({ label: "1-in", iceC: 0.3, boilC: 96.8, pressurePa });
  });

  test("every probe has its place on the lane’s own section, in words too", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const { user } = await show(<Placement view={view} prove={prove} />);
    expect(screen.getByRole("img", { name: /Section of lane A/ })).toBeInTheDocument();
    await user.selectOptions(screen.getByRole("combobox", { name: "lane" }), "C Columns of cans");
    expect(screen.getByRole("img", { name: /Section of lane C/ })).toBeInTheDocument();
    expect(screen.getAllByRole("listitem").length).toBeGreaterThanOrEqual(6);
  });

  test("a probe the sun reaches, a late one and a rise before sunrise are said with the lane and the way out", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const found = {
      ...prove,
      spikes: [{ run: 1, lane: "B", perHundred: 0.31, minutes: 40 }],
      lags: [{ run: 2, lane: "C", lagS: 92 }],
      dark: [{ ...prove.dark[0], riseK: 1.4, beyondLimits: true }],
    } as unknown as ProveView;
    await show(<Placement view={view} prove={found} />);
    const text = plain(document.body);
    expect(text).toMatch(/inlet probe of B follows the sun by 0\.31 K/);
    expect(text).toMatch(/inlet probe of C comes 92 s after/);
    expect(text).toMatch(/\+1\.4.*more than both probes’ limits/);
  });
});

describe("where the ± comes from", () => {
  test("is asked of the chosen figure, and its shares add up", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const { user } = await show(<Budget experimentId={view.head.id} figures={prove.figures} layerKey="" />);
    await settle();
    expect(asked("loadWorking")).toEqual([view.head.id, prove.figures[0].ref]);
    const shares = [...plain(screen.getByTestId("budget")).matchAll(/(\d+(?:\.\d+)?) %/g)].map((m) => Number(m[1]));
    expect(shares.reduce((a, b) => a + b, 0)).toBeGreaterThan(90);
    await user.selectOptions(screen.getByRole("combobox", { name: "Figure" }), prove.figures[1].label);
    await settle();
    expect(asked("loadWorking")).toEqual([view.head.id, prove.figures[1].ref]);
  });

  test("of another figure never stands under its name, and a silent server is said", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    const { user } = await show(<Budget experimentId={view.head.id} figures={prove.figures} layerKey="" />);
    expect(await screen.findAllByRole("listitem")).not.toHaveLength(0);
    let fail: (error: Error) => void = () => undefined;
    action("loadWorking").mockImplementation(() => new Promise((_, reject) => (fail = reject)));
    await user.selectOptions(screen.getByRole("combobox", { name: "Figure" }), prove.figures[1].label);
    expect(screen.getByRole("status")).toHaveTextContent("Working it out");
    expect(screen.queryAllByRole("listitem")).toHaveLength(0);
    fail(new Error("gone"));
    expect(await screen.findByRole("alert")).toHaveTextContent(/did not answer.*reload the page/i);
  });

  test("of a figure that is no longer there is said, not left blank", async () => {
    const { view, prove } = pageOf("Absorber shapes");
    action("loadWorking").mockImplementation(async () => null);
    await show(<Budget experimentId={view.head.id} figures={prove.figures} layerKey="" />);
    expect(await screen.findByText(/no longer there/)).toBeInTheDocument();
  });

  test("before a test a better probe makes the difference that can be told smaller", async () => {
    const { user } = await show(<Budget experimentId={1} figures={[]} layerKey="" />);
    const from = () => Number(/reliably from (\d+) W/.exec(plain(screen.getByTestId("planned")))![1]);
    const before = from();
    await put(user, "Probes ±", "0.1 K");
    expect(from()).toBeLessThan(before);
  });
});

describe("the register", () => {
  const instrument: StoredInstrument = {
    id: 4,
    label: "1-in",
    kind: "probe",
    limitFixed: 0.2,
    limitShare: 0,
    resolution: 0.1,
    lagS: 15,
    range: [-40, 125],
    calibrateEveryDays: 180,
    retired: false,
    note: "",
    createdAt: 0,
    changedAt: 0,
  };
  const proveWith = (instruments: StoredInstrument[], more: Partial<ProveView> = {}) => ({
    ...pageOf("Absorber shapes").prove,
    instruments,
    ...more,
  });

  test("offers what is used and not yet in it, with the limit said at import", async () => {
    const prove = proveWith([instrument]);
    const { user } = await show(<Register prove={prove} />);
    expect(screen.queryByRole("button", { name: "1-in" })).toBeNull();
    await user.click(screen.getByRole("button", { name: "2-out" }));
    expect(field("Label on it")).toHaveValue("2-out");
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await settle();
    expect(asked("keepInstrument")).toEqual([null, expect.objectContaining({ label: "2-out", limitFixed: 0.2 })]);
  });

  test("one never calibrated is due; one in this bath is not; a retired one is never due", async () => {
    const { prove } = pageOf("Absorber shapes");
    const { unmount } = await show(<Register prove={{ ...prove, instruments: [instrument], calibrations: [] }} />);
    expect(plain(document.body)).toContain("never calibrated");
    unmount();
    await show(<Register prove={{ ...prove, instruments: [{ ...instrument, retired: true }], calibrations: [] }} />);
    expect(plain(document.body)).toContain("retired");
    expect(plain(document.body)).not.toContain("never calibrated");
  });

  test("a drift beyond both baths’ own ± is said, one within it is not", async () => {
    const { prove } = pageOf("Absorber shapes");
    const [c] = prove.calibrations;
    const later = (by: number) =>
      ({
        ...c,
        id: 2,
        result: {
          ...c.result,
          probes: c.result.probes.map((p) => ({
            ...p,
            correction: { ...p.correction, offsetK: p.correction.offsetK + by },
          })),
        },
      }) as typeof c;
    const one = await show(<Register prove={proveWith([instrument], { calibrations: [later(0.4), c] })} />);
    expect(plain(document.body)).toContain("drifted by 0.40 K");
    one.unmount();
    await show(<Register prove={proveWith([instrument], { calibrations: [later(0.01), c] })} />);
    expect(plain(document.body)).not.toContain("drifted");
  });

  test("history is read when asked for", async () => {
    action("loadHistory").mockImplementation(async () => [{ at: Date.UTC(2026, 9, 1, 8), action: "registered" }]);
    const { user } = await show(<Register prove={proveWith([instrument])} />);
    await user.click(screen.getByRole("button", { name: "History" }));
    await settle();
    expect(plain(document.body)).toContain("2026-10-01 08:00 registered");
  });
});
