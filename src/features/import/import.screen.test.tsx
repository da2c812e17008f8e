import { fireEvent, screen, within } from "@testing-library/react";
import { useState } from "react";
import { ABSORBER_FORMS, FORMS } from "@/core/collector/form/list";
import { sniffLog } from "@/core/log/sniff";
import { simulateBench } from "@/core/rig/bench";
import type { Inspection } from "@/services/import/imports";
import type { ImportRequest } from "@/services/import/importRequest";
import { CHANNEL_WORDS } from "@/words/channels";
import { FORM_WORDS } from "@/words/forms";
import { laneLogCsv, weatherLogCsv } from "../../../demo/logFiles";
import { router } from "../../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { uploadsAnswered } from "../../../scripts/testing/screens/upload";
import { importing } from "../../../scripts/testing/screens/pages";
import type { ImportDraft } from "./draft";
import { newLane, type LaneDraft } from "./laneDraft";
import Importer from "./Importer";
import { LaneCard } from "./LaneCard";
import { AS_OUTSIDE, clearDays, oneRun, testBench, testLane } from "../../../scripts/testing/bench";

const [run] = simulateBench(
  testBench({
    stepS: 600,
    specimens: [testLane("A", "A"), testLane("B", "B")],
    inletProgram: AS_OUTSIDE,
    runs: oneRun(clearDays([5])),
  }),
);

let lastId = 0;
function inspect(name: string, text: string): Inspection {
  const found = sniffLog(text, { whole: true });
  return {
    file: { id: ++lastId, name, bytes: text.length, sha256: String(lastId) },
    encoding: "utf-8",
    rows: [],
    sample: found.ok ? found.rows.slice(found.layout.firstDataRow) : [],
    alreadyIn: [],
    ...(found.ok ? { layout: found.layout, problem: null } : { layout: null, problem: found.problem }),
  } as Inspection;
}

/** Uploads answer with what the server would have seen. */
const seen = new Map<string, Inspection>();
const server = jest.fn();
beforeEach(() => {
  window.localStorage.clear();
  seen.clear();
  uploadsAnswered((name) => seen.get(name) ?? { error: `${name} is empty.` });
  server.mockReset();
  global.fetch = server as unknown as typeof fetch;
});

const files: [string, string][] = [
  ["lanes.csv", laneLogCsv(run.log, "Europe/Zurich")],
  ["weather.csv", weatherLogCsv(run.log)],
];
async function drop(list: [string, string][] = files) {
  const { heads, lastRuns, sites } = importing();
  const shown = await show(<Importer heads={heads} lastRuns={lastRuns} sites={sites} target={null} />);
  for (const [name, text] of list) if (text) seen.set(name, inspect(name, text));
  fireEvent.change(screen.getByLabelText("Choose log files"), {
    target: { files: list.map(([name]) => new File(["x"], name)) },
  });
  for (let i = 0; i < 6; i++) await settle();
  return shown;
}
const sentence = () => plain(screen.getByRole("heading", { level: 1 }));
/** The experiment’s own name stands first; each lane has one too. */
const title = () => screen.getAllByRole("textbox", { name: "Name" })[0];
const goes = () => screen.getByRole("button", { name: /Import as one run/ });
const notes = () => plain(screen.getByRole("region", { name: "Import" }));
const kept = () => JSON.parse(window.localStorage.getItem("bravel-import-draft-2")!) as ImportDraft;

/** Typed whole: letter by letter belongs to the tests of a field, each one draws all of the page anew. */
function put(field: HTMLElement, text: string): void {
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: "Enter" });
  fireEvent.blur(field);
}

