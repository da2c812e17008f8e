/**
 * A page's data as one text. React walks every object it hands from server to browser twice on the server's thread; for a long
 * run's thousands of points that held up everybody else for a quarter of a second. One text it passes on as it is.
 */
declare const held: unique symbol;
export type Packed<T> = string & { readonly [held]: T };

const NUMBERS: Record<string, number> = { "#NaN": NaN, "#+": Infinity, "#-": -Infinity };

/** Plain data: objects, arrays, texts, numbers (infinite and undefined ones too), true and false, null. */
export const pack = <T>(value: T): Packed<T> =>
  JSON.stringify(value, (_, v: unknown) => {
    if (typeof v === "string") return v.startsWith("#") ? `#${v}` : v;
    if (typeof v !== "number" || Number.isFinite(v)) return v;
    if (Number.isNaN(v)) return "#NaN";
    return v > 0 ? "#+" : "#-";
  }) as Packed<T>;

export const unpack = <T>(text: Packed<T>): T =>
  JSON.parse(text, (_, v: unknown) =>
    typeof v === "string" && v.startsWith("#") ? (NUMBERS[v] ?? v.slice(1)) : v,
  ) as T;
