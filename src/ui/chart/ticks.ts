import { toWall } from "@/core/log/zone";

const MINUTE = 60000;
const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720, 1440, 2880, 10080].map((m) => m * MINUTE);

/** Round wall-clock instants of the zone in a range: at most about `most`. */
export function timeTicks(min: number, max: number, zone: string, most: number): number[] {
  const step =
    STEPS.find((s) => (max - min) / s <= most) ?? STEPS.at(-1)! * Math.ceil((max - min) / STEPS.at(-1)! / most);
  const offset = toWall(min, zone) - min;
  const ticks: number[] = [];
  for (let t = Math.ceil((min + offset) / step) * step - offset; t <= max; t += step) ticks.push(t);
  return ticks;
}

/** `09:30` within a day, `7 Oct` at midnight. */
export function timeLabel(ms: number, zone: string): string {
  const wall = new Date(toWall(ms, zone));
  const midnight = wall.getUTCHours() === 0 && wall.getUTCMinutes() === 0;
  return midnight
    ? new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", day: "numeric", month: "short" }).format(wall)
    : new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", hour: "2-digit", minute: "2-digit" }).format(wall);
}
