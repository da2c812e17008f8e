import { lineSchema } from "../../src/core/text/line";
import { nameFault, type Bounds } from "../../src/core/ingest/frame";
import { CannotFollow, GrownLog } from "../../src/core/ingest/grownLog";
import { readJsonFrames } from "../../src/core/ingest/jsonFrames";
import { nameTwice, shapeFault } from "../../src/core/ingest/jsonKeys";
import { readLineProtocol } from "../../src/core/ingest/lineProtocol";
import { guessLineFormat, readSerialLine } from "../../src/core/ingest/serialLine";
import { readCell, trimBlanks } from "../../src/core/log/cell";
import type { LogSettings } from "../../src/core/log/logData";
import { readLog } from "../../src/core/log/readLog";
import { sniffLog, tokenise, withoutLongLines } from "../../src/core/log/sniff";
import { guessTimeFormat, parseTimestamp } from "../../src/core/log/timestamp";
import { isZone } from "../../src/core/log/zone";
import { materialsFromCsv } from "../../src/core/materials/csv";
import { entryProblem } from "../../src/core/package/limits";
import { parseNumber, parseQuantity } from "../../src/core/quantity/parseQuantity";
import { parseClimateCsv } from "../../src/core/site/climate";
import { parseCoordinates } from "../../src/core/site/coordinates";
import { parseEpw } from "../../src/core/site/epw";
import { parseHorizon } from "../../src/core/site/horizon";

type Parser = (text: string) => unknown;
const bounds: Bounds = { nowMs: Date.UTC(2026, 9, 6) };
/** As a message is read: what has a fault of shape is not parsed. */
const json = (text: string): unknown => {
  if (shapeFault(text)) return text;
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
};
const SETTINGS: LogSettings = {
  ...{ delimiter: ",", decimal: ".", headerRow: 0, firstDataRow: 1, timeColumns: [0], zone: "UTC" },
  timeFormat: { kind: "calendar", order: "ymd" },
  columns: ["time", "A in", "A out"].map((header, index) => ({
    ...{ index, header, factor: 1, lane: index ? "A" : null, unit: index ? "°C" : null },
    kind: ([null, "inlet", "outlet"] as const)[index],
  })),
};
const HEAD = "time,A in,A out\n";
const row = (i: number) =>
  `2026-10-06 12:${String(Math.floor(i / 60) % 60).padStart(2, "0")}:${String(i % 60).padStart(2, "0")},20,40\n`;
const ROWS = Array.from({ length: 20 }, (_, i) => row(i)).join("");

/** Everything in the core that reads what a stranger may have written, by the name it is exported under. */
export const PARSERS: Record<string, Parser> = {
  GrownLog: (t) => {
    const log = new GrownLog({ zone: "UTC", order: "ymd" });
    try {
      const text = HEAD + ROWS + t;
      // As a file that grows is read: a megabyte at a time.
      for (let from = 0; from < text.length; from += 1 << 20) log.push(text.slice(from, from + (1 << 20)));
      return log.push("", true);
    } catch (error) {
      if (error instanceof CannotFollow) return error.message;
      throw error;
    }
  },
  guessLineFormat: (t) => guessLineFormat(t.split("\n")),
  guessTimeFormat: (t) => guessTimeFormat([t, t, t], t),
  isZone,
  materialsFromCsv,
  nameFault,
  shapeFault,
  nameTwice: (t) => typeof json(t) !== "string" && nameTwice(t),
  // As every name comes in.
  oneLine: (t) => lineSchema().safeParse(t),
  entryProblem,
  parseClimateCsv: (t) => parseClimateCsv(t, "x"),
  parseCoordinates,
  parseEpw: (t) => parseEpw(`LOCATION,${t}`),
  parseHorizon,
  parseNumber,
  parseQuantity: (t) => [parseQuantity(t, "temperature"), parseQuantity(t, "length")],
  parseTimestamp: (t) => [
    parseTimestamp(t, { kind: "calendar", order: "ymd" }, "UTC"),
    parseTimestamp(t, { kind: "elapsed", unit: "s", startMs: 0 }, "UTC"),
  ],
  readCell: (t) => [readCell(t, "."), readCell(t, ",")],
  readJsonFrames: (t) => readJsonFrames(json(t), bounds),
  readLineProtocol: (t) => readLineProtocol(t, "ns", bounds),
  readLog: (t) => readLog(HEAD + ROWS + t, SETTINGS),
  readSerialLine: (t) => [
    readSerialLine(t, { kind: "pairs", mark: ",", names: [] }),
    readSerialLine(t, { kind: "json", mark: ",", names: [] }),
    readSerialLine(t, { kind: "values", mark: " ", names: ["a"] }),
  ],
  // As the header above readings, and as the readings themselves.
  sniffLog: (t) => [
    sniffLog(`${t}\n${ROWS}`, { whole: true }),
    sniffLog(`time,${t},A out\n${ROWS}`, { whole: true }),
    sniffLog(`${HEAD}${ROWS}${t}`, { whole: true }),
  ],
  tokenise: (t) => [tokenise(t, ","), tokenise(t, ";")],
  trimBlanks,
  withoutLongLines: (t) => withoutLongLines(t, () => undefined),
};

