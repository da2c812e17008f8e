import { fireEvent, screen, within } from "@testing-library/react";
import { METHOD_NAMES } from "@/core/method/list";
import type { PlanPatch } from "@/core/experiment/schema/plan";
import type { PlanView } from "@/services/plan/plan";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { PROTOCOL_WORDS } from "@/words/plan";
import { Away } from "./Away";
import { ProtocolPanel } from "./ProtocolPanel";
import { Plan } from "./Plan";

const planOf = (name: string): PlanView => stepOf(name, "plan").plan!;
const field = (name: string | RegExp) => screen.getByRole("textbox", { name });
const sent = () => asked("changePlan") as [number, PlanPatch, PlanView["settings"]];
const put = (name: string | RegExp, text: string) => {
  fireEvent.change(field(name), { target: { value: text } });
  fireEvent.keyDown(field(name), { key: "Enter" });
};

describe("a plan", () => {
  test("says the next day, its hours and how many days settle the question", async () => {
    const plan = planOf("Absorber shapes");
    await show(<Plan plan={plan} />);
    const sentence = plain(screen.getByRole("heading", { level: 1 }));
    expect(plan.days.length).toBeGreaterThan(0);
    expect(sentence).toMatch(/clear days? tells? a difference of 15 W\/m² with 80 % chance/);
    expect(sentence).toMatch(/Next: \w+ \d+ \w+, be there at \d\d:\d\d, measure \d\d:\d\d to \d\d:\d\d\.$/);
    const days = within(screen.getByRole("list", { name: "Planned days" })).getAllByRole("listitem");
    expect(days.length).toBeGreaterThanOrEqual(plan.days.length);
  });

  test("every protocol that is in the list of methods can be planned", async () => {
    await show(<Plan plan={planOf("Absorber shapes")} />);
    const options = within(screen.getByRole("combobox", { name: "Protocol" })).getAllByRole("option");
    expect(options.map((o) => o.textContent)).toEqual(METHOD_NAMES.map((m) => PROTOCOL_WORDS[m].name));
  });

  test("sends only what changed; the first change keeps the first day, so that the order stays", async () => {
    const plan = planOf("Absorber shapes");
    const { user } = await show(<Plan plan={plan} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Lanes swap" }), "never");
    await settle();
    const [id, patch, shown] = sent();
    expect(id).toBe(plan.experimentId);
    expect(patch.set).toMatchObject({ swaps: "none" });
    expect(Object.keys(patch.set!).filter((k) => k !== "start")).toEqual(["swaps"]);
    if (plan.settings.start === null) expect(patch.set!.start).toBe(plan.days[0]?.date ?? plan.today);
    expect(shown).toEqual(plan.settings);
  });

  test.each([
    ["Days", "0", /At least 1/],
    ["Days", "2,5", /whole/],
    ["Days", "many", /number/],
    ["Seed", "9999999", /At most/],
  ])("%s: %s is refused where it stands", async (name, text, words) => {
    await show(<Plan plan={planOf("Absorber shapes")} />);
    put(name, text);
    expect(screen.getAllByRole("alert").map(plain).join()).toMatch(words);
    expect(action("changePlan")).not.toHaveBeenCalled();
  });

  test("dealing again gives another order", async () => {
    const plan = planOf("Absorber shapes");
    const { user } = await show(<Plan plan={plan} />);
    await user.click(screen.getByRole("button", { name: /Deal again/ }));
    await settle();
    expect(sent()[1].set!.seed).not.toBe(plan.settings.seed);
  });

  test("a refusal says the plan is as it was", async () => {
    action("changePlan").mockImplementation(async () => ({ ok: false, error: "Not that many days." }));
    const plan = planOf("Absorber shapes");
    const { user } = await show(<Plan plan={plan} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Lanes swap" }), "never");
    await settle();
    expect(screen.getByRole("alert")).toHaveTextContent("Not that many days. The plan is as it was.");
    expect(screen.getByRole("combobox", { name: "Lanes swap" })).toHaveValue(plan.settings.swaps);
  });

  test("the calendar file is a plain link, offered only with days in it", async () => {
    const plan = planOf("Absorber shapes");
    const one = await show(<Plan plan={plan} />);
    expect(screen.getByRole("link", { name: /Calendar file/ })).toHaveAttribute(
      "href",
      `/api/experiments/${plan.experimentId}/plan.ics`,
    );
    one.unmount();
    await show(<Plan plan={{ ...plan, days: [], baths: [] }} />);
    expect(screen.getByRole("link", { name: /Calendar file/ })).toHaveAttribute("aria-disabled", "true");
  });

  test("hot water carries its word of safety where the bath stands", async () => {
    const plan = planOf("Absorber shapes");
    const baths = [
      {
        when: "before" as const,
        fromMs: plan.days[0].entries[0].fromMs,
        toMs: plan.days[0].entries[0].fromMs + 3600000,
      },
    ];
    await show(<Plan plan={{ ...plan, baths: baths as PlanView["baths"] }} />);
    expect(plain(document.body)).toContain("Hot water scalds");
  });
});

describe("the calendar by keyboard", () => {
  const entries = () => [...document.querySelectorAll<HTMLElement>("[data-entry]")];

  test("arrows move an entry by its step, with Shift by a quarter of an hour", async () => {
    const plan = planOf("Absorber shapes");
    await show(<Plan plan={plan} />);
    const [first] = entries();
    const id = first.dataset.entry!;
    const was = plan.settings.moved[id] ?? 0;
    fireEvent.keyDown(first, { key: "ArrowRight", shiftKey: true });
    await settle();
    expect(sent()[1].moved).toEqual({ [id]: was + 15 });
  });

  test("arrow down leaves the day out, and it can be taken again", async () => {
    const plan = planOf("Absorber shapes");
    await show(<Plan plan={plan} />);
    fireEvent.keyDown(entries()[0], { key: "ArrowDown" });
    await settle();
    expect(sent()[1].skipped).toEqual({ [plan.days[0].date]: true });
  });

  test("a day left out can be taken again by its button", async () => {
    const plan = planOf("Absorber shapes");
    const passed: PlanView["passed"] = [{ date: plan.days[0].date, reason: "skipped" } as PlanView["passed"][number]];
    const { user } = await show(<Plan plan={{ ...plan, passed }} />);
    await user.click(screen.getByRole("button", { name: "Take it again" }));
    await settle();
    expect(sent()[1].skipped).toEqual({ [plan.days[0].date]: false });
  });

  test("every entry says its times, what it is and the sun it has", async () => {
    await show(<Plan plan={planOf("Absorber shapes")} />);
    for (const e of entries()) expect(e.getAttribute("aria-label")).toMatch(/^\d\d:\d\d to \d\d:\d\d: \S/);
  });
});

describe("the protocol", () => {
  test.each([
    ["0 15 30 45", [0, 15, 30, 45]],
    ["0; 12,5", [0, 12.5]],
    ["0 15K", [0, 15]],
  ])("inlet levels as %s", async (text, levelsK) => {
    await show(<Plan plan={planOf("Absorber shapes")} />);
    put(/Inlet above outside/, text);
    await settle();
    expect(sent()[1].set).toMatchObject({ levelsK });
  });

  test.each(["", "0 hot", "0 15 90", "1 2 3 4 5 6 7", "15 F"])("levels “%s” are refused", async (text) => {
    await show(<Plan plan={planOf("Absorber shapes")} />);
    put(/Inlet above outside/, text);
    expect(screen.getByRole("alert")).toHaveTextContent(/from 0 to 80/);
    expect(action("changePlan")).not.toHaveBeenCalled();
  });
});

describe("when nobody is there", () => {
  test("every week, at the site’s clock, in minutes of the day", async () => {
    const plan = planOf("Absorber shapes");
    const { user } = await show(<Away plan={plan} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Day" }), "Thursday");
    await user.type(field("Why"), "market");
    await user.click(screen.getByRole("button", { name: "Add" }));
    await settle();
    expect(asked("addUnavailable")).toEqual([
      plan.experimentId,
      { kind: "weekly", weekday: 4, fromMinute: 480, toMinute: 1020, reason: "market" },
    ]);
  });

  test("once needs its date", async () => {
    const { user } = await show(<Away plan={planOf("Absorber shapes")} />);
    await user.selectOptions(screen.getByRole("combobox", { name: "Away" }), "once");
    await user.click(screen.getByRole("button", { name: "Add" }));
    await settle();
    expect(screen.getByRole("alert")).toHaveTextContent("Choose the date.");
    expect(action("addUnavailable")).not.toHaveBeenCalled();
    fireEvent.change(screen.getByLabelText("Date"), { target: { value: "2026-10-08" } });
    await user.click(screen.getByRole("button", { name: "Add" }));
    await settle();
    const [, away] = asked("addUnavailable") as [number, { fromMs: number; toMs: number }];
    // 08:00 to 17:00 of summer time.
    expect(away.fromMs).toBe(Date.UTC(2026, 9, 8, 6));
    expect(away.toMs).toBe(Date.UTC(2026, 9, 8, 15));
  });
});

describe("a time of the protocol", () => {
  const settings = planOf("Absorber shapes").settings;
  const panel = () => {
    const changed = jest.fn();
    const plan = planOf("Absorber shapes");
    return show(<ProtocolPanel plan={plan} settings={settings} change={changed} />).then(() => changed);
  };
  test.each([
    ["15", 15],
    ["15 min", 15],
    ["900 s", 15],
    ["1 h", 60],
  ])("%s is taken", async (text, swapMin) => {
    const changed = await panel();
    put(/A swap takes/, text);
    expect(changed).toHaveBeenCalledWith({ set: { swapMin } });
  });

  test.each(["15 W", "1 2", "5 h"])("%s is not taken for minutes", async (text) => {
    const changed = await panel();
    put(/A swap takes/, text);
    expect(screen.getByRole("alert")).toBeInTheDocument();
    expect(changed).not.toHaveBeenCalled();
  });
});
