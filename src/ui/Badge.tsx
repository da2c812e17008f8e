import { airPath, absorberLayer, coverLayers, stackDepth, type Design } from "@/core/collector/design";
import { FORM_WORDS, PATH_WORDS } from "@/words/forms";
import { layoutSection } from "./section/layout";
import { SectionArt } from "./section/Section";

/** A design in a few words: what its badge shows. */
export function badgeWords(d: Design): string {
  const covers = coverLayers(d).length;
  const glazing = ["no glazing", "one glazing"][covers] ?? `${covers} glazings`;
  const absorber = absorberLayer(d);
  return [
    absorber ? FORM_WORDS[absorber.form] : "no absorber",
    d.fluid.kind === "air" ? PATH_WORDS[airPath(d)] : d.fluid.kind,
    glazing,
    ...d.mirrors.map((m) => (m.stand === "free" ? "mirror" : `${m.stand} mirror`)),
  ]
    .filter(Boolean)
    .join(", ");
}

const HEIGHT = 24.5;
/** Stacks shallower than this, m, do not fill the badge. */
const SHALLOW = 0.07;

/** The variant in section, 48 × 32: the builder's drawing, small. */
export function Badge({ design, lane, scale = 1 }: { design: Design; lane: string; scale?: number }) {
  // A bare coil stays as thin as it is beside a box.
  const depth = stackDepth(design);
  const layout = layoutSection(
    design,
    HEIGHT * Math.min(1, Math.max(0.4, Number.isFinite(depth) ? depth / SHALLOW : 1)),
    "badge",
  );
  const left = design.mirrors.length ? 14 : 4;
  const right = 44;
  const stage = { left, right, line: 1.1, pxPerM: Math.max(layout.pxPerM, 160), size: "badge" as const };
  // The frame holds what lies between first and last layer; glazing overlaps it.
  return (
    <svg
      width={48 * scale}
      height={32 * scale}
      viewBox="0 0 48 32"
      role="img"
      aria-label={badgeWords(design)}
      className="shrink-0"
    >
      <g transform={`translate(0 ${29.5 - layout.height})`}>
        <SectionArt design={design} lane={lane} layout={layout} stage={stage} />
        <path d={`M${left} 0V${layout.height}H${right}V0`} fill="none" stroke="var(--ink)" strokeWidth="1.3" />
      </g>
    </svg>
  );
}
