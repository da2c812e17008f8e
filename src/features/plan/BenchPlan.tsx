"use client";

import { type Obstacle, direction, type Point } from "@/core/site/shade";
import { linear, type Scale } from "@/ui/scale";
import { Download } from "lucide-react";
import { useRef } from "react";
import { sunPosition } from "@/core/sun/position";
import type { PlanPatch, PlanSettings } from "@/core/experiment/schema/plan";
import type { PlanView, PlanSpecimen } from "@/services/plan/plan";
import { downloadSvg } from "@/ui/download";
import { laneColor, laneShape } from "@/ui/LaneMark";
import { askedOf, QuantityFields } from "@/ui/form/QuantityFields";
import { useWidth } from "@/ui/useWidth";
import { BENCH_FIELDS } from "@/core/experiment/settingFields";
import { timeOfDay, dayText } from "@/words/times";
import { areaThrough } from "@/ui/drawing";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import type { Station } from "@/core/plan/bench";

const HEIGHT = 230;
/** Obstacles nearer than this, m, are drawn. */
const CLOSE = 6;

function shadeWords(date: string, shade: PlanView["days"][number]["sky"]["shade"], zone: string): string {
  if (shade.length === 0) return `On ${dayText(date)} nothing shades any station while the sun is on the glass.`;
  const span = (p: { fromMs: number; toMs: number }) => `${timeOfDay(p.fromMs, zone)} to ${timeOfDay(p.toMs, zone)}`;
  const each = shade.map((s) => `${s.owner} shades a station ${s.spans.map(span).join(" and ")}`).join("; ");
  return `On ${dayText(date)}, while the sun is on the glass: ${each}. Measuring keeps out of it.`;
}

const ONE_ROW = askedOf(BENCH_FIELDS, {
  tilt: "Tilt",
  azimuth: "Faces",
  rows: "Rows",
  gapM: "Gap",
  bottomM: "Lower edge",
});
const SEVERAL_ROWS = [...ONE_ROW.slice(0, 4), ...askedOf(BENCH_FIELDS, { rowPitchM: "Rows apart" }), ONE_ROW[4]];

/** The bench from above and from the side, to scale, with the sun at both ends of the window; and who shades whom. */
export function BenchPlan({
  plan,
  settings,
  change,
}: {
  plan: PlanView;
  settings: PlanSettings;
  change: (patch: PlanPatch) => void;
}) {
  const bench = settings.bench;
  const set = ({ azimuth, ...part }: Partial<PlanSettings["bench"]>) =>
    change({ bench: azimuth === undefined ? part : { azimuth: azimuth % 360 } });
  const day = plan.days[0];
  const shade = day?.sky.shade ?? [];
  return (
    <section aria-labelledby="bench-plan" data-testid="bench-plan">
      <Head
        id="bench-plan"
        title="The bench"
        side="to scale; stations as wide as the widest box, so that boxes can change places"
      />
      <div className="grid grid-cols-[repeat(auto-fill,88px)] items-start gap-3 pt-2">
        <QuantityFields of={bench.rows > 1 ? SEVERAL_ROWS : ONE_ROW} value={bench} set={set} />
      </div>
      {plan.stations.length > 0 && <Drawing plan={plan} />}
      <p className="pt-1">{day && shadeWords(day.date, shade, plan.site.zone)}</p>
    </section>
  );
}

