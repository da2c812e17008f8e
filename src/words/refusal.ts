/** What a schema found, as its library gives it. */
export interface SchemaIssue {
  code?: string;
  path: readonly PropertyKey[];
  message: string;
  origin?: string;
  minimum?: number | bigint;
  maximum?: number | bigint;
  inclusive?: boolean;
  expected?: string;
}

/** The library's own language; anything else was written by us for people. */
const LIBRARY = /^(?:Invalid|Too (?:small|big)|Unrecognized|Expected)/;

/** How names of fields end in their unit. */
const UNITS: readonly (readonly [ending: string, unit: string])[] = [
  ["JM2K", "J/(m²·K)"],
  ["M3PerS", "m³/s"],
  ["JPerKg", "J/kg"],
  ["Wm2", "W/m²"],
  ["KgADay", "kg a day"],
  ["KgS", "kg/s"],
  ["WK", "W/K"],
  ["Ms", "m/s"],
  ["M2", "m²"],
  ["M3", "m³"],
  ["Kg", "kg"],
  ["Pa", "Pa"],
  ["W", "W"],
  ["C", "°C"],
  ["K", "K"],
  ["M", "m"],
  ["S", "s"],
];

/** Fields whose name says less than a person needs. */
const NAMES: Record<string, string> = {
  flowPerArea: "flow per area (kg/(s·m²))",
  smallestDifference: "the difference that matters (W/m²)",
  stationShare: "how far places may differ",
  limitShare: "error limit (share)",
  heldEqual: "what is held equal",
  ambientC: "outside temperature (°C)",
  kg: "mass (kg)",
};

/** What a field is called, by its name in the program. */
export function fieldWords(name: string): string {
  if (NAMES[name]) return NAMES[name];
  const unit = UNITS.find(([ending]) => name.length > ending.length && name.endsWith(ending));
  const stem = unit ? name.slice(0, -unit[0].length) : name;
  const words = stem.replace(/([A-Z])/g, " $1").toLowerCase();
  return unit ? `${words} (${unit[1]})` : words;
}

const pathWords = (path: readonly PropertyKey[]): string =>
  path.map((p) => (typeof p === "number" ? `no. ${p + 1}` : fieldWords(String(p)))).join(", ");

/** What is counted rather than measured. */
const COUNTED: Record<string, string> = { string: " characters", array: " entries", set: " entries" };

function phrase(i: SchemaIssue): string {
  const counted = COUNTED[i.origin ?? ""] ?? "";
  const least = !counted && i.inclusive === false ? "more than" : "at least";
  switch (i.code) {
    case "invalid_type":
      return /(?:undefined|null|NaN)$/.test(i.message)
        ? "is missing"
        : `must be ${i.expected === "number" || i.expected === "int" ? "a number" : "something else"}`;
    case "too_small":
      if (counted && Number(i.minimum) === 1) return "must not be empty";
      return `must be ${least} ${i.minimum}${counted}`;
    case "too_big":
      return `must be ${i.inclusive === false ? "less than " : "at most "}${i.maximum}${counted}`;
    case "invalid_value":
      return "is none of what can be chosen";
    default:
      return "cannot be that";
  }
}

/**
 * Why a value was not taken, for people: which field, and what it must be.
 * @param skip parts of the path nobody sees, such as an argument's place
 * @param label what the field is called where it is typed
 */
export function issueWords(issue: SchemaIssue, skip = 0, label?: string): string {
  // A reason of our own stands alone: it names what it is about.
  const sentence = LIBRARY.test(issue.message)
    ? [label ?? pathWords(issue.path.slice(skip)), phrase(issue)].filter(Boolean).join(" ")
    : issue.message;
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
}

/** The first few of them, as sentences. */
export const issuesWords = (issues: readonly SchemaIssue[], skip = 0): string =>
  issues
    .slice(0, 3)
    .map((i) => issueWords(i, skip))
    .join(" ");
