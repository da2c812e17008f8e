"use client";

import { useRef } from "react";
import { mirrorBeam, litShape, type MirrorPlace, type Opening, type Vector } from "@/core/mirror/geometry";
import type { Mirror } from "@/core/mirror/mirror";
import type { Plane } from "@/core/sun/position";

/** What of a mirror a hand moves. */
export interface Tried {
  angle: number;
  depthM: number;
  widthM: number | null;
}

interface Drawn {
  box: Opening;
  plane: Plane;
  mirrors: readonly { mirror: Mirror; place: MirrorPlace }[];
  /** In the plane's axes; null at night. */
  sun: Vector | null;
}

const RAD = Math.PI / 180;
const W = 380;
const H = 250;

type Flat = readonly [number, number];

/** Fits points in metres into the drawing, y upward. */
function fit(points: readonly Flat[], width = W, height = H, margin = 22) {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((width - 2 * margin) / Math.max(0.1, x1 - x0), (height - 2 * margin) / Math.max(0.1, y1 - y0));
  const left = (width - scale * (x1 - x0)) / 2;
  const foot = (height + scale * (y1 - y0)) / 2;
  return {
    scale,
    to: ([x, y]: Flat): Flat => [left + (x - x0) * scale, foot - (y - y0) * scale],
    from: ([px, py]: Flat): Flat => [x0 + (px - left) / scale, y0 + (foot - py) / scale],
  };
}

const path = (points: readonly Flat[]) => `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}`;

/** A hand on a mirror's end: dragged, or turned and drawn out by arrow keys. */
function Handle({
  at,
  label,
  value,
  onMove,
  onKey,
  svg,
}: {
  at: Flat;
  label: string;
  value: string;
  onMove: (px: Flat) => void;
  onKey: (turn: number, out: number) => void;
  svg: React.RefObject<SVGSVGElement | null>;
}) {
  const point = (e: React.PointerEvent): Flat => {
    const r = svg.current!.getBoundingClientRect();
    const view = svg.current!.viewBox.baseVal;
    return [((e.clientX - r.left) * view.width) / r.width, ((e.clientY - r.top) * view.height) / r.height];
  };
  return (
    <circle
      cx={at[0]}
      cy={at[1]}
      r={9}
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuetext={value}
      aria-valuenow={0}
      className="cursor-grab touch-none outline-offset-2"
      fill="var(--sheet)"
      stroke="var(--action)"
      strokeWidth="2.5"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        e.preventDefault();
        e.currentTarget.focus();
      }}
      onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && onMove(point(e))}
      onKeyDown={(e) => {
        const keys: Record<string, [number, number]> = {
          ArrowLeft: [1, 0],
          ArrowRight: [-1, 0],
          ArrowUp: [0, 0.05],
          ArrowDown: [0, -0.05],
        };
        const k = keys[e.key];
        if (!k) return;
        e.preventDefault();
        onKey(...k);
      }}
    />
  );
}

const words = (m: Mirror) => `${Math.round(m.angle)}°, ${m.depthM.toFixed(2)} m long`;

const ends = ({ corner, across }: MirrorPlace): [Vector, Vector] => [
  corner,
  [corner[0] + across[0], corner[1] + across[1], corner[2] + across[2]],
];

const clampAngle = (a: number) => Math.max(20, Math.min(179, Math.round(a * 2) / 2));
const clampDepth = (d: number) => Math.max(0.05, Math.min(10, Math.round(d * 100) / 100));

/** Angle and length of a mirror whose end was pulled to a point of the side view. */
function pulled(m: Mirror, hinge: Flat, end: Flat, back: (p: Flat) => { up: number; out: number }): Partial<Tried> {
  if (m.stand === "free") {
    const [x, y] = [end[0] - hinge[0], end[1] - hinge[1]];
    return { depthM: clampDepth(Math.hypot(x, y)), angle: clampAngle(Math.atan2(y, x) / RAD) };
  }
  const [up, out] = [back(end).up - back(hinge).up, back(end).out - back(hinge).out];
  return {
    depthM: clampDepth(Math.hypot(up, out)),
    angle: clampAngle(Math.atan2(out, m.stand === "bottom" ? up : -up) / RAD),
  };
}

