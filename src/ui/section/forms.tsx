import type { ReactNode } from "react";
import { airPath, type Design } from "@/core/collector/design";
import type { Shape } from "@/core/collector/form/form";
import type { AbsorberForm } from "@/core/collector/form/list";
import { across, r, type Stage } from "./stage";

/** Where an absorber is drawn: its slab on the stage. */
interface Place {
  shape: Shape;
  design: Design;
  y0: number;
  y1: number;
  stage: Stage;
  badge: boolean;
}

interface FormDrawing {
  draw(place: Place): ReactNode;
  /** Pitch (m) and least distance (px) of pipes whose air comes toward the eye. */
  pipes?(shape: Shape, badge: boolean): [pitchM: number, least: number];
}

const rings = (xs: number[], y: number, radius: number, stroke: number, dash?: string) => (
  <>
    {xs.map((x) => (
      <circle
        key={x}
        cx={r(x)}
        cy={r(y)}
        r={Math.max(1, radius - stroke / 2)}
        strokeWidth={stroke}
        strokeDasharray={dash}
      />
    ))}
  </>
);

const middleOf = ({ y0, y1 }: Place) => (y0 + y1) / 2;
const ringRadius = ({ y0, y1, stage }: Place, diameterM: number, least: number) =>
  Math.min((y1 - y0) / 2, Math.max(least, (diameterM * stage.pxPerM) / 2));

const columnPipes = (s: Shape, badge: boolean): [number, number] => [s.diameterM * 1.02, badge ? 6 : 8];
const coilPipes = (s: Shape, badge: boolean): [number, number] => [s.diameterM * 1.3, badge ? 5 : 8];
const tubePipes = (s: Shape, badge: boolean): [number, number] => [s.pitchM, badge ? 7 : 10];

