import { looksReset } from "./resetClock";

const NOW = Date.UTC(2026, 11, 2);

test.each([
  ["1970-01-01T00:00:12Z", true],
  ["1980-01-06T00:00:30Z", true],
  ["2000-01-01T00:03:00Z", true],
  ["2010-01-01T08:00:00Z", true],
  ["2020-01-20T12:00:00Z", true],
  // Seconds sent as milliseconds are another fault, with words of its own.
  ["1970-01-21T18:00:00Z", false],
  ["2000-03-01T12:00:00Z", false],
  ["2019-07-01T12:00:00Z", false],
  // Last January's readings may well come late.
  ["2026-01-03T12:00:00Z", false],
  ["2026-12-02T00:00:00Z", false],
])("%s: %s", (time, reset) => expect(looksReset(Date.parse(time), NOW)).toBe(reset));