/** What no file knows of a bench: typed once, the other lanes follow. */
async function say(user: Awaited<ReturnType<typeof show>>["user"]) {
  const type = (label: string, text: string) => {
    const [field] = screen.queryAllByLabelText<HTMLInputElement>(label);
    if (field && !field.value) put(field, text);
  };
  const site = screen.queryByRole<HTMLSelectElement>("combobox", { name: "Site" });
  if (site && !site.value) await user.selectOptions(site, "Tansy Ridge");
  type("Collector tilt", "55");
  type("Collectors face", "180");
  const plane = screen.queryByRole("radio", { name: "in the collector plane" });
  if (plane) await user.click(plane);
  type("Gross area", "2 m²");
  type("Inner diameter", "125 mm");
  await user.click(screen.getAllByRole("radio", { name: "outlet" })[0]);
}

describe("dropped logs", () => {
  test("are guessed column by column, with a lane for each letter, and cannot go on without a name", async () => {
    const { user } = await drop();
    expect(sentence()).toBe("2 files with 2 lanes: check the columns, then import.");
    for (const lane of ["A", "B"])
      expect(screen.getByRole("group", { name: new RegExp(`^Lane ${lane}|${lane}`) })).toBeInTheDocument();
    expect(notes()).toContain("Give the experiment a name.");
    expect(goes()).toBeDisabled();
    put(title(), "Two sheets");
    expect(notes()).toContain("Say the collectors’ tilt.");
    expect(notes()).toContain("Lane B: say its gross area.");
    expect(goes()).toBeDisabled();
    await say(user);
    expect(goes()).toBeEnabled();
    expect(kept().lanes.B).toMatchObject({ grossAreaM2: 2, diameterM: 0.125, meterAt: "outlet" });
  });

  test("beside each guess stands what it leads to in the sunniest rows; a wrong unit is seen before the import", async () => {
    const { user } = await drop();
    const row = (header: string) => plain(screen.getByRole("row", { name: new RegExp(`^${header}`) }));
    // No air is weighed before anybody has said where it is.
    expect(row("A speed")).toContain("needs in, out, the duct and the site");
    await say(user);
    expect(screen.getAllByText("sunniest rows").length).toBeGreaterThan(0);
    expect(row("A speed")).toMatch(/\d+ W, \d\d %/);
    expect(row("A speed")).not.toContain("cannot be");
    await user.selectOptions(screen.getByRole("combobox", { name: /^A speed.*unit$/ }), "ft/min");
    expect(row("A speed")).toContain("cannot be");
    expect(row("A speed")).toMatch(/in m\/s: \d.*55 %/);
  });

  test("a file that does not say its degrees is asked once for all", async () => {
    const text =
      "time,A in,A out,A flow (L/min)\n2026-10-05 10:00:00,20,40,60\n2026-10-05 10:01:00,20,41,60\n2026-10-05 10:02:00,20,42,60\n";
    const { user } = await drop([["bare.csv", text]]);
    expect(notes()).toContain("bare.csv: say the unit of A in, A out.");
    await user.click(screen.getByRole("radio", { name: "°F" }));
    expect(notes()).not.toContain("say the unit");
    expect(kept().files[0].settings!.columns.map((c) => c.unit)).toEqual([null, "°F", "°F", "L/min"]);
  });

  test("a file’s clock follows the site until it is set", async () => {
    const { user } = await drop(files.slice(0, 1));
    const zone = () => kept().files[0].settings!.zone;
    await user.selectOptions(screen.getByRole("combobox", { name: "Site" }), "a new site");
    const field = screen.getByRole("combobox", { name: "Site’s time zone" });
    await user.clear(field);
    await user.type(field, "UTC+05:00");
    expect(zone()).toBe("UTC+05:00");
    const own = screen.getByRole("combobox", { name: /Logger’s clock/ });
    await user.clear(own);
    await user.type(own, "UTC+01:00");
    await user.clear(field);
    await user.type(field, "UTC+07:00");
    expect(zone()).toBe("UTC+01:00");
  });

  test("boxes that changed places are typed; half a swap blocks the import", async () => {
    const { user } = await drop();
    await user.click(screen.getByRole("button", { name: "Boxes changed places" }));
    expect(notes()).toContain("A swap needs its day, its time and two different boxes");
    expect(screen.getByLabelText("Swap 1: day")).toHaveValue("2026-10-05");
    fireEvent.change(screen.getByLabelText("Swap 1: time"), { target: { value: "12:30" } });
    await settle();
    expect(notes()).not.toContain("A swap needs");
    expect(kept().swaps).toEqual([{ day: "2026-10-05", time: "12:30", lanes: ["A", "B"] }]);
    await user.click(screen.getByRole("button", { name: "Take swap 1 out" }));
    expect(kept().swaps).toEqual([]);
  });

  test("a counter without a unit takes its own factor; what is only kept says so", async () => {
    const text =
      "time,A in (°C),A out (°C),A pulses,A tank (°C)\n2026-10-05 10:00:00,20,40,1,30\n2026-10-05 10:01:00,20,41,5,30\n2026-10-05 10:02:00,20,42,9,30\n";
    const { user } = await drop([["pulses.csv", text]]);
    expect(notes()).toContain("pulses.csv: say the unit of A pulses.");
    await user.selectOptions(screen.getByRole("combobox", { name: "A pulses, unit" }), "own factor");
    await user.type(screen.getByRole("textbox", { name: "1 in the log is" }), "0.5 L{Enter}");
    expect(notes()).not.toContain("say the unit");
    expect(kept().files[0].settings!.columns[3]).toMatchObject({ kind: "volumeCounter", unit: null });
    expect(kept().files[0].settings!.columns[3].factor).toBeCloseTo(0.0005, 9);
    expect(screen.getByText(/its warming tells the heat where no flow is logged/)).toBeVisible();
  });

  test("a mapping is remembered by its headers, and can be guessed anew", async () => {
    const [name, text] = files[0];
    const found = inspect(name, text);
    const settings = { ...found.layout!, zone: "UTC" } as never as NonNullable<ImportDraft["files"][0]["settings"]>;
    const before = {
      experimentId: 1,
      experiment: "Old bench",
      run: 4,
      settings: {
        ...settings,
        columns: settings.columns.map((c) => (c.kind === "speed" ? { ...c, unit: "ft/min" } : c)),
      },
    };
    const { heads, lastRuns, sites } = importing();
    const { user } = await show(<Importer heads={heads} lastRuns={lastRuns} sites={sites} target={null} />);
    seen.set(name, { ...found, before });
    fireEvent.change(screen.getByLabelText("Choose log files"), { target: { files: [new File(["x"], name)] } });
    for (let i = 0; i < 6; i++) await settle();
    const speeds = () => kept().files[0].settings!.columns.flatMap((c) => (c.kind === "speed" ? [c.unit] : []));
    expect(screen.getByText(/Mapped as in “Old bench”, run 4/)).toBeVisible();
    expect(speeds()).toEqual(["ft/min", "ft/min"]);
    await user.click(screen.getByRole("button", { name: "Guess anew" }));
    expect(speeds()).toEqual(["m/s", "m/s"]);
  });

  test("a column given away leaves its lane without, and that is said", async () => {
    const { user } = await drop();
    const select = screen
      .getAllByRole("combobox", { name: /stands for$/ })
      .find((s) => (s as HTMLSelectElement).value === "outlet")!;
    await user.selectOptions(select, "kept, not used");
    expect(notes()).toMatch(/has no outlet temperature: it will give no points/);
  });

  test("two columns for one thing block the import until one is left unused", async () => {
    const { user } = await drop();
    const selects = screen.getAllByRole("combobox", { name: /stands for$/ }) as HTMLSelectElement[];
    const humidity = selects.find((s) => s.value === "humidity")!;
    await user.selectOptions(humidity, CHANNEL_WORDS.wind);
    expect(notes()).toMatch(/two columns stand for wind/);
    put(title(), "x");
    expect(goes()).toBeDisabled();
  });

  test("without the weather there is heat and no ranking, and it says so", async () => {
    await drop(files.slice(0, 1));
    expect(notes()).toMatch(/No irradiance column/);
    expect(notes()).toMatch(/No outside temperature column/);
  });

  test("dates that can be read two ways are asked, and nothing goes on before the answer", async () => {
    const text =
      "time;A in (°C);A out (°C)\n05/06/2026 10:00;20,1;40,2\n05/06/2026 10:01;20,2;40,3\n06/06/2026 10:02;20,1;40,1\n";
    const { user } = await drop([["both.csv", text]]);
    put(title(), "x");
    expect(screen.getByRole("alert")).toHaveTextContent(/can be read two ways/);
    expect(goes()).toBeDisabled();
    await user.click(screen.getByRole("radio", { name: "day first" }));
    expect(screen.queryByText(/can be read two ways/)).toBeNull();
    expect(notes()).toContain("no flow is logged");
    await user.type(screen.getByRole("textbox", { name: "It was" }), "12 L/s{Enter}");
    await say(user);
    expect(goes()).toBeEnabled();
  });

  test("one the server refuses is named with its reason, the others stay", async () => {
    await drop([["empty.csv", ""], files[0]]);
    expect(screen.getAllByRole("alert").map(plain)).toContain("empty.csv is empty.");
    expect(sentence()).toMatch(/^1 file with 2 lanes/);
  });

  test("files of one shape share one mapping", async () => {
    await drop([files[0], ["lanes-2.csv", files[0][1]]]);
    expect(plain(document.body)).toContain("same columns as lanes.csv");
    expect(screen.getAllByRole("table")).toHaveLength(1);
  });

  test("a reload in the middle loses nothing; starting over forgets it", async () => {
    const first = await drop();
    put(title(), "Two sheets");
    first.unmount();
    const { heads, lastRuns, sites } = importing();
    const { user } = await show(<Importer heads={heads} lastRuns={lastRuns} sites={sites} target={null} />);
    expect(title()).toHaveValue("Two sheets");
    expect(sentence()).toMatch(/^2 files/);
    await user.click(screen.getByRole("button", { name: "Start over" }));
    expect(kept().files).toEqual([]);
  });

  test("a browser without room says that a reload would lose what is typed, and the page goes on", async () => {
    await drop();
    const full = jest.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    put(title(), "Two sheets");
    await settle();
    expect(screen.getByText(/no room to keep what you type/)).toBeVisible();
    full.mockRestore();
    put(title(), "Three sheets");
    await settle();
    expect(screen.queryByText(/no room to keep/)).toBeNull();
    expect(kept().name).toBe("Three sheets");
  });

  test("into an experiment that is there, lanes and instruments are those of its last run", async () => {
    const { user } = await drop();
    const { heads, lastRuns } = importing();
    const head = heads.find((h) => h.name === "Absorber shapes")!;
    await user.selectOptions(screen.getByRole("combobox", { name: "Experiment" }), head.name);
    const draft = kept();
    expect(draft.target).toBe(head.id);
    expect(draft.tilt).toBe(lastRuns[head.id]!.setup.plane.tilt);
    expect(draft.lanes.A.name).toBe(head.lanes[0].variant);
    expect(screen.queryByRole("textbox", { name: "Question" })).toBeNull();
  });
});