/** Seen from its right side, to scale: ground, box, mirrors, and where the sun's rays go. */
export function SideView({ drawn, onTry }: { drawn: Drawn; onTry: (id: string, tried: Partial<Tried>) => void }) {
  const svg = useRef<SVGSVGElement>(null);
  const { box, plane, mirrors, sun } = drawn;
  const [s, c] = [Math.sin(plane.tilt * RAD), Math.cos(plane.tilt * RAD)];
  // The box looks to the right: its slope runs up and to the left.
  const flat = (v: Vector): Flat => [-c * v[1] + s * v[2], s * v[1] + c * v[2]];
  const back = ([x, y]: Flat): { up: number; out: number } => ({ up: -c * x + s * y, out: s * x + c * y });
  const top: Vector = [0, box.lengthM, 0];
  const own = mirrors.filter(({ mirror }) => mirror.stand !== "left" && mirror.stand !== "right");
  const reach = own.flatMap(({ place }) => ends(place).map(flat));
  const ground = Math.min(0, ...reach.map((p) => p[1])) - 0.25;
  const { to, from, scale } = fit([[0, 0], flat(top), ...reach, [0.6, ground], [flat(top)[0] - 0.3, ground]]);
  const towards = sun ? flat(sun) : null;
  return (
    <figure>
      <figcaption className="side">
        Side view, 1 m = {Math.round(scale)} px; drag the round end, or use arrow keys
      </figcaption>
      <svg ref={svg} viewBox={`0 0 ${W} ${H}`} className="block h-auto w-full bg-sheet">
        <path d={path([to([-9, ground]), to([9, ground])])} stroke="var(--ink)" strokeWidth="1.5" fill="none" />
        <path
          d={path([to([0, 0]), to(flat(top))])}
          stroke="var(--ink)"
          strokeWidth="7"
          fill="none"
          strokeLinecap="butt"
        />
        {own.map(({ mirror, place }) => {
          const [a, b] = ends(place).map(flat);
          return (
            <g key={mirror.id}>
              {towards && sun && <Rays {...{ box, place, sun, flat, to, towards }} />}
              <path d={path([to(a), to(b)])} stroke="var(--action)" strokeWidth="4" fill="none" />
              <Handle
                svg={svg}
                at={to(b)}
                label={`Mirror ${mirror.stand}: angle and length`}
                value={words(mirror)}
                onMove={(px) => onTry(mirror.id, pulled(mirror, a, from(px), back))}
                onKey={(turn, draw) =>
                  onTry(mirror.id, { angle: clampAngle(mirror.angle + turn), depthM: clampDepth(mirror.depthM + draw) })
                }
              />
            </g>
          );
        })}
        {towards && <SunMark at={to([flat(top)[0] / 2 + 1.6 * towards[0], flat(top)[1] / 2 + 1.6 * towards[1]])} />}
      </svg>
    </figure>
  );
}

const SunMark = ({ at: [x, y] }: { at: Flat }) => (
  <circle
    cx={Math.max(10, Math.min(W - 10, x))}
    cy={Math.max(10, Math.min(H - 10, y))}
    r={7}
    fill="var(--sun)"
    stroke="var(--sun-ink)"
    strokeWidth="1.5"
  />
);

/** From the sun onto the mirror and on to the box: five rays over its length, those that miss in dashes. */
function Rays({
  box,
  place,
  sun,
  flat,
  to,
  towards,
}: {
  box: Opening;
  place: MirrorPlace;
  sun: Vector;
  flat: (v: Vector) => Flat;
  to: (p: Flat) => Flat;
  towards: Flat;
}) {
  const { corner, along, across } = place;
  const n: Vector = [
    along[1] * across[2] - along[2] * across[1],
    along[2] * across[0] - along[0] * across[2],
    along[0] * across[1] - along[1] * across[0],
  ];
  const size = Math.hypot(...n) || 1;
  const side = (sun[0] * n[0] + sun[1] * n[1] + sun[2] * n[2]) / size / size;
  const travel: Vector = [2 * side * n[0] - sun[0], 2 * side * n[1] - sun[1], 2 * side * n[2] - sun[2]];
  const lit = mirrorBeam(box, place, sun).lit > 0;
  return (
    <g strokeWidth="1.2" fill="none">
      {[0.1, 0.3, 0.5, 0.7, 0.9].map((t) => {
        const p: Vector = [0, 1, 2].map((k) => corner[k] + 0.5 * along[k] + t * across[k]) as unknown as Vector;
        const far = flat(p);
        const reach = travel[2] < -1e-6 ? -p[2] / travel[2] : 1.2;
        const meets = p[1] + reach * travel[1] >= 0 && p[1] + reach * travel[1] <= box.lengthM && lit && reach > 0;
        const end: Vector = [0, 1, 2].map(
          (k) => p[k] + Math.min(3, Math.max(0.2, reach)) * travel[k],
        ) as unknown as Vector;
        return (
          <g key={t} stroke="var(--sun-ink)">
            <path
              d={path([to([far[0] + 1.1 * towards[0], far[1] + 1.1 * towards[1]]), to(far)])}
              stroke="var(--sun)"
              strokeWidth="2"
            />
            <path
              d={path([to(far), to(flat(end))])}
              strokeDasharray={meets ? undefined : "3 4"}
              opacity={meets ? 1 : 0.5}
            />
          </g>
        );
      })}
    </g>
  );
}

