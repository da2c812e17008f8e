import type { BenchProblem } from "@/core/plan/bench";
import type { Passed, PlanDay, PlanEntry } from "@/core/plan/dayPlan";
import type { DaySky } from "@/core/plan/daySky";
import type { EntryKind, Need, Risk } from "@/core/method/method";
import type { Shortener } from "@/core/plan/howLong";
import type { MethodName } from "@/core/method/list";
import type { ClimateProblem } from "@/core/site/climate";
import type { CoordinateProblem } from "@/core/site/coordinates";
import type { EpwField, EpwProblem, EpwSetAside } from "@/core/site/epw";
import type { HorizonProblem } from "@/core/site/horizon";
import type { ObstacleProblem } from "@/core/site/shade";
import type { DatedAdvice } from "@/core/judge/standing";
import { quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import { chancePercent, percent } from "./sources";

export const MONTH_NAMES = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];
export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

interface ProtocolWords {
  name: string;
  yields: string;
  sky: string;
  hours: string;
}

export const PROTOCOL_WORDS: Record<MethodName, ProtocolWords> = {
  steady: {
    name: "Steady curve",
    yields:
      "Efficiency points at several inlet temperatures, and from them the curve with its bands. The sharpest comparison per hour.",
    sky: "clear and steady, sun within about 34° of the normal",
    hours: "two to six hours about noon",
  },
  dynamic: {
    name: "Dynamic",
    yields: "The same curve from changing weather too, with heat storage and wind fitted. Uses cloudy days.",
    sky: "any daylight; clear, broken and dull days all count",
    hours: "first to last light, four days or more",
  },
  allDay: {
    name: "All-day heat",
    yields: "Heat per day of each lane, warm-up included: what a user gets. One figure a day, so it takes more days.",
    sky: "any day; clear and mixed days together say most",
    hours: "first to last light",
  },
  batch: {
    name: "Batch tank",
    yields:
      "Warming of a tank of known water: zero-loss gain and loss of the loop, with the tank’s own cooling after sunset.",
    sky: "clear or mixed",
    hours: "the sunny hours and two after them",
  },
  stagnation: {
    name: "Stagnation",
    yields: "The temperature each layer reaches without flow, brought to standard sun and air, against its limit.",
    sky: "clear, over the rule’s irradiance",
    hours: "an hour and a quarter about noon",
  },
  timeConstant: {
    name: "Time constant",
    yields: "How fast a box answers: settling and averaging times for all other tests.",
    sky: "clear and steady",
    hours: "under an hour per step, three steps",
  },
  offNormal: {
    name: "Off-normal sun",
    yields: "The incidence modifier and its b₀: what morning and afternoon are worth.",
    sky: "clear, sun 45° to 60° off the normal",
    hours: "an hour or so in the morning and again in the afternoon",
  },
  mirrorOnOff: {
    name: "Mirror on and off",
    yields: "Gain of a mirror in heat, with mirror and without in turns on the same box.",
    sky: "clear and steady",
    hours: "at least one turn on and one off",
  },
  leakSmoke: {
    name: "Leaks and smoke",
    yields: "Flow in against flow out, and where smoke comes out: whether lanes can be compared at all.",
    sky: "none: still air, before or after the sun",
    hours: "three quarters of an hour",
  },
  calibration: {
    name: "Calibration bath",
    yields: "Offsets and lags of all probes from one stirred bath, before and after the days at the bench.",
    sky: "none",
    hours: "two hours, most of it waiting",
  },
};

export const NEED_WORDS: Record<Need, string> = {
  probes: "inlet and outlet probe for every lane",
  ambientProbe: "outside probe in the shade",
  sunSensor: "sun sensor in the collector plane",
  flowMeter: "flow meter, the same for every lane",
  logger: "loggers, charged, clocks set",
  inletHeater: "heater in the shared inlet",
  waterTank: "tank of known volume, insulated",
  balance: "balance or marked bucket",
  opaqueCover: "opaque cover that does not touch the glass",
  mirror: "mirror and its cover",
  smoke: "smoke source",
  bath: "stirred pot and hot water",
  wind: "wind meter",
  layerProbes: "probes on absorber and foam, rated for the heat",
};

/** What to do about it, short, where it is about to matter. */
export const RISK_WORDS: Record<Risk, string> = {
  hotSurfaces: "Metal, glass and outlet air burn: gloves on, hands out of the stream.",
  stagnation:
    "Without flow the box runs to its stagnation temperature. Check each layer’s limit in Build first, stay with it, and uncover slowly; smoke or smell: cover the glass and step back.",
  concentratedLight:
    "A mirror throws light that blinds and burns: cover it before you move it, never look along it, keep its spot off houses, roads and anything dry.",
  scald: "Hot water scalds: carry it with a lid, fill cold first.",
  mainsDamp:
    "Mains fans and heaters outdoors: a residual-current device, connections off the ground and dry. Wiring is for a licensed electrician where your code says so.",
  glassLifting: "Glass and full boxes are lifted by two people, with gloves, not in wind.",
  smoke: "Make smoke outdoors, away from intakes and alarms, with water at hand.",
  freezing: "Drain or protect the loop if the night freezes.",
  darkWork: "Clear the ground of leads before dark.",
  cloudsSpoil: "A cloud spoils the window it falls in, not the day: wait for the next.",
  longDay: "Somebody looks in every hour: flow lost on a sunny box is stagnation.",
};

