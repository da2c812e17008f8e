import { AsyncLocalStorage } from "node:async_hooks";

/** Who has something done: named in the journal. */
export interface Actor {
  /** Null for the owner without a name, and for whoever sits at the computer itself. */
  name: string | null;
  personId: number | null;
  role: "owner" | "hand";
}

/** Who sits at the computer itself, and Bravel's own doing. */
export const HERE: Actor = { name: null, personId: null, role: "owner" };
const storage = new AsyncLocalStorage<Actor>();

/** Runs what somebody asked for under their name. */
export const as = <T>(who: Actor, work: () => T): T => storage.run(who, work);
export const actor = (): Actor => storage.getStore() ?? HERE;
