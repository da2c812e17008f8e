/** What a person marks at the bench with one press. */
export const EVENT_KINDS = [
  "cloud",
  "door",
  "swap",
  "probeMoved",
  "fanChanged",
  "coverCleaned",
  "snow",
  "mirror",
  "filled",
  "stillBegin",
  "stillEnd",
  "note",
  "spot",
] as const;
export type EventKind = (typeof EVENT_KINDS)[number];
