import { findUnit } from "../quantity/quantities";
import { CHANNEL_KINDS, type ChannelKind } from "./channel";

/** What says lane, kind and unit stands at a header's beginning; the rest of a longer one is not looked through. */
export const LONGEST_HEADER = 200;

/** `T_in%20%28%C2%B0C%29` as its logger meant it. */
export function decoded(header: string): string {
  if (!/%[0-9a-f]{2}/i.test(header)) return header;
  try {
    return decodeURIComponent(header);
  } catch {
    return header;
  }
}

/** A unit written behind the name without brackets: `flow_lpm`, `A out degC`, `sun W/m2`. One letter alone is none. */
export function suffixUnit(name: string, kinds: readonly ChannelKind[]): string {
  const tokens = name.trim().split(/[\s_]+/);
  for (const count of [2, 1]) {
    if (tokens.length <= count) continue;
    const text = tokens.slice(-count).join(" ");
    if (text.length > 1 && kinds.some((k) => findUnit(CHANNEL_KINDS[k].quantity, text))) return text;
  }
  return "";
}

/** The unit of a kind that a header names, in brackets or behind its words; null where it names none that fits. */
export function headerUnit(header: string, kind: ChannelKind | null): string | null {
  if (!kind) return null;
  const name = decoded(header.slice(0, LONGEST_HEADER));
  const text = /[[(]([^\])]+)[\])]/.exec(name)?.[1] ?? suffixUnit(name, [kind]);
  return (text && findUnit(CHANNEL_KINDS[kind].quantity, text)?.symbol) || null;
}