/** What takes a text and reads nothing of a stranger's in it: names that the program itself gives. */
export const NO_PARSERS: Record<string, string> = {
  directionOf: "one field, refused beyond 24 letters",
  headerUnit: "a header's first 200 letters",
  decoded: "a header's first 200 letters",
  suffixUnit: "a header's first 200 letters",
  dailyLine: "a lane's letter",
  flowInSun: "a lane's letter",
  newAbsorber: "an id of the drawing",
  differenceInTurn: "a lane's letter",
  libraryMaterial: "a key, looked up",
  dayEntries: "a date that was read",
  standardOffset: "a zone that was checked",
  length: "a field's name",
  count: "a field's name",
  cover: "an id of the drawing",
  gap: "an id of the drawing",
  channel: "an id of the drawing",
  idOrNone: "checked by its schema",
  groupBy: "rows that were read",
  variantDifference: "lanes' letters",
  arrangementWeights: "lanes' letters",
  LogReader: "measured as readLog",
  WholeLines: "measured as readLog",
};

const MARKS = [
  ...Array.from("07 aZé()[]{}<>\"'`,;|\t\n\r\\=:-+−.°/#%*_~^&@!?\u00a0\u202e"),
  ...["1.1", "1,1", "e9", "NaN", "°C", "W/m²", "NE", "T_in (°C)", "2026-10-06", "12:00:00", "T12:00Z", '{"a":1},'],
];
const fill = (piece: string, length: number): string => piece.repeat(Math.ceil(length / piece.length)).slice(0, length);

/** Texts of a length drawn by grammar: each mark repeated, nested and alternated with each other one, lines that differ, and JSON of bad frames. */
export function* hostileTexts(length: number): Generator<[name: string, text: string]> {
  for (const mark of MARKS) yield [`${JSON.stringify(mark)} repeated`, fill(mark, length)];
  for (const [open, close] of ["()", "[]", "{}", '""', "<>"])
    yield [`${open}${close} nested`, fill(open, length / 2) + fill(close, length / 2)];
  for (const [i, a] of MARKS.entries())
    for (const b of MARKS.slice(i + 1)) yield [`${JSON.stringify(a)} and ${JSON.stringify(b)}`, fill(a + b, length)];
  const lines = (of: (i: number) => string) => {
    let text = "";
    for (let i = 0; text.length < length; i++) text += of(i);
    return text.slice(0, length);
  };
  yield ["pairs that differ", lines((i) => `${(i * 0.0007).toFixed(5)} ${i % 7}\n`)];
  yield ["columns that differ", lines((i) => `c${i},`)];
  yield ["rows that differ", lines((i) => `2026-10-06 12:00:00,${i},x${i}\n`)];
  yield ["good rows", lines(row)];
  yield ["rows of another width", lines((i) => `2026-10-06 12:00:00${",1".repeat(i % 9)}\n`)];
  yield ["bad lines", lines((i) => `bench in=${i}x\n`)];
  yield ["long lines", lines(() => `${"x".repeat(70_000)}\n`)];
  yield ["fields that differ", `bench ${lines((i) => `f${i}=1,`)}z=1 1795687200000000000`];
  yield ["wrong frames", JSON.stringify(Array(Math.floor(length / 2)).fill(0))];
  yield ["names that differ", `{${lines((i) => `"n${i}":1,`)}"z":1}`.replace(/"[^"]*$/, '"z":1}')];
  yield ["frames of names", `[{"time":"now","values":{${lines((i) => `"n${i}":1,`).replace(/,"[^,]*$/, "")}}}]`];
}
