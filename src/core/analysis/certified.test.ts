import { robustFit } from "../method/find/robust";
import { weightedFit } from "./prior";

/**
 * Public data sets with certified results: Statistical Reference Datasets of the US National Institute of Standards and Technology, linear
 * regression. Longley's is the hard one: its columns are nearly alike.
 */
interface Certified {
  name: string;
  y: number[];
  x: number[][];
  beta: number[];
  standard: number[];
  residualSd: number;
}

const norris =
  "0.1 0.2;338.8 337.4;118.1 118.2;888.0 884.6;9.2 10.1;228.1 226.5;668.5 666.3;998.5 996.3;449.1 448.6;778.9 777.0;559.2 558.2;0.3 0.4;0.1 0.6;778.1 775.5;668.8 666.9;339.3 338.0;448.9 447.5;10.8 11.6;557.7 556.0;228.3 228.1;998.0 995.8;888.8 887.6;119.6 120.2;0.3 0.3;0.6 0.3;557.6 556.8;339.3 339.1;888.0 887.2;998.5 999.0;778.9 779.0;10.2 11.1;117.6 118.3;228.9 229.2;668.4 669.1;449.2 448.9;0.2 0.5";
const longley = `60323 83.0 234289 2356 1590 107608 1947;61122 88.5 259426 2325 1456 108632 1948;60171 88.2 258054 3682 1616 109773 1949;
61187 89.5 284599 3351 1650 110929 1950;63221 96.2 328975 2099 3099 112075 1951;63639 98.1 346999 1932 3594 113270 1952;
64989 99.0 365385 1870 3547 115094 1953;63761 100.0 363112 3578 3350 116219 1954;66019 101.2 397469 2904 3048 117388 1955;
67857 104.6 419180 2822 2857 118734 1956;68169 108.4 442769 2936 2798 120445 1957;66513 110.8 444546 4681 2637 121950 1958;
68655 112.6 482704 3813 2552 123366 1959;69564 114.2 502601 3931 2514 125368 1960;69331 115.7 518173 4806 2572 127852 1961;
70551 116.9 554894 4007 2827 130081 1962`;

const rows = (text: string) => text.split(";").map((r) => r.trim().split(/\s+/).map(Number));

const SETS: Certified[] = [
  {
    name: "Norris: a straight line",
    y: rows(norris).map(([y]) => y),
    x: rows(norris).map(([, x]) => [1, x]),
    beta: [-0.262323073774029, 1.00211681802045],
    standard: [0.232818234301152, 0.000429796848199937],
    residualSd: 0.884796396144373,
  },
  {
    name: "NoInt1: through the origin",
    y: Array.from({ length: 11 }, (_, i) => 130 + i),
    x: Array.from({ length: 11 }, (_, i) => [60 + i]),
    beta: [2.07438016528926],
    standard: [0.0165289256198347],
    residualSd: 3.56753034006338,
  },
  {
    name: "Longley: six columns nearly alike",
    y: rows(longley).map(([y]) => y),
    x: rows(longley).map(([, ...x]) => [1, ...x]),
    beta: [
      -3482258.63459582, 15.0618722713733, -0.035819179292591, -2.02022980381683, -1.03322686717359,
      -0.0511041056535807, 1829.15146461355,
    ],
    standard: [
      890420.383607373, 84.9149257747669, 0.0334910077722432, 0.488399681651699, 0.214274163161675, 0.22607320006937,
      455.478499142212,
    ],
    residualSd: 304.854073561965,
  },
  {
    name: "Wampler 1: a polynomial of the fifth degree without any scatter",
    y: Array.from({ length: 21 }, (_, x) => [0, 1, 2, 3, 4, 5].reduce((s, k) => s + x ** k, 0)),
    x: Array.from({ length: 21 }, (_, x) => [0, 1, 2, 3, 4, 5].map((k) => x ** k)),
    beta: [1, 1, 1, 1, 1, 1],
    standard: [0, 0, 0, 0, 0, 0],
    residualSd: 0,
  },
];
const digits = (got: number, certified: number) =>
  certified === 0
    ? -Math.log10(Math.max(1e-16, Math.abs(got)))
    : -Math.log10(Math.max(1e-16, Math.abs(got / certified - 1)));

describe.each(SETS)("$name", ({ y, x, beta, standard, residualSd }) => {
  test("the windows' fit agrees with the certified figures", () => {
    const fit = weightedFit(
      x,
      y,
      y.map(() => 1),
      null,
    )!;
    fit.full.forEach((b, k) => expect(digits(b, beta[k])).toBeGreaterThan(6));
    const sd = Math.sqrt(fit.reducedChiSquare);
    if (residualSd) expect(digits(sd, residualSd)).toBeGreaterThan(7);
    else expect(sd).toBeLessThan(1e-2);
    // Independent scatter: H·Hᵀ·s² is the coefficients' covariance.
    standard.forEach((s, k) => {
      const own = sd * Math.hypot(...Array.from({ length: y.length }, (_, j) => fit.hat.get(k, j)));
      if (s) expect(digits(own, s)).toBeGreaterThan(6);
    });
    // The hat takes what is in the columns back to itself, and its trace counts the coefficients.
    expect(fit.fitted).toBeCloseTo(x[0].length, 6);
  });

  test("so does the fit of all daylight, or it says that the columns cannot be told apart", () => {
    const fit = robustFit({ x, y, block: y.map((_, i) => i) }, 0);
    if (fit === null) return expect(x[0].length).toBeGreaterThan(5);
    fit.beta.forEach((b, k) => expect(digits(b, beta[k])).toBeGreaterThan(6));
    if (residualSd) expect(digits(fit.residualSd, residualSd)).toBeGreaterThan(7);
  });
});
