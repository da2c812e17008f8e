import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { renderToString } from "react-dom/server";
import { billOf } from "@/core/collector/bill";
import { designAreas } from "@/core/collector/content";
import { absorberLayer, type Design } from "@/core/collector/design";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import type { Variant } from "@/core/experiment/records";
import { formatNumber } from "@/core/quantity/format";
import { PreferencesProvider } from "@/ui/preferences";
import { FORM_WORDS } from "@/words/forms";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { place, router } from "../../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { BillPanel } from "./BillPanel";
import Build from "./Build";
import { BuildStep } from "./BuildStep";
import { ChecklistPanel } from "./ChecklistPanel";
import { Compare } from "./Compare";
import { SpecimensPanel } from "./SpecimensPanel";

const pageOf = (name: string) => {
  const { variants, study } = stepOf(name, "build");
  return { view: variants!, shown: study };
};
const variantOf = (name: string, letter: string): Variant =>
  pageOf(name).view.variants.find((v) => v.letter === letter)!;
const spaced = (text: string) => text.replace(/[\s\u2009\u00a0\u202f]+/g, " ");
const sentence = () => plain(screen.getByRole("heading", { level: 1 }));
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const rest = async () => {
  for (let i = 0; i < 12; i++) await settle();
};
const board = async (name: string, search = "") => {
  Object.assign(place, { path: "/experiments/1/build", search });
  const page = pageOf(name);
  const shown = await show(<Build {...page} />);
  await rest();
  const holds = async (view: (typeof page)["view"]) => {
    shown.again(<Build {...page} view={view} />);
    await rest();
  };
  return { ...shown, ...page, holds };
};

beforeEach(() => window.localStorage.clear());

describe("the answer on the drawing board", () => {
  test("stands in the page before any script ran, and is the same once the board is there", async () => {
    const { view, shown } = pageOf("Absorber shapes");
    const html = renderToString(
      <PreferencesProvider system="metric">
        <BuildStep view={view} study={shown} />
      </PreferencesProvider>,
    );
    const words = (text: string) => /should give [\d ]+ ± \d+ W\/m²/.exec(spaced(text.replace(/<[^>]*>/g, "")))?.[0];
    expect(words(html)).toBeDefined();
    const page = await show(<BuildStep view={view} study={shown} />);
    for (let i = 0; i < 40; i++) {
      // At no moment is there less than the answer.
      expect(words(page.container.innerHTML)).toBe(words(html));
      await settle();
    }
  });

  test("is not borrowed from another variant", async () => {
    Object.assign(place, { search: "v=B" });
    const { view, shown } = pageOf("Absorber shapes");
    expect(shown!.variantId).toBe(view.variants[0].id);
    const html = renderToString(
      <PreferencesProvider system="metric">
        <BuildStep view={view} study={shown} />
      </PreferencesProvider>,
    );
    expect(html).toContain(`Working out what ${view.variants[1].name}`.slice(0, 16));
    expect(html).not.toMatch(/should give/);
  });

  test("begins without asking the worker again, and follows an edit", async () => {
    const { user } = await board("Absorber shapes");
    const before = sentence();
    expect(before).toMatch(/should give/);
    fireEvent.click(screen.getByRole("button", { name: "Add a glazing" }));
    await rest();
    expect(sentence()).not.toBe(before);
    await user.click(screen.getByRole("button", { name: /Undo/ }));
    await rest();
    expect(sentence()).toBe(before);
    expect(screen.getByRole("button", { name: "Save as revision" })).toBeDisabled();
  });

  test("an edit is the variant's once the hand rests, and said so; a revision is saved with what changed since the one before", async () => {
    const sent = action("keepDrawing").mockImplementation(async () => ({ ok: true }));
    const { user, view, holds } = await board("Absorber shapes");
    fireEvent.click(screen.getByRole("button", { name: "Add a glazing" }));
    expect(plain(document.body)).toContain("revision 1, saving …");
    await waitFor(() => expect(sent).toHaveBeenCalledTimes(1), { timeout: 3000 });
    await rest();
    expect(plain(document.body)).not.toContain("saving …");
    const [, , drawn, before] = asked("keepDrawing") as [number, number, Design, Design];
    expect(before).toEqual(view.variants[0].design);
    // What the server answers with: the next revision, still drawn at.
    const working = { revision: 2, design: drawn, workingFrom: before };
    await holds({ ...view, variants: [{ ...view.variants[0], ...working }, ...view.variants.slice(1)] });
    expect(plain(document.body)).toContain("revision 2, in progress, saved");
    action("saveVariant").mockImplementation(async () => ({ ok: true, revision: 2 }));
    await user.click(screen.getByRole("button", { name: "Save as revision" }));
    await rest();
    const [experiment, variant, design, what] = asked("saveVariant") as [number, number, Design, string];
    expect([experiment, variant]).toEqual([view.experimentId, view.variants[0].id]);
    expect(design.layers.filter((l) => l.kind === "cover")).toHaveLength(2);
    expect(what).toMatch(/glazing/);
  });

  test("what was not saved is said, is there again after a reload and is sent again", async () => {
    const sent = action("keepDrawing").mockImplementation(async () => ({ ok: false, error: "No server." }));
    const first = await board("Absorber shapes");
    fireEvent.click(screen.getByRole("button", { name: "Add a glazing" }));
    expect(await screen.findByText("No server.", {}, { timeout: 3000 })).toBeInTheDocument();
    expect(plain(document.body)).toContain("last edit not saved");
    await rest();
    const edited = sentence();
    first.unmount();
    await board("Absorber shapes");
    await rest();
    expect(sentence()).toBe(edited);
    await waitFor(() => expect(sent).toHaveBeenCalledTimes(2), { timeout: 3000 });
    expect((asked("keepDrawing") as unknown[])[2]).toHaveProperty("layers");
  });

  test("a chosen layer is changed by its fields; what cannot be is refused at the field", async () => {
    await board("Absorber shapes");
    const thickness = screen.getAllByRole("textbox", { name: "Thickness" })[0];
    fireEvent.change(thickness, { target: { value: "-3 mm" } });
    fireEvent.keyDown(thickness, { key: "Enter" });
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Save as revision" })).toBeDisabled();
  });

  test.each(ABSORBER_FORMS)("as %s the board has an answer or says what to mend, and draws it", async (form) => {
    const { user } = await board("Absorber shapes");
    await user.selectOptions(screen.getByRole("combobox", { name: "Form" }), FORM_WORDS[form]);
    await rest();
    expect(sentence()).not.toMatch(/Working out|NaN|undefined/);
    expect(sentence().length).toBeGreaterThan(20);
    for (const svg of document.querySelectorAll("svg")) expect(svg.outerHTML).not.toMatch(/NaN|undefined/);
  });
});

