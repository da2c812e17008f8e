import { glycolIn } from "../fluids/fluid";
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
    .filter((l) => l.kind !== "channel")
    .map((l) => {
      if (l.kind === "gap") return `gap ${tenth(l.thicknessM)}`;
      const coating = "coating" in l && l.coating ? ` ${l.coating}` : "";
      return `${l.kind} ${l.material} ${sheet(l.thicknessM)}${coating}`;
    });
  return {
    fluid: d.fluid.kind === "glycol" ? `${glycolIn(d.fluid)} glycol ${d.fluid.massFraction}` : d.fluid.kind,
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
    drive: JSON.stringify([d.drive, d.thermostat]),
    reflector:
      [
        ...d.mirrors.map(
          (m) =>
            `${m.material} ${m.stand} ${tenth(m.depthM)} ${m.widthM === null ? "" : tenth(m.widthM)} ${m.angle}° ${tenth(m.gapM)} ${m.reflectance ?? ""}${m.free ? ` ${Object.values(m.free).join(" ")}` : ""}${m.up ? ` ${m.up.from} ${m.up.until}` : ""}`,
        ),
        ...(d.concentration !== 1 ? [`×${d.concentration}`] : []),
      ].join("; ") || "none",
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
export function counting(differ: readonly Aspect[], factors: readonly (readonly Aspect[])[]): Aspect[] {
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
      const last = x.front.at(-1);
      const replaced = y.front.at(-1)?.kind;
      const covers =
        last?.kind === "channel" && (replaced === "channel" || replaced === "gap")
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
      return { ...base, materials, mirrors: from.mirrors, concentration: from.concentration };
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
