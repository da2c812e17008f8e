import { screen, within } from "@testing-library/react";
import { ASPECTS } from "@/core/collector/compare";
import type { StepPage } from "@/services/page/pages";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { importing, stepOf } from "../../../scripts/testing/screens/pages";
import { router } from "../../../scripts/testing/screens/navigation";
import { Ask } from "./Ask";
import { Difference } from "./Difference";
import { NewExperiment } from "./NewExperiment";
import { Use } from "./Use";

const pageOf = (name: string) => {
  const { view, variants } = stepOf(name, "ask");
  return { view, variants: variants! };
};
const showAsk = async (page: { view: StepPage["view"]; variants: NonNullable<StepPage["variants"]> }) => {
  const shown = await show(<Ask {...page} />);
  // Each variant is studied one after the other.
  for (let i = 0; i < 3 * page.variants.variants.length; i++) await settle();
  return shown;
};
const sentence = () => plain(screen.getByRole("heading", { level: 1 }));
const withVariants = (page: ReturnType<typeof pageOf>, keep: number) => ({
  ...page,
  variants: { ...page.variants, variants: page.variants.variants.slice(0, keep) },
});
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });

describe("what these variants can answer", () => {
  test("two builds that differ in their coating alone can answer", async () => {
    await showAsk(pageOf("Paint or selective foil"));
    expect(sentence()).toMatch(/^These variants can answer: they differ in coating alone/);
    expect(screen.queryByTestId("confounded")).toBeNull();
  });

  test("a painted liner behind the mesh is found, named with its paint, and said to be confounded", async () => {
    await showAsk(pageOf("Absorber shapes"));
    expect(sentence()).toMatch(/absorber shape, with the air path it needs and insulation and back; you cannot say/);
    expect(plain(screen.getByRole("region", { name: "What differs" }))).toMatch(
      /litho plate 0.3 mm with matt black paint/,
    );
  });

  test("without the factor that joins them, absorber and air path are confounded, and each is named", async () => {
    const page = pageOf("Absorber shapes");
    const { settings } = page.view.head;
    const head = { ...page.view.head, settings: { ...settings, ask: { ...settings.ask, factors: [] } } };
    await showAsk({ ...page, view: { ...page.view, head } });
    expect(sentence()).toMatch(/differ in .*; you cannot say which helped/);
    expect(screen.getByTestId("confounded")).toBeInTheDocument();
    expect(screen.getAllByText("confounded").length).toBeGreaterThan(1);
  });

  test("the variants that would settle it are offered and drawn by one press", async () => {
    const page = pageOf("Absorber shapes");
    const { user } = await showAsk(page);
    const offer = within(screen.getByTestId("confounded")).getAllByRole("button", { name: "Draw it" });
    await user.click(offer[0]);
    await settle();
    const [id, name, design, why] = asked("createVariant")!;
    expect(id).toBe(page.variants.experimentId);
    expect(String(name).length).toBeGreaterThan(3);
    expect(design).toHaveProperty("layers");
    expect(why).toBe("proposed by Ask");
    expect(router.refresh).toHaveBeenCalled();
  });

  test.each([
    [0, /Nothing is drawn yet/],
    [1, /One variant is drawn: a comparison needs two/],
  ])("%s variants cannot answer, and it says what is missing", async (keep, words) => {
    await showAsk(withVariants(pageOf("Absorber shapes"), keep));
    expect(sentence()).toMatch(words);
  });

  test("twice the same build shows how well the bench repeats, and nothing else", async () => {
    const page = pageOf("Absorber shapes");
    const [first] = page.variants.variants;
    const variants = [first, { ...first, id: 99, letter: "B", name: "the same again" }];
    await showAsk({ ...page, variants: { ...page.variants, variants } });
    expect(sentence()).toMatch(/All variants are the same build/);
    expect(plain(document.body)).toContain("A and B are the same build");
  });

  test("many whole builds: which is better can be said, not which part helped", async () => {
    await showAsk(pageOf("Ten ways"));
    expect(sentence()).toMatch(/^These are 10 whole builds that differ in \d+ ways/);
  });
});