describe("variants", () => {
  test("each is a press; the address carries which, and Back keeps it", async () => {
    const { user, view } = await board("Absorber shapes");
    const nav = screen.getByRole("navigation", { name: "Variants" });
    await user.click(within(nav).getByRole("button", { name: new RegExp(view.variants[1].name) }));
    expect(router.push).toHaveBeenCalledWith("/experiments/1/build?v=B", { scroll: false });
  });

  test("a copy takes the design in hand under a free name", async () => {
    action("createVariant").mockImplementation(async () => ({ ok: true, letter: "E" }));
    const { user, view } = await board("Absorber shapes");
    await user.click(screen.getByRole("button", { name: /Copy A/ }));
    await rest();
    await user.click(screen.getByRole("button", { name: "Make the variant" }));
    await rest();
    const [, name, design, note] = asked("createVariant") as [number, string, Design, string];
    expect(view.variants.map((v) => v.name)).not.toContain(name);
    expect(design).toEqual(view.variants[0].design);
    expect(note).toBe("copy of A, revision 1");
    expect(router.push).toHaveBeenCalledWith("/experiments/1/build?v=E&view=design", { scroll: false });
  });

  test("one with a specimen on the bench cannot be removed, one only drawn can", async () => {
    await board("One or two glazings");
    expect(screen.queryByRole("button", { name: "Remove" })).toBeNull();
    document.body.innerHTML = "";
    const { user } = await board("Ten ways");
    await user.click(screen.getByRole("button", { name: "Remove" }));
    await settle();
    expect(asked("removeVariant")).toHaveLength(3);
  });

  test("an experiment without variants begins with a usual build of any form", async () => {
    const { view } = pageOf("Absorber shapes");
    const { user } = await show(<Build view={{ ...view, variants: [] }} shown={null} />);
    await rest();
    const offers = screen.getAllByRole("listitem");
    expect(offers).toHaveLength(ABSORBER_FORMS.length);
    await user.click(within(offers[0]).getByRole("button"));
    await settle();
    expect(absorberLayer((asked("createVariant") as [number, string, Design])[2])?.form).toBe(ABSORBER_FORMS[0]);
  });
});

