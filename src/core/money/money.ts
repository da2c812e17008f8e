import { seededRandom } from "../random/seededRandom";

/** All money in one currency. */
export interface Investment {
  /** Paid now. */
  first: number;
  /** Parts that wear out: paid again each so many years. */
  renewals: readonly { cost: number; everyYears: number }[];
  /** Heat a year that replaces bought heat, kWh, and its standard uncertainty. */
  usefulKwh: number;
  usefulSd: number;
  /** Electricity of fan and pump a year, kWh. */
  fanKwh: number;
  /** Of a kilowatt-hour in the fuel, and of one of electricity. */
  fuelPrice: number;
  electricityPrice: number;
  /** Heat out of a kilowatt-hour of the fuel: 0.85 of a boiler, 3 of a heat pump. */
  fuelEfficiency: number;
  /** A year. */
  upkeep: number;
  lifeYears: number;
  /** Share a year. */
  interest: number;
  /** Rise of the prices of fuel and electricity, share a year; renewals and upkeep stay at today's. */
  priceRise: number;
}

export interface Worth {
  /** Saved in the first year, fan and upkeep taken off. */
  saving: number;
  /** Years, renewals counted; null where it does not pay within its life. */
  payback: number | null;
  /** The same with interest, within the life; null where it does not. */
  discountedPayback: number | null;
  netPresentValue: number;
  /** All that is paid over all that is useful, both at today's worth; null without useful heat. */
  costPerKwh: number | null;
}

/** Sum of so many yearly payments of 1 that grow by `rise`, the first a year from now, at today's worth (DB 11.5.1). */
export function presentWorth(years: number, interest: number, rise = 0): number {
  if (Math.abs(interest - rise) < 1e-12) return years / (1 + interest);
  return (1 - ((1 + rise) / (1 + interest)) ** years) / (interest - rise);
}

/** Renewals at today's worth: at each multiple of their life that lies before the end. */
function renewed({ renewals, lifeYears, interest }: Investment): number {
  let sum = 0;
  for (const { cost, everyYears } of renewals)
    for (let year = everyYears; year < lifeYears - 1e-9; year += everyYears) sum += cost / (1 + interest) ** year;
  return sum;
}

/**
 * What an investment is worth. @throws RangeError for negative prices, a life or an efficiency of nothing
 */
export function worthOf(i: Investment): Worth {
  if (!(i.lifeYears > 0)) throw new RangeError("a life of at least a year");
  if (!(i.fuelEfficiency > 0)) throw new RangeError("an efficiency above nothing");
  if ([i.first, i.fuelPrice, i.electricityPrice, i.upkeep].some((v) => v < 0))
    throw new RangeError("prices are not negative");
  const fuel = (i.usefulKwh / i.fuelEfficiency) * i.fuelPrice;
  const running = i.fanKwh * i.electricityPrice + i.upkeep;
  const saving = fuel - running;
  const rising = presentWorth(i.lifeYears, i.interest, i.priceRise);
  const flat = presentWorth(i.lifeYears, i.interest);
  const electric = i.fanKwh * i.electricityPrice;
  const more = renewed(i);
  const paid = i.first + more + electric * rising + i.upkeep * flat;
  return {
    saving,
    payback: paybackOf(i, fuel - electric, 0),
    discountedPayback: paybackOf(i, fuel - electric, i.interest),
    netPresentValue: fuel * rising - paid,
    costPerKwh: i.usefulKwh > 0 ? paid / (i.usefulKwh * flat) : null,
  };
}

/**
 * Years after which what came in stays above what was paid until the end of the life, renewals where they fall due; null where it does
 * not. Savings come evenly over each year.
 * @param interest 0 for the plain payback
 */
