/** @jest-environment jsdom */
import "@testing-library/jest-dom";
import { act, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { z } from "zod";
import { entries, score } from "@/features/palette/entries";
import { LIBRARY } from "@/core/materials/library";
import { Choice } from "./Choice";
import { TextField } from "./form/fields";
import { Select } from "./form/Select";
import { Toasts } from "./Toasts";
import { useChecked } from "./form/useChecked";
import { UNCHECKED, useWhole } from "./form/useWhole";
import { PreferencesProvider } from "./preferences";
import { QuantityField } from "./QuantityField";
import { toCsv, toTabs } from "./table/csv";
import { DataTable, type TableColumn } from "./table/DataTable";

interface Lane {
  name: string;
  heat: number | null;
}

const LANES: Lane[] = [
  { name: "mesh", heat: 410 },
  { name: "cans", heat: 395.5 },
  { name: "=sheet", heat: null },
];
const COLUMNS: TableColumn<Lane>[] = [
  { id: "name", title: "lane", value: (l) => l.name, rowHeader: true },
  { id: "heat", title: "heat, W", value: (l) => l.heat, number: true, cell: (l) => `${l.heat ?? "–"} W` },
];
const table = (rows: Lane[]) => <DataTable label="Lanes" file="lanes" columns={COLUMNS} rows={rows} />;
const order = () => screen.getAllByRole("rowheader").map((h) => h.textContent);

describe("the one table", () => {
  test("stands as given until a heading sorts it, and says by which", async () => {
    const user = userEvent.setup();
    render(table(LANES));
    expect(order()).toEqual(["mesh", "cans", "=sheet"]);
    await user.click(screen.getByRole("button", { name: "lane" }));
    expect(screen.getByRole("columnheader", { name: "lane" })).toHaveAttribute("aria-sort", "ascending");
    expect(order()).toEqual([...order()].sort((a, b) => a!.localeCompare(b!)));
    await user.click(screen.getByRole("button", { name: "lane" }));
    expect(screen.getByRole("columnheader", { name: "lane" })).toHaveAttribute("aria-sort", "descending");
  });

  test("numbers sort as numbers, not as text", async () => {
    const user = userEvent.setup();
    render(table([9, 100, 20].map((heat) => ({ name: `${heat}`, heat }))));
    await user.click(screen.getByRole("button", { name: "heat, W" }));
    const once = order();
    await user.click(screen.getByRole("button", { name: "heat, W" }));
    const twice = order();
    expect([once, twice]).toContainEqual(["9", "20", "100"]);
    expect([once, twice]).toContainEqual(["100", "20", "9"]);
  });

  test("copies every row, with what a spreadsheet would run made harmless", async () => {
    const user = userEvent.setup();
    render(table(LANES));
    await user.click(screen.getByRole("button", { name: "Copy" }));
    await act(async () => undefined);
    expect(await navigator.clipboard.readText()).toMatch(/^lane\theat, W\nmesh\t410\ncans\t395.5\n"'=sheet"/);
  });

  test("a long table draws a part and counts all", () => {
    render(table(Array.from({ length: 1000 }, (_, i) => ({ name: `lane ${i}`, heat: i }))));
    expect(screen.getByText("1000 rows")).toBeInTheDocument();
    expect(screen.getByRole("table")).toHaveAttribute("aria-rowcount", "1001");
    expect(screen.queryAllByRole("rowheader").length).toBeLessThan(200);
  });
});

describe("what leaves for a spreadsheet", () => {
  test.each(["=1+1", "+cmd", "@sum", "-2+3", "\tx"])("%j is text there", (cell) => {
    expect(toCsv([[cell]])).toContain(`'${cell}`);
    expect(toTabs([[cell]])).toContain("'");
  });
  test.each(["-3.5", "+4", "1e-3", "mesh", "−3"])("%j stays as it is", (cell) => {
    expect(toCsv([[cell]])).toBe(`${cell}\r\n`);
  });
  test("a cell with a mark that a spreadsheet elsewhere splits at is quoted", () => {
    expect(toCsv([["a;=1+1", "b|c", "d\te", "f g", 4.5]])).toBe('"a;=1+1","b|c","d\te",f g,4.5\r\n');
  });
  test("quotes, commas and line ends survive", () => {
    expect(toCsv([['a "b"', "c,d", "e\nf"]])).toBe('"a ""b""","c,d","e\nf"\r\n');
  });
});

describe("a choice", () => {
  test("is a group of radio buttons that keys move through", async () => {
    const user = userEvent.setup();
    const chosen = jest.fn();
    render(
      <Choice
        label="Rules"
        value="standard"
        options={[
          ["standard", "standard"],
          ["backyard", "backyard"],
        ]}
        onChange={chosen}
      />,
    );
    const group = screen.getByRole("radiogroup", { name: "Rules" });
    expect(within(group).getByRole("radio", { name: "standard" })).toBeChecked();
    await user.click(within(group).getByRole("radio", { name: "backyard" }));
    expect(chosen).toHaveBeenCalledWith("backyard");
  });
});

describe("fields of a form", () => {
  const schema = z.object({
    label: z.string().trim().min(1, "say what it is called"),
    kind: z.enum(["probe", "logger"]),
    limitK: z.number().min(0),
  });
  type Values = z.infer<typeof schema>;
  function Form({
    onDone,
    load = () => Promise.resolve(schema),
  }: {
    onDone: (v: Values) => void;
    load?: () => Promise<typeof schema>;
  }) {
    const start: Values = { label: "", kind: "probe", limitK: 0.5 };
    const { values, set, problems, sent } = useChecked<Values>(load, start);
    return (
      <PreferencesProvider system="metric">
        <form onSubmit={(e) => void sent(async (v) => onDone(v))(e)}>
          <TextField label="Label" value={values.label} problem={problems.label} onChange={(label) => set({ label })} />
          <Select
            label="Kind"
            value={values.kind}
            options={[
              ["probe", "temperature probe"],
              ["logger", "logger"],
            ]}
            onChange={(kind) => set({ kind })}
          />
          <QuantityField
            label="Good to ±"
            quantity="temperatureDifference"
            si={values.limitK}
            onChange={(limitK) => set({ limitK })}
          />
          <button>Keep</button>
        </form>
      </PreferencesProvider>
    );
  }

  test("of which the check does not arrive send nothing, say so and keep what was typed; the next press tries again", async () => {
    const user = userEvent.setup();
    const done = jest.fn();
    const load = jest.fn(() => Promise.resolve(schema)).mockRejectedValueOnce(new Error("gone"));
    render(
      <>
        <Toasts />
        <Form onDone={done} load={load} />
      </>,
    );
    await user.type(screen.getByLabelText("Label"), "T1");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(await screen.findByText(/Bravel does not answer/)).toBeInTheDocument();
    expect(done).not.toHaveBeenCalled();
    expect(screen.getByLabelText("Label")).toHaveValue("T1");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(done).toHaveBeenCalledWith({ label: "T1", kind: "probe", limitK: 0.5 });
  });

  test("handed over when whole say what could not be checked, and hand over the next change", async () => {
    const user = userEvent.setup();
    const whole = jest.fn();
    const load = jest.fn(() => Promise.resolve(z.object({ n: z.number() }))).mockRejectedValueOnce(new Error("gone"));
    function Draft() {
      const { take, unchecked } = useWhole<{ n: number }, { n?: number }>(load, {}, whole);
      return (
        <>
          {unchecked && <p role="alert">{UNCHECKED}</p>}
          <button onClick={() => take({ n: 2 })}>two</button>
        </>
      );
    }
    render(<Draft />);
    await user.click(screen.getByRole("button", { name: "two" }));
    expect(await screen.findByRole("alert")).toHaveTextContent("not kept yet");
    expect(whole).not.toHaveBeenCalled();
    await user.click(screen.getByRole("button", { name: "two" }));
    expect(whole).toHaveBeenCalledWith({ n: 2 });
    expect(screen.queryByRole("alert")).toBeNull();
  });

  test("say what is wrong at the field, keep what was typed, and send once mended", async () => {
    const user = userEvent.setup();
    const done = jest.fn();
    render(<Form onDone={done} />);
    await user.selectOptions(screen.getByLabelText("Kind"), "logger");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(await screen.findByRole("alert")).toHaveTextContent("say what it is called");
    expect(screen.getByLabelText("Label")).toHaveAttribute("aria-invalid", "true");
    expect(done).not.toHaveBeenCalled();
    await user.type(screen.getByLabelText("Label"), "T 3");
    expect(screen.queryByRole("alert")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Keep" }));
    expect(done.mock.calls[0][0]).toEqual({ label: "T 3", kind: "logger", limitK: 0.5 });
  });
});

describe("the palette", () => {
  const places = {
    experiments: [
      { id: 1, name: "Absorber shapes", lanes: [{ letter: "A", variant: "mesh" }] },
      { id: 2, name: "Second glass", lanes: [] },
    ],
    materials: [],
  };
  test("offers every step of every experiment, the one in sight first", () => {
    const all = entries(places, LIBRARY, 2);
    expect(all[0].name).toBe("Second glass: Ask");
    expect(all.filter((e) => e.group === "Experiments")).toHaveLength(16);
    expect(all.find((e) => e.group === "Variants")).toMatchObject({
      name: "A mesh",
      about: "Absorber shapes",
      to: { href: "/experiments/1/build?v=A" },
    });
    expect(all.filter((e) => e.group === "Materials")).toHaveLength(LIBRARY.length);
  });
  test("every word typed must stand in an entry; what begins with it comes first", () => {
    expect(score("Metric or US units change what figures are shown in", "mesh")).toBe(0);
    expect(score("Mesh layers Absorber shapes", "mesh")).toBeGreaterThan(score("B Mesh layers", "mesh"));
    expect(score("B Mesh layers", "mesh lay")).toBeGreaterThan(score("Intermeshed", "mesh"));
    expect(score("B Mesh layers", "mesh cans")).toBe(0);
  });
  test("nothing is offered twice under one address and name", () => {
    const keys = entries(places, LIBRARY, null).map((e) => JSON.stringify([e.name, e.about, e.to]));
    expect(new Set(keys).size).toBe(keys.length);
  });
});

test("what is counted takes whole numbers: between two it is asked for again, and what was typed stays", async () => {
  const user = userEvent.setup();
  const changed = jest.fn();
  render(
    <PreferencesProvider system="metric">
      <QuantityField label="Side by side" quantity="number" si={2} min={1} whole onChange={changed} />
    </PreferencesProvider>,
  );
  const field = screen.getByRole("textbox");
  await user.clear(field);
  await user.type(field, "1.5{Enter}");
  expect(screen.getByRole("alert")).toHaveTextContent("Enter a whole number.");
  expect(field).toHaveValue("1.5");
  expect(changed).not.toHaveBeenCalled();
  await user.clear(field);
  await user.type(field, "3{Enter}");
  expect(changed).toHaveBeenCalledWith(3);
});
