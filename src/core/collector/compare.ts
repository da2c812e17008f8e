import { Matrix, SingularValueDecomposition } from "ml-matrix";
import { absorberLayer, airPath, coverLayers, type Design } from "./design";

/** What two builds can differ in, one by one. Air layers beside a changed absorber belong to the air path. */
export const ASPECTS = [
  "fluid",
  "absorber",
  "absorberMaterial",
  "absorberSize",
  "coating",
  "glazing",
  "coverGap",
  "airPath",
  "backing",
  "size",
  "ports",
  "drive",
  "reflector",
  "arrangement",
] as const;
export type Aspect = (typeof ASPECTS)[number];

const tenth = (m: number): number => Math.round(m * 1e4) / 10;
const shape = (record: Record<string, number>): string =>
  Object.entries(record)
    .map(([k, v]) => `${k} ${Math.round(v * 1e6)}`)
    .join(",");

/** One text per aspect, equal exactly when two builds are equal in it (lengths to a tenth of a millimetre; sheets to a hundredth). */
export function aspectValues(d: Design): Record<Aspect, string> {
  const absorber = absorberLayer(d);
  const at = d.layers.findIndex((l) => l.kind === "absorber");
  const sheet = (m: number) => Math.round(m * 1e5) / 100;
  const air = (kind: "gap" | "channel", from: number, to: number) =>
    d.layers
      .slice(from, to)
      .flatMap((l) => (l.kind === kind ? [tenth(l.thicknessM)] : []))
      .join("+");
  const behind = d.layers
    .slice(at + 1)
    .flatMap((l) =>
      l.kind === "gap"
        ? [`gap ${tenth(l.thicknessM)}`]
        : l.kind === "channel"
          ? []
          : [`${l.kind} ${l.material} ${sheet(l.thicknessM)}${"coating" in l && l.coating ? ` ${l.coating}` : ""}`],
    );
  return {
    fluid: d.fluid.kind === "glycol" ? `glycol ${d.fluid.massFraction}` : d.fluid.kind,
    absorber: absorber?.form ?? "none",
    absorberMaterial: absorber ? `${absorber.material} ${sheet(absorber.thicknessM)}` : "none",
    absorberSize: absorber ? shape(absorber.shape) : "",
    coating: absorber?.coating ?? "bare",
    glazing:
      coverLayers(d)
        .map((l) => `${l.material} ${sheet(l.thicknessM)}`)
        .join(" | ") || "none",
    coverGap: air("gap", 0, Math.max(0, at)),
    airPath: `${airPath(d)} ${air("channel", 0, d.layers.length)}`,
    backing: behind.join(" | "),
    size: `${tenth(d.grossWidthM)} × ${tenth(d.grossLengthM)}, ${d.frame.material} ${sheet(d.frame.thicknessM)}`,
    ports: `${d.ports.count} × ${tenth(d.ports.diameterM)}, ${d.manifoldLoss}`,
    drive: JSON.stringify(d.drive),
    reflector: d.reflector
      ? `${d.reflector.material} ${d.reflector.side} ${tenth(d.reflector.lengthM)} ${d.reflector.angle}°${d.concentration !== 1 ? ` ×${d.concentration}` : ""}`
      : d.concentration !== 1
        ? `×${d.concentration}`
        : "none",
    arrangement: `${d.inSeries}/${d.inParallel}/${d.exchanger ?? ""}`,
  };
}

/** Aspects that follow from another one that differs, and are not counted as a difference of their own: another form has another make and size. */
const FOLLOWS: Partial<Record<Aspect, readonly Aspect[]>> = {
  absorberMaterial: ["absorber"],
  absorberSize: ["absorber"],
  coverGap: ["glazing", "absorber"],
  airPath: ["absorber"],
};

/** Of aspects that differ, those that count: not what follows from another, and of each factor's aspects the first alone. */
function counting(differ: readonly Aspect[], factors: readonly (readonly Aspect[])[]): Aspect[] {
  return differ.filter((k) => {
    if (FOLLOWS[k]?.some((other) => differ.includes(other))) return false;
    const own = factors.find((f) => f.includes(k));
    return !own || differ.find((other) => own.includes(other)) === k;
  });
}

/** Aspects in which two builds differ, in the order of ASPECTS. @param factors aspects that are moved together on purpose count once, under the first of them */
export function differences(a: Design, b: Design, factors: readonly (readonly Aspect[])[] = []): Aspect[] {
  const [x, y] = [aspectValues(a), aspectValues(b)];
  return counting(
    ASPECTS.filter((k) => x[k] !== y[k]),
    factors,
  );
}

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

