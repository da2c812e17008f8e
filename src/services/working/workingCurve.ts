import type { Curve } from "../../core/analysis/curve";
import { efficiencyFactorOf, flowFactor, removalFactor, stagnationOf } from "../../core/analysis/textbook";
import { exact } from "../../core/uncertainty/uncertain";
import { factorsWords, fitNote, ORIGINS, STAGNATION_NOTE, WORKING_TITLES } from "../../words/working";
import type { Analysis } from "../analysis/analyse";
import { compose, curveInputs, set, type Working } from "./workingParts";

const QUANTITIES = { eta0: "fraction", a1: "lossCoefficient", a2: "number" } as const;

export function coefficientWorking(
  analysis: Analysis,
  lane: string,
  name: "eta0" | "a1" | "a2" | "stagnation",
): Working | null {
  const curve = analysis.reduction.curves.get(lane);
  if (!curve) return null;
  if (name === "stagnation") return stagnationWorking(analysis, curve);
  const value = curve[name];
  if (!value) return null;
  const stations = new Set(analysis.reduction.compared.filter((p) => p.lane === lane).map((p) => p.station)).size;
  return compose(analysis, value, QUANTITIES[name], {
    title: WORKING_TITLES[name],
    lanes: [lane],
    formula: [
      `η = η_0·K − a_1·x${curve.a2 ? " − a_2·G·x²" : ""}${curve.a5 ? " − a_5·Ṫ_{out} / G" : ""}`,
      "x = (T_m − T_a) / G",
    ],
    inputs: [
      { symbol: "n", figure: set(curve.points, "number"), from: ORIGINS.windowsOn(curve.days) },
      { symbol: "x", figure: set(curve.xRange[0], "reducedTemperature"), from: ORIGINS.smallest },
      { symbol: "x", figure: set(curve.xRange[1], "reducedTemperature"), from: ORIGINS.largest },
      { symbol: "s", figure: set(curve.residualSd, "fraction"), from: ORIGINS.scatter },
      { symbol: "χ²", figure: set(curve.reducedChiSquare, "number"), from: ORIGINS.chiSquare },
    ],
    note: [fitNote(stations, curve.a2 !== null), name === "eta0" ? factorsNote(analysis, curve) : null]
      .filter(Boolean)
      .join(" "),
  });
}

function stagnationWorking(analysis: Analysis, curve: Curve): Working | null {
  const value = stagnationOf(curve);
  return (
    value &&
    compose(analysis, value, "temperature", {
      title: WORKING_TITLES.stagnation,
      lanes: [curve.lane],
      formula: ["T = T_a + G·x,  x = 2·η_0 / (a_1 + √(a_1² + 4·a_2·G·η_0))", "G = 1000 W/m²,  T_a = 30 °C"],
      inputs: curveInputs(curve),
      note: STAGNATION_NOTE,
    })
  );
}

/** The textbook's factors behind a curve on the mean fluid temperature; null on another basis or without a drawing's optics. */
function factorsNote({ experiment, reduction }: Analysis, curve: Curve): string | null {
  const lane = reduction.lanes.find((l) => l.lane === curve.lane);
  const own = reduction.compared.filter((p) => p.lane === curve.lane);
  if (experiment.settings.basis !== "mean" || !lane?.opticalLimit || own.length === 0) return null;
  const efficiencyFactor = efficiencyFactorOf(curve, exact(lane.opticalLimit)).value;
  const capacity = own.reduce((s, p) => s + (p.massFlow.value * p.specificHeat.value) / p.area.value, 0) / own.length;
  const units = curve.a1.value / capacity;
  return factorsWords(lane.opticalLimit, efficiencyFactor, flowFactor(units), removalFactor(efficiencyFactor, units));
}
