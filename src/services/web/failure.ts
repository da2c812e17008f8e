import { PoolFull } from "../heavy/pool";
import { ThreadEnded } from "../heavy/threadEnded";

interface DatabaseError {
  errno?: number;
  code?: string;
  name?: string;
}

const AGAIN = "Nothing was changed; try again";

/** What a fault of database, disk or memory means for the person, and the way out. */
const KNOWN: { is: (e: DatabaseError) => boolean; words: string }[] = [
  {
    is: ({ errno, code }) => code === "ENOSPC" || [1021, 1114, 1030].includes(errno ?? 0),
    words: `The disk is full, or nearly. ${AGAIN} when some space is free; what was stored before is safe.`,
  },
  {
    is: ({ errno }) => errno === 1969,
    words: `The database took longer than a minute over this and was stopped. ${AGAIN} when it has less to do.`,
  },
  {
    is: ({ errno }) => errno === 1205 || errno === 1213 || errno === 1020,
    words: `Something else was changing the same at the same time. ${AGAIN}.`,
  },
  {
    is: ({ name }) => name === "KnexTimeoutError",
    words: `All connections to the database are in use, or it does not answer. ${AGAIN} in a moment.`,
  },
  {
    is: ({ code }) =>
      ["ECONNREFUSED", "ECONNRESET", "ENOENT", "EPIPE", "ETIMEDOUT", "PROTOCOL_CONNECTION_LOST"].includes(code ?? ""),
    words: "The database does not answer, so it is not certain whether this was kept. Look before you try again.",
  },
];

const known = (error: unknown) => KNOWN.find((k) => k.is((error ?? {}) as DatabaseError));

/** A fault of database, disk or load: the same may succeed later. One that nobody foresaw may come again for ever. */
export const isPassing = (error: unknown): boolean => known(error) !== undefined || error instanceof PoolFull;

/**
 * Words for a fault inside: its likely cause where it is known. The reason itself goes to the log.
 * @param otherwise what was not done, for a fault nobody foresaw
 */
export function failureWords(error: unknown, otherwise: string): string {
  if (error instanceof ThreadEnded || error instanceof PoolFull) return error.message;
  return known(error)?.words ?? `${otherwise} Try again; if it fails again, the terminal shows the reason.`;
}