function paybackOf(i: Investment, savedFirst: number, interest: number): number | null {
  const due = i.renewals
    .flatMap(({ cost, everyYears }) => {
      const times: { at: number; cost: number }[] = [];
      for (let at = everyYears; at < i.lifeYears - 1e-9; at += everyYears) times.push({ at, cost });
      return times;
    })
    .sort((x, y) => x.at - y.at);
  let [balance, since] = [-i.first, null as number | null];
  if (balance >= 0) since = 0;
  for (let year = 0; year < i.lifeYears; year++) {
    const end = Math.min(year + 1, i.lifeYears);
    // As the yearly payments of `presentWorth`: what a year saves is worth its end.
    const comes =
      (savedFirst * (interest > 0 ? (1 + i.priceRise) ** year : 1) - i.upkeep) / (1 + interest) ** (year + 1);
    const stops = [...due.filter((d) => d.at > year - 1e-9 && d.at < end - 1e-9), { at: end, cost: 0 }];
    let from = year;
    for (const { at, cost } of stops) {
      const next = balance + comes * (at - from);
      if (balance < 0 && next >= 0 && comes > 0) since = from + -balance / comes;
      balance = next - cost / (1 + interest) ** at;
      if (balance < 0) since = null;
      from = at;
    }
  }
  return balance >= -1e-9 ? since : null;
}

/** Half-widths at 95 % as shares of what money cannot know. */
export interface MoneyDoubt {
  price: number;
  cost: number;
  life: number;
  /** Of useful heat beside the curve's own: weather and the use. */
  use: number;
}

export interface MoneyBand {
  /** 2.5, 50 and 97.5 % of what was drawn. */
  payback: [number | null, number | null, number | null];
  netPresentValue: [number, number, number];
  costPerKwh: [number, number, number] | null;
  /** Chance that it pays itself back within its life, interest counted. */
  pays: number;
  draws: number;
}

/** Draws useful heat, price, cost and life within their doubt, with a fixed seed. */
export function moneyBand(i: Investment, doubt: MoneyDoubt, draws = 4000, seed = 1): MoneyBand {
  const random = seededRandom(seed);
  const spread = (half: number) => Math.max(0.05, 1 + (half / 1.96) * random.normal());
  const all: Worth[] = [];
  for (let k = 0; k < draws; k++) {
    const use = Math.max(0, (i.usefulKwh + i.usefulSd * random.normal()) * spread(doubt.use));
    const price = spread(doubt.price);
    const cost = spread(doubt.cost);
    all.push(
      worthOf({
        ...i,
        usefulKwh: use,
        fuelPrice: i.fuelPrice * price,
        first: i.first * cost,
        renewals: i.renewals.map((r) => ({ ...r, cost: r.cost * cost })),
        lifeYears: Math.max(1, Math.round(i.lifeYears * spread(doubt.life))),
      }),
    );
  }
  const at = (values: number[]): [number, number, number] => {
    const sorted = values.sort((a, b) => a - b);
    const q = (f: number) => sorted[Math.min(sorted.length - 1, Math.floor(f * sorted.length))];
    return [q(0.025), q(0.5), q(0.975)];
  };
  const finite = (v: number) => (Number.isFinite(v) ? v : null);
  const cost = all.map((w) => w.costPerKwh ?? Infinity);
  return {
    payback: at(all.map((w) => w.payback ?? Infinity)).map(finite) as MoneyBand["payback"],
    netPresentValue: at(all.map((w) => w.netPresentValue)),
    costPerKwh: cost.every((c) => c === Infinity) ? null : at(cost),
    pays: all.filter((w) => w.netPresentValue > 0).length / draws,
    draws,
  };
}

/** Usual heaters: energy of the fuel as it is bought, and heat out of it. Typical values; the user's own count. */
export const FUELS = [
  { key: "wood", name: "wood stove", efficiency: 0.7 },
  { key: "pellets", name: "pellet boiler", efficiency: 0.85 },
  { key: "oil", name: "oil boiler", efficiency: 0.85 },
  { key: "gas", name: "gas boiler", efficiency: 0.92 },
  { key: "resistive", name: "electric heater", efficiency: 1 },
  { key: "heatPump", name: "heat pump", efficiency: 3 },
] as const;
