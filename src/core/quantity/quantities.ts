/**
 * The registry of quantities: one SI unit each, and the units people read and type.
 *
 * A display unit is an affine map of the SI value: `si = value × factor + offset`.
 * Only absolute temperature has offsets; a temperature difference is another
 * quantity, so 10 °F of difference can never become −12 °C.
 *
 * Exact definitions: 1 ft = 0.3048 m, 1 lb = 0.45359237 kg, 1 BTU(IT) = 1055.05585262 J,
 * 1 gal(US) = 3.785411784 L, 1 in H₂O = 249.08891 Pa (conventional, NIST SP 811 B.8).
 */
export interface Unit {
  /** As printed, e.g. `W/m²`. */
  readonly symbol: string;
  readonly factor: number;
  readonly offset?: number;
  /** Other spellings accepted when typed or found in a file header. */
  readonly aliases?: readonly string[];
}

interface QuantityDefinition {
  readonly name: string;
  readonly si: string;
  /** First metric unit is the default display; `us` is the default in US units. */
  readonly units: readonly Unit[];
  readonly metric: string;
  readonly us: string;
}

const FOOT = 0.3048;
const BTU = 1055.05585262;
const POUND = 0.45359237;
const GALLON = 3.785411784e-3;
const FAHRENHEIT = 5 / 9;

const define = <T extends Record<string, QuantityDefinition>>(table: T) => table;

