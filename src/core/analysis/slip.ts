import type { LanesAlike } from "./alike";
import type { Cause } from "./causes";
import type { ClocksApart } from "./clocks";
import type { OutletsExchanged } from "./exchanged";
import type { RiseByItself } from "./ownRhythm";
import type { Spell, SunShaded } from "./spells";
import type { AtSunniest } from "./sunniest";

/** Something readings or set-up say that physics does not allow, or hardly. An import names it; the verdict doubts it. */
export type Implausible =
  | AtSunniest
  /** In clear hours the sensor in the plane sees a plane that faces the other way. */
  | { kind: "planeTurned"; azimuth: number; planeRatio: number; turnedRatio: number }
  /** Without a sun sensor: cooler at the outlet through the middle of the day. */
  | { kind: "coolsByDay"; lane: string; riseK: number; minutes: number }
  | { kind: "flowOdd"; lane: string; flowPerArea: number; usual: readonly [number, number] }
  | { kind: "worldsApart"; lanes: [string, string]; ratio: number }
  | { kind: "flowBackwards"; lane: string; minutes: number }
  | {
      kind: "noFlowInSun";
      lane: string;
      minutes: number;
      share: number;
      spells?: readonly Spell[];
      /** How often the fan stopped where it goes on and off as a thermostat's does; left out where it stood for long. */
      cycles?: number;
    }
  /** Without a sun sensor: the lane's best hour against what a clear sky sends then. */
  | { kind: "besideClearSky"; lane: string; share: number; heatWm2: number; atMs: number; causes: readonly Cause[] }
  /** Water that flows below its freezing point. */
  | { kind: "waterFrozen"; lane: string; temperatureC: number; minutes: number }
  | SunShaded
  | RiseByItself
  | { kind: "noRiseInSun"; lane: string; riseK: number; minutes: number }
  | LanesAlike
  | OutletsExchanged
  | { kind: "constantSun"; irradianceWm2: number; hours: number }
  | { kind: "sunTooStrong"; irradianceWm2: number; minutes: number }
  | { kind: "sunAtNight"; irradianceWm2: number; hours: number }
  | { kind: "heatAtNight"; hours: number }
  | { kind: "clockOff"; lateMinutes: number; by: "sun" | "rise" }
  /** Right before the clocks changed and an hour off after, or the other way about. */
  | { kind: "clockNotChanged"; lateMinutes: number; changedMs: number; wrong: "before" | "after"; by: "sun" | "rise" }
  | { kind: "sunMounting"; planeRatio: number; horizontalRatio: number; mounted: "plane" | "horizontal" }
  | { kind: "outsideOdd"; temperatureC: number }
  | { kind: "pressureFar"; pressurePa: number; expectedPa: number }
  /** One row of a sheet, far from those of the same box around it. */
  | { kind: "rowOff"; lane: string; atMs: number; heatW: number; expectedW: number }
  | { kind: "oddArea"; lane: string; areaM2: number }
  | ClocksApart
  | { kind: "farApart"; readings: number; fromMs: number; toMs: number };

/** What a finding is called within its run. */
export function implausibleKey(found: Implausible): string {
  if (found.kind === "rowOff") return `rowOff ${found.lane} ${found.atMs}`;
  if ("streams" in found) return `${found.kind} ${found.channels.join("/")}`.slice(0, 60);
  if ("lanes" in found) return `${found.kind} ${found.lanes.join("")}`;
  return "lane" in found ? `${found.kind} ${found.lane}` : found.kind;
}
