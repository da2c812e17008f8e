/** Day and time of day at a site: `6 Oct, 12:40`. */
export const clock = (ms: number, zone: string) =>
  new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  }).format(ms);

/** The same with its year: `6 Oct 2026, 12:40`. */
export const dated = (ms: number, zone: string): string =>
  new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  }).format(ms);

/** Time of day at a site: `12:40`. */
export const timeOfDay = (ms: number, zone: string): string =>
  new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(ms);
