import { screen, within } from "@testing-library/react";
import { Toasts } from "@/ui/Toasts";
import { BROKEN_KINDS, type BrokenPart } from "@/core/experiment/records";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { Broken } from "./Broken";

const part = (over: Partial<BrokenPart>): BrokenPart => ({
  kind: "design",
  id: 7,
  experimentId: 1,
  name: "Mesh layers",
  why: "layers: is missing",
  ...over,
});

describe("what cannot be shown", () => {
  test("nothing, when all can", async () => {
    await show(<Broken parts={[]} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });

  test.each(BROKEN_KINDS)("a %s says what, why, what follows, and can be put away", async (kind) => {
    const { user } = await show(<Broken parts={[part({ kind, experimentId: null })]} />);
    const region = screen.getByRole("alert", { name: "What cannot be shown" });
    expect(plain(region)).toContain("Mesh layers:");
    expect(plain(region)).toContain("layers: is missing.");
    await user.click(within(region).getByRole("button"));
    expect(asked("putAway")).toEqual([kind, 7]);
  });

  test("a run is deleted, which can be undone; a site is mended on its own page", async () => {
    const { user } = await show(
      <>
        <Broken parts={[part({ kind: "run", id: 3, name: "Run 2", computed: true }), part({ kind: "site", id: 5 })]} />
        <Toasts />
      </>,
    );
    expect(plain(screen.getByRole("alert"))).toContain("Run 2: a run could not be computed.");
    await user.click(screen.getByRole("button", { name: "Delete the run" }));
    await settle();
    expect(asked("deleteRun")).toEqual([1, 3, true]);
    await user.click(await screen.findByRole("button", { name: "Undo" }));
    expect(asked("deleteRun")).toEqual([1, 3, false]);
    expect(screen.getByRole("link", { name: "Mend it on its page" })).toHaveAttribute("href", "/site/5");
  });

  test("what is no longer there is said", async () => {
    action("putAway").mockImplementation(async () => ({ ok: false, error: "It is no longer there." }));
    const { user } = await show(
      <>
        <Broken parts={[part({ kind: "plan" })]} />
        <Toasts />
      </>,
    );
    await user.click(screen.getByRole("button", { name: "Drop the plan" }));
    expect(await screen.findByText("It is no longer there.")).toBeInTheDocument();
  });
});