describe("importing", () => {
  const answer = (lines: object[], status = 200) => {
    const text = lines.map((l) => `${JSON.stringify(l)}\n`).join("");
    const chunks = [text.slice(0, text.length / 2), text.slice(text.length / 2)];
    return {
      ok: status === 200,
      status,
      json: async () => lines[0],
      body: {
        pipeThrough: () => ({
          getReader: () => ({
            read: async () => (chunks.length ? { done: false, value: chunks.shift() } : { done: true }),
          }),
        }),
      },
    };
  };
  beforeEach(() => Object.assign(global, { TextDecoderStream: class {} }));
  const go = async () => {
    const shown = await drop();
    put(title(), "Two sheets");
    await say(shown.user);
    await shown.user.click(goes());
    for (let i = 0; i < 6; i++) await settle();
    return shown;
  };

  test("done leads to Read, and the draft is forgotten", async () => {
    server.mockImplementation(async () =>
      answer([
        { phase: "reading", file: 0, files: 2, share: 0.5, rows: 100 },
        { phase: "done", experimentId: 9, streams: [] },
      ]),
    );
    await go();
    expect(router.push).toHaveBeenCalledWith("/experiments/9/read");
    expect(window.localStorage.getItem("bravel-import-draft-2")).toBeNull();
  });

  test.each([
    [{ phase: "failed", failure: { kind: "fileGone" } }, /no longer kept/],
    [{ phase: "failed", failure: { kind: "zoneUnknown", zone: "Mars/Base" } }, /“Mars\/Base” is not known/],
    [{ phase: "failed", failure: { kind: "laneUnknown", letter: "C" } }, /Lane C does not belong/],
    [{ phase: "failed", error: "The disk is full." }, /The disk is full/],
    [
      { phase: "reading", file: 0, files: 2, share: 0.5, rows: 100 },
      /connection ended before the answer came.*does not take it twice/,
    ],
  ])("%j is said, and files and settings are still there", async (line, words) => {
    server.mockImplementation(async () => answer([line]));
    await go();
    expect(screen.getByRole("alert")).toHaveTextContent(words);
    expect(router.push).not.toHaveBeenCalled();
    expect(kept().files).toHaveLength(2);
    expect(goes()).toBeEnabled();
  });

  test("what is in doubt is asked; the answers go with the next try, under the same key", async () => {
    const asks = {
      kind: "asks",
      zone: "Europe/Zurich",
      files: [
        { fileId: 0, name: "lanes.csv", questions: [{ kind: "sameTime", rows: 300, share: 0.83, row: 3 }] },
        { fileId: 0, name: "weather.csv", questions: [{ kind: "oddDates", fromMs: 0, toMs: 86400000 }] },
      ],
      implausible: [
        { key: "noRiseInSun A", found: { kind: "noRiseInSun", lane: "A", riseK: 0.01, minutes: 90 } },
        { key: "sunAtNight", found: { kind: "sunAtNight", irradianceWm2: 500, hours: 6 } },
      ],
    };
    server.mockImplementation(async () => {
      kept().files.forEach((f, i) => (asks.files[i].fileId = f.inspection.file.id));
      return answer([{ phase: "failed", failure: asks }]);
    });
    const { user } = await go();
    const region = screen.getByRole("alert", { name: "Before it is imported" });
    expect(plain(region)).toContain("300 rows (83 %) have the time of another row");
    expect(plain(region)).toContain("The same probe may be mapped to both ends");
    await user.click(within(region).getByRole("radio", { name: /spread them evenly/ }));
    await user.click(within(region).getByRole("radio", { name: "These times are right" }));
    await user.click(within(region).getAllByRole("checkbox")[0]);
    const sent = () => server.mock.calls.map(([, init]) => JSON.parse(init.body) as ImportRequest);
    await user.click(goes());
    await settle();
    expect(sent()[1].files.map((f) => f.settings.answers)).toEqual([{ sameTime: "spread" }, { oddDates: "right" }]);
    expect(sent()[1].accepted).toEqual(["noRiseInSun A"]);
    expect(sent()[1].key).toBe(sent()[0].key);
    // What is corrected is looked at anew.
    put(title(), "!");
    expect(screen.queryByRole("alert", { name: "Before it is imported" })).toBeNull();
    expect(kept().accepted).toEqual([]);
  });

  test("cancelled at its very end, a run that was kept all the same is found", async () => {
    let stop: () => void = () => undefined;
    server.mockImplementation((url: string, init?: { signal: AbortSignal }) =>
      url.includes("?key=")
        ? Promise.resolve({ ok: true, json: async () => ({ made: { experimentId: 9, run: 1 } }) })
        : new Promise((_, reject) => {
            stop = () => reject(new DOMException("cancelled", "AbortError"));
            init!.signal.addEventListener("abort", () => stop());
          }),
    );
    const { user } = await go();
    const { key } = kept();
    await user.click(screen.getByRole("button", { name: "Cancel" }));
    await settle();
    expect(server).toHaveBeenLastCalledWith(`/api/imports?key=${key}`);
    expect(router.push).toHaveBeenCalledWith("/experiments/9/read");
  });

  test("a refused request shows the server’s own words", async () => {
    server.mockImplementation(async () => answer([{ error: "name: too long" }], 400));
    await go();
    expect(screen.getByRole("alert")).toHaveTextContent("name: too long");
  });
});

