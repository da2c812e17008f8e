import { screen, within } from "@testing-library/react";
import { plain, settle, show } from "../../../../scripts/testing/screens/screen";
import { importing } from "../../../../scripts/testing/screens/pages";
import Sheet from "./Sheet";
import type { SheetDraft } from "./sheetDraft";
import { SHEET_STORE } from "@/ui/stores";

beforeEach(() => window.localStorage.clear());

const kept = () => JSON.parse(window.localStorage.getItem(SHEET_STORE)!) as SheetDraft;
const field = (row: number, name: RegExp) =>
  within(screen.getAllByRole("listitem").find((li) => within(li).queryByLabelText(`Row ${row}: time`))!).getByRole(
    "textbox",
    { name },
  );

async function open(experiment: string | null) {
  const { heads, lastRuns, sites } = importing();
  const target = heads.find((h) => h.name === experiment)?.id ?? null;
  return show(<Sheet heads={heads} lastRuns={lastRuns} sites={sites} target={target} />);
}

async function say(user: Awaited<ReturnType<typeof open>>["user"]) {
  await user.click(screen.getByRole("radio", { name: "°C" }));
  await user.click(screen.getByRole("radio", { name: "one at inlets, one at outlets" }));
  await user.selectOptions(screen.getByRole("combobox", { name: "Flow is" }), "a speed, read each time");
  await user.selectOptions(screen.getByRole("combobox", { name: "read in" }), "m/s");
  await user.click(
    within(screen.getByRole("radiogroup", { name: "Flow meter" })).getByRole("radio", { name: "one, carried" }),
  );
}

async function paste(user: Awaited<ReturnType<typeof open>>["user"], text: string) {
  await user.click(screen.getByText("Paste a table"));
  await user.click(screen.getByLabelText(/Rows as time/));
  await user.paste(text);
  await user.click(screen.getByRole("button", { name: "Add these rows" }));
  await settle();
}

describe("a sheet read by hand", () => {
  test("of a known bench takes over its boxes, and asks only how it was read", async () => {
    const { user } = await open("The afternoon test");
    const left = () => plain(screen.getByRole("region", { name: "Keep the sheet" }));
    expect(left()).toContain("°C or °F");
    expect(left()).not.toContain("gross area");
    await say(user);
    await paste(user, "13:00\tA\t8\t33\t4.7\n13:06\tB\t8\t41\t3.0");
    expect(left()).not.toContain("Still to say");
    expect(screen.getByRole("button", { name: "Keep as a run" })).toBeEnabled();
    expect(plain(screen.getByTestId("sheet-answer"))).toContain("1 round so far; 3 compare the boxes");
  });

  test("each row shows its heat; the hotter box is not the one that gives more", async () => {
    const { user } = await open("The afternoon test");
    await say(user);
    await paste(
      user,
      "13:00\tA\t8.5\t33.4\t4.7\n13:07\tB\t8.6\t41.4\t3.0\n13:14\tB\t8.6\t41.2\t2.9\n13:21\tA\t8.7\t33.0\t4.6\n13:28\tA\t8.8\t32.8\t4.7\n13:35\tB\t9.0\t40.4\t3.0",
    );
    expect(plain(screen.getByTestId("sheet-answer"))).toMatch(/A gave \d+\s?% \(.*\) more heat per area than B/);
    expect(screen.getByText(/B is hotter at its outlet, yet A gives more heat/)).toBeVisible();
    expect(screen.getByText(/1\.08 × CFM × °F would say 1\d\s?% more/)).toBeVisible();
    expect(field(2, /time/).closest("li")).toHaveTextContent(/\d ± \d+\sW/);
  });

  test("what cannot be read is said at its cell and kept; a reload brings it back", async () => {
    const { user, unmount } = await open("The afternoon test");
    await say(user);
    await user.type(field(1, /time/), "25:10");
    await user.type(field(1, /: in/), "warm");
    expect(screen.getByText("“25:10” is no time of day; write 13:05.")).toBeVisible();
    expect(screen.getByText("“warm” is not a number.")).toBeVisible();
    expect(plain(screen.getByRole("region", { name: "Keep the sheet" }))).toContain("One row cannot be read yet");
    expect(kept().rows[0]).toMatchObject({ time: "25:10", inlet: "warm" });
    unmount();
    await open("The afternoon test");
    expect(field(1, /time/)).toHaveValue("25:10");
  });

  test("exchanged ends are named at once", async () => {
    const { user } = await open("The afternoon test");
    await say(user);
    await paste(user, "13:00\tA\t33\t8\t4.7\n13:06\tB\t41\t8\t3.0");
    expect(screen.getAllByRole("alert").map(plain).join(" ")).toMatch(/A .*cool/i);
  });

  test("without an experiment two boxes are begun, and what nobody said is listed", async () => {
    const { user } = await open(null);
    expect(screen.getAllByRole("group").filter((g) => g.tagName === "FIELDSET")).toHaveLength(2);
    await user.click(screen.getByRole("button", { name: /and \d+ more/ }));
    const left = plain(screen.getByRole("region", { name: "Keep the sheet" }));
    for (const said of ["Lane A: say its gross area", "Say where the bench stands", "Give the experiment a name"])
      expect(left).toContain(said);
    expect(screen.getByRole("button", { name: "Keep as a run" })).toBeDisabled();
  });
});