function Drawing({ plan }: { plan: PlanView }) {
  const [ref, width] = useWidth(780);
  const svg = useRef<SVGSVGElement>(null);
  const { stations, site, specimens } = plan;
  const day = plan.days[0];
  const order = day?.order[0] ?? specimens.map((_, i) => i);
  const boxes = stations.flatMap((s) => s.body.flatMap((q) => q.corners));
  // Things farther off are named at the edge, in their direction: drawn to scale they would make the bench a dot.
  const near = site.detail.obstacles.filter((o) => o.distanceM <= CLOSE);
  const far = site.detail.obstacles.filter((o) => o.distanceM > CLOSE);
  const ground: [number, number][] = [
    ...boxes.map((c): [number, number] => [c[0], c[1]]),
    ...near.map((o): [number, number] => [
      o.distanceM * Math.sin((o.bearing * Math.PI) / 180),
      o.distanceM * Math.cos((o.bearing * Math.PI) / 180),
    ]),
    [-2, -3],
    [2, 1.5],
  ];
  const box = {
    west: Math.min(...ground.map((g) => g[0])) - 1.5,
    east: Math.max(...ground.map((g) => g[0])) + 1.5,
    south: Math.min(...ground.map((g) => g[1])) - 1.5,
    north: Math.max(...ground.map((g) => g[1])) + 1.5,
  };
  const half = width > 620 ? width * 0.58 : width;
  const scale = Math.min((half - 20) / (box.east - box.west), HEIGHT / (box.north - box.south));
  const wide = (box.east - box.west) * scale;
  const X = linear([box.west, box.east], [(half - wide) / 2, (half + wide) / 2]);
  const Y = linear([box.north, box.south], [0, (box.north - box.south) * scale]);
  const at = (c: Point): [number, number] => [X(c[0]), Y(c[1])];
  const span = day?.sky.spans[0];
  const suns = span
    ? [span.fromMs, day.sky.spans[day.sky.spans.length - 1].toMs].map((ms) => ({ ms, ...sunPosition(ms, site) }))
    : [];
  const close = scale > 40 ? 1 : 2;
  const metres = scale > 14 ? close : 5;
  return (
    <div ref={ref} className="relative overflow-hidden">
      <svg
        ref={svg}
        width={width}
        height={HEIGHT + 26}
        role="img"
        aria-label={`Bench from above: ${stations.map((s, i) => `station ${s.number} holds ${specimens[order[i]].letter}`).join(", ")}; ${near.map((o) => `${o.name} ${o.distanceM} m away at ${o.bearing}°`).join(", ")}.`}
      >
        <Near {...{ near, X, Y, scale }} />
        <Far {...{ far, box, X, Y, half }} />
        {suns.map((s, i) => {
          const d = direction(s.azimuth, 0);
          const r = Math.min(box.east - box.west, box.north - box.south) * 0.5;
          return (
            <g key={s.ms}>
              <path d={`M${X(0)} ${Y(0)}L${X(d[0] * r)} ${Y(d[1] * r)}`} stroke="var(--ink)" strokeDasharray="5 4" />
              <circle cx={X(d[0] * r)} cy={Y(d[1] * r)} r={6} fill="var(--sun)" stroke="var(--ink)" />
              <text x={X(d[0] * r) + (i ? -9 : 9)} y={Y(d[1] * r) + 4} textAnchor={i ? "end" : "start"}>
                {timeOfDay(s.ms, site.zone)}, {Math.round(s.altitude)}° high
              </text>
            </g>
          );
        })}
        <Stations {...{ stations, specimens, order, at, X, Y }} />
        <g transform={`translate(${half - 28} 24)`}>
          <path d="M0 12V-10M-4 -4L0 -11L4 -4" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
          <text y={24} textAnchor="middle">
            N
          </text>
        </g>
        <g transform={`translate(14 ${HEIGHT + 10})`}>
          <path d={`M0 -4V0H${metres * scale}V-4`} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
          <text x={metres * scale + 6} y={3}>
            {metres} m, from above
          </text>
        </g>
        {width > 620 && <Side plan={plan} x={half + 20} width={width - half - 30} />}
      </svg>
      <Button
        kind="plain"
        className="no-print absolute right-0 bottom-0"
        onClick={() => svg.current && downloadSvg(svg.current, "bench.svg")}
      >
        <Download size={13} aria-hidden /> SVG
      </Button>
    </div>
  );
}

function Stations({
  stations,
  specimens,
  order,
  at,
  X,
  Y,
}: {
  stations: Station[];
  specimens: PlanSpecimen[];
  order: number[];
  at: (c: Point) => [number, number];
  X: Scale;
  Y: Scale;
}) {
  return stations.map((s, i) => {
    const letter = specimens[order[i]].letter;
    const [front] = s.body;
    const c = s.receiver.centre;
    return (
      <g key={s.number}>
        {s.own.map(
          (m, k) =>
            m.kind === "quad" && (
              <path
                key={k}
                d={areaThrough(m.corners.map(at))}
                fill="var(--sheet)"
                stroke="var(--ink)"
                strokeDasharray="2 2"
              />
            ),
        )}
        <path d={areaThrough(front.corners.map(at))} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
        <path
          transform={`translate(${X(c[0])} ${Y(c[1])}) scale(0.9)`}
          d={laneShape(letter)}
          fill={laneColor(letter)}
        />
        <text
          x={X(c[0])}
          y={Math.max(...front.corners.map((k) => Y(k[1]))) + 14}
          textAnchor="middle"
          style={{ fill: "var(--ink)", fontWeight: 650 }}
        >
          {s.number}: {letter}
        </text>
      </g>
    );
  });
}

function Far({
  far,
  box,
  X,
  Y,
  half,
}: {
  far: readonly Obstacle[];
  box: { west: number; east: number; south: number; north: number };
  X: Scale;
  Y: Scale;
  half: number;
}) {
  return far.map((o) => {
    const d = direction(o.bearing, 0);
    const reach =
      Math.min(...[(d[0] > 0 ? box.east : box.west) / d[0], (d[1] > 0 ? box.north : box.south) / d[1]].map(Math.abs)) *
      0.94;
    const [x, y] = [X(d[0] * reach), Y(d[1] * reach)];
    return (
      <g key={o.id}>
        <path d={`M${x - 9 * d[0]} ${y + 9 * d[1]}L${x} ${y}`} stroke="var(--ink)" strokeWidth="3" />
        <text
          x={Math.max(70, Math.min(half - 70, x))}
          y={Math.max(12, Math.min(HEIGHT - 4, y - (d[1] > 0 ? 5 : 12)))}
          textAnchor="middle"
        >
          {o.name}, {o.distanceM} m off
        </text>
      </g>
    );
  });
}

