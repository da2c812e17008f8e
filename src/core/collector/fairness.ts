import { Matrix, SingularValueDecomposition } from "ml-matrix";
import { ASPECTS, aspectValues, counting, differences, withFactor, type Aspect } from "./compare";
import type { Design } from "./design";

export interface NamedDesign {
  letter: string;
  design: Design;
}

export interface ConfoundedPair {
  a: string;
  b: string;
  aspects: Aspect[];
}

export interface Fairness {
  /** Aspects that are not the same everywhere, with each variant's level (variants of one level share a text). */
  varying: { aspect: Aspect; levels: { value: string; letters: string[] }[] }[];
  /** Aspects whose effect these variants can tell apart, no interactions assumed. */
  separable: Aspect[];
  /** Aspects that always change together with others. */
  confounded: Aspect[];
  pairs: ConfoundedPair[];
  /** Variants that differ in nothing. */
  identical: [string, string][];
  /** Aspects said to be held equal that are not. */
  heldBroken: Aspect[];
  /** A variant that would settle it: one variant with another's aspect, the fewest that make everything separable. */
  missing: { base: string; aspect: Aspect; from: string }[];
  /** How many variants a full factorial set of the varying aspects has, and how many of them exist. */
  factorial: { all: number; have: number };
}

/**
 * Whether these variants can answer which difference helped. A main effect is separable when the variants' table of levels
 * loses rank without it by as many as the levels it has less one (estimability of contrasts in a linear model).
 */
export function fairness(
  variants: readonly NamedDesign[],
  heldEqual: readonly Aspect[] = [],
  factors: readonly (readonly Aspect[])[] = [],
): Fairness {
  const plain = variants.map((v) => aspectValues(v.design));
  const differ = ASPECTS.filter((k) => new Set(plain.map((v) => v[k])).size > 1);
  const counted = counting(differ, factors);
  // A factor's aspects move as one: its levels are what all of them are together.
  const values = plain.map((v) => {
    const joined = { ...v };
    for (const k of counted) joined[k] = (factors.find((f) => f.includes(k)) ?? [k]).map((a) => v[a]).join(" · ");
    return joined;
  });
  const rows = values.map((v) => counted.map((k) => v[k]));
  const separable = separableColumns(rows, counted.length);
  const pairs: ConfoundedPair[] = [];
  const identical: [string, string][] = [];
  for (let i = 0; i < variants.length; i++) {
    for (let j = i + 1; j < variants.length; j++) {
      const aspects = differences(variants[i].design, variants[j].design, factors);
      if (aspects.length === 0) identical.push([variants[i].letter, variants[j].letter]);
      if (aspects.length > 1) pairs.push({ a: variants[i].letter, b: variants[j].letter, aspects });
    }
  }
  const confounded = counted.filter((_, k) => !separable[k]);
  return {
    varying: counted.map((aspect) => ({
      aspect,
      levels: levelsOf(
        variants,
        values.map((v) => v[aspect]),
      ),
    })),
    separable: counted.filter((_, k) => separable[k]),
    confounded,
    pairs,
    identical,
    heldBroken: heldEqual.filter((k) => differ.includes(k)),
    missing: confounded.length && variants.length <= LARGEST_PROPOSAL ? missingVariants(variants, rows, counted) : [],
    factorial: {
      all: counted.reduce((n, _, k) => n * new Set(rows.map((r) => r[k])).size, 1),
      have: new Set(rows.map((r) => r.join("\n"))).size,
    },
  };
}

function levelsOf(variants: readonly NamedDesign[], values: string[]): { value: string; letters: string[] }[] {
  return [...new Set(values)].map((value) => ({
    value,
    letters: variants.filter((_, i) => values[i] === value).map((v) => v.letter),
  }));
}

/** Dummy-coded table of levels with a column of ones; per aspect, the columns that are its own. */
function rank(rows: string[][], columns: readonly number[]): number {
  if (!rows.length) return 0;
  const table = rows.map(() => [1]);
  for (const k of columns) {
    const levels = [...new Set(rows.map((r) => r[k]))];
    for (const level of levels.slice(1)) rows.forEach((r, i) => table[i].push(r[k] === level ? 1 : 0));
  }
  return new SingularValueDecomposition(new Matrix(table), { autoTranspose: true }).rank;
}

function separableColumns(rows: string[][], count: number): boolean[] {
  const all = Array.from({ length: count }, (_, k) => k);
  const whole = rank(rows, all);
  return all.map(
    (k) =>
      whole -
        rank(
          rows,
          all.filter((j) => j !== k),
        ) ===
      new Set(rows.map((r) => r[k])).size - 1,
  );
}

/** Beyond this many variants no missing one is sought: whole builds are then being compared, not parts. */
const LARGEST_PROPOSAL = 6;

/** Greedy: add, one at a time, the variant (one with one aspect of another) that makes most aspects separable. At most four. */
function missingVariants(
  variants: readonly NamedDesign[],
  rows: string[][],
  aspects: readonly Aspect[],
): Fairness["missing"] {
  const have = rows.map((r) => [...r]);
  const out: Fairness["missing"] = [];
  for (let round = 0; round < 4; round++) {
    const now = separableColumns(have, aspects.length).filter(Boolean).length;
    if (now === aspects.length) break;
    const seen = new Set(have.map((r) => r.join("\n")));
    let best: { row: string[]; entry: Fairness["missing"][number]; score: number } | null = null;
    for (let i = 0; i < variants.length; i++) {
      for (let k = 0; k < aspects.length; k++) {
        for (let j = 0; j < variants.length; j++) {
          const row = rows[i].map((v, c) => (c === k ? rows[j][k] : v));
          if (seen.has(row.join("\n"))) continue;
          const next = [...have, row];
          const score =
            separableColumns(next, aspects.length).filter(Boolean).length +
            rank(
              next,
              aspects.map((_, c) => c),
            ) /
              1000;
          if (!best || score > best.score)
            best = { row, entry: { base: variants[i].letter, aspect: aspects[k], from: variants[j].letter }, score };
        }
      }
    }
    if (!best) break;
    have.push(best.row);
    out.push(best.entry);
  }
  return out;
}

/** Every combination of the levels that vary, as far as it does not exist yet: base is the first variant with each level. At most 16. */
export function factorialSet(
  variants: readonly NamedDesign[],
  f: Fairness,
  factors: readonly (readonly Aspect[])[],
): { design: Design; from: { aspect: Aspect; letter: string }[] }[] {
  let set: { design: Design; from: { aspect: Aspect; letter: string }[] }[] = [
    { design: variants[0].design, from: [] },
  ];
  for (const { aspect, levels } of f.varying) {
    set = set.flatMap((s) =>
      levels.map(({ letters }) => {
        const source = variants.find((v) => v.letter === letters[0])!;
        return {
          design: withFactor(s.design, source.design, aspect, factors),
          from: [...s.from, { aspect, letter: source.letter }],
        };
      }),
    );
    if (set.length > 64) return [];
  }
  return set.filter((s) => variants.every((v) => differences(v.design, s.design, factors).length > 0)).slice(0, 16);
}
