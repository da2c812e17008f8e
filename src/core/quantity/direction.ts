/** The four directions in the words of five languages; letters alone are English, because O is east in one and west in another. */
const WORDS: Record<string, number> = {
  n: 0,
  north: 0,
  nord: 0,
  norte: 0,
  nor: 0,
  noord: 0,
  e: 90,
  east: 90,
  ost: 90,
  osten: 90,
  est: 90,
  este: 90,
  oost: 90,
  s: 180,
  south: 180,
  süd: 180,
  sued: 180,
  süden: 180,
  sud: 180,
  sur: 180,
  zuid: 180,
  w: 270,
  west: 270,
  westen: 270,
  ouest: 270,
  ovest: 270,
  oeste: 270,
};
const NAMES = Object.keys(WORDS).sort((a, b) => b.length - a.length);
/** North, east, south-west, SSE: no direction has more parts. */
const MOST_PARTS = 3;

/** The parts a word is made of, longest names first; null where something else is in it. */
function partsOf(word: string): number[] | null {
  const parts: number[] = [];
  let left = word;
  while (left) {
    const name = NAMES.find((n) => left.startsWith(n));
    if (!name || parts.length === MOST_PARTS) return null;
    parts.push(WORDS[name]);
    left = left.slice(name.length);
  }
  return parts;
}

const between = (a: number, b: number): number | null => {
  const apart = ((b - a + 540) % 360) - 180;
  return Math.abs(apart) > 90 ? null : (a + apart / 2 + 360) % 360;
};

/**
 * A direction in words as an azimuth, degrees clockwise from north: "South", "south-west", "SSE", "Südost".
 *
 * @returns null for anything else, and for what no compass has (north-south)
 *
 * @example
 * directionOf("south-west"); // → 225
 */
export function directionOf(text: string): number | null {
  const word = text
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, "");
  if (!word || word.length > 24) return null;
  const parts = partsOf(word);
  if (!parts?.length) return null;
  const [first, ...rest] = parts.toReversed();
  return rest.reduce<number | null>((at, next) => (at === null ? null : between(at, next)), first);
}
