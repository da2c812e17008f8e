import { figureRefSchema } from "@/services/page/views";
import { routeId } from "@/services/web/routeId";
import { idOrNone, instantSchema } from "./bounds";
import { LAYER_DETAILS } from "./layer";

test.each([
  [7, 7],
  ["7", 0],
  [-1, 0],
  [1.5, 0],
  [NaN, 0],
  [null, 0],
  [{ id: 1 }, 0],
  [2 ** 40, 0],
])("%j as a row's number is %i: another type is not there", (value, id) => expect(idOrNone(value)).toBe(id));

test.each([
  ["7", 7],
  ["0", null],
  ["-1", null],
  ["1e3", null],
  ["7;", null],
  ["99999999999", null],
  ["", null],
])("%j in an address is %j", (text, id) => expect(routeId(text)).toBe(id));

test.each([Infinity, NaN, 1e300, -1e15, 8e15])("%d is no instant a measurement can have", (ms) => {
  expect(instantSchema.safeParse(ms).success).toBe(false);
  expect(LAYER_DETAILS.exclusion.safeParse({ lane: null, fromMs: 0, toMs: ms }).success).toBe(false);
});

test.each([null, "verdict", { figure: "everything" }, { figure: "laneHeat", lane: 7 }, { figure: "point", lane: "A" }])(
  "%j names no figure",
  (ref) => expect(figureRefSchema.safeParse(ref).success).toBe(false),
);
