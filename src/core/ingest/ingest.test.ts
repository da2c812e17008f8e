import fc from "fast-check";
import { readJsonFrames } from "./jsonFrames";
import { readLineProtocol } from "./lineProtocol";
import { MOST_FRAMES, type ReadMessage } from "./frame";

const NOW = Date.UTC(2026, 9, 6, 12);
const bounds = { nowMs: NOW };
const json = (body: unknown) => readJsonFrames(body, bounds);
const line = (text: string, precision: "ns" | "us" | "ms" | "s" = "ms") => readLineProtocol(text, precision, bounds);
const why = (m: ReadMessage) => m.problems.map((p) => p.why).join("; ");

describe("frames as JSON", () => {
  test("an object with frames, a list, and one frame alone say the same", () => {
    const frame = { time: "2026-10-06T12:00:00+02:00", values: { "A in": 21.4, "A out": 40 } };
    for (const body of [{ frames: [frame] }, [frame], frame])
      expect(json(body)).toEqual({
        problemCount: 0,
        frames: [
          {
            line: 1,
            frame: {
              atMs: Date.UTC(2026, 9, 6, 10),
              values: [
                ["A in", 21.4],
                ["A out", 40],
              ],
            },
          },
        ],
        problems: [],
      });
  });

  test("times: milliseconds, seconds where it says so, now where there is no clock", () => {
    expect(json({ time: NOW - 5, values: { a: 1 } }).frames[0].frame.atMs).toBe(NOW - 5);
    expect(json({ precision: "s", frames: [{ time: NOW / 1000, values: { a: 1 } }] }).frames[0].frame.atMs).toBe(NOW);
    expect(json({ time: "now", values: { a: 1 } }).frames[0].frame.atMs).toBeNull();
  });

  test.each([
    [{ time: "2026-10-06T12:00:00", values: { a: 1 } }, /does not say its offset/],
    [{ time: "2026-02-30T12:00:00Z", values: { a: 1 } }, /no time of the calendar/],
    [{ time: Math.round(NOW / 1000), values: { a: 1 } }, /looks like seconds/],
    [{ time: NOW + 3 * 86400000, values: { a: 1 } }, /more than a day from now/],
    [{ time: 0, values: { a: 1 } }, /clock is not set/],
    [{ values: { a: 1 } }, /time is missing/],
    [{ time: NOW, values: { a: "21.4" } }, /not the text “21.4”/],
    [{ time: NOW, values: { a: true } }, /reading is a number/],
    [{ time: NOW, values: [1, 2] }, /values is an object/],
    [{ time: NOW, values: { a: null } }, /no reading in it/],
    [{ time: NOW, values: { " ": 1 } }, /needs a name/],
    [{ time: NOW, values: { "a ": 1, a: 2 } }, /stands in it twice/],
    [{ time: NOW, value: { a: 1 } }, /time and values, nothing else/],
    [{ frames: [], device: 3 }, /“device” is not known/],
    ["21.4", /a message is a frame/],
    [null, /a message is a frame/],
  ])("%j is refused with its reason", (body, reason) => {
    const read = json(body);
    expect(read.frames).toEqual([]);
    expect(why(read)).toMatch(reason);
  });

  test("a bad frame among good ones is named by its place, the good ones are taken", () => {
    const good = (i: number) => ({ time: NOW - i * 1000, values: { a: i } });
    const read = json([good(1), { time: "yesterday", values: { a: 2 } }, good(3)]);
    expect(read.frames.map((f) => f.line)).toEqual([1, 3]);
    expect(read.problems).toMatchObject([{ line: 2, at: "time" }]);
  });

  test("a simulated bench has a clock of its own", () => {
    expect(readJsonFrames({ time: NOW + 9e9, values: { a: 1 } }, { ...bounds, simulated: true }).frames).toHaveLength(
      1,
    );
  });

  test("more frames than a message holds are named, not dropped in silence", () => {
    const read = json(Array.from({ length: MOST_FRAMES + 2 }, (_, i) => ({ time: NOW - i, values: { a: 1 } })));
    expect(read.frames).toHaveLength(MOST_FRAMES);
    expect(read.problems).toHaveLength(2);
  });
});

