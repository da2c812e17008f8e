/** `Thu 26 Nov`. @param date `2026-11-26` */
export const dayText = (date: string): string =>
  new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", weekday: "short", day: "numeric", month: "short" }).format(
    Date.parse(`${date}T12:00:00Z`),
  );

export const clockText = (ms: number, zone: string): string =>
  new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(ms);
