import { screen, within } from "@testing-library/react";
import { coverOptics } from "@/core/optics/covers";
import { materialsToCsv } from "@/core/materials/csv";
import { LIBRARY } from "@/core/materials/library";
import type { Material } from "@/core/materials/material";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { materials } from "../../../scripts/testing/screens/pages";
import { Materials } from "./Materials";

const mine: Material = { ...LIBRARY[0], key: "my-sheet", name: "My own sheet", note: "from the shed" };
const rows = () => screen.getAllByRole("row").slice(1);
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const find = () => screen.getByRole("searchbox", { name: "Find" });

describe("the library", () => {
  test("lists every material, one’s own first", async () => {
    await show(<Materials own={[mine]} />);
    expect(rows()).toHaveLength(LIBRARY.length + 1);
    expect(plain(rows()[0])).toContain("My own sheet");
    expect(plain(screen.getByRole("heading", { level: 1 }))).toContain(
      `${LIBRARY.length} generic materials and 1 of your own`,
    );
  });

  test("the demo brings none of its own", async () => {
    await show(<Materials own={materials()} />);
    expect(rows()).toHaveLength(LIBRARY.length);
  });

  test("is found by several words in any order, in name, note or warning", async () => {
    const { user } = await show(<Materials own={[mine]} />);
    await user.type(find(), "sheet own");
    expect(rows().map(plain).join()).toContain("My own sheet");
    await user.clear(find());
    await user.type(find(), "no such stuff at all");
    expect(screen.getByText(/Nothing of that name/)).toBeInTheDocument();
  });

  test("one’s own alone by kind", async () => {
    const { user } = await show(<Materials own={[mine]} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Kind" }), "your own");
    expect(rows()).toHaveLength(1);
  });

  test("what a cover lets through is its optics at its thickness", async () => {
    const glass = LIBRARY.find((m) => m.optics)!;
    const { user } = await show(<Materials own={[]} />);
    await user.type(find(), glass.name);
    const { index, extinctionPerM } = glass.optics!;
    const through = coverOptics([{ index, extinction: extinctionPerM * glass.thicknessM }], 0).transmitted;
    expect(plain(rows()[0])).toContain(through.toFixed(2));
  });
});

describe("one’s own", () => {
  test("is made from a library material and gets a key of its own", async () => {
    const { user } = await show(<Materials own={[]} />);
    await user.type(find(), LIBRARY[0].name);
    await user.click(within(rows()[0]).getByRole("button", { name: "Make mine" }));
    await user.clear(field("Name"));
    await user.type(field("Name"), "Sheet from the shed");
    await user.clear(field("Absorptance α"));
    await user.type(field("Absorptance α"), "0.91{Enter}");
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await settle();
    const [[kept]] = asked("keepMaterials") as [Material[]];
    expect(kept).toMatchObject({ name: "Sheet from the shed", absorptance: 0.91, source: "own measurement" });
    expect(LIBRARY.some((m) => m.key === kept.key)).toBe(false);
  });

  test.each([
    ["Absorptance α", "1.2"],
    ["Emittance ε", "-0.1"],
    ["Conductivity, W/(m·K)", "hot"],
    ["Density, kg/m³", "0"],
  ])("%s %s is refused before it can reach a prediction", async (label, typed) => {
    const { user } = await show(<Materials own={[mine]} />);
    await user.click(within(rows()[0]).getByRole("button", { name: "Change" }));
    await user.clear(field(label));
    await user.type(field(label), `${typed}{Enter}`);
    expect(screen.getByRole("alert")).toBeInTheDocument();
    // Nor is the form sent with the figure that stood there before.
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await settle();
    expect(action("keepMaterials")).not.toHaveBeenCalled();
  });

  test("a transmittance typed for a cover comes back as the extinction that gives it", async () => {
    const glass = { ...LIBRARY.find((m) => m.optics)!, key: "my-glass", name: "My glass" };
    const { user } = await show(<Materials own={[glass]} />);
    await user.click(within(rows()[0]).getByRole("button", { name: "Change" }));
    await user.clear(field("Lets light through τ"));
    await user.type(field("Lets light through τ"), "0.8{Enter}");
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await settle();
    const [[kept]] = asked("keepMaterials") as [Material[]];
    const { index, extinctionPerM } = kept.optics!;
    expect(coverOptics([{ index, extinction: extinctionPerM * kept.thicknessM }], 0).transmitted).toBeCloseTo(0.8, 4);
  });

  test("without a name nothing is kept", async () => {
    const { user } = await show(<Materials own={[]} />);
    await user.click(screen.getByRole("button", { name: "Add your own" }));
    expect(screen.getByRole("button", { name: "Keep it" })).toBeDisabled();
    await user.click(screen.getByRole("button", { name: "Leave it" }));
    expect(screen.queryByRole("button", { name: "Keep it" })).toBeNull();
  });

  test("is removed by its key, and only one’s own can be", async () => {
    const { user } = await show(<Materials own={[mine]} />);
    expect(screen.getAllByRole("button", { name: "Remove" })).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "Remove" }));
    await settle();
    expect(asked("deleteMaterial")).toEqual(["my-sheet", true]);
  });
});

describe("a table read back", () => {
  const upload = async (text: string, name = "materials.csv") => {
    const shown = await show(<Materials own={[]} />);
    const input = document.querySelector("input[type=file]") as HTMLInputElement;
    const file = new File([text], name, { type: "text/csv" });
    // jsdom's files have no text of their own.
    Object.defineProperty(file, "text", { value: async () => text });
    await shown.user.upload(input, file);
    await settle();
    return shown;
  };

  test("unchanged holds nothing new, so nothing is kept", async () => {
    await upload(materialsToCsv(LIBRARY));
    expect(action("keepMaterials")).not.toHaveBeenCalled();
  });

  test("keeps only what differs from the library", async () => {
    await upload(materialsToCsv([mine, ...LIBRARY]));
    const [kept] = asked("keepMaterials") as [Material[]];
    expect(kept.map((m) => m.key)).toEqual(["my-sheet"]);
  });

  test("with one bad cell takes nothing over and names row and column", async () => {
    const text = materialsToCsv([{ ...mine, absorptance: 7 }, ...LIBRARY]);
    await upload(text);
    expect(plain(screen.getByRole("alert"))).toMatch(/Nothing was taken over: 1 cell/);
    expect(action("keepMaterials")).not.toHaveBeenCalled();
  });
});