const ENTRY_WORDS: Record<EntryKind, string> = {
  check: "Check",
  swap: "Swap",
  settle: "Settle",
  measure: "Measure",
  step: "Step",
  close: "Close",
  bath: "Bath",
};

const STATE_WORDS: Record<NonNullable<PlanEntry["state"]>, string> = {
  mirrorOn: "mirror on",
  mirrorOff: "mirror covered",
  flowOff: "flow off",
  coverOn: "cover on",
  coverOff: "cover off",
  cooling: "tank cools, no sun",
  normal: "sun near the normal",
  sideways: "sun 45° to 60° off",
};

/** `Measure, inlet +15 K, 5 windows`. */
export function entryWords(e: PlanEntry): string {
  const parts = [ENTRY_WORDS[e.kind]];
  if (e.levelK !== null) parts.push(e.levelK === 0 ? "inlet as outside" : `inlet +${e.levelK} K`);
  if (e.state) parts.push(STATE_WORDS[e.state]);
  if (e.windows > 1) parts.push(`${e.windows} windows`);
  return parts.join(", ");
}

export const NONE_WORDS: Record<NonNullable<DaySky["none"]>, string> = {
  polarNight: "the sun does not rise",
  neverDark: "the sun does not go down far enough",
  lowSun: "even a clear sky stays under the rule’s irradiance",
  shade: "skyline, obstacles or the bench itself shade it",
  incidence: "the sun stays too far off the normal",
};

const PASSED_WORDS: Record<Passed["reason"], string> = {
  ...NONE_WORDS,
  skipped: "left out by you",
  unavailable: "you are away",
  past: "it has begun without you",
};
export const passedWords = (p: Passed): string => PASSED_WORDS[p.reason];

const SIZE_WORDS = {
  gap: "The gap between boxes",
  bottom: "The height of the lower edge",
  rowPitch: "The distance of rows",
};

export function conflictWords(c: PlanDay["conflicts"][number]): string {
  if (c.with === "unavailable") return `you are away${c.reason ? `: ${c.reason}` : ""}`;
  if (c.with === "entry") return `runs into ${ENTRY_WORDS[c.reason as EntryKind].toLowerCase()}`;
  return "outside the usable sun";
}

export const SHORTER_WORDS: Record<Shortener, string> = {
  swap: "swap lanes every day",
  noonSwap: "swap at noon too, for fewer windows",
  bath: "calibrate all probes in one bath",
  traverse: "traverse the ducts",
  moreWindows: "half as many windows again a day: fewer levels, looser rules",
  fewerVariants: "test the two best alone",
};

export function benchProblemWords(p: BenchProblem): string {
  switch (p.kind) {
    case "fewStations":
      return "One specimen has nothing to be compared with. Draw or build a second one in Build; a second copy of the same design makes an identical pair.";
    case "rows":
      return "There are more rows than boxes. Take fewer rows.";
    case "rowsOverlap":
      return `The rows would stand in one another: set them at least ${p.leastM.toFixed(2)} m apart, front to front.`;
    case "size":
      return `${SIZE_WORDS[p.what]} cannot be negative.`;
  }
}

export function coordinateWords(p: CoordinateProblem): string {
  switch (p.kind) {
    case "empty":
      return "Type latitude and longitude, such as 46.31, 9.05 or 46°18′36″ N 9°3′ E.";
    case "oneOnly":
      return `Only one number was found in “${p.text}”. Add the longitude behind the latitude.`;
    case "notUnderstood":
      return `“${p.text}” is not understood as coordinates. Write 46.31, 9.05 or 46°18′36″ N 9°3′ E.`;
    case "sixty":
      return `Minutes and seconds in “${p.text}” stay below 60.`;
    case "outOfRange":
      return p.which === "latitude"
        ? `Latitude ${p.value}° cannot be: it lies within ±90°.${p.swapHelps ? " Were latitude and longitude exchanged? Latitude comes first, or write N and E." : ""}`
        : `Longitude ${p.value}° cannot be: it lies within ±180°.`;
  }
}

export function horizonWords(p: HorizonProblem): string {
  switch (p.kind) {
    case "notTwoNumbers":
      return `Line ${p.line}, “${p.text}”, does not hold two numbers. Each line has an azimuth and an altitude in degrees.`;
    case "azimuthRange":
      return `Line ${p.line}: azimuth ${p.value}° is outside −180° to 360° (0 north, 90 east).`;
    case "altitudeRange":
      return `Line ${p.line}: a skyline at ${p.value}° is outside −10° to 85°. Were the columns exchanged? Azimuth comes first.`;
    case "sameAzimuth":
      return `Line ${p.line}: azimuth ${p.value}° stands twice with different heights. Keep one, or set them 0.1° apart for a cliff.`;
  }
}

