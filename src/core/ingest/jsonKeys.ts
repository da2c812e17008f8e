/** Nothing that Bravel reads lies deeper. */
const DEEPEST = 64;
/** Nor has any object of it so many names: a frame is refused for a quarter of them. */
const MOST_NAMES = 4096;

/**
 * Why a JSON text is not worth parsing, null where it is: lists and objects lie in one another more than 64 deep, or an object has more than
 * 4096 names (a set of them outgrows the processor's memory). Linear in the text.
 */
export function shapeFault(text: string): "nested" | "wide" | null {
  /** Commas of the objects that are open; NaN stands for a list, whose commas say nothing. */
  const open: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const mark = text[i];
    if (mark === '"') i = endOfString(text, i);
    else if (mark === "]" || mark === "}") open.pop();
    else if (mark === "[" || mark === "{") {
      if (open.length === DEEPEST) return "nested";
      open.push(mark === "{" ? 0 : NaN);
    } else if (mark === "," && ++open[open.length - 1] >= MOST_NAMES) return "wide";
  }
  return null;
}

/**
 * The first name that stands twice in one object of a JSON text, where a parser silently keeps the last; null where there is none. Linear in
 * the text.
 * @param text JSON that parses and whose shape has no fault
 */
export function nameTwice(text: string): string | null {
  /** Names of the objects that are open; null stands for a list. */
  const open: (Set<string> | null)[] = [];
  for (let i = 0; i < text.length; i++) {
    const mark = text[i];
    if (mark === "{") open.push(new Set());
    else if (mark === "[") open.push(null);
    else if (mark === "}" || mark === "]") open.pop();
    if (mark !== '"') continue;
    const end = endOfString(text, i);
    const names = open.at(-1);
    if (names && followedByColon(text, end + 1)) {
      const raw = text.slice(i + 1, end);
      const name = raw.includes("\\") ? (JSON.parse(`"${raw}"`) as string) : raw;
      if (names.has(name)) return name;
      names.add(name);
    }
    i = end;
  }
  return null;
}

function endOfString(text: string, from: number): number {
  for (let i = from + 1; i < text.length; i++) {
    if (text[i] === "\\") i++;
    else if (text[i] === '"') return i;
  }
  return text.length - 1;
}

function followedByColon(text: string, from: number): boolean {
  let i = from;
  while (/\s/.test(text[i] ?? "")) i++;
  return text[i] === ":";
}
