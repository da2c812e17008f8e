import { z } from "zod";

/** Line breaks, control letters, and marks that turn the direction of what follows. */
const NO_PART_OF_A_NAME = /[\p{Cc}\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]+/gu;

/**
 * A name as one line of text: whatever would begin another line, or turn the sentence it stands in, is a blank. Names come from packages and
 * files too, and go into calendars, tables and sentences.
 */
export const oneLine = (text: string): string => text.replace(NO_PART_OF_A_NAME, " ");

/** Far above every name: what is longer is not looked through. */
const LONGEST = 10_000;

/** A name, a label or a reason: one line of text without blanks at its ends. */
export const lineSchema = () => z.string().max(LONGEST).overwrite(oneLine).trim();