function Near({ near, X, Y, scale }: { near: readonly Obstacle[]; X: Scale; Y: Scale; scale: number }) {
  return near.map((o) => {
    const [e, n] = [
      o.distanceM * Math.sin((o.bearing * Math.PI) / 180),
      o.distanceM * Math.cos((o.bearing * Math.PI) / 180),
    ];
    if (o.kind === "tree")
      return (
        <g key={o.id}>
          <circle
            cx={X(e)}
            cy={Y(n)}
            r={(o.crownDiameterM / 2) * scale}
            fill="var(--well)"
            stroke="var(--ink)"
            strokeDasharray="3 2"
          />
          <text x={X(e)} y={Y(n) + 4} textAnchor="middle">
            {o.name}, {o.topM} m
          </text>
        </g>
      );
    const along = (((o.facing ?? o.bearing + 180) + 90) * Math.PI) / 180;
    const [dx, dy] = [(Math.sin(along) * o.widthM) / 2, (Math.cos(along) * o.widthM) / 2];
    return (
      <g key={o.id}>
        <path d={`M${X(e - dx)} ${Y(n - dy)}L${X(e + dx)} ${Y(n + dy)}`} stroke="var(--ink)" strokeWidth="4" />
        <text x={X(e) + 6} y={Y(n) - 6}>
          {o.name}, {o.heightM} m
        </text>
      </g>
    );
  });
}

/** Across the rows, seen from the side the bench's left is nearest to, with the noon sun of the first day. */
function Side({ plan, x, width }: { plan: PlanView; x: number; width: number }) {
  const {
    stations,
    settings: { bench },
    site,
  } = plan;
  const day = plan.days[0];
  const rad = Math.PI / 180;
  // Ground distance behind the front of the bench, and height.
  const flat = (c: Point): [number, number] => [
    -(c[0] * Math.sin(bench.azimuth * rad) + c[1] * Math.cos(bench.azimuth * rad)),
    c[2],
  ];
  const rows = [...new Map(stations.map((s) => [s.row, s])).values()];
  const points = rows.flatMap((s) => s.body.flatMap((q) => q.corners.map(flat)));
  const [left, right, top] = [
    Math.min(...points.map((p) => p[0])) - 0.8,
    Math.max(...points.map((p) => p[0])) + 0.6,
    Math.max(...points.map((p) => p[1])) + 0.9,
  ];
  const scale = Math.min(width / (right - left), (HEIGHT - 8) / top);
  const X = linear([left, right], [x, x + (right - left) * scale]);
  const Y = linear([0, top], [HEIGHT, HEIGHT - top * scale]);
  const noon = day ? sunPosition(day.sky.sun.noonMs, site) : null;
  const inFront = noon ? Math.cos((noon.azimuth - bench.azimuth) * rad) : 1;
  const slope = noon ? Math.tan(noon.altitude * rad) / Math.max(0.2, inFront) : 0;
  return (
    <g>
      <path d={`M${x} ${HEIGHT}H${x + width}`} stroke="var(--ink)" strokeWidth="1.5" />
      {rows.map((s) => (
        <g key={s.row}>
          {s.body.map((q, i) => (
            <path
              key={i}
              d={areaThrough(q.corners.map(flat).map(([d, h]) => [X(d), Y(h)]))}
              fill="var(--sheet)"
              stroke="var(--ink)"
              strokeWidth="1.2"
            />
          ))}
        </g>
      ))}
      {noon &&
        slope > 0 &&
        rows.map((s) => {
          const topCorner = s.body[0].corners.map(flat).reduce((a, b) => (b[1] > a[1] ? b : a));
          return (
            <path
              key={s.row}
              d={`M${X(topCorner[0])} ${Y(topCorner[1])}L${X(Math.min(right, topCorner[0] + topCorner[1] / slope))} ${Y(Math.max(0, topCorner[1] - (Math.min(right, topCorner[0] + topCorner[1] / slope) - topCorner[0]) * slope))}`}
              stroke="var(--ink)"
              strokeDasharray="5 4"
            />
          );
        })}
      <text x={x} y={HEIGHT + 14}>
        from the side{noon ? `, shadow at noon, sun ${Math.round(noon.altitude)}° high` : ""}
      </text>
    </g>
  );
}
