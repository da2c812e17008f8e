import { fromWall, toWall } from "@/core/log/zone";

/** An instant as a field for the site's wall clock holds it. */
export const wallText = (utcMs: number, zone: string): string =>
  new Date(toWall(utcMs, zone)).toISOString().slice(0, 19);

/**
 * A typed span of a run as instants. The hour that comes twice is taken whole: from the first beginning to the last end.
 * @returns the span, or why it is none
 */
export function spanOf(
  typed: { from: string; to: string },
  zone: string,
  run: { startMs: number; endMs: number },
): { fromMs: number; toMs: number } | { why: string } {
  const at = (text: string, which: 0 | 1): number | null => {
    const wallMs = Date.parse(`${text}Z`);
    if (Number.isNaN(wallMs)) return null;
    const found = fromWall(wallMs, zone);
    if (found.kind === "skipped") return null;
    return found.kind === "single" ? found.utcMs : found.utcMs[which];
  };
  const [fromMs, toMs] = [at(typed.from, 0), at(typed.to, 1)];
  if (fromMs === null || toMs === null)
    return { why: "Type both times as the clock showed them; an hour the clock skipped in spring never was." };
  if (toMs <= fromMs) return { why: "The end must come after the beginning." };
  if (toMs < run.startMs || fromMs > run.endMs)
    return { why: "Nothing was logged in that span: it lies outside this run. Look at the day." };
  return { fromMs, toMs };
}
