import type { Climate, ClimateMonth } from "./climate";

const SOURCE = "invented for Bravel; may be used for anything";

function climate(name: string, global: readonly number[], mean: readonly number[], wind: readonly number[]): Climate {
  const months: ClimateMonth[] = global.map((globalKwhM2, i) => ({
    globalKwhM2,
    meanC: mean[i],
    windMs: wind[i],
    clearShare: null,
  }));
  return { name, months, source: SOURCE };
}

/** Climates that ship: invented, of the kinds people build in. The first is that of the demo's hill. */
export const CLIMATES: readonly Climate[] = [
  climate(
    "Hill terrace, 46° N, 1,100 m",
    [1.4, 2.2, 3.4, 4.5, 5.3, 5.8, 6.1, 5.2, 3.8, 2.5, 1.5, 1.1],
    [-1.2, 0.1, 3.6, 7.1, 11.4, 15, 17.3, 16.8, 13.1, 8.6, 3.2, -0.3],
    [1.6, 1.7, 1.9, 2, 1.9, 1.7, 1.6, 1.5, 1.5, 1.5, 1.6, 1.6],
  ),
  climate(
    "Cool coast, 53° N",
    [0.6, 1.3, 2.4, 3.8, 4.8, 5.1, 4.8, 4.1, 2.9, 1.7, 0.8, 0.5],
    [4.6, 4.7, 6.2, 8.3, 11.3, 14.1, 16, 16, 14, 11, 7.4, 5.3],
    [5.6, 5.3, 5.1, 4.6, 4.3, 4, 3.9, 3.9, 4.3, 4.9, 5.2, 5.5],
  ),
  climate(
    "River plain, 48° N",
    [0.9, 1.7, 2.9, 4.3, 5.2, 5.7, 5.7, 4.9, 3.5, 2, 1.1, 0.7],
    [0.4, 1.8, 6, 10.4, 14.8, 18.3, 20.1, 19.5, 15.1, 10, 5, 1.4],
    [2.9, 2.9, 3, 2.8, 2.5, 2.4, 2.3, 2.2, 2.3, 2.4, 2.7, 2.8],
  ),
  climate(
    "Dry plateau, 34° N, 1,500 m",
    [3.2, 4.2, 5.5, 6.7, 7.5, 8.1, 7.4, 6.8, 6, 4.8, 3.6, 3],
    [3.4, 6, 9.8, 14.2, 19.3, 24.6, 26.1, 25, 21.4, 15, 8.1, 3.6],
    [2.8, 3.3, 3.8, 4.2, 4, 3.7, 3.1, 2.8, 2.8, 2.9, 2.8, 2.7],
  ),
  climate(
    "High north, 68° N",
    [0, 0.35, 1.35, 3, 4.5, 5.3, 4.8, 3.2, 1.7, 0.6, 0.08, 0],
    [-13.2, -12.4, -8, -2.1, 4.4, 10.5, 13.4, 11.2, 5.9, -0.8, -7.8, -11.5],
    [2.2, 2.3, 2.6, 2.8, 3, 3, 2.8, 2.6, 2.7, 2.7, 2.4, 2.2],
  ),
  climate(
    "Mild south, 38° S",
    [6.5, 5.6, 4.3, 2.9, 1.9, 1.5, 1.7, 2.4, 3.5, 4.7, 5.8, 6.4],
    [19.8, 19.9, 18, 14.9, 12.2, 9.8, 9.2, 10.1, 11.9, 13.9, 16, 18],
    [4.2, 4, 3.8, 3.6, 3.8, 4, 4.2, 4.4, 4.5, 4.5, 4.4, 4.3],
  ),
];
