import { screen, within } from "@testing-library/react";
import { boilingPoint } from "@/core/calibration/twoPoint";
import { standardPressure } from "@/core/fluids/moistAir";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { collectorWorker } from "../../../scripts/testing/screens/collector";
import { place } from "../../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import ToolDialog from "./ToolDialog";
import { Tools } from "./Tools";

const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const put = async (user: Awaited<ReturnType<typeof show>>["user"], name: string | RegExp, text: string) => {
  await user.clear(field(name));
  await user.type(field(name), `${text}{Enter}`);
};
const heat = () => {
  const [, value, half] = /Heat ([\d ]+(?:\.\d+)?) ± (\d+) W/.exec(plain(screen.getByTestId("quick-heat")))!;
  return { value: Number(value.replace(/ /g, "")), half: Number(half) };
};
const open = () => show(<ToolDialog onClose={() => undefined} />);

describe("a quick reading", () => {
  test("half the rise is half the heat, near enough; no rise is none", async () => {
    const { user } = await open();
    await put(user, "In", "20");
    await put(user, "Out", "40");
    const whole = heat();
    await put(user, "Out", "30");
    // The air is colder and denser at the outlet then, by three in a hundred.
    expect(heat().value / whole.value).toBeGreaterThan(0.49);
    expect(heat().value / whole.value).toBeLessThan(0.54);
    await put(user, "Out", "20");
    expect(Math.abs(Number(/Heat ([−\d.]+)/.exec(plain(screen.getByTestId("quick-heat")))![1].replace("−", "-")))).toBe(
      0,
    );
  });

  test("better probes make its ± smaller, and the heat stays", async () => {
    const { user } = await open();
    const before = heat();
    await put(user, "Probes ±", "0.05 K");
    expect(heat().half).toBeLessThan(before.half);
    expect(Math.abs(heat().value - before.value)).toBeLessThan(10);
  });

  test("drawing twenty thousand times agrees with the first-order ±", async () => {
    const { user } = await open();
    await user.click(screen.getByRole("button", { name: "Check the ± by drawing" }));
    for (let i = 0; i < 10; i++) await settle();
    const drawn = Number(/20 000 draws: ± (\d+) W/.exec(plain(document.body))![1]);
    expect(drawn / heat().half).toBeGreaterThan(0.85);
    expect(drawn / heat().half).toBeLessThan(1.1);
  });

  test("draws that come late never stand beside another reading", async () => {
    const { user } = await open();
    let come: () => void = () => undefined;
    const real = collectorWorker().drawQuick;
    const late = jest.spyOn(collectorWorker(), "drawQuick").mockImplementation(async (r) => {
      await new Promise<void>((done) => (come = done));
      return real(r);
    });
    await user.click(screen.getByRole("button", { name: "Check the ± by drawing" }));
    await put(user, "Out", "60");
    come();
    for (let i = 0; i < 10; i++) await settle();
    expect(plain(document.body)).not.toContain("draws:");
    late.mockRestore();
  });

  test("higher up the air is thinner: less heat for the same speed, and water boils sooner", async () => {
    const { user } = await open();
    const before = heat().value;
    await put(user, "Altitude here", "2500 m");
    expect(heat().value / before).toBeCloseTo(standardPressure(2500) / standardPressure(1120), 1);
    expect(plain(document.body)).toContain(`boils at ${boilingPoint(standardPressure(2500)).toFixed(2)}`);
  });

  test("takes a volume as well as a speed, and with area and sun gives heat per area and efficiency", async () => {
    const { user } = await open();
    const bySpeed = heat().value;
    // 3.5 m/s × 0.86 in 125 mm is 0.03694 m³/s.
    await put(user, "or flow", "78.27 CFM");
    expect(heat().value / bySpeed).toBeCloseTo(1, 2);
    expect(screen.queryByTestId("quick-per-area")).toBeNull();
    await put(user, "Area", "2 m²");
    await put(user, "Sun on it", "800");
    const text = plain(screen.getByTestId("quick-per-area"));
    expect(Number(/^(\d+) ±/.exec(text)![1])).toBeCloseTo(heat().value / 2, -1);
    expect(Number(/efficiency (\d+)/.exec(text)![1]) / 100).toBeCloseTo(heat().value / 1600, 1);
    expect(plain(document.body)).toMatch(/1\.08 × CFM × °F would say \d+ % more/);
  });

  test.each([
    ["Speed", "-1"],
    ["Mean ÷ read speed", "2"],
    ["Duct diameter", "3 m"],
    ["Out", "hot"],
  ])("%s %s is refused, and the last figure stands", async (name, typed) => {
    const { user } = await open();
    const before = heat();
    await put(user, name, typed);
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(heat()).toEqual(before);
  });

  test("is saved into the experiment whose page is open, with what went in", async () => {
    place.path = "/experiments/12/read";
    action("loadSpots").mockImplementation(async () => [{ at: Date.UTC(2026, 9, 6), text: "as read", run: 2 }]);
    const { user } = await open();
    await user.click(screen.getByRole("button", { name: "Save into this experiment" }));
    await settle();
    const [id, spot] = asked("keepSpot") as [number, { values: Record<string, number> }];
    expect(id).toBe(12);
    expect(spot.values).toMatchObject({ inletC: 18, outletC: 40, speedMs: 3.5 });
    expect(spot.values.heatW).toBeCloseTo(heat().value, -2);
    expect(plain(document.body)).toContain("run 2: as read");
  });

  test("elsewhere there is nothing to save into", async () => {
    place.path = "/materials";
    await open();
    expect(screen.queryByRole("button", { name: /Save into/ })).toBeNull();
  });
});

describe("units", () => {
  const converted = () => plain(screen.getByTestId("converted"));
  test.each([
    ["speed", "845 fpm", "4.2926 m/s"],
    ["temperature", "212 F", "100 °C"],
    ["irradiance", "1 kW/m2", "1000 W/m²"],
  ])("%s of %s", async (quantity, text, expected) => {
    const { user } = await open();
    const options = within(screen.getByRole("combobox", { name: "Quantity" })).getAllByRole(
      "option",
    ) as HTMLOptionElement[];
    await user.selectOptions(
      screen.getByRole("combobox", { name: "Quantity" }),
      options.find((o) => o.value === quantity)!,
    );
    await user.clear(field("Figure with its unit"));
    await user.type(field("Figure with its unit"), text);
    expect(converted()).toContain(expected);
  });

  test("what is no figure of that kind says so", async () => {
    const { user } = await open();
    await user.clear(field("Figure with its unit"));
    await user.type(field("Figure with its unit"), "12 apples");
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(screen.queryByTestId("converted")).toBeNull();
  });
});

describe("the key", () => {
  test("t opens the tools, not while something is typed", async () => {
    const { user } = await show(
      <>
        <input aria-label="note" />
        <Tools />
      </>,
    );
    await user.type(field("note"), "t");
    expect(screen.queryByRole("dialog")).toBeNull();
    (field("note") as HTMLInputElement).blur();
    await user.keyboard("t");
    for (let i = 0; i < 20 && !screen.queryByRole("dialog"); i++) await settle();
    expect(screen.getByRole("dialog", { name: "Bench tools" })).toBeInTheDocument();
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
  });
});
