import { screen, within } from "@testing-library/react";
import type { PlanView } from "@/services/plan/plan";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { DaySheet } from "./DaySheet";

const plan = (): PlanView => stepOf("Absorber shapes", "plan").plan!;

describe("the sheet of a day", () => {
  test("says which day of how many, and where each box stands from the left", async () => {
    const p = plan();
    const [day] = p.days;
    await show(<DaySheet plan={p} date={day.date} />);
    expect(plain(screen.getByRole("heading", { level: 1 }))).toContain(`day 1 of ${p.settings.days}: ${p.name}`);
    const stations = within(screen.getByRole("list", { name: "Stations from the left" })).getAllByRole("listitem");
    expect(stations.map((s) => plain(s.querySelector("b")))).toEqual(day.order[0].map((s) => p.specimens[s].letter));
  });

  test("every block has its time, every line its box, and what can hurt stands with it", async () => {
    const p = plan();
    await show(<DaySheet plan={p} date={p.days[0].date} />);
    const boxes = screen.getAllByRole("checkbox");
    expect(boxes.length).toBeGreaterThan(8);
    for (const heading of screen.getAllByRole("heading", { level: 2 }))
      expect(plain(heading)).toMatch(/^(before|\d\d:\d\d–\d\d:\d\d)/);
    expect(plain(document.body)).toMatch(/burn|hot|glass/i);
    expect(plain(document.body)).toContain("Local codes and licensed trades come first");
  });

  test("a tick is kept at once, by its line, and can be taken off", async () => {
    const p = plan();
    const { user } = await show(<DaySheet plan={p} date={p.days[0].date} />);
    await user.click(screen.getAllByRole("checkbox")[0]);
    await settle();
    const [id, patch] = asked("changePlan") as [number, { ticked: Record<string, boolean> }];
    expect(id).toBe(p.experimentId);
    const [[line, on]] = Object.entries(patch.ticked);
    expect(on).toBe(true);
    expect(line).toContain(p.days[0].date);
    const kept = { ...p, settings: { ...p.settings, ticked: [line] } };
    document.body.innerHTML = "";
    await show(<DaySheet plan={kept} date={p.days[0].date} />);
    expect(screen.getAllByRole("checkbox")[0]).toBeChecked();
  });

  test("a tick the server refuses comes off again", async () => {
    action("changePlan").mockImplementation(async () => ({ ok: false, error: "no" }));
    const p = plan();
    const { user } = await show(<DaySheet plan={p} date={p.days[0].date} />);
    await user.click(screen.getAllByRole("checkbox")[0]);
    await settle();
    expect(screen.getAllByRole("checkbox")[0]).not.toBeChecked();
  });

  test("a day that was left out says so and leads back", async () => {
    const p = plan();
    await show(<DaySheet plan={p} date="2026-01-01" />);
    expect(plain(document.body)).toContain("is not in the plan");
    expect(screen.getByRole("link", { name: /Plan/ })).toHaveAttribute("href", `/experiments/${p.experimentId}/plan`);
  });

  test("what stands against the day is said on it", async () => {
    const p = plan();
    const [day, ...rest] = p.days;
    const [entry] = day.entries;
    const conflicts = [{ kind: "overlap", entry: entry.id, with: entry.id }] as never;
    await show(<DaySheet plan={{ ...p, days: [{ ...day, conflicts }, ...rest] }} date={day.date} />);
    expect(document.querySelector(".text-doubt.font-semibold")).not.toBeNull();
  });
});