describe("a lane", () => {
  function Card({ first, ...rest }: { first: LaneDraft } & Partial<React.ComponentProps<typeof LaneCard>>) {
    const [lane, setLane] = useState(first);
    return <LaneCard letter="B" known={false} flow="speed" others={["A"]} {...rest} lane={lane} onChange={setLane} />;
  }

  test.each(ABSORBER_FORMS)("%s asks for the fluid only where there is a choice", async (form) => {
    const { user } = await show(<Card first={newLane("B", 2)} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Absorber" }), FORM_WORDS[form]);
    const fixed = screen.queryByText("air, by the absorber");
    expect(fixed !== null).toBe(FORMS[form].carries === "air");
  });

  test("a copy takes its design from the other, and is asked for nothing of it", async () => {
    const { user } = await show(<Card first={newLane("B", 2)} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Copy of" }), "lane A (identical pair)");
    expect(screen.queryByRole("combobox", { name: "Absorber" })).toBeNull();
    expect(screen.queryByRole("textbox", { name: "Gross area" })).toBeNull();
    expect(screen.getByRole("textbox", { name: /Probes good to/ })).toBeInTheDocument();
  });

  test.each([
    ["speed", "Inner diameter", true],
    ["mass", "Inner diameter", false],
    ["volume", "Mean ÷ read speed", false],
    ["constant", "It was", true],
  ] as const)("with %s logged, %s is asked: %s", async (flow, label, wanted) => {
    await show(<Card first={newLane("B", 2)} flow={flow} />);
    expect(screen.queryByRole("textbox", { name: label }) !== null).toBe(wanted);
  });

  test("a flow that nothing logged can be set anew at times, once it is stated, and a line taken out again", async () => {
    const { user } = await show(<Card first={{ ...newLane("B", 2), station: 2 }} flow="constant" day="2026-10-06" />);
    const anew = () => screen.queryByRole("button", { name: "Its flow was set anew" });
    expect(anew()).toBeNull();
    await user.type(screen.getByRole("textbox", { name: "It was" }), "30 L/s{Enter}");
    await user.click(anew()!);
    expect(screen.getByLabelText("B, change 1: set anew at")).toHaveValue("2026-10-06T12:00");
    await user.type(screen.getByRole("textbox", { name: "to" }), "45 L/s{Enter}");
    expect((screen.getByRole("textbox", { name: "to" }) as HTMLInputElement).value).toBe("162 m³/h");
    await user.click(screen.getByRole("button", { name: "Take change 1 of B’s flow out" }));
    expect(screen.queryByLabelText("B, change 1: set anew at")).toBeNull();
  });

  test("a rectangular duct has two sides", async () => {
    const { user } = await show(<Card first={newLane("B", 2)} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Duct" }), "rectangular");
    expect(within(document.body).getByRole("textbox", { name: "Inner width" })).toBeInTheDocument();
    expect(screen.getByRole("textbox", { name: "Inner height" })).toBeInTheDocument();
  });

  test("one that is known keeps its design; its place and instruments belong to the run", async () => {
    await show(<Card first={{ ...newLane("B", 2), name: "Mesh layers" }} known />);
    expect(screen.queryByRole("combobox", { name: "Copy of" })).toBeNull();
    expect(screen.getByRole("spinbutton", { name: "Place on the bench" })).toHaveValue(2);
  });
});
