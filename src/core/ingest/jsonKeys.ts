/** Nothing that Bravel reads lies deeper. */
const DEEPEST = 64;

/**
 * The first name that stands twice in one object of a JSON text, where a parser silently keeps the last; null where there is none down to 64
 * levels: what lies deeper is read by nobody. Linear in the text.
 * @param text JSON that parses
 */
export function nameTwice(text: string): string | null {
  /** Names of the objects that are open; null stands for a list. */
  const open: (Set<string> | null)[] = [null];
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const mark = text[i];
    if (mark === "{" || mark === "[") {
      depth++;
      if (depth <= DEEPEST) open[depth] = mark === "{" ? new Set() : null;
    } else if (mark === "}" || mark === "]") depth--;
    if (mark !== '"') continue;
    const end = endOfString(text, i);
    const names = depth <= DEEPEST ? open[depth] : null;
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