export const QUANTITIES = define({
  temperature: {
    name: "temperature",
    si: "°C",
    metric: "°C",
    us: "°F",
    units: [
      { symbol: "°C", factor: 1, aliases: ["c", "degc", "deg c", "celsius", "º c", "ºc", "° c", "grad c"] },
      {
        symbol: "°F",
        factor: FAHRENHEIT,
        offset: -32 * FAHRENHEIT,
        aliases: ["f", "degf", "deg f", "fahrenheit", "ºf", "° f"],
      },
      { symbol: "K", factor: 1, offset: -273.15, aliases: ["kelvin"] },
    ],
  },
  temperatureDifference: {
    name: "temperature difference",
    si: "K",
    metric: "K",
    us: "°F",
    units: [
      { symbol: "K", factor: 1, aliases: ["kelvin", "°c", "c", "degc", "deg c", "celsius"] },
      { symbol: "°F", factor: FAHRENHEIT, aliases: ["f", "degf", "deg f", "fahrenheit"] },
    ],
  },
  irradiance: {
    name: "irradiance",
    si: "W/m²",
    metric: "W/m²",
    us: "W/m²",
    units: [
      { symbol: "W/m²", factor: 1, aliases: ["w/m2", "w/m^2", "wm-2", "w m-2", "w/sqm", "wm2"] },
      { symbol: "kW/m²", factor: 1000, aliases: ["kw/m2", "kw/m^2"] },
      {
        symbol: "BTU/(h·ft²)",
        factor: BTU / 3600 / FOOT ** 2,
        aliases: ["btu/h/ft2", "btu/hr/ft2", "btu/(h ft2)", "btu/h ft2", "btu/(hr ft2)", "btu/hr-ft2"],
      },
    ],
  },
  speed: {
    name: "speed",
    si: "m/s",
    metric: "m/s",
    us: "ft/min",
    units: [
      { symbol: "m/s", factor: 1, aliases: ["mps", "m s-1", "m/sec"] },
      { symbol: "ft/min", factor: FOOT / 60, aliases: ["fpm", "ft/m", "feet/min", "ft per min"] },
      { symbol: "km/h", factor: 1 / 3.6, aliases: ["kmh", "kph", "km/hr"] },
      { symbol: "mph", factor: 0.44704, aliases: ["mi/h"] },
      { symbol: "kn", factor: 1852 / 3600, aliases: ["kt", "knot", "knots"] },
      { symbol: "m/min", factor: 1 / 60 },
    ],
  },
  volumeFlow: {
    name: "volume flow",
    si: "m³/s",
    metric: "m³/h",
    us: "ft³/min",
    units: [
      { symbol: "m³/s", factor: 1, aliases: ["m3/s", "m^3/s"] },
      { symbol: "m³/h", factor: 1 / 3600, aliases: ["m3/h", "m^3/h", "m3/hr", "cmh", "cbm/h"] },
      { symbol: "L/s", factor: 1e-3, aliases: ["l/s", "lps"] },
      { symbol: "L/min", factor: 1e-3 / 60, aliases: ["l/min", "lpm", "l/m"] },
      { symbol: "L/h", factor: 1e-3 / 3600, aliases: ["l/h", "lph", "l/hr"] },
      { symbol: "ft³/min", factor: FOOT ** 3 / 60, aliases: ["cfm", "ft3/min", "ft^3/min"] },
      { symbol: "gal/min", factor: GALLON / 60, aliases: ["gpm", "usgpm"] },
    ],
  },
  massFlow: {
    name: "mass flow",
    si: "kg/s",
    metric: "kg/s",
    us: "lb/min",
    units: [
      { symbol: "kg/s", factor: 1 },
      { symbol: "g/s", factor: 1e-3 },
      { symbol: "kg/h", factor: 1 / 3600, aliases: ["kg/hr"] },
      { symbol: "kg/min", factor: 1 / 60 },
      { symbol: "lb/min", factor: POUND / 60 },
      { symbol: "lb/h", factor: POUND / 3600, aliases: ["lb/hr"] },
    ],
  },
  massFlowPerArea: {
    name: "flow per area",
    si: "kg/(s·m²)",
    metric: "kg/(s·m²)",
    us: "lb/(min·ft²)",
    units: [
      { symbol: "kg/(s·m²)", factor: 1, aliases: ["kg/s/m2", "kg/(s m2)", "kg/s m2"] },
      { symbol: "kg/(h·m²)", factor: 1 / 3600, aliases: ["kg/h/m2"] },
      { symbol: "lb/(min·ft²)", factor: POUND / 60 / FOOT ** 2, aliases: ["lb/min/ft2"] },
    ],
  },
  power: {
    name: "power",
    si: "W",
    metric: "W",
    us: "BTU/h",
    units: [
      { symbol: "W", factor: 1, aliases: ["watt", "watts"] },
      { symbol: "kW", factor: 1000 },
      { symbol: "BTU/h", factor: BTU / 3600, aliases: ["btu/hr", "btuh", "btu/h"] },
    ],
  },
  heatFlux: {
    name: "heat per area",
    si: "W/m²",
    metric: "W/m²",
    us: "BTU/(h·ft²)",
    units: [
      { symbol: "W/m²", factor: 1, aliases: ["w/m2", "w/m^2"] },
      { symbol: "BTU/(h·ft²)", factor: BTU / 3600 / FOOT ** 2, aliases: ["btu/h/ft2", "btu/hr/ft2"] },
    ],
  },
  energy: {
    name: "energy",
    si: "J",
    metric: "kWh",
    us: "BTU",
    units: [
      { symbol: "J", factor: 1 },
      { symbol: "MJ", factor: 1e6 },
      { symbol: "Wh", factor: 3600 },
      { symbol: "kWh", factor: 3.6e6 },
      { symbol: "BTU", factor: BTU },
    ],
  },
  lossCoefficient: {
    name: "loss coefficient",
    si: "W/(m²·K)",
    metric: "W/(m²·K)",
    us: "BTU/(h·ft²·°F)",
    units: [
      { symbol: "W/(m²·K)", factor: 1, aliases: ["w/m2k", "w/m2/k", "w/(m2 k)", "w/m2 k"] },
      { symbol: "BTU/(h·ft²·°F)", factor: BTU / 3600 / FOOT ** 2 / FAHRENHEIT, aliases: ["btu/h/ft2/f"] },
    ],
  },
  reducedTemperature: {
    name: "reduced temperature difference",
    si: "K·m²/W",
    metric: "K·m²/W",
    us: "°F·h·ft²/BTU",
    units: [
      { symbol: "K·m²/W", factor: 1, aliases: ["k m2/w"] },
      { symbol: "°F·h·ft²/BTU", factor: (FAHRENHEIT * 3600 * FOOT ** 2) / BTU, aliases: ["f h ft2/btu"] },
    ],
  },
  pressure: {
    name: "pressure",
    si: "Pa",
    metric: "hPa",
    us: "inHg",
    units: [
      { symbol: "Pa", factor: 1 },
      { symbol: "hPa", factor: 100, aliases: ["mbar", "mb"] },
      { symbol: "kPa", factor: 1000 },
      { symbol: "bar", factor: 1e5 },
      { symbol: "inH₂O", factor: 249.08891, aliases: ["in h2o", "inh2o", "in wg", "inwc"] },
      { symbol: "inHg", factor: 3386.389, aliases: ["in hg"] },
      { symbol: "psi", factor: 6894.757 },
    ],
  },
  length: {
    name: "length",
    si: "m",
    metric: "m",
    us: "ft",
    units: [
      { symbol: "m", factor: 1, aliases: ["meter", "metre"] },
      { symbol: "mm", factor: 1e-3 },
      { symbol: "cm", factor: 1e-2 },
      { symbol: "km", factor: 1e3 },
      { symbol: "ft", factor: FOOT, aliases: ["feet", "foot", "'"] },
      { symbol: "in", factor: FOOT / 12, aliases: ["inch", "inches", '"', "″"] },
    ],
  },
  smallLength: {
    name: "length",
    si: "m",
    metric: "mm",
    us: "in",
    units: [
      { symbol: "mm", factor: 1e-3 },
      { symbol: "cm", factor: 1e-2 },
      { symbol: "m", factor: 1 },
      { symbol: "in", factor: FOOT / 12, aliases: ["inch", "inches", '"', "″"] },
      { symbol: "ft", factor: FOOT, aliases: ["feet", "foot", "'"] },
    ],
  },
  area: {
    name: "area",
    si: "m²",
    metric: "m²",
    us: "ft²",
    units: [
      { symbol: "m²", factor: 1, aliases: ["m2", "m^2", "sqm", "sq m"] },
      { symbol: "cm²", factor: 1e-4, aliases: ["cm2", "cm^2"] },
      { symbol: "ft²", factor: FOOT ** 2, aliases: ["ft2", "ft^2", "sqft", "sq ft"] },
      { symbol: "in²", factor: (FOOT / 12) ** 2, aliases: ["in2", "in^2", "sq in"] },
    ],
  },
  fraction: {
    name: "fraction",
    si: "1",
    metric: "%",
    us: "%",
    units: [
      { symbol: "%", factor: 0.01, aliases: ["percent", "pct", "% rh", "%rh", "rh"] },
      { symbol: "1", factor: 1, aliases: ["fraction"] },
    ],
  },
  angle: {
    name: "angle",
    si: "°",
    metric: "°",
    us: "°",
    units: [{ symbol: "°", factor: 1, aliases: ["deg", "degree", "degrees"] }],
  },
  density: {
    name: "density",
    si: "kg/m³",
    metric: "kg/m³",
    us: "lb/ft³",
    units: [
      { symbol: "kg/m³", factor: 1, aliases: ["kg/m3"] },
      { symbol: "lb/ft³", factor: POUND / FOOT ** 3, aliases: ["lb/ft3"] },
    ],
  },
  specificHeat: {
    name: "specific heat",
    si: "J/(kg·K)",
    metric: "J/(kg·K)",
    us: "BTU/(lb·°F)",
    units: [
      { symbol: "J/(kg·K)", factor: 1, aliases: ["j/kg/k", "j/(kg k)"] },
      { symbol: "kJ/(kg·K)", factor: 1000, aliases: ["kj/kg/k", "kj/(kg k)"] },
      { symbol: "BTU/(lb·°F)", factor: BTU / POUND / FAHRENHEIT, aliases: ["btu/lb/f"] },
    ],
  },
  duration: {
    name: "time",
    si: "s",
    metric: "min",
    us: "min",
    units: [
      { symbol: "s", factor: 1, aliases: ["sec", "second", "seconds"] },
      { symbol: "min", factor: 60, aliases: ["minute", "minutes"] },
      { symbol: "h", factor: 3600, aliases: ["hr", "hour", "hours"] },
    ],
  },
  voltage: {
    name: "voltage",
    si: "V",
    metric: "V",
    us: "V",
    units: [
      { symbol: "V", factor: 1, aliases: ["volt", "volts"] },
      { symbol: "mV", factor: 1e-3 },
    ],
  },
  current: {
    name: "current",
    si: "A",
    metric: "A",
    us: "A",
    units: [
      { symbol: "A", factor: 1, aliases: ["amp", "amps"] },
      { symbol: "mA", factor: 1e-3 },
    ],
  },
  volume: {
    name: "volume",
    si: "m³",
    metric: "L",
    us: "gal",
    units: [
      { symbol: "m³", factor: 1, aliases: ["m3", "m^3", "cbm"] },
      { symbol: "L", factor: 1e-3, aliases: ["l", "litre", "litres", "liter", "liters"] },
      { symbol: "gal", factor: GALLON, aliases: ["usgal", "gallon", "gallons"] },
      { symbol: "ft³", factor: FOOT ** 3, aliases: ["ft3", "ft^3", "cf"] },
    ],
  },
  mass: {
    name: "mass",
    si: "kg",
    metric: "kg",
    us: "lb",
    units: [
      { symbol: "kg", factor: 1 },
      { symbol: "g", factor: 1e-3 },
      { symbol: "lb", factor: POUND, aliases: ["lbs"] },
    ],
  },
  energyPerArea: {
    name: "energy per area",
    si: "J/m²",
    metric: "kWh/m²",
    us: "BTU/ft²",
    units: [
      { symbol: "J/m²", factor: 1, aliases: ["j/m2"] },
      { symbol: "kWh/m²", factor: 3.6e6, aliases: ["kwh/m2"] },
      { symbol: "MJ/m²", factor: 1e6, aliases: ["mj/m2"] },
      { symbol: "BTU/ft²", factor: BTU / FOOT ** 2, aliases: ["btu/ft2"] },
    ],
  },
  heatCapacityPerArea: {
    name: "heat capacity per area",
    si: "J/(m²·K)",
    metric: "kJ/(m²·K)",
    us: "BTU/(ft²·°F)",
    units: [
      { symbol: "J/(m²·K)", factor: 1, aliases: ["j/m2k"] },
      { symbol: "kJ/(m²·K)", factor: 1000, aliases: ["kj/m2k"] },
      { symbol: "BTU/(ft²·°F)", factor: BTU / FOOT ** 2 / FAHRENHEIT, aliases: ["btu/ft2/f"] },
    ],
  },
  bondConductance: {
    name: "conductance per length",
    si: "W/(m·K)",
    metric: "W/(m·K)",
    us: "BTU/(h·ft·°F)",
    units: [
      { symbol: "W/(m·K)", factor: 1, aliases: ["w/mk", "w/m/k", "w/(m k)", "w/m k"] },
      { symbol: "BTU/(h·ft·°F)", factor: BTU / 3600 / FOOT / FAHRENHEIT, aliases: ["btu/h/ft/f"] },
    ],
  },
  conductance: {
    name: "heat loss",
    si: "W/K",
    metric: "W/K",
    us: "BTU/(h·°F)",
    units: [
      { symbol: "W/K", factor: 1, aliases: ["w/k"] },
      { symbol: "BTU/(h·°F)", factor: BTU / 3600 / FAHRENHEIT, aliases: ["btu/h/f"] },
    ],
  },
  pressureLoss: {
    name: "pressure loss",
    si: "Pa",
    metric: "Pa",
    us: "inH₂O",
    units: [
      { symbol: "Pa", factor: 1 },
      { symbol: "hPa", factor: 100, aliases: ["mbar", "mb"] },
      { symbol: "kPa", factor: 1000 },
      { symbol: "inH₂O", factor: 249.08891, aliases: ["in h2o", "inh2o", "in wg", "inwc"] },
      { symbol: "mm H₂O", factor: 9.80665, aliases: ["mm h2o", "mmh2o", "mmwc", "mm wc"] },
    ],
  },
  heatPerLength: {
    name: "heat per length",
    si: "W/m",
    metric: "W/m",
    us: "BTU/(h·ft)",
    units: [
      { symbol: "W/m", factor: 1 },
      { symbol: "BTU/(h·ft)", factor: BTU / 3600 / FOOT, aliases: ["btu/h/ft"] },
    ],
  },
  curvature: {
    name: "curvature of the loss",
    si: "W/(m²·K²)",
    metric: "W/(m²·K²)",
    us: "W/(m²·K²)",
    units: [{ symbol: "W/(m²·K²)", factor: 1 }],
  },
  number: { name: "number", si: "1", metric: "1", us: "1", units: [{ symbol: "1", factor: 1 }] },
});