/** One design with all aspects of a factor (or one aspect) of another. */
export const withFactor = (
  base: Design,
  from: Design,
  aspect: Aspect,
  factors: readonly (readonly Aspect[])[],
): Design =>
  (factors.find((f) => f.includes(aspect)) ?? [aspect]).reduce(
    (d, a) => (aspectValues(d)[a] === aspectValues(from)[a] ? d : withAspect(d, from, a)),
    base,
  );

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

/** One design with one aspect of another: the missing variant, ready to build. */
export function withAspect(base: Design, from: Design, aspect: Aspect): Design {
  const materials = { ...from.materials, ...base.materials };
  const [a, b] = [absorberLayer(base), absorberLayer(from)];
  const onAbsorber = (change: (l: NonNullable<typeof a>) => NonNullable<typeof a>): Design => ({
    ...base,
    materials,
    layers: base.layers.map((l) => (l.kind === "absorber" ? change(l) : l)),
  });
  const split = (d: Design) => {
    const at = d.layers.findIndex((l) => l.kind === "absorber");
    return { front: d.layers.slice(0, at), at: d.layers[at], back: d.layers.slice(at + 1) };
  };
  const [x, y] = [split(base), split(from)];
  switch (aspect) {
    case "fluid":
      return { ...base, fluid: from.fluid, drive: from.drive };
    // Another form needs its own air layers; coating, glazing and backing stay.
    case "absorber":
      return withAbsorber(base, from, materials);
    case "absorberMaterial":
      return b ? onAbsorber((l) => ({ ...l, material: b.material, thicknessM: b.thicknessM })) : base;
    case "absorberSize":
      return b ? onAbsorber((l) => ({ ...l, shape: { ...b.shape } })) : base;
    case "coating":
      return b ? onAbsorber((l) => ({ ...l, coating: b.coating })) : base;
    case "glazing":
    case "coverGap": {
      // A channel before the absorber belongs to the air path of the base.
      const last =
        x.front.length && x.front[x.front.length - 1].kind === "channel" ? x.front[x.front.length - 1] : null;
      const covers =
        y.front.length && y.front[y.front.length - 1].kind === "channel" && last
          ? [...y.front.slice(0, -1), last]
          : last && y.front.length && y.front[y.front.length - 1].kind === "gap"
            ? [...y.front.slice(0, -1), last]
            : y.front;
      return { ...base, materials, layers: renumber([...covers, x.at, ...x.back]) };
    }
    case "airPath":
      return { ...base, materials, layers: renumber([...y.front, x.at, ...y.back]) };
    case "backing": {
      const channel = x.back.filter((l) => l.kind === "channel");
      return {
        ...base,
        materials,
        layers: renumber([...x.front, x.at, ...channel, ...y.back.filter((l) => l.kind !== "channel")]),
      };
    }
    case "size":
      return { ...base, materials, grossWidthM: from.grossWidthM, grossLengthM: from.grossLengthM, frame: from.frame };
    case "ports":
      return { ...base, ports: from.ports, manifoldLoss: from.manifoldLoss };
    case "drive":
      return { ...base, drive: from.drive };
    case "reflector":
      return { ...base, materials, reflector: from.reflector, concentration: from.concentration };
    case "arrangement":
      return { ...base, inSeries: from.inSeries, inParallel: from.inParallel, exchanger: from.exchanger };
  }
}

function withAbsorber(base: Design, from: Design, materials: Design["materials"]): Design {
  const [a, b] = [absorberLayer(base), absorberLayer(from)];
  if (!a || !b) return base;
  const covers = base.layers
    .slice(0, base.layers.indexOf(a))
    .filter((l, i, all) => i < all.length - 1 || l.kind === "cover");
  const lastFront = from.layers[from.layers.indexOf(b) - 1];
  const air = lastFront && lastFront.kind !== "cover" && covers.length ? [lastFront] : [];
  const behindAir = from.layers.slice(from.layers.indexOf(b) + 1).filter((l) => l.kind === "channel");
  const backing = base.layers.slice(base.layers.indexOf(a) + 1).filter((l) => l.kind !== "channel");
  return {
    ...base,
    materials,
    layers: renumber([...covers, ...air, { ...b, coating: a.coating }, ...behindAir, ...backing]),
  };
}

/** Ids stay unique when layers of two designs meet. */
function renumber(layers: Design["layers"]): Design["layers"] {
  const seen = new Set<string>();
  return layers.map((l) => {
    let id = l.id;
    for (let k = 2; seen.has(id); k++) id = `${l.id}${k}`;
    seen.add(id);
    return { ...l, id };
  });
}
