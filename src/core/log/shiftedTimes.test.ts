import { shiftedTimes } from "./shiftedTimes";

const HOUR = 3600_000;

describe("an instant chosen on a reading of a log", () => {
  const rows = Array.from({ length: 50 }, (_, i) => i * 60_000);

  test("moves with the readings, and not at all where they are as before", () => {
    const later = shiftedTimes(
      rows,
      rows.map((t) => t + HOUR),
    );
    expect(later(10 * 60_000 + 5)).toBe(HOUR + 10 * 60_000 + 5);
    expect(shiftedTimes(rows, rows)(123_456)).toBe(123_456);
    // Beyond the ends it goes as the nearest row.
    expect(later(-5000)).toBe(HOUR - 5000);
    expect(later(99 * 60_000)).toBe(HOUR + 99 * 60_000);
  });

  test("keeps its row across a change of clocks, which the zone before did not know", () => {
    const changed = rows.map((t, i) => t + (i < 25 ? 0 : HOUR));
    const shift = shiftedTimes(rows, changed);
    expect(shift(rows[24] + 1000)).toBe(rows[24] + 1000);
    expect(shift(rows[25] - 1000)).toBe(rows[25] - 1000 + HOUR);
    expect(shift(rows[40])).toBe(rows[40] + HOUR);
  });

  test("of a reading with other rows goes as the first; of none it stays", () => {
    expect(shiftedTimes(rows, [HOUR, HOUR + 5])(100)).toBe(HOUR + 100);
    expect(shiftedTimes([], rows)(100)).toBe(100);
  });
});
