import { airPath, opening, type AbsorberLayer, type Design } from "@/core/collector/design";
import { laneColor } from "../LaneMark";
import { FORM_DRAWINGS } from "./forms";
import type { SectionLayout, Slab } from "./layout";
import { across, r, type Stage } from "./stage";

/**
 * A collector in section from its layers: the one drawing behind badge and builder. Absorber in the lane's colour, everything else in
 * ink: glazing as bars, insulation hatched, air as arrows. Returns groups in the layout's pixels, for any svg to place.
 */
export function SectionArt({
  design,
  lane,
  layout,
  stage,
  over,
}: {
  design: Design;
  lane: string;
  layout: SectionLayout;
  stage: Stage;
  over?: ReadonlySet<string>;
}) {
  const color = laneColor(lane);
  const path = airPath(design);
  return (
    <>
      {layout.slabs.map((s) => (
        <g key={s.layer.id} data-layer={s.layer.id}>
          {drawLayer(s, design, stage, color, over?.has(s.layer.id) ?? false)}
        </g>
      ))}
      {path !== "none" && <Air design={design} layout={layout} stage={stage} />}
      {design.mirrors.length > 0 && <Mirror design={design} layout={layout} stage={stage} />}
    </>
  );
}

function drawLayer({ layer, y0, y1 }: Slab, design: Design, stage: Stage, color: string, over: boolean) {
  const { left, right, line } = stage;
  const width = right - left;
  switch (layer.kind) {
    case "gap":
    case "channel":
      return null;
    case "cover": {
      const cells = /twin|triple|cellular/.test(layer.material) && y1 - y0 > 4;
      const film = layer.thicknessM < 0.0006;
      return (
        <g stroke={over ? "var(--danger)" : "var(--ink)"} fill="none">
          {film ? (
            <path
              d={`M${left} ${(y0 + y1) / 2}H${right}`}
              strokeWidth={line}
              strokeDasharray={`${line * 5} ${line * 1.6}`}
            />
          ) : (
            <rect
              x={left}
              y={y0}
              width={width}
              height={Math.max(0.6, y1 - y0)}
              fill={stage.size === "badge" ? "var(--ink)" : "var(--sky-d1)"}
              strokeWidth={stage.size === "badge" ? 0 : line}
            />
          )}
          {cells && (
            <path
              d={Array.from({ length: Math.floor(width / 11) }, (_, i) => `M${left + 11 * (i + 1)} ${y0}V${y1}`).join(
                "",
              )}
              strokeWidth={line * 0.7}
            />
          )}
        </g>
      );
    }
    case "insulation": {
      const apart = over ? 5 : 9;
      return (
        <g fill={over ? "var(--danger-fill)" : "none"} stroke={over ? "var(--danger)" : "var(--ink)"}>
          <rect x={left} y={y0} width={width} height={y1 - y0} strokeWidth={line * 0.6} />
          <path
            d={hatch(left, right, y0, y1, stage.size === "badge" ? 3.6 : apart)}
            strokeWidth={stage.size === "badge" ? 0.7 : 0.9}
            fill="none"
          />
        </g>
      );
    }
    case "sheet": {
      const thick = y1 - y0 > 5;
      const plain = thick ? "var(--well)" : "var(--ink)";
      return (
        <rect
          x={left}
          y={y0}
          width={width}
          height={Math.max(0.7, y1 - y0)}
          fill={over ? "var(--danger)" : plain}
          stroke={over ? "var(--danger)" : "var(--ink)"}
          strokeWidth={thick ? line * 0.7 : 0}
        />
      );
    }
    case "absorber":
      return (
        <g stroke={over ? "var(--danger)" : color} fill="none" strokeLinejoin="round">
          {FORM_DRAWINGS[layer.form].draw({
            shape: layer.shape,
            design,
            y0,
            y1,
            stage,
            badge: stage.size === "badge",
          })}
        </g>
      );
  }
}

/** 45° lines clipped to a rectangle, drawn as paths so that no two drawings share an id. */
function hatch(x0: number, x1: number, y0: number, y1: number, step: number): string {
  const lines: string[] = [];
  const h = y1 - y0;
  for (let x = x0 - h + step / 2; x < x1; x += step) {
    const [ax, ay] = x < x0 ? [x0, y1 - (x0 - x)] : [x, y1];
    const [bx, by] = x + h > x1 ? [x1, y0 + (x + h - x1)] : [x + h, y0];
    if (bx > ax) lines.push(`M${r(ax)} ${r(ay)}L${r(bx)} ${r(by)}`);
  }
  return lines.join("");
}