/** Looking down the slope: widths, and mirrors along the sides. */
export function PlanView({ drawn, onTry }: { drawn: Drawn; onTry: (id: string, tried: Partial<Tried>) => void }) {
  const svg = useRef<SVGSVGElement>(null);
  const { box, mirrors } = drawn;
  const flat = (v: Vector): Flat => [v[0], -v[2]];
  const quads = mirrors.map(({ mirror, place }) => {
    const [a, b] = ends(place);
    const shift = (v: Vector): Vector => [v[0] + place.along[0], v[1] + place.along[1], v[2] + place.along[2]];
    return { mirror, a: flat(a), b: flat(b), corners: [a, shift(a), shift(b), b].map(flat) };
  });
  const { to, from, scale } = fit([[0, 0], [box.widthM, 0], [0, 0.2], ...quads.flatMap((q) => q.corners)], W, 190);
  return (
    <figure>
      <figcaption className="side">From above, along the slope, 1 m = {Math.round(scale)} px</figcaption>
      <svg ref={svg} viewBox={`0 0 ${W} 190`} className="block h-auto w-full bg-sheet">
        <path d={path([to([0, 0]), to([box.widthM, 0])])} stroke="var(--ink)" strokeWidth="7" fill="none" />
        {quads.map(({ mirror, a, b, corners }) => {
          const upright = mirror.stand === "left" || mirror.stand === "right";
          return (
            <g key={mirror.id}>
              <path
                d={`${path(corners.map(to))}Z`}
                fill="var(--action-wash)"
                stroke="var(--action)"
                strokeWidth="2.5"
              />
              <Handle
                svg={svg}
                at={to(upright ? b : corners[2])}
                label={upright ? `Mirror ${mirror.stand}: angle and length` : `Mirror ${mirror.stand}: width`}
                value={upright ? words(mirror) : `${(mirror.widthM ?? box.widthM).toFixed(2)} m wide`}
                onMove={(px) => {
                  const [x, z] = from(px);
                  if (upright) {
                    const [dx, dz] = [x - a[0], -(z - a[1])];
                    onTry(mirror.id, {
                      depthM: clampDepth(Math.hypot(dx, dz)),
                      angle: clampAngle(Math.atan2(dz, mirror.stand === "left" ? dx : -dx) / RAD),
                    });
                  } else
                    onTry(mirror.id, {
                      widthM: Math.max(0.05, Math.round(2 * Math.abs(x - box.widthM / 2) * 100) / 100),
                    });
                }}
                onKey={(turn, draw) =>
                  onTry(
                    mirror.id,
                    upright
                      ? { angle: clampAngle(mirror.angle + turn), depthM: clampDepth(mirror.depthM + draw) }
                      : { widthM: Math.max(0.05, (mirror.widthM ?? box.widthM) + draw - turn * 0.05) },
                  )
                }
              />
            </g>
          );
        })}
      </svg>
    </figure>
  );
}

/** The opening as the sun sees it: what each mirror lights of it now. */
export function LightSpot({ drawn }: { drawn: Drawn }) {
  const { box, mirrors, sun } = drawn;
  const { to } = fit(
    [
      [0, 0],
      [box.widthM, box.lengthM],
    ],
    170,
    H,
    12,
  );
  const corners: Flat[] = [
    [0, 0],
    [box.widthM, 0],
    [box.widthM, box.lengthM],
    [0, box.lengthM],
  ];
  return (
    <figure>
      <figcaption className="side">Light spot on the box</figcaption>
      <svg
        viewBox={`0 0 170 ${H}`}
        className="block h-auto w-full bg-sheet"
        role="img"
        aria-label="Light spot on the box"
      >
        <path
          d={`${path(corners.map(to))}Z`}
          fill={sun && sun[2] > 0 ? "var(--sky-day)" : "var(--well)"}
          stroke="var(--ink)"
          strokeWidth="2"
        />
        {sun &&
          mirrors.map(({ mirror, place }) => {
            const shape = litShape(box, place, sun);
            return shape.length > 2 ? (
              <path
                key={mirror.id}
                d={`${path(shape.map(to))}Z`}
                fill="var(--sun)"
                fillOpacity="0.75"
                stroke="var(--sun-ink)"
                strokeWidth="1.5"
              />
            ) : null;
          })}
      </svg>
    </figure>
  );
}