describe("compare", () => {
  const [a, b] = [variantOf("Absorber shapes", "A"), variantOf("Absorber shapes", "B")];

  test("names what differs and marks it in the table and the sections", async () => {
    await show(<Compare a={a} b={b} studies={[null, null]} operating={{} as never} onMixed={() => undefined} />);
    expect(sentence()).toMatch(/^A and B differ in absorber/);
    expect(sentence()).toContain("Their effects cannot be separated");
    expect(screen.getAllByText(", differs").length).toBeGreaterThan(1);
  });

  test("a design beside itself is an identical pair", async () => {
    const copy = { ...a, id: 99, letter: "D" };
    await show(<Compare a={a} b={copy} studies={[null, null]} operating={{} as never} onMixed={() => undefined} />);
    expect(sentence()).toBe("A and D do not differ: they make an identical pair.");
    expect(screen.queryByText(", differs")).toBeNull();
  });

  test("the missing variant is drawn with one thing of the other", async () => {
    const mixed = jest.fn();
    const { user } = await show(<Compare a={a} b={b} studies={[null, null]} operating={{} as never} onMixed={mixed} />);
    await user.click(screen.getAllByRole("button", { name: /^draw A with B’s/ })[0]);
    const [name, design] = mixed.mock.calls[0] as [string, Design];
    expect(name).toContain("of B");
    expect(design).not.toEqual(a.design);
    expect(design).not.toEqual(b.design);
  });
});

describe("bill", () => {
  const variant = variantOf("Absorber shapes", "A");
  const bill = billOf(variant.design, variant.bill);
  const money = (v: number) => spaced(formatNumber(v, v < 100 ? 2 : 0));

  test("first and further units cost what the lines come to", async () => {
    await show(<BillPanel experimentId={1} variant={variant} />);
    expect(sentence()).toContain(`the first unit costs ${money(bill.first)}`);
    const rows = screen.getAllByRole("row").slice(1, 1 + bill.lines.length);
    for (const [i, l] of bill.lines.entries()) expect(plain(rows[i])).toContain(l.name);
    const sum = bill.lines.reduce((s, l) => s + l.firstCost, 0);
    expect(bill.materialsFirst).toBeCloseTo(sum, 6);
  });

  test("a price typed with a decimal comma is understood and kept beside the drawing’s own", async () => {
    const { user } = await show(<BillPanel experimentId={1} variant={variant} />);
    const [line] = bill.lines;
    await user.click(screen.getByRole("button", { name: new RegExp(`^Price of ${line.name}`) }));
    const cell = screen.getByRole("textbox", { name: `Price of ${line.name}` });
    await user.clear(cell);
    await user.type(cell, "12,5{Enter}");
    const [, , edits] = asked("keepBill") as [number, number, Variant["bill"]];
    expect(edits.lines[line.key]).toMatchObject({ price: 12.5 });
    await user.click(screen.getByRole("button", { name: `Reset ${line.name} to the drawing` }));
    expect((asked("keepBill") as [number, number, Variant["bill"]])[2].lines).not.toHaveProperty(line.key);
  });

  test.each(["", "-3", "twelve", "1e9"])("a price of “%s” is refused where it stands", async (text) => {
    const { user } = await show(<BillPanel experimentId={1} variant={variant} />);
    const [line] = bill.lines;
    await user.click(screen.getByRole("button", { name: new RegExp(`^Price of ${line.name}`) }));
    const cell = screen.getByRole("textbox", { name: `Price of ${line.name}` });
    await user.clear(cell);
    if (text) await user.type(cell, text);
    await user.keyboard("{Enter}");
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(action("keepBill")).not.toHaveBeenCalled();
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("alert")).toBeNull();
  });

  test("what the drawing does not show is added and taken away again", async () => {
    const { user } = await show(<BillPanel experimentId={1} variant={variant} />);
    await user.type(field("Something the drawing does not show"), "thermostat");
    await user.click(screen.getByRole("button", { name: "Add the line" }));
    expect((asked("keepBill") as [number, number, Variant["bill"]])[2].extra).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "Remove thermostat" }));
    expect((asked("keepBill") as [number, number, Variant["bill"]])[2].extra).toHaveLength(0);
  });

  test("found things cost nothing now, and once found they are bought for the next", async () => {
    const { user } = await show(<BillPanel experimentId={1} variant={variant} />);
    const [line] = bill.lines;
    await user.selectOptions(screen.getByRole("combobox", { name: `Where ${line.name} comes from` }), "found, once");
    const row = plain(screen.getAllByRole("row")[1]);
    expect(row).toMatch(/0\.00/);
    expect((asked("keepBill") as [number, number, Variant["bill"]])[2].lines[line.key]).toMatchObject({
      scrounged: "once",
    });
  });
});