/** Arrows in the channels; slanting ones where the air goes through the absorber; a dot in each pipe whose air comes toward the eye. */
function Air({ design, layout, stage }: { design: Design; layout: SectionLayout; stage: Stage }) {
  const path = airPath(design);
  const badge = stage.size === "badge";
  const { left, right } = stage;
  const a = left + (badge ? 3 : 14);
  const b = right - (badge ? 3 : 14);
  const head = badge ? 1.9 : 5;
  const stroke = badge ? 1.1 : 2;
  const arrow = (key: string, x1: number, y1: number, x2: number, y2: number) => {
    const angle = Math.atan2(y2 - y1, x2 - x1);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const tip = (along: number, side: number) => `${r(x2 - c * along - s * side)} ${r(y2 - s * along + c * side)}`;
    return (
      <g key={key} stroke="var(--ink)" fill="var(--ink)">
        <path d={`M${r(x1)} ${r(y1)}L${r(x2 - c * head)} ${r(y2 - s * head)}`} strokeWidth={stroke} fill="none" />
        <path d={`M${r(x2)} ${r(y2)}L${tip(head * 1.7, head)}L${tip(head * 1.7, -head)}Z`} stroke="none" />
      </g>
    );
  };
  const absorber = layout.slabs.find((s) => s.layer.kind === "absorber");
  if (!absorber) return null;
  if (path === "inside") {
    const { shape, form } = absorber.layer as AbsorberLayer;
    const [pitchM, least] = FORM_DRAWINGS[form].pipes?.(shape, badge) ?? [0.1, 8];
    const xs = across(stage, pitchM, least);
    return (
      <g fill="var(--ink)" stroke="none">
        {xs.map((x) => (
          <circle key={x} cx={r(x)} cy={r((absorber.y0 + absorber.y1) / 2)} r={badge ? 0.9 : 3} />
        ))}
      </g>
    );
  }
  const channels = layout.slabs.filter((s) => s.layer.kind === "channel");
  if (path === "through") {
    const top =
      channels.find((c) => c.index < absorber.index)?.y0 ?? Math.max(badge ? -4 : -22, absorber.y0 - (badge ? 5 : 24));
    const bottom = channels.find((c) => c.index > absorber.index)?.y1 ?? absorber.y1;
    return (
      <>
        {[0.26, 0.68].map((t) =>
          arrow(String(t), a + (b - a) * (t - 0.12), top + 1, a + (b - a) * (t + 0.12), bottom - (badge ? 0.6 : 3)),
        )}
      </>
    );
  }
  return <>{channels.map((c) => arrow(c.layer.id, a, (c.y0 + c.y1) / 2, b, (c.y0 + c.y1) / 2))}</>;
}

function Mirror({ design, layout, stage }: { design: Design; layout: SectionLayout; stage: Stage }) {
  const badge = stage.size === "badge";
  const length = badge ? 18 : 70;
  const angle = (design.mirrors[0].angle * Math.PI) / 180;
  const x = stage.left - (badge ? 2 : 8);
  const y = badge ? layout.height : 0;
  const [dx, dy] = [Math.cos(angle) * length, -Math.sin(angle) * length];
  const ticks = [0.15, 0.4, 0.65, 0.9]
    .map((t) => `M${r(x + dx * t)} ${r(y + dy * t)}l${badge ? -2.6 : -7} ${badge ? 1.5 : 4}`)
    .join("");
  return (
    <g stroke="var(--ink)" fill="none">
      <path d={`M${x} ${y}L${r(x + dx)} ${r(y + dy)}`} strokeWidth={badge ? 1.8 : 3} />
      <path d={ticks} strokeWidth={badge ? 0.8 : 1.2} />
    </g>
  );
}

/** Frame's share of the drawing's width, so that a box looks framed at every size. */
export const frameWidth = (design: Design, pxPerM: number): number =>
  Math.max(3, Math.min(40, design.frame.thicknessM * pxPerM));

/** How much of the box's width the drawing shows, m: the rest lies behind the break. */
export const shownWidth = (design: Design, widthPx: number, pxPerM: number): number =>
  Math.min(opening(design).widthM, widthPx / Math.max(1, pxPerM));