export function obstacleWords(p: ObstacleProblem): string {
  switch (p.kind) {
    case "size":
      return `${p.name}: distance and sizes must be over 0.`;
    case "crown":
      return `${p.name}: its crown begins above its top. Exchange the two heights.`;
    case "onBench":
      return `${p.name} stands on the bench. Give its distance from the middle of the bench.`;
    case "overlap":
      return `${p.name} stands in ${p.other}: light through both would count as taken twice. Draw them as one, or move one.`;
  }
}

export function climateWords(p: ClimateProblem): string {
  switch (p.kind) {
    case "columns":
      return `The heading reads “${p.found.join(", ")}”. Needed are month, global (kWh/m² a day) and mean (°C); wind and clear are welcome.`;
    case "notANumber":
      return `Line ${p.line}, column ${p.column}: “${p.text}” is not a number.`;
    case "months":
      return `Months ${p.found.join(", ")} are missing. All twelve are needed.`;
    case "range":
      return `Line ${p.line}, column ${p.column}: ${p.value} lies outside ${p.from} to ${p.to}. Is the unit in the heading right?`;
    case "tooSunny":
      return `Month ${p.month} has ${p.value.toFixed(1)} kWh/m² a day, more than ${p.clear.toFixed(1)} under a clear sky here. Is it the sum of a month, MJ, or another hemisphere?`;
  }
}

const EPW_WORDS: Partial<Record<EpwField, string>> = {
  dryBulbC: "temperature",
  dewPointC: "dew point",
  relativeHumidity: "humidity",
  pressurePa: "pressure",
  globalHorizontal: "global irradiance",
  directNormal: "direct irradiance",
  diffuseHorizontal: "diffuse irradiance",
  windSpeed: "wind speed",
};

/** What of a typical-weather file could not be and was left out; empty when nothing was. */
export function epwSetAsideWords(setAside: EpwSetAside): string {
  const told = Object.entries(setAside).map(([field, n]) => `${n} of ${EPW_WORDS[field as EpwField] ?? field}`);
  return told.length ? `Values that cannot be were left out: ${told.join(", ")}.` : "";
}

export function epwWords(p: EpwProblem): string {
  switch (p.kind) {
    case "notEpw":
      return `This is not an EPW file: its first line begins “${p.firstLine}” where LOCATION should stand.`;
    case "headingMissing":
      return `Line ${p.line} should begin with ${p.heading}. The file was edited or cut; get it again.`;
    case "location":
      return `The LOCATION line gives “${p.text}” for its ${p.field}. Mend that line or get the file again.`;
    case "cutShort":
      return `The file stops after ${p.records.toLocaleString("en")} of ${p.expected.toLocaleString("en")} hours, at line ${p.lastLine}. It was cut short: get it again. Nothing was kept.`;
    case "fields":
      return `Line ${p.line} has ${p.found} fields where ${p.expected} are needed.`;
    case "notANumber":
      return `Line ${p.line}: ${p.field} reads “${p.text}”, which is not a number.`;
    case "stamp":
      return `Line ${p.line} begins “${p.text}”, which is no year, month, day, hour and minute.`;
    case "order":
      return `Line ${p.line} is out of order: hours must follow each other.`;
  }
}

/** What the verdict means for the days to come. @param smallest difference that matters, W/m² */
export function adviceWords(advice: DatedAdvice, smallest: number, system: UnitSystem): { head: string; text: string } {
  const days = `${advice.daysSoFar} ${advice.daysSoFar === 1 ? "day" : "days"}`;
  const flux = (si: number) => quantityText(si, "heatFlux", { system, figures: 2 });
  switch (advice.kind) {
    case "detected":
      return { head: "Stop.", text: `A difference is detected after ${days}.` };
    case "equal":
      return {
        head: "Stop.",
        text: `After ${days} a difference of ${flux(smallest)} or more is ruled out (5 % tests).`,
      };
    case "warningFirst":
      return { head: "Solve the warning first.", text: `The readings of ${days} are enough; a warning decides.` };
    case "goOn":
      return {
        head: "Continue.",
        text: `The data hold ${percent(advice.share)} of the information of ${advice.daysPlanned} days. If the true difference is ${flux(advice.ifTrue)}, those detect it with ${chancePercent(advice.chance)} chance.`,
      };
    case "hopeless":
      return {
        head: "Stop and change something.",
        text: `If the true difference is ${flux(advice.ifTrue)}, ${advice.daysPlanned} days detect it with ${chancePercent(advice.chance)} chance only.`,
      };
    case "done":
      return { head: "The plan is complete.", text: "The data cannot tell. More days need a new plan." };
  }
}