describe("checklist", () => {
  const variant = variantOf("Absorber shapes", "A");
  const { study } = pageOf("Absorber shapes").shown!;
  const checklist = (over: Partial<Variant["checklist"]> = {}) => ({
    ...variant,
    checklist: { ...variant.checklist, ...over },
  });

  test("counts what is done, and ticks carry their instant", async () => {
    const { user } = await show(<ChecklistPanel experimentId={1} variant={checklist()} study={study} />);
    expect(sentence()).toMatch(new RegExp(`^${study.checklist.length} things to do`));
    await user.click(screen.getAllByRole("checkbox")[0]);
    const [, , state] = asked("keepChecklist") as [number, number, Variant["checklist"]];
    const [item] = Object.values(state.items);
    expect(item).toMatchObject({ done: true, doneAt: expect.any(Number) });
    expect(sentence()).toMatch(/^1 of/);
    await user.click(screen.getAllByRole("checkbox")[0]);
    expect(Object.values((asked("keepChecklist") as [number, number, Variant["checklist"]])[2].items)[0]).toMatchObject(
      {
        done: false,
        doneAt: null,
      },
    );
  });

  test("one’s own things are added and removed", async () => {
    const { user } = await show(<ChecklistPanel experimentId={1} variant={checklist()} study={study} />);
    await user.type(field("Something to do"), "ask the neighbour{Enter}");
    expect((asked("keepChecklist") as [number, number, Variant["checklist"]])[2].own).toMatchObject([
      { text: "ask the neighbour" },
    ]);
    await user.click(screen.getByRole("button", { name: "remove" }));
    expect((asked("keepChecklist") as [number, number, Variant["checklist"]])[2].own).toEqual([]);
  });

  test("everything done is said", async () => {
    const items = Object.fromEntries(study.checklist.map((i) => [i.key, { done: true, doneAt: 1, note: "" }]));
    await show(<ChecklistPanel experimentId={1} variant={checklist({ items })} study={study} />);
    expect(sentence()).toMatch(/^All \d+ things are done/);
  });

  test("a design that cannot be built has none", async () => {
    const broken = { ...study, problems: [{ kind: "noAbsorber", layer: null }] as never };
    await show(<ChecklistPanel experimentId={1} variant={checklist()} study={broken} />);
    expect(plain(document.body)).toContain("No checklist for a design that cannot be built");
  });
});

describe("specimens", () => {
  const variant = variantOf("Absorber shapes", "A");

  test("two of one build are an identical pair, and each says its lane", async () => {
    await show(<SpecimensPanel experimentId={1} variant={variant} />);
    expect(sentence()).toMatch(/^2 specimens of .* an identical pair/);
    for (const s of variant.specimens) expect(plain(document.body)).toContain(`Specimen ${s.number} ${s.letter}`);
  });

  test("a measured area counts in any unit; empty is as planned; one in runs cannot be removed", async () => {
    const { user } = await show(<SpecimensPanel experimentId={1} variant={variant} />);
    const [first] = screen.getAllByRole("textbox", { name: /^Gross area/ });
    const planned = designAreas(variant.design).gross;
    await user.clear(first);
    await user.type(first, `${(planned * 1.02 * 10.7639).toFixed(3)} ft²{Enter}`);
    await settle();
    const [, id, { asBuilt }] = asked("measureSpecimen") as [number, number, { asBuilt: { grossAreaM2: number } }];
    expect(id).toBe(variant.specimens[0].id);
    expect(asBuilt.grossAreaM2).toBeCloseTo(planned * 1.02, 3);
    expect(screen.queryByRole("button", { name: "remove" })).toBeNull();
  });

  test.each([
    ["20 m2", /five times off/],
    ["0", /More than 0/],
    ["large", /./],
  ])("an area of %s is questioned, not kept", async (text, words) => {
    const { user } = await show(<SpecimensPanel experimentId={1} variant={variant} />);
    const [first] = screen.getAllByRole("textbox", { name: /^Gross area/ });
    await user.clear(first);
    await user.type(first, `${text}{Enter}`);
    expect(screen.getByRole("alert")).toHaveTextContent(words);
    expect(action("measureSpecimen")).not.toHaveBeenCalled();
  });

  test("one built to an older revision says the drawing has moved on", async () => {
    const moved = { ...variant, revision: 2 };
    await show(<SpecimensPanel experimentId={1} variant={moved} />);
    expect(plain(document.body)).toContain("the drawing has moved on to revision 2");
  });

  test("the next copy is added by one press", async () => {
    action("buildSpecimen").mockImplementation(async () => ({ ok: true, number: 3, letter: "E" }));
    const { user } = await show(<SpecimensPanel experimentId={1} variant={variant} />);
    await user.click(screen.getByRole("button", { name: "Add an identical one" }));
    await settle();
    expect(asked("buildSpecimen")).toEqual([1, variant.id]);
  });
});
