import fc from "fast-check";
import { inventedEpw, writeEpw } from "../../scripts/testing/inventedEpw";
import { parseNumber } from "./quantity/parseQuantity";
import { climateCsv, parseClimateCsv } from "./site/climate";
import { CLIMATES } from "./site/climates";
import { parseCoordinates } from "./site/coordinates";
import { EPW_FIELDS, parseEpw } from "./site/epw";
import { parseHorizon } from "./site/horizon";

/**
 * A second, strict reader holds against each parser: what is accepted must use every digit of the text once and in order.
 * Zeros at the ends of numbers mean nothing, so zeros are left out of both.
 */
const digits = (text: string): string => text.replace(/[^1-9]/g, "");
const written = (values: readonly (number | null)[]): string =>
  digits(values.map((v) => (v === null ? "" : Math.abs(v).toFixed(9))).join(" "));

/** A good text with something put in, taken out or written over, as slips and spoilt files do. */
const spoilt = (good: fc.Arbitrary<string>) =>
  fc
    .tuple(
      good,
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.constantFrom(..."0123456789.,;:-+ \t\f'xeE°\"\n"),
      fc.constantFrom("put", "over", "out"),
    )
    .map(([text, share, mark, how]) => {
      const at = Math.floor(share * text.length);
      return text.slice(0, at) + (how === "out" ? "" : mark) + text.slice(at + (how === "put" ? 0 : 1));
    });
const runs = { numRuns: process.env.BRAVEL_LONG ? 10_000 : 1500, seed: 11 };
const figure = fc.integer({ min: 1, max: 99_999 }).map((n) => n / 100);

describe("what is accepted equals what a strict reader reads", () => {
  test("numbers", () =>
    fc.assert(
      fc.property(spoilt(figure.map((n) => `${n}`)), (text) => {
        const read = parseNumber(text);
        if (!read.ok || /e/i.test(text)) return;
        expect(digits(text.slice(0, text.trimEnd().length - read.rest.length))).toBe(written([read.value]));
      }),
      runs,
    ));

  test("decimal coordinates", () =>
    fc.assert(
      fc.property(
        spoilt(
          fc
            .tuple(fc.integer({ min: -8900, max: 8900 }), fc.integer({ min: -17900, max: 17900 }))
            .map(([a, b]) => `${a / 100}, ${b / 100}`),
        ),
        (text) => {
          const read = parseCoordinates(text);
          // Minutes and seconds are another way of writing, with its own test.
          if (!read.ok || /[°'":]/.test(text) || text.trim().split(/[\s,;]+/).length !== 2) return;
          expect([digits(text), digits(text.replace(/e[+-]?\d+/gi, ""))]).toContain(
            written([read.latitude, read.longitude]),
          );
        },
      ),
      runs,
    ));

  test("skylines", () =>
    fc.assert(
      fc.property(
        spoilt(
          fc.uniqueArray(fc.integer({ min: 0, max: 359 }), { minLength: 1, maxLength: 6 }).map((at) =>
            [...at]
              .sort((a, b) => a - b)
              .map((a, i) => `${a}\t${(i + 1) / 2}`)
              .join("\n"),
          ),
        ),
        (text) => {
          const read = parseHorizon(text);
          // Sorting, and turning west into 270, change the order and the digits.
          if (!read.ok || /[-e]/i.test(text)) return;
          // Lines of words are passed over: a strict reader passes over the same.
          const lines = text.split(/\r?\n/).filter((l) => /^[\d+.,]/.test(l.trim()));
          const order = (list: string[]) => list.sort().join(" ");
          expect(
            new Set(read.horizon.map((p) => written([p.azimuth === 0 ? 360 : p.azimuth, p.altitude]))).size,
          ).toBeLessThanOrEqual(lines.length);
          const numbers = lines.map((l) => digits(l.replace(/^360\b/, "0")));
          for (const p of read.horizon) expect(order(numbers)).toContain(written([p.azimuth, p.altitude]));
        },
      ),
      runs,
    ));

  test("monthly climates", () =>
    fc.assert(
      fc.property(spoilt(fc.constant(climateCsv({ ...CLIMATES[0], source: "" }))), (text) => {
        const read = parseClimateCsv(text, "x");
        if (!read.ok || /e/i.test(text.split("\n").slice(1).join(""))) return;
        const rows = text
          .split(/\r?\n/)
          .slice(1)
          .filter((l) => l.trim() && !l.trim().startsWith("#"));
        const months = read.climate.months.map(
          (m, i) =>
            written([i + 1]) +
            written([m.globalKwhM2]) +
            written([m.meanC]) +
            written([m.windMs]) +
            written([m.clearShare]),
        );
        // Of a month given twice the later line stands; every month stands as one of the lines says it, digit by digit.
        for (const month of months) expect(rows.map(digits).some((r) => r.startsWith(month) || r === month)).toBe(true);
      }),
      runs,
    ));

  test("hours of a typical-weather file", () => {
    const lines = writeEpw(inventedEpw()).split("\r\n");
    const numeric = EPW_FIELDS.map(([name]) => name).filter((n) => n !== "presentWeatherCodes");
    fc.assert(
      fc.property(spoilt(fc.constant(lines[4000])), (line) => {
        const read = parseEpw([...lines.slice(0, 4000), line, ...lines.slice(4001)].join("\n"));
        if (!read.ok || line.includes("\n")) return;
        const cells = line.split(",");
        numeric.forEach((name) => {
          const value = read.file.series[name as "windSpeed"][3992];
          const cell = cells[6 + EPW_FIELDS.findIndex(([n]) => n === name)] ?? "";
          // Left out for what it is, or read digit by digit.
          if (!Number.isNaN(value) && !/e/i.test(cell)) expect(digits(cell)).toBe(written([value]));
        });
      }),
      { ...runs, numRuns: process.env.BRAVEL_LONG ? 400 : 15 },
    );
  }, 600_000);
});
