import type { z } from "zod";

/** MariaDB gives JSON columns as text; drivers of other servers may give objects. */
export const json = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

/** A library's words for what is not there are those of its own language. */
const saidOf = (message: string): string => (/received (?:undefined|null)$/.test(message) ? "is missing" : message);

/** What is wrong with a stored value; null when nothing is. */
export function faultOf(schema: z.ZodType, value: unknown): string | null {
  try {
    const read = schema.safeParse(json(value));
    return read.success
      ? null
      : read.error.issues
          .slice(0, 3)
          .map((i) => [i.path.join("."), saidOf(i.message)].filter(Boolean).join(": "))
          .join("; ");
  } catch (error) {
    return (error as Error).message;
  }
}

let unreadable = 0;

/** How often something stored could not be read since the process began: a page that saw it grow asks `findBroken` what it was. */
export const unreadableSeen = (): number => unreadable;

/** Counts what cannot be read. */
export function sawUnreadable(): null {
  unreadable++;
  return null;
}

/**
 * A stored value, or null when it cannot be read: what holds it is then left out, and `findBroken` names it with its way out.
 * One bad row must never take the others with it.
 */
export function readable<T>(schema: z.ZodType<T>, value: unknown): T | null {
  try {
    return schema.safeParse(json(value)).data ?? sawUnreadable();
  } catch {
    return sawUnreadable();
  }
}
