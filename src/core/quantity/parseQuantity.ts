import { QUANTITIES, findUnit, toSi, unitOf, type QuantityId, type Unit, type UnitSystem } from "./quantities";

export type QuantityProblem =
  | { kind: "empty" }
  | { kind: "notANumber"; text: string }
  | { kind: "ambiguousNumber"; text: string; readings: [number, number] }
  | { kind: "unknownUnit"; text: string; unit: string; accepted: string[] };

export type ParsedQuantity =
  { ok: true; si: number; value: number; unit: Unit } | { ok: false; problem: QuantityProblem };

const NUMBER = /^([+\-−]?)\s*(\d[\d\s'’.,\u00a0\u2009\u202f]*|[.,]\d+)(?:[eE]([+\-−]?\d+))?/;
/** No number with its unit is longer: what is was never meant as one. */
const LONGEST = 200;
/** Thousands stand in threes, all set off by the same mark; anything else is two numbers, a date or a slip. */
const GROUPED = /^\d{1,3}(?:( |')\d{3}(?:\1\d{3})*|(?:,\d{3})+|(?:\.\d{3})+)?$/;
const whole = (text: string): boolean => /^\d*$/.test(text) || GROUPED.test(text);

/**
 * A number as people write it: `21.4`, `21,4`, `1 250`, `1'250.5`, `1.250,5`, `−3`.
 *
 * With both marks present, the last one is the decimal mark. A lone comma or point
 * is the decimal mark, except a comma before exactly three digits after one to three
 * digits not starting with 0 (`1,250`): that is read by `decimalComma` when known and
 * reported as ambiguous otherwise.
 */
export function parseNumber(text: string, decimalComma?: boolean): ParsedNumber {
  const trimmed = text.trim();
  if (trimmed === "") return { ok: false, problem: { kind: "empty" } };
  if (trimmed.length > LONGEST) return { ok: false, problem: { kind: "notANumber", text: trimmed.slice(0, LONGEST) } };
  const match = NUMBER.exec(trimmed);
  if (!match) return { ok: false, problem: { kind: "notANumber", text: trimmed } };
  const sign = match[1] === "-" || match[1] === "−" ? -1 : 1;
  const exponent = match[3] ? Number(match[3].replace("−", "-")) : 0;
  const rest = trimmed.slice(match[0].length);
  const written = match[2]
    .trim()
    .replace(/’/g, "'")
    .replace(/[\s\u00a0\u2009\u202f]/g, " ");
  const digits = written.replace(/[ ']/g, "");
  const scale = (n: number) => sign * n * 10 ** exponent;
  const commas = digits.split(",").length - 1;
  const points = digits.split(".").length - 1;
  const done = (clean: string): ParsedNumber => {
    const value = scale(Number(clean));
    return Number.isFinite(value)
      ? { ok: true, value, rest }
      : { ok: false, problem: { kind: "notANumber", text: trimmed } };
  };
  const unread: ParsedNumber = { ok: false, problem: { kind: "notANumber", text: trimmed } };
  if (commas && points) {
    const mark = digits.lastIndexOf(",") > digits.lastIndexOf(".") ? "," : ".";
    const [front, fraction, ...more] = written.split(mark);
    if (more.length || !whole(front) || !/^\d*$/.test(fraction)) return unread;
    return done(`${front.replace(/[^\d]/g, "")}.${fraction}`);
  }
  if (commas > 1 || points > 1) return whole(written) ? done(digits.replace(/[.,]/g, "")) : unread;
  const [front, fraction = ""] = written.split(/[.,]/);
  if (!whole(front) || !/^\d*$/.test(fraction)) return unread;
  if (commas === 1 && /^[1-9]\d{0,2},\d{3}$/.test(digits)) {
    if (decimalComma === undefined) {
      const readings: [number, number] = [
        scale(Number(digits.replace(",", "."))),
        scale(Number(digits.replace(",", ""))),
      ];
      return { ok: false, problem: { kind: "ambiguousNumber", text: trimmed, readings } };
    }
    return done(digits.replace(",", decimalComma ? "." : ""));
  }
  return done(digits.replace(",", "."));
}

type ParsedNumber = { ok: true; value: number; rest: string } | { ok: false; problem: QuantityProblem };

export interface ParseQuantityOptions {
  /** Unit meant when none is typed: a unit symbol of the quantity, or a unit system. */
  defaultUnit?: string | UnitSystem;
  /** True where people write 1,250 for one and a quarter; false where it is a thousand. */
  decimalComma?: boolean;
}

/**
 * Reads what a person typed into a field of the given quantity.
 *
 * @example parseQuantity("845 fpm", "speed") // { ok: true, si: 4.2926, … }
 * @example parseQuantity("70 F", "temperature") // { ok: true, si: 21.11, … }
 */
export function parseQuantity(text: string, quantity: QuantityId, options: ParseQuantityOptions = {}): ParsedQuantity {
  const number = parseNumber(text, options.decimalComma);
  if (!number.ok) return number;
  const spelled = number.rest.trim();
  const fallback = options.defaultUnit ?? "metric";
  const definition = QUANTITIES[quantity];
  const unit = spelled
    ? findUnit(quantity, spelled)
    : unitOf(quantity, fallback === "metric" || fallback === "us" ? definition[fallback] : fallback);
  if (!unit) {
    const accepted = (definition.units as readonly Unit[]).map((u) => u.symbol);
    return { ok: false, problem: { kind: "unknownUnit", text: text.trim(), unit: spelled, accepted } };
  }
  return { ok: true, si: toSi(number.value, unit), value: number.value, unit };
}