/** Each absorber form in section, small and large. */
export const FORM_DRAWINGS: Record<AbsorberForm, FormDrawing> = {
  flat: {
    draw: (p) => (
      <path
        d={`M${p.stage.left} ${middleOf(p)}H${p.stage.right}`}
        strokeWidth={p.badge ? 2.2 : Math.max(3, p.y1 - p.y0)}
      />
    ),
  },
  masonry: {
    draw: ({ y0, y1, stage, badge }) => (
      <path
        d={`M${stage.left} ${y0 + 1}H${stage.right}M${stage.left} ${y1 - 1}H${stage.right}${across(
          stage,
          0.2,
          badge ? 7 : 40,
        )
          .map((x) => `M${r(x)} ${y0 + 1}V${y1 - 1}`)
          .join("")}`}
        strokeWidth={badge ? 1.5 : 2}
      />
    ),
  },
  perforated: {
    draw: (p) => {
      const { shape: s, stage } = p;
      const dash = `${Math.max(7, (s.pitchM - s.holeM) * stage.pxPerM)} ${Math.max(3, s.holeM * stage.pxPerM)}`;
      return (
        <path
          d={`M${stage.left} ${middleOf(p)}H${stage.right}`}
          strokeWidth={p.badge ? 2.2 : Math.max(3.5, p.y1 - p.y0)}
          strokeDasharray={p.badge ? "3.4 2" : dash}
        />
      );
    },
  },
  corrugated: {
    draw: (p) => {
      const { stage, badge } = p;
      const middle = middleOf(p);
      const xs = across(stage, p.shape.pitchM, badge ? 5 : 10);
      const half = xs.length > 1 ? (xs[1] - xs[0]) / 2 : (stage.right - stage.left) / 2;
      const amplitude = Math.max(badge ? 2 : 3, (p.y1 - p.y0) / 2 - 1);
      // A sine wave as cubic Béziers, one half-wave at a time (control points at 0.3642 of the half-wave).
      const c = half * 0.3642 * 2;
      const [low, high] = [r(middle + amplitude), r(middle - amplitude)];
      const waves = xs.map(
        (x) =>
          `C${r(x - half + c / 2)} ${low} ${r(x - c / 2)} ${high} ${r(x)} ${high}C${r(x + c / 2)} ${high} ${r(x + half - c / 2)} ${low} ${r(x + half)} ${low}`,
      );
      return <path d={`M${r(xs[0] - half)} ${low}${waves.join("")}`} strokeWidth={badge ? 2 : 3} />;
    },
  },
  fins: {
    draw: ({ shape, design, y0, y1, stage, badge }) => {
      const front = airPath(design) === "front";
      const base = front ? y1 - 1 : y0 + 1;
      const each = across(stage, shape.spacingM, badge ? 3.6 : 7).map((x) => `M${r(x)} ${base}V${front ? y0 : y1}`);
      return <path d={`M${stage.left} ${base}H${stage.right}${each.join("")}`} strokeWidth={badge ? 1.5 : 2} />;
    },
  },
  mesh: {
    draw: (p) => {
      const { stage, badge, y0, y1 } = p;
      const n = Math.max(1, Math.min(badge ? 3 : 12, Math.round(p.shape.layers) || 1));
      const step = n > 1 ? (y1 - y0 - 2) / (n - 1) : 0;
      const at = (i: number) => r(n > 1 ? y0 + 1 + step * i : middleOf(p));
      return (
        <path
          d={Array.from({ length: n }, (_, i) => `M${stage.left} ${at(i)}H${stage.right}`).join("")}
          strokeWidth={badge ? 1.5 : 1.8}
          strokeDasharray={badge ? "2.6 1.4" : "4 3"}
        />
      );
    },
  },
  columns: {
    pipes: columnPipes,
    draw: (p) =>
      rings(
        across(p.stage, ...columnPipes(p.shape, p.badge)),
        middleOf(p),
        ringRadius(p, p.shape.diameterM, p.badge ? 2.6 : 4),
        p.badge ? 1.7 : 2.5,
      ),
  },
  ductCoil: {
    pipes: coilPipes,
    draw: (p) =>
      rings(
        across(p.stage, ...coilPipes(p.shape, p.badge)),
        middleOf(p),
        ringRadius(p, p.shape.diameterM, p.badge ? 2.6 : 4),
        p.badge ? 1.5 : 2.5,
        p.badge ? "1.6 0.8" : "4 2",
      ),
  },
  hose: {
    draw: (p) =>
      rings(
        across(p.stage, p.shape.pitchM, p.badge ? 4.6 : 6),
        middleOf(p),
        ringRadius(p, p.shape.outerM, p.badge ? 1.7 : 3),
        p.badge ? 1.4 : Math.max(2, ((p.shape.outerM - p.shape.innerM) / 2) * p.stage.pxPerM),
      ),
  },
  tubeSheet: {
    draw: ({ shape: s, y0, y1, stage, badge }) => {
      const radius = Math.max(badge ? 1.6 : 3, Math.min((y1 - y0) / 2, (s.outerM * stage.pxPerM) / 2));
      return (
        <>
          <path d={`M${stage.left} ${y0 + 1}H${stage.right}`} strokeWidth={badge ? 2 : 3} />
          {rings(across(stage, s.spacingM, badge ? 8 : 12), y0 + 1.5 + radius, radius, badge ? 1.4 : 2)}
        </>
      );
    },
  },
  evacuatedTubes: {
    pipes: tubePipes,
    // Glass as a thin ring, the absorber as a bold one inside it, with nothing between.
    draw: (p) => {
      const xs = across(p.stage, ...tubePipes(p.shape, p.badge));
      const outer = ringRadius(p, p.shape.outerM, p.badge ? 3 : 5);
      return (
        <>
          <g stroke="var(--ink)">{rings(xs, middleOf(p), outer, p.badge ? 0.8 : 1.4)}</g>
          {rings(xs, middleOf(p), outer * (p.shape.absorberM / p.shape.outerM) * 0.86, p.badge ? 1.5 : 3)}
        </>
      );
    },
  },
  boughtModule: {
    // Nobody knows what is inside: a closed box.
    draw: ({ y0, y1, stage, badge }) => (
      <path
        d={`M${stage.left} ${r(y0 + 1)}H${stage.right}V${r(y1 - 1)}H${stage.left}Z`}
        strokeWidth={badge ? 1.8 : 3}
        strokeDasharray={badge ? "4 2" : "10 5"}
      />
    ),
  },
};
