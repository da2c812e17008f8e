import { clock, dated, dayOf, dayText, exact, timeOfDay, weekdayOf } from "./times";

const NOON = Date.UTC(2026, 9, 6, 10, 40, 10);

describe("moments on the clock of their site", () => {
  test.each([
    ["Europe/Zurich", "6 Oct, 12:40"],
    ["UTC", "6 Oct, 10:40"],
    ["UTC+01:00", "6 Oct, 11:40"],
    ["UTC-03:30", "6 Oct, 07:10"],
    ["Asia/Kathmandu", "6 Oct, 16:25"],
    ["UTC+14", "7 Oct, 00:40"],
  ])("%s: %s, a fixed offset as well as a name", (zone, words) => expect(clock(NOON, zone)).toBe(words));

  test("a zone with summer time agrees with its fixed offset of that day, in every way of writing", () => {
    for (const write of [clock, dated, exact, timeOfDay, dayOf, weekdayOf]) {
      expect(write(NOON, "Europe/Zurich")).toBe(write(NOON, "UTC+02:00"));
      expect(write(NOON + 60 * 86400000, "Europe/Zurich")).toBe(write(NOON + 60 * 86400000, "UTC+01:00"));
    }
  });

  test("days are days of the site, not of the reader", () => {
    expect(dayOf(Date.UTC(2026, 9, 6, 22, 30), "Europe/Zurich")).toMatch(/^7 Oct 2026/);
    expect(weekdayOf(NOON, "UTC", "long")).toBe("Tuesday 6 October");
    expect(dayText("2026-10-06")).toBe("Tue 6 Oct");
  });

  test("an unknown zone is an error, not a wrong time", () =>
    expect(() => clock(NOON, "Mars/Base")).toThrow(RangeError));
});
