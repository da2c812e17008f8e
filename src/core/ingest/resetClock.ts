const DAY = 86400_000;
/** A clock that lost its power begins at the turn of a year, mostly; satellites' time began on 6 January 1980. */
const AFTER_TURN_MS = 31 * DAY;
/** Readings kept back are seldom older. */
const OLD_MS = 400 * DAY;
/** Seconds taken for milliseconds lie later in January 1970, and are said to be that. */
const FIRST_MS = 10 * DAY;

/**
 * Whether a time looks like that of a clock that was reset: long ago, in the first month of a year, or in the first ten days of 1970. Such
 * readings may be good ones that were kept back, so they are neither refused nor taken: somebody is asked.
 * @param ms and `nowMs`: UTC
 */
export function looksReset(ms: number, nowMs: number): boolean {
  if (ms < Date.UTC(1980, 0, 1)) return ms >= 0 && ms < FIRST_MS;
  if (ms > nowMs - OLD_MS) return false;
  return ms - Date.UTC(new Date(ms).getUTCFullYear(), 0, 1) < AFTER_TURN_MS;
}
