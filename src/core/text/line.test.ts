import { nameSchema, questionSchema } from "../experiment/schema/asked";
import { oneLine } from "./line";

test.each([
  ["Mesh\r\nBEGIN:VEVENT", "Mesh BEGIN:VEVENT"],
  ["a\u2028b\u2029c\u0000d", "a b c d"],
  ["\u202eevil\u202c", " evil "],
  ["\u200fleft\u061c", " left "],
  ["مجمّع حراري", "مجمّع حراري"],
  ["Collector “A” – 2 m²", "Collector “A” – 2 m²"],
])("%j as one line", (text, line) => expect(oneLine(text)).toBe(line));

test("names and questions that come from anywhere are one line, and none is empty for it", () => {
  expect(nameSchema.parse(" Roof\nEND:VCALENDAR ")).toBe("Roof END:VCALENDAR");
  expect(questionSchema.parse("which?\u202e")).toBe("which?");
  expect(nameSchema.safeParse("\r\n\u202e").success).toBe(false);
});