describe("the predicted order", () => {
  const rows = () => within(screen.getByTestId("predicted-ranking")).getAllByRole("row").slice(1);

  test("ranks every variant that can be predicted, best first, with its ±", async () => {
    const page = pageOf("Absorber shapes");
    await showAsk(page);
    expect(rows()).toHaveLength(page.variants.variants.length);
    expect(plain(rows()[0])).toContain("highest value by the model");
    for (const row of rows()) expect(plain(row)).toMatch(/\d+ ± \d+ W\/m²/);
    const heat = rows().map((r) => Number(/(\d+) ± \d+ W\/m²/.exec(plain(r))![1]));
    expect(heat).toEqual([...heat].sort((a, b) => b - a));
  });

  test("another basis orders anew; per metre leaves out what has no pipe and says so", async () => {
    const { user } = await showAsk(pageOf("Absorber shapes"));
    const select = screen.getByRole("combobox", { name: /rank/ });
    await user.selectOptions(select, "per box");
    for (const row of rows()) expect(plain(row)).toMatch(/\d W\b/);
    await user.selectOptions(select, "per metre of pipe");
    expect(plain(screen.getByTestId("predicted-ranking"))).toMatch(/without pipe/);
  });

  test("the same heat over each area is one heat", async () => {
    const page = pageOf("Paint or selective foil");
    const { user } = await showAsk(page);
    await user.selectOptions(screen.getByRole("combobox", { name: /rank/ }), "per box");
    const order = rows().map((r) => plain(r.querySelector("a")));
    await user.selectOptions(screen.getByRole("combobox", { name: /rank/ }), "per gross area");
    // Both boxes are of one size, so the order cannot change.
    expect(rows().map((r) => plain(r.querySelector("a")))).toEqual(order);
  });
});

describe("factors and what is held equal", () => {
  test("a factor is added by what it moves, called as typed", async () => {
    const page = pageOf("Paint or selective foil");
    const { user } = await showAsk(page);
    await user.selectOptions(screen.getByRole("combobox", { name: "Factor" }), "glazing");
    await user.type(field("called"), "Number of sheets");
    await user.click(screen.getByRole("button", { name: "Add" }));
    const [, change] = asked("changeSettings") as [number, { ask: { factors: unknown[] } }];
    expect(change.ask.factors).toHaveLength(page.view.head.settings.ask.factors.length + 1);
    expect(change.ask.factors.at(-1)).toEqual({ name: "Number of sheets", aspects: ["glazing"] });
  });

  test("a factor is removed, an aspect taken out of it or put to it", async () => {
    const { user } = await showAsk(pageOf("Absorber shapes"));
    const name = "Absorber shape, with the air path it needs";
    await user.click(screen.getByRole("button", { name: `Remove factor ${name}` }));
    expect(asked("changeSettings")![1]).toMatchObject({ ask: { factors: [] } });
    // Once the server has answered, the page shows what it says: here, what was there before.
    await settle();
    await user.selectOptions(screen.getByRole("combobox", { name: `Add an aspect to ${name}` }), "coating");
    expect(asked("changeSettings")![1]).toMatchObject({
      ask: { factors: [{ name, aspects: ["absorber", "airPath", "coating"] }] },
    });
  });

  test("every aspect of a build can be held equal, and what is broken is said in words", async () => {
    const page = pageOf("Paint or selective foil");
    const { settings } = page.view.head;
    const ask = { ...settings.ask, heldEqual: ["coating" as const] };
    const head = { ...page.view.head, settings: { ...settings, ask } };
    const { user } = await showAsk({ ...page, view: { ...page.view, head } });
    const group = screen.getByRole("group", { name: "Held equal" });
    expect(within(group).getAllByRole("checkbox")).toHaveLength(ASPECTS.length);
    expect(plain(document.body)).toMatch(/coating, but differs/);
    expect(plain(document.body)).toMatch(/should be held equal and is not/);
    await user.click(within(group).getByRole("checkbox", { name: /coating/ }));
    expect(asked("changeSettings")![1]).toMatchObject({ ask: { heldEqual: [] } });
  });

  test("a failure of the server is shown and nothing pretends to be kept", async () => {
    action("changeSettings").mockImplementation(async () => ({ ok: false, error: "no" }));
    const page = pageOf("Absorber shapes");
    const { user } = await showAsk(page);
    const box = within(screen.getByRole("group", { name: "Held equal" })).getAllByRole("checkbox")[0];
    const before = (box as HTMLInputElement).checked;
    await user.click(box);
    await settle();
    expect((box as HTMLInputElement).checked).toBe(before);
  });
});

describe("the question", () => {
  test("is kept when left, and only when it changed", async () => {
    const page = pageOf("Absorber shapes");
    const { user } = await showAsk(page);
    await user.click(field(/What do you want to know/));
    await user.tab();
    expect(action("changeQuestion")).not.toHaveBeenCalled();
    await user.type(field("Name of the experiment"), " again");
    await user.tab();
    await settle();
    expect(asked("changeQuestion")).toEqual([
      page.view.head.id,
      { name: "Absorber shapes again", question: page.view.head.question },
    ]);
  });
});