describe("line protocol", () => {
  test("measurement, tags and field make the channel’s name; integers, truths, remarks, escapes", () => {
    const read = line(`# a remark\nbench,lane=A in=14.2,pulses=42i,on=t ${NOW}\n\nroof\\ east sun=8.1e2 ${NOW}\r\n`);
    expect(read.problems).toEqual([]);
    expect(read.frames.map((f) => f.frame.values)).toEqual([
      [
        ["bench A in", 14.2],
        ["bench A pulses", 42],
        ["bench A on", 1],
      ],
      [["roof east sun", 810]],
    ]);
  });

  test.each([
    ["ns", `${NOW}123456`],
    ["us", `${NOW}123`],
    ["ms", `${NOW}`],
    ["s", `${NOW / 1000}`],
  ] as const)("times in %s", (precision, ticks) => {
    expect(line(`b a=1 ${ticks}`, precision).frames[0].frame.atMs).toBe(NOW);
  });

  test.each([
    [`b a=1 ${NOW / 1000}`, /looks like seconds/],
    [`b a=1`, /time is missing/],
    [`b a=one ${NOW}`, /“one” is no number/],
    [`b a="21" ${NOW}`, /is no number/],
    [`b a=NaN ${NOW}`, /is no number/],
    [`b a=1,a=2 ${NOW}`, /twice/],
    [`b a=1e999 ${NOW}`, /is no number/],
    [`b ${NOW}`, /time is missing/],
    [`b,lane a=1 ${NOW}`, /not tag=value/],
    [`b a=1 b=2 ${NOW}`, /more blanks/],
    [`b a=1 ${NOW}.5`, /no whole number of ticks/],
  ])("%s is refused with its reason", (text, reason) => {
    const read = line(text);
    expect(read.frames).toEqual([]);
    expect(why(read)).toMatch(reason);
  });

  test("nanoseconds taken for milliseconds, and the other way, are never another instant in silence", () => {
    for (const [ticks, precision] of [
      [`${NOW}`, "ns"],
      [`${NOW}000000`, "ms"],
      [`${NOW / 1000}`, "us"],
    ] as const)
      expect(line(`b a=1 ${ticks}`, precision).frames).toEqual([]);
  });
});

/** What may be accepted at all: a known instant and finite numbers under proper names. */
function sound({ frames, problems }: ReadMessage): void {
  for (const { frame, line: at } of frames) {
    expect(at).toBeGreaterThan(0);
    expect(frame.atMs === null || (frame.atMs > Date.UTC(2000, 0, 1) - 1 && frame.atMs <= NOW + 86400000)).toBe(true);
    expect(frame.values.length).toBeGreaterThan(0);
    for (const [name, value] of frame.values) {
      expect(Number.isFinite(value)).toBe(true);
      expect(name.trim()).toBe(name);
      expect(name.length).toBeGreaterThan(0);
    }
  }
  for (const p of problems) {
    expect(p.line).toBeGreaterThan(0);
    expect(p.why.length).toBeGreaterThan(5);
  }
}

describe("ten thousand mutated bodies", () => {
  const runs = { numRuns: 5000 };
  const goodJson = JSON.stringify({
    frames: [
      { time: "2026-10-06T11:59:50Z", values: { "A in (°C)": 21.4, "A out": 44.01, "Sun (W/m2)": 812 } },
      { time: NOW - 1000, values: { "A in (°C)": -3, pulses: 1204 } },
    ],
  });
  const goodLines = `bench,lane=A in=21.4,out=44.01 ${NOW - 2000}\nbench,lane=B in=20.9,pulses=42i,on=t ${NOW - 1000}\n`;
  /** A text with pieces cut out, put in, doubled and exchanged. */
  const mutated = (good: string) =>
    fc
      .array(
        fc.record({
          at: fc.nat(good.length),
          cut: fc.nat(6),
          put: fc.oneof(
            fc.string({ maxLength: 6, unit: "binary" }),
            fc.constantFrom(
              '"',
              "{",
              "}",
              ",",
              "=",
              " ",
              "\\",
              "\n",
              "null",
              "1e400",
              "-",
              "[",
              "]",
              "i",
              "\u0000",
              "9".repeat(25),
            ),
          ),
        }),
        { minLength: 1, maxLength: 4 },
      )
      .map((edits) => edits.reduce((t, { at, cut, put }) => t.slice(0, at) + put + t.slice(at + cut), good));

  test("JSON: no crash, nothing wrong accepted, every refusal has its place", () => {
    let whole = 0;
    fc.assert(
      fc.property(mutated(goodJson), (text) => {
        let body: unknown;
        try {
          body = JSON.parse(text);
        } catch {
          return;
        }
        whole++;
        sound(json(body));
      }),
      runs,
    );
    expect(whole).toBeGreaterThan(50);
  });

  test("line protocol: no crash, nothing wrong accepted, each line is taken or named", () => {
    fc.assert(
      fc.property(mutated(goodLines), (text) => {
        const read = line(text);
        sound(read);
        const lines = text.split("\n").filter((l) => l.replace(/\r$/, "").trim() !== "" && !l.startsWith("#")).length;
        expect(read.frames.length + read.problemCount).toBe(lines);
      }),
      runs,
    );
  });
});
