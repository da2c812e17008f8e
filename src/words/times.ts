/** Day and time of day at a site: `6 Oct, 12:40`. */
export const clock = (ms: number, zone: string) =>
  new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  }).format(ms);
