import { fireEvent, screen, within } from "@testing-library/react";
import { useState } from "react";
import type { Design } from "@/core/collector/design";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import { DUCT_FAN, presetDesign, SMALL_PUMP } from "@/core/collector/presets";
import { studyDesign, type Study } from "@/core/collector/study";
import { LIBRARY } from "@/core/materials/library";
import { plain, show } from "../../../scripts/testing/screens/screen";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { BoxEditor } from "./BoxEditor";
import { LayerEditor } from "./LayerEditor";
import { LayerTable } from "./LayerTable";
import { Notices } from "./Notices";
import { Predicted } from "./Predicted";
import { SectionView } from "./SectionView";

const { operating, lowestC } = stepOf("Absorber shapes", "build").variants!;
const library = new Map(LIBRARY.map((m) => [m.key, m]));
const studied = (design: Design): Study => studyDesign(design, operating, lowestC);
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const put = (name: string | RegExp, text: string) => {
  fireEvent.change(field(name), { target: { value: text } });
  fireEvent.keyDown(field(name), { key: "Enter" });
};
const flat = presetDesign("flat");

describe("the section", () => {
  const draw = async (design: Design, more: Partial<React.ComponentProps<typeof SectionView>> = {}) => {
    const { prediction, limits } = studied(design);
    const calls = { onSelect: jest.fn(), onMove: jest.fn(), onRemove: jest.fn() };
    const shown = await show(
      <SectionView
        design={design}
        lane="A"
        prediction={prediction}
        limits={limits}
        selected={null}
        inletC={20}
        {...calls}
        {...more}
      />,
    );
    return { ...shown, ...calls, prediction: prediction! };
  };

  test.each(ABSORBER_FORMS)(
    "%s is drawn with every layer, in order from the sun, and no coordinate lost",
    async (form) => {
      const design = presetDesign(form);
      const { container } = await draw(design);
      expect(container.innerHTML).not.toMatch(/NaN|undefined|Infinity/);
      const slabs = [...container.querySelectorAll<SVGRectElement>("[data-slab]")];
      expect(slabs.map((s) => s.dataset.slab)).toEqual(design.layers.map((l) => l.id));
      const tops = slabs.map((s) => Number(s.getAttribute("y")));
      expect(tops).toEqual([...tops].sort((a, b) => a - b));
    },
  );

  test("the air is written in and out where it runs, at what the model says", async () => {
    const { container, prediction } = await draw(flat);
    const out = Math.round(prediction.figures.outlet!.value);
    expect(plain(container)).toMatch(/in 20 °C/);
    expect(plain(container)).toContain(`out ${out} °C`);
  });

  test("one scale from first to last layer: twice the wool is drawn about twice as deep", async () => {
    const height = async (thicknessM: number) => {
      const layers = flat.layers.map((l) => (l.kind === "insulation" ? { ...l, thicknessM } : l));
      const { container, unmount } = await draw({ ...flat, layers });
      const id = layers.find((l) => l.kind === "insulation")!.id;
      const wool = Number(container.querySelector(`[data-slab="${id}"]`)!.getAttribute("height"));
      const gap = layers.find((l) => l.kind === "gap")!;
      const air = Number(container.querySelector(`[data-slab="${gap.id}"]`)!.getAttribute("height"));
      unmount();
      return wool / air;
    };
    expect((await height(0.08)) / (await height(0.04))).toBeCloseTo(2, 0);
  });
});

describe("the stack as a table", () => {
  const table = async (design: Design) => {
    const { prediction, limits, problems } = studied(design);
    const calls = { onSelect: jest.fn(), onMove: jest.fn(), onRemove: jest.fn(), onAdd: jest.fn() };
    await show(
      <LayerTable
        design={design}
        letter="A"
        selected={null}
        operating={operating}
        {...{ prediction, limits, problems }}
        {...calls}
      />,
    );
    return { ...calls, limits };
  };

  test("every layer has its row, its temperatures, and its share of what it bears", async () => {
    const { limits } = await table(flat);
    expect(screen.getAllByRole("row").slice(1).length).toBeGreaterThanOrEqual(flat.layers.length);
    const shares = screen.getAllByRole("img", { name: /% of the limit/ });
    expect(shares.length).toBeGreaterThan(0);
    for (const s of shares) {
      const percent = Number(/^(\d+) %/.exec(s.getAttribute("aria-label")!)![1]);
      expect(percent > 100).toBe(s.getAttribute("aria-label")!.includes("too hot"));
    }
    expect(limits.length).toBeGreaterThan(0);
  });

  test("a layer is removed and another added by their buttons", async () => {
    const { onRemove } = await table(flat);
    fireEvent.click(screen.getAllByRole("button", { name: /^Remove .*, layer 2$/ })[0]);
    expect(onRemove).toHaveBeenCalledWith(flat.layers[1].id);
  });
});

