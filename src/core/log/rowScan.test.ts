import { seededRandom } from "../random/seededRandom";
import { readCell } from "./cell";
import type { LogSettings } from "./logData";
import { readLog } from "./readLog";
import { RowScan } from "./rowScan";
import { tokenise } from "./sniff";

const CELLS = [
  "21.37",
  " 21.4",
  "-3",
  "+0.5 ",
  "",
  "  ",
  "NaN",
  "--",
  "1e3",
  "123456789012345678",
  '"7.25"',
  '"a, b"',
  '"say ""hi"""',
  'six" pipe',
  "−4.5",
  "1,5",
  "text",
];
const settings = (width: number): LogSettings => ({
  delimiter: ",",
  decimal: ".",
  headerRow: 0,
  firstDataRow: 1,
  timeColumns: [0],
  timeFormat: { kind: "calendar", order: "ymd" },
  zone: "UTC",
  columns: Array.from({ length: width }, (_, index) => ({
    index,
    header: index === 0 ? "time" : `c${index}`,
    kind: null,
    lane: null,
    unit: null,
  })),
});

test("rows read where they stand say what their cells say, whatever quotes, blanks and words stand between them", () => {
  const random = seededRandom(5);
  for (let round = 0; round < 200; round++) {
    const width = 2 + Math.floor(random.uniform() * 4);
    const lines = Array.from({ length: 30 }, (_, i) => {
      const time = `2026-09-${String(1 + (i >> 3)).padStart(2, "0")} 10:00:${String(i).padStart(2, "0")}`;
      const extra = random.uniform() < 0.1 ? [""] : random.uniform() < 0.05 ? ["1", "2"] : [];
      const cells = Array.from({ length: width - 1 }, () => CELLS[Math.floor(random.uniform() * CELLS.length)]);
      return [random.uniform() < 0.2 ? `"${time}"` : time, ...cells, ...extra].join(",");
    });
    const text = ["time," + Array.from({ length: width - 1 }, (_, i) => `c${i + 1}`).join(","), ...lines].join("\n");
    const plainly = tokenise(text, ",")
      .slice(1)
      .map((cells) => (cells.length === width + 1 && cells[width].trim() === "" ? cells.slice(0, width) : cells))
      .filter((cells) => cells.length === width && /^2026-09-\d\d 10:00:\d\d$/.test(cells[0]));
    const log = readLog(text, settings(width));
    expect(log.times.length).toBe(plainly.length);
    log.channels.forEach((channel, c) =>
      expect([...channel.values]).toEqual(
        plainly.map((cells) => {
          const read = readCell(cells[c + 1], ".");
          return read.kind === "number" ? read.value : NaN;
        }),
      ),
    );
  }
});

test("a row whose quotes are not plain, or that has too many cells, is left to the full way", () => {
  const scan = new RowScan(",", ".", 3);
  const of = (line: string) => scan.scan(line, 0, line.length);
  expect(of('1,"2",3')).toBe(true);
  expect([...scan.values]).toEqual([1, 2, 3]);
  expect(of('1,"2" x,3')).toBe(false);
  expect(of('1,"2')).toBe(false);
  expect(of("1,2,3,4")).toBe(false);
});

test("a cell kept is no piece of the text it was cut from", () => {
  const scan = new RowScan(",", ".", 3);
  const line = "a sensor that is not there,2";
  scan.scan(line, 0, line.length);
  expect(scan.text(0)).toBe("a sensor that is not there");
  expect(scan.cells()).toEqual(["a sensor that is not there", "2"]);
});

test("empty lines with delimiters count as lines, so that a row is named by the number an editor shows", () => {
  const log = readLog(
    "time,c1\n2026-09-01 10:00:00,1\n,\n2026-09-01 10:00:10,oops\n2026-09-01 10:00:20,1,2",
    settings(2),
  );
  expect(log.problems).toEqual([{ kind: "fieldCount", row: 5, found: 3, expected: 2 }]);
});
