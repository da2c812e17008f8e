import { BoundedMemo } from "./memo";

/** A week of eight lanes each second holds about 200 MB of readings; four such weeks of ten seconds fit easily. */
const MOST_BYTES = 384 * 1024 * 1024;

/**
 * What a process derives and may ask for again, each under the fingerprint of all that enters it: losing it costs time, sharing it needs
 * nothing (docs/decisions/0003). The development server reloads modules, the store outlives them.
 */
export const store = ((globalThis as { bravelDerived?: BoundedMemo }).bravelDerived ??= new BoundedMemo(MOST_BYTES));