describe("the smallest difference that matters", () => {
  const settingsIn = (differenceUnit: "heatPerArea" | "heat" | "efficiency" | "share") => {
    const { settings } = stepOf("Absorber shapes", "ask").view.head;
    return { ...settings, ask: { ...settings.ask, differenceUnit } };
  };

  test("in points of efficiency it is the same heat divided by the sun", async () => {
    const settings = settingsIn("efficiency");
    const changed = jest.fn();
    const { user } = await show(<Difference settings={settings} reference={null} onChange={changed} />);
    const share = (100 * settings.smallestDifference) / settings.operatingPoint.irradianceWm2;
    expect(Number.parseFloat((field("Matters from") as HTMLInputElement).value)).toBeCloseTo(share, 2);
    await user.clear(field("Matters from"));
    await user.type(field("Matters from"), "2 %{Enter}");
    expect(changed.mock.calls[0][0].smallestDifference).toBeCloseTo(0.02 * settings.operatingPoint.irradianceWm2, 6);
  });

  test("what needs a prediction is not offered without one", async () => {
    await show(<Difference settings={settingsIn("heatPerArea")} reference={null} onChange={() => undefined} />);
    const options = within(screen.getByRole("combobox")).getAllByRole("option");
    expect(options.map((o) => o.textContent)).toEqual(["heat per area", "points of efficiency"]);
  });

  test("a unit that lost its prediction falls back to heat per area, never to a wrong number", async () => {
    const settings = settingsIn("heat");
    await show(<Difference settings={settings} reference={null} onChange={() => undefined} />);
    expect((field("Matters from") as HTMLInputElement).value).toBe(`${settings.smallestDifference} W/m²`);
  });
});

describe("where the winner will run", () => {
  const { settings } = { settings: stepOf("Absorber shapes", "ask").view.head.settings };

  test.each([
    ["Wind", "18 km/h", { ask: { use: { windMs: 5 } } }],
    ["Tilt", "45", { ask: { use: { tilt: 45 } } }],
    ["Coldest night", "14 F", { ask: { use: { lowestC: -10 } } }],
    ["Outside", "5", { operatingPoint: { ambientC: 5 } }],
  ])("%s takes %s", async (name, typed, change) => {
    const changed = jest.fn();
    const { user } = await show(<Use settings={settings} onChange={changed} />);
    await user.clear(field(name));
    await user.type(field(name), `${typed}{Enter}`);
    expect(changed.mock.calls[0][0](settings)).toMatchObject(change);
  });

  test("a roof brings its word of safety to where it is chosen", async () => {
    const changed = jest.fn();
    const { user, again } = await show(<Use settings={settings} onChange={changed} />);
    expect(screen.queryByText(/fall protection/)).toBeNull();
    await user.selectOptions(screen.getByRole("combobox", { name: "Mounted" }), "on a roof");
    const next = changed.mock.calls[0][0](settings);
    again(<Use settings={{ ...settings, ...next }} onChange={changed} />);
    expect(screen.getByText(/fall protection/)).toBeInTheDocument();
  });
});

describe("a new experiment", () => {
  const { sites } = importing();

  test("goes on to the drawing board of what the server made", async () => {
    action("startExperiment").mockImplementation(async () => ({ ok: true, id: 7 }));
    const { user } = await show(<NewExperiment sites={sites} zones={["Europe/Zurich"]} />);
    expect(screen.getByRole("button", { name: /Go on/ })).toBeDisabled();
    await user.type(field("Question"), "Does a second glass earn its place?");
    await user.type(field("Name of the experiment"), "Two glasses");
    await user.selectOptions(screen.getByRole("combobox", { name: "It heats" }), "water and glycol");
    await user.click(screen.getByRole("button", { name: /Go on/ }));
    await settle();
    expect(asked("startExperiment")![0]).toMatchObject({ name: "Two glasses", fluid: "glycol", site: sites[0].id });
    expect(router.push).toHaveBeenCalledWith("/experiments/7/build");
  });

  test("a refusal keeps what was typed", async () => {
    action("startExperiment").mockImplementation(async () => ({ ok: false, error: "The bench is full" }));
    const { user } = await show(<NewExperiment sites={sites} zones={[]} />);
    await user.type(field("Name of the experiment"), "Two glasses");
    await user.click(screen.getByRole("button", { name: /Go on/ }));
    await settle();
    expect(screen.getByRole("alert")).toHaveTextContent("The bench is full");
    expect(field("Name of the experiment")).toHaveValue("Two glasses");
    expect(router.push).not.toHaveBeenCalled();
  });

  test("a new site asks for its name, place, altitude and zone", async () => {
    const { user } = await show(<NewExperiment sites={sites} zones={["Europe/Zurich"]} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Site" }), "a new site");
    for (const label of ["Site’s name", "Altitude", "Time zone"]) expect(screen.getByLabelText(label)).toBeVisible();
  });
});
