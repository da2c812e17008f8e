import type { Knex } from "knex";
import type { z } from "zod";
import { issuesWords } from "../../words/refusal";

/** What every command answers: what it made, or why it did nothing and the way out. */
export type Outcome<T extends object = object> = ({ ok: true } & T) | Refused;

/** @property later the refusal is about who asks, or about the server, and not about what was asked: the same may succeed later */
export interface Refused {
  ok: false;
  error: string;
  later?: "signIn" | "server";
}

/** Which pages a done command makes older: those of one experiment, or all. */
export type Touched = { experiment: number } | "everything" | "nothing";

/** A use case that changes something: who may, the shape of its arguments, what it does, and what it touches. */
export interface Command<A extends unknown[], I extends unknown[], T extends object> {
  /** The owner's, unless a bench hand may too. */
  right?: "hand";
  input: z.ZodType<A, I>;
  run(knex: Knex, ...args: A): Promise<Outcome<T>>;
  touches(...args: A): Touched;
}

/** Defines a command; the schema's types are those of its arguments. */
export const command = <A extends unknown[], I extends unknown[], T extends object = object>(
  definition: Command<A, I, T>,
): Command<A, I, T> => definition;

/** As callers give them: what has a default may be left out. */
export type ArgsOf<C> = C extends { input: z.ZodType<unknown[], infer I extends unknown[]> } ? I : never;

export const refused = (error: string, later?: Refused["later"]): Refused => ({
  ok: false,
  error,
  ...(later ? { later } : {}),
});
export const GONE = refused("This experiment is no longer there. Go back to the bench.");
export const done = <T extends object>(made: T = {} as T): { ok: true } & T => ({ ok: true, ...made });

/** What a person typed that cannot be, field by field. */
export const invalid = (error: z.ZodError): Refused =>
  // The first part of the path is the argument's place, which nobody sees.
  refused(issuesWords(error.issues, 1));
