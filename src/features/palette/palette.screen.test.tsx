import { screen } from "@testing-library/react";
import { LIBRARY } from "@/core/materials/library";
import { place, router } from "../../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { placesOfDemo } from "../../../scripts/testing/screens/pages";
import { entries } from "./entries";
import Palette from "./Palette";

const answer = jest.fn();
beforeEach(() => {
  answer.mockReset().mockImplementation(async () => ({ ok: true, json: async () => placesOfDemo() }));
  global.fetch = answer as unknown as typeof fetch;
});
const open = async (path = "/") => {
  place.path = path;
  const closed = jest.fn();
  const shown = await show(<Palette onClose={closed} />);
  for (let i = 0; i < 3; i++) await settle();
  return { ...shown, closed };
};
const options = () => screen.getAllByRole("option").map(plain);

describe("go anywhere by typing", () => {
  test("experiments, their steps and lanes, materials, pages and actions are all there", () => {
    const groups = new Set(entries(placesOfDemo(), LIBRARY, 1).map((e) => e.group));
    expect([...groups].sort()).toEqual(["Actions", "Experiments", "Materials", "Pages", "Variants"]);
  });

  test("two words find the step of an experiment, Enter goes there and closes", async () => {
    const { user, closed } = await open();
    await user.keyboard("absorber shapes judge");
    await settle();
    expect(options()[0]).toMatch(/Absorber shapes/);
    await user.keyboard("{Enter}");
    expect(router.push).toHaveBeenCalledWith("/experiments/1/judge");
    expect(closed).toHaveBeenCalled();
  });

  test("a variant leads to its drawing", async () => {
    const { user } = await open();
    await user.keyboard("mesh layers");
    await settle();
    await user.keyboard("{Enter}");
    expect(String(router.push.mock.calls[0][0])).toMatch(/\/build\?v=B$/);
  });

  test("what nobody is called says so", async () => {
    const { user } = await open();
    await user.keyboard("zzzzqqq");
    await settle();
    expect(plain(document.body)).toContain("Nothing is called that");
  });

  test("Escape closes without going anywhere", async () => {
    const { user, closed } = await open();
    await user.keyboard("{Escape}");
    expect(closed).toHaveBeenCalled();
    expect(router.push).not.toHaveBeenCalled();
  });

  test("without an answer pages and materials are still reached", async () => {
    answer.mockImplementation(async () => {
      throw new Error("gone");
    });
    const { user } = await open();
    await user.keyboard("materials");
    await settle();
    expect(options().length).toBeGreaterThan(0);
  });

  test("inside an experiment its own steps come first", () => {
    const [first] = entries(placesOfDemo(), LIBRARY, 2);
    expect(first.to).toEqual({ href: expect.stringMatching(/^\/experiments\/2\//) });
  });
});