describe("the box and what moves its fluid", () => {
  function Board({ first }: { first: Design }) {
    const [design, setDesign] = useState(first);
    return (
      <>
        <BoxEditor design={design} materials={library} onChange={setDesign} />
        <output>{JSON.stringify(design)}</output>
      </>
    );
  }
  const now = () => JSON.parse(document.querySelector("output")!.textContent!) as Design;

  test.each([
    ["Outside width", "3 ft", (d: Design) => d.grossWidthM, 0.9144],
    ["Port diameter", "100 mm", (d: Design) => d.ports.diameterM, 0.1],
    ["Ports at each end", "2", (d: Design) => d.ports.count, 2],
    ["Manifold and bends", "1,5", (d: Design) => d.manifoldLoss, 1.5],
  ])("%s takes %s, and the sketch is a drawing then", async (label, typed, of, value) => {
    await show(<Board first={{ ...flat, sketch: true }} />);
    put(label, typed);
    expect(of(now())).toBeCloseTo(value, 6);
    expect(now().sketch).toBe(false);
  });

  test("natural draught asks for its height, a panel for its size, a mains fan for its curve", async () => {
    const { user } = await show(<Board first={flat} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Moved by" }), "natural draught");
    expect(now().drive).toEqual({ kind: "natural", heightM: 2.5 });
    expect(field("Height of the draught")).toBeInTheDocument();
    await user.selectOptions(screen.getByRole("combobox", { name: "Moved by" }), "fan on its own panel");
    expect(now().drive).toMatchObject({ kind: "photovoltaicFan", panelW: 20 });
  });

  test("a panel straight on its fan or behind a converter; with a liquid comes a pump, with air a fan, each with its own curve", async () => {
    const { user } = await show(<Board first={flat} />);
    const choose = (name: string, option: string) => user.selectOptions(screen.getByRole("combobox", { name }), option);
    await choose("Moved by", "fan on its own panel");
    await user.click(screen.getByRole("checkbox", { name: /behind a converter/ }));
    expect(now().drive).toMatchObject({ kind: "photovoltaicFan", tracked: true });
    await choose("Fluid", "water and glycol");
    expect(now().drive).toEqual({ kind: "pump", fan: SMALL_PUMP });
    await choose("Glycol", "ethylene glycol");
    expect(now().fluid).toEqual({ kind: "glycol", massFraction: 0.35, glycol: "ethylene" });
    expect(screen.getByText(/Poisonous/)).toBeInTheDocument();
    await choose("Fluid", "air");
    expect(now().drive).toEqual({ kind: "fan", fan: DUCT_FAN });
  });

  test("each change alone: nothing else of the design moves", async () => {
    await show(<Board first={flat} />);
    put("Frame thickness", "30 mm");
    expect(now()).toEqual({ ...flat, sketch: false, frame: { ...flat.frame, thicknessM: 0.03 } });
  });
});

describe("a layer’s own fields", () => {
  test.each(ABSORBER_FORMS)("%s has a field for each of its dimensions, within its range", async (form) => {
    const design = presetDesign(form);
    const layer = design.layers.find((l) => l.kind === "absorber")!;
    const changed = jest.fn();
    const { container } = await show(
      <LayerEditor design={design} layer={layer} materials={library} onChange={changed} />,
    );
    for (const box of container.querySelectorAll<HTMLInputElement>("input.field")) {
      fireEvent.change(box, { target: { value: "99999 m" } });
      fireEvent.keyDown(box, { key: "Enter" });
    }
    expect(changed).not.toHaveBeenCalled();
    expect(within(container).getAllByRole("alert").length).toBeGreaterThan(0);
  });
});

describe("what stands against a build", () => {
  const notices = async (design: Design) => {
    const { problems, limits, hazards } = studied(design);
    const changed = jest.fn();
    const shown = await show(
      <Notices {...{ design, problems, limits, hazards, library }} onChange={changed} onSelect={() => undefined} />,
    );
    return { ...shown, changed };
  };
  const foam = () => {
    const layers = flat.layers.map((l) =>
      l.kind === "insulation"
        ? { ...l, material: LIBRARY.find((m) => m.group === "insulation" && (m.limitC ?? 999) < 90)!.key }
        : l,
    );
    const keys = new Set(layers.flatMap((l) => ("material" in l ? [l.material] : [])));
    return {
      ...flat,
      layers,
      materials: { ...flat.materials, ...Object.fromEntries([...keys].map((k) => [k, library.get(k)!])) },
    };
  };

  test("a foam that does not bear the heat is named with its limit and a remedy that is one press", async () => {
    const { user, changed } = await notices(foam());
    const list = screen.getByRole("list", { name: "Limits and hazards" });
    expect(plain(list)).toMatch(/reaches \d+ ± \d+ °C .*; its limit is \d+ °C/);
    await user.click(within(list).getAllByRole("button", { name: /Take that instead|Insert the wool/ })[0]);
    const mended = changed.mock.calls[0][0] as Design;
    const over = (d: Design) => studied(d).limits.filter((l) => l.state === "over").length;
    expect(over({ ...mended, materials: Object.fromEntries(library) })).toBeLessThan(over(foam()));
  });

  test("what cannot be built is said first", async () => {
    await notices({ ...flat, layers: flat.layers.filter((l) => l.kind !== "absorber") });
    expect(screen.getAllByRole("listitem")[0].className).toContain("border-danger");
  });

  test("without a prediction nothing is made up", async () => {
    await show(
      <Predicted prediction={null} letter="A" operating={operating} beside={null} besideLetter={null} stale={false} />,
    );
    expect(plain(document.body)).toContain("Nothing to predict until the marked layers are mended");
    expect(plain(document.body)).not.toMatch(/\d+ W/);
  });
});
