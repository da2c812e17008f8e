/** What is known of the server when a page failed: still asking, silent, without its database, or well. */
export type ServerState = "asking" | "silent" | "noDatabase" | "well";

/** Why a page could not be shown, as far as it is known, and the way out. @param digest under which the terminal shows the reason */
export function failureText(state: ServerState, digest: string | null): string {
  const where = `The terminal in which Bravel runs shows the reason${digest ? ` under ${digest}` : ""}.`;
  switch (state) {
    case "asking":
      return "Looking for the reason …";
    case "silent":
      return "Bravel’s server does not answer. Start it again with ./bravel start, then try again; nothing you stored is lost.";
    case "noDatabase":
      return `The database does not answer. Nothing you stored is lost. ${where}`;
    case "well":
      return `Server and database answer, so this is a fault of the page itself. Nothing you stored is lost. ${where}`;
  }
}

/** A computation in the browser that broke off. @param what was computed, with a capital */
export const computationFailed = (what: string): string =>
  `${what} could not be computed. Your entries are saved. Reload the page; if it fails again, the browser’s console shows the reason.`;
