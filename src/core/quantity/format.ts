import { displayUnit, fromSi, type QuantityId, type Unit, type UnitSystem } from "./quantities";

const MINUS = "−";
const THIN = "\u2009";

/** Decimals that show an uncertainty with two figures below 3 and one above: 0.25, 0.4, 1.4, 12 → 0. */
export function decimalsFor(uncertainty: number): number {
  if (!(uncertainty > 0) || !Number.isFinite(uncertainty)) return 0;
  const magnitude = Math.floor(Math.log10(uncertainty));
  const leading = uncertainty / 10 ** magnitude;
  // 0.95 and above would round to 1.0 of the next magnitude; treating it as that keeps ± and value aligned.
  const figures = leading >= 1 && leading < 1.45 ? 1 : 0;
  return Math.max(0, -magnitude + figures);
}

/** More than these no figure shows. */
const MOST_DECIMALS = 12;

/** As {@link decimalsFor}, and as many more as keep a figure on the side of its ± where it lies: 6.4 ± 5.6 is not 6 ± 6. */
function decimalsThatTell(value: number, uncertainty: number): number {
  const size = Math.abs(value);
  const side = (decimals: number) => Math.sign(Number(size.toFixed(decimals)) - Number(uncertainty.toFixed(decimals)));
  const least = Math.min(decimalsFor(uncertainty), MOST_DECIMALS);
  for (let more = 0; more < 3; more++) if (side(least + more) === Math.sign(size - uncertainty)) return least + more;
  return least;
}

/** A number with a real minus and thin spaces between thousands. */
export function formatNumber(value: number, decimals: number): string {
  if (!Number.isFinite(value)) return "–";
  const fixed = Math.abs(value).toFixed(Math.max(0, Math.min(decimals, MOST_DECIMALS)));
  const [whole, part] = fixed.split(".");
  const grouped = whole.length > 4 || (whole.length === 4 && !part) ? whole.replace(/\B(?=(\d{3})+$)/g, THIN) : whole;
  const negative = value < 0 && Number(fixed) !== 0;
  return `${negative ? MINUS : ""}${grouped}${part ? `.${part}` : ""}`;
}

/** Fewest decimals that show the same as `most` do. */
function shortest(value: number, most: number): number {
  const part = Math.abs(value).toFixed(Math.min(most, 12)).split(".")[1] ?? "";
  return part.replace(/0+$/, "").length;
}

export interface FormattedQuantity {
  value: string;
  /** Expanded uncertainty (95 %), or undefined for a figure that is not measured. */
  plusMinus?: string;
  unit: string;
}

/**
 * An SI figure as a person reads it: digits follow from the expanded uncertainty
 * when there is one, else from `figures` significant figures.
 * Efficiencies (fractions) print in per cent. Range: any finite value.
 * @example formatQuantity(381.4, "heatFlux", { expanded: 32 }) // { value: "381", plusMinus: "32", unit: "W/m²" }
 */
export function formatQuantity(
  si: number,
  quantity: QuantityId,
  options: { expanded?: number; system?: UnitSystem; figures?: number; unit?: Unit; signed?: boolean } = {},
): FormattedQuantity {
  const unit = options.unit ?? displayUnit(quantity, options.system ?? "metric");
  const value = fromSi(si, unit);
  const expanded = options.expanded === undefined ? undefined : options.expanded / unit.factor;
  const figures = options.figures ?? 3;
  const magnitude = value === 0 ? 0 : Math.floor(Math.log10(Math.abs(value)));
  const decimals =
    expanded !== undefined && expanded > 0 ? decimalsThatTell(value, expanded) : Math.max(0, figures - 1 - magnitude);
  // Without an uncertainty there is nothing that trailing zeros could promise.
  const text =
    expanded === undefined && decimals > 0
      ? formatNumber(value, shortest(value, decimals))
      : formatNumber(value, decimals);
  const signed = options.signed && value > 0 && Number(value.toFixed(decimals)) !== 0 ? `+${text}` : text;
  return {
    value: signed,
    plusMinus: expanded !== undefined ? formatNumber(expanded, decimals) : undefined,
    unit: unit.symbol === "1" ? "" : unit.symbol,
  };
}

/** One line of text: `21.4 ± 0.3 K`. */
export function quantityText(...args: Parameters<typeof formatQuantity>): string {
  const { value, plusMinus, unit } = formatQuantity(...args);
  return `${value}${plusMinus === undefined ? "" : ` ± ${plusMinus}`}${unit ? `${THIN}${unit}` : ""}`;
}
