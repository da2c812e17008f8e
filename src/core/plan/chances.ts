/** Chance of at least `wanted` clear days among `days` that are clear or not on their own, 0 to 1 (binomial). @param share chance that one day is clear */
export function chanceOfClearDays(wanted: number, days: number, share: number): number {
  if (wanted <= 0) return 1;
  if (wanted > days) return 0;
  // Chances of 0, 1, … clear days so far, day by day: no factorials to overflow.
  let chances = [1];
  for (let d = 0; d < days; d++)
    chances = Array.from(
      { length: d + 2 },
      (_, k) => (chances[k] ?? 0) * (1 - share) + (k > 0 ? chances[k - 1] * share : 0),
    );
  return chances.slice(wanted).reduce((a, b) => a + b, 0);
}

/** Days on the calendar that hold the wanted clear days with the given chance; null when a year does not. */
export function calendarDays(wanted: number, share: number, chance: number): number | null {
  if (share <= 0) return null;
  for (let days = wanted; days <= 366; days++) if (chanceOfClearDays(wanted, days, share) >= chance) return days;
  return null;
}
