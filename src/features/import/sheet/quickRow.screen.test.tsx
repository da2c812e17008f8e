import { keepQuickRow, takeQuickRow } from "@/ui/quickRow";
import { newSheet, withQuickRow } from "./useSheet";

const QUICK = { inlet: "18 °C", outlet: "40 °C", flow: "3.5 m/s", sun: "" };
const sheet = () => newSheet([], [], {}, "new");

test("a quick reading is taken once", () => {
  keepQuickRow(QUICK);
  expect(takeQuickRow()).toEqual(QUICK);
  expect(takeQuickRow()).toBeNull();
});
test("what else lies there is no reading", () => {
  localStorage.setItem("bravel-quick-row", '{"inlet":3}');
  expect(takeQuickRow()).toBeNull();
  localStorage.setItem("bravel-quick-row", "{");
  expect(takeQuickRow()).toBeNull();
});
test("it becomes the next row of now; blank rows make room, filled ones stay; the flow says its kind", () => {
  const one = withQuickRow(sheet(), QUICK, "13:05");
  expect(one.rows).toEqual([{ id: 2, time: "13:05", lane: "A", outside: "", ...QUICK }]);
  expect(one.flow).toBe("speed");
  expect(one.more).toBe(false);
  const two = withQuickRow(one, { ...QUICK, flow: "0.04 m³/s", sun: "900 W/m²" }, "13:10");
  expect(two.rows).toHaveLength(2);
  expect(two.more).toBe(true);
  expect(two.flow).toBe("speed");
  expect(withQuickRow(sheet(), { ...QUICK, flow: "0.04 m³/s" }, "").flow).toBe("volume");
});