export type QuantityId = keyof typeof QUANTITIES;
export type UnitSystem = "metric" | "us";

/** The unit with this printed symbol; throws RangeError when the quantity has no such unit. */
export function unitOf(quantity: QuantityId, symbol: string): Unit {
  const unit = (QUANTITIES[quantity].units as readonly Unit[]).find((u) => u.symbol === symbol);
  if (!unit) throw new RangeError(`no unit ${symbol} for ${quantity}`);
  return unit;
}

/** The unit a person reads this quantity in, by their system of units. */
export function displayUnit(quantity: QuantityId, system: UnitSystem): Unit {
  return unitOf(quantity, QUANTITIES[quantity][system]);
}

/** SI value of a figure given in `unit`. */
export const toSi = (value: number, unit: Unit): number => value * unit.factor + (unit.offset ?? 0);

/** Figure in `unit` of an SI value. */
export const fromSi = (si: number, unit: Unit): number => (si - (unit.offset ?? 0)) / unit.factor;

const plain = (text: string): string =>
  text
    .trim()
    .toLowerCase()
    .replace(/²/g, "2")
    .replace(/³/g, "3")
    .replace(/₂/g, "2")
    .replace(/[·*]/g, " ")
    .replace(/\s+/g, " ");

/**
 * The unit somebody means by this spelling, or undefined.
 * Exact case is tried first (so `mW` never becomes `MW`), then loose spelling.
 */
export function findUnit(quantity: QuantityId, spelling: string): Unit | undefined {
  const text = spelling.trim();
  const units = QUANTITIES[quantity].units as readonly Unit[];
  return (
    units.find((u) => u.symbol === text) ??
    units.find((u) => plain(u.symbol) === plain(text) || u.aliases?.some((a) => plain(a) === plain(text)))
  );
}
