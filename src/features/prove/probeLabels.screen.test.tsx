import { matchedProbes, rememberedProbes, rememberProbes } from "./probeLabels";

beforeEach(() => localStorage.clear());

test("labels match by name, however they are written", () => {
  expect(matchedProbes(["1-in", "1-out", "ambient"], ["1 In", "1-out", "other"])).toEqual({
    "1-in": "1 In",
    "1-out": "1-out",
  });
});
test("what was said once is offered again, but never a label that is not in this bath", () => {
  rememberProbes({ "1-in": "A blue", "1-out": "A red", "2-in": "" });
  expect(rememberedProbes(["1-in", "1-out", "2-in"], ["A blue", "B blue"])).toEqual({ "1-in": "A blue" });
  localStorage.setItem("bravel-probe-labels", "[3");
  expect(rememberedProbes(["1-in"], ["A blue"])).toEqual({});
});
