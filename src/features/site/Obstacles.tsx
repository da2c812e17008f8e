"use client";

import { Download, Fence, TreeDeciduous } from "lucide-react";
import { useRef, useState } from "react";
import { obstacleProblems, type Obstacle } from "@/core/site/shade";
import { QuantityField } from "@/ui/QuantityField";
import { downloadSvg } from "@/ui/download";
import { obstacleWords } from "@/words/plan";
import { TextField } from "@/ui/form/fields";

const freshId = () => `o${Date.now().toString(36)}${Math.floor(Math.random() * 1e6).toString(36)}`;

const NEW: Record<Obstacle["kind"], () => Obstacle> = {
  wall: () => ({
    id: freshId(),
    kind: "wall",
    name: "Wall",
    bearing: 90,
    distanceM: 8,
    widthM: 6,
    heightM: 3,
    facing: null,
  }),
  tree: () => ({
    id: freshId(),
    kind: "tree",
    name: "Tree",
    bearing: 135,
    distanceM: 12,
    crownDiameterM: 4,
    topM: 7,
    bottomM: 2,
    transmittance: 0.15,
    winterTransmittance: 0.6,
  }),
};

/** Near things that take light: walls and trees, by bearing and distance from the middle of the bench, drawn from above to scale. */
export function Obstacles({
  obstacles,
  azimuth,
  onChange,
}: {
  obstacles: readonly Obstacle[];
  azimuth: number;
  onChange: (obstacles: Obstacle[]) => void;
}) {
  const [chosen, setChosen] = useState<string | null>(null);
  const problems = obstacleProblems(obstacles);
  const set = (id: string, change: Partial<Obstacle>) =>
    onChange(obstacles.map((o) => (o.id === id ? ({ ...o, ...change } as Obstacle) : o)));
  const add = (kind: Obstacle["kind"]) => {
    const fresh = NEW[kind]();
    const names = new Set(obstacles.map((o) => o.name));
    for (let n = 2; names.has(fresh.name); n++) fresh.name = `${kind === "wall" ? "Wall" : "Tree"} ${n}`;
    onChange([...obstacles, fresh]);
    setChosen(fresh.id);
  };
  return (
    <section aria-labelledby="obstacles" className="min-w-0">
      <div className="head">
        <h2 id="obstacles">Near obstacles</h2>
        <span className="side">
          from the middle of the bench; an upper mirror and neighbours come from the designs, in Plan
        </span>
        <span className="more flex gap-2">
          <button type="button" className="btn" onClick={() => add("tree")}>
            <TreeDeciduous size={14} aria-hidden /> Add a tree
          </button>
          <button type="button" className="btn" onClick={() => add("wall")}>
            <Fence size={14} aria-hidden /> Add a wall
          </button>
        </span>
      </div>
      {problems.map((p) => (
        <p
          key={p.id + p.kind}
          role="alert"
          className={`text-[13.5px] font-semibold ${p.kind === "overlap" ? "text-doubt" : "text-danger"}`}
        >
          {obstacleWords(p)}
        </p>
      ))}
      <div className="grid grid-cols-1 gap-x-6 gap-y-2 pt-2 lg:grid-cols-[260px_minmax(0,1fr)]">
        <FromAbove obstacles={obstacles} azimuth={azimuth} chosen={chosen} onChoose={setChosen} />
        <ul>
          {obstacles.map((o) => (
            <li
              key={o.id}
              className={`border-b border-hair py-1.5 ${chosen === o.id ? "bg-action-wash" : ""}`}
              aria-label={o.name}
              onFocus={() => setChosen(o.id)}
            >
              <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-4">
                <NameField name={o.name} onChange={(name) => set(o.id, { name })} />
                <QuantityField
                  label="Bearing"
                  quantity="angle"
                  si={o.bearing}
                  min={0}
                  max={360}
                  onChange={(bearing) => set(o.id, { bearing: bearing % 360 })}
                />
                <QuantityField
                  label="Distance"
                  quantity="length"
                  si={o.distanceM}
                  max={500}
                  onChange={(distanceM) => set(o.id, { distanceM })}
                />
                {o.kind === "wall" ? (
                  <>
                    <QuantityField
                      label="Width"
                      quantity="length"
                      si={o.widthM}
                      max={500}
                      onChange={(widthM) => set(o.id, { widthM })}
                    />
                    <QuantityField
                      label="Height"
                      quantity="length"
                      si={o.heightM}
                      max={200}
                      onChange={(heightM) => set(o.id, { heightM })}
                    />
                    <QuantityField
                      label="Looks toward"
                      quantity="angle"
                      si={o.facing ?? (o.bearing + 180) % 360}
                      min={0}
                      max={360}
                      onChange={(facing) => set(o.id, { facing: facing % 360 })}
                    />
                  </>
                ) : (
                  <>
                    <QuantityField
                      label="Crown across"
                      quantity="length"
                      si={o.crownDiameterM}
                      max={100}
                      onChange={(crownDiameterM) => set(o.id, { crownDiameterM })}
                    />
                    <QuantityField
                      label="Top"
                      quantity="length"
                      si={o.topM}
                      max={120}
                      onChange={(topM) => set(o.id, { topM })}
                    />
                    <QuantityField
                      label="Crown from"
                      quantity="length"
                      si={o.bottomM}
                      min={0}
                      max={120}
                      onChange={(bottomM) => set(o.id, { bottomM })}
                    />
                    <QuantityField
                      label="Lets through in leaf"
                      quantity="fraction"
                      si={o.transmittance}
                      min={0}
                      max={1}
                      onChange={(transmittance) => set(o.id, { transmittance })}
                    />
                    <QuantityField
                      label="Bare"
                      quantity="fraction"
                      si={o.winterTransmittance}
                      min={0}
                      max={1}
                      onChange={(winterTransmittance) => set(o.id, { winterTransmittance })}
                    />
                  </>
                )}
                <button
                  type="button"
                  className="btn btn-plain self-end justify-self-start"
                  onClick={() => onChange(obstacles.filter((x) => x.id !== o.id))}
                >
                  Remove
                </button>
              </div>
            </li>
          ))}
          {obstacles.length === 0 && <li className="side py-1">Nothing near takes light.</li>}
        </ul>
      </div>
    </section>
  );
}

function NameField({ name, onChange }: { name: string; onChange: (name: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const text = draft?.trim();
    if (text && text !== name) onChange(text);
    setDraft(null);
  };
  return (
    <TextField
      label="Name"
      maxLength={60}
      value={draft ?? name}
      onBlur={commit}
      onKeyDown={(e) => e.key === "Enter" && commit()}
      onChange={setDraft}
    />
  );
}

const SIZE = 260;

function FromAbove({
  obstacles,
  azimuth,
  chosen,
  onChoose,
}: {
  obstacles: readonly Obstacle[];
  azimuth: number;
  chosen: string | null;
  onChoose: (id: string) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const reach =
    Math.max(6, ...obstacles.map((o) => o.distanceM + (o.kind === "tree" ? o.crownDiameterM / 2 : o.widthM / 2))) *
    1.08;
  const scale = SIZE / 2 / reach;
  const rad = Math.PI / 180;
  const ring = [1, 2, 5, 10, 20, 50, 100, 200].find((r) => reach / r <= 4) ?? 200;
  return (
    <div className="relative">
      <svg
        ref={svg}
        width={SIZE}
        height={SIZE}
        viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`}
        role="img"
        aria-label={`From above: ${obstacles.map((o) => `${o.name} ${o.distanceM} m away at ${Math.round(o.bearing)} degrees`).join(", ") || "nothing near"}`}
      >
        {Array.from({ length: Math.floor(reach / ring) }, (_, i) => (i + 1) * ring).map((r) => (
          <g key={r}>
            <circle r={r * scale} fill="none" stroke="var(--hair)" />
            <text x={2} y={-r * scale - 2}>
              {r} m
            </text>
          </g>
        ))}
        <path d={`M0 ${-SIZE / 2}V${SIZE / 2}M${-SIZE / 2} 0H${SIZE / 2}`} stroke="var(--hair)" />
        <text x={-SIZE / 2 + 3} y={-3}>
          W
        </text>
        <text x={SIZE / 2 - 12} y={-3}>
          E
        </text>
        <text x={-12} y={SIZE / 2 - 4}>
          S
        </text>
        <text x={-12} y={-SIZE / 2 + 12}>
          N
        </text>
        <g transform={`rotate(${azimuth})`}>
          <path
            d={`M${-2 * scale} ${-0.5 * scale}H${2 * scale}V${0.5 * scale}H${-2 * scale}Z`}
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
          <path d={`M${-2 * scale} ${-0.5 * scale}H${2 * scale}`} stroke="var(--action)" strokeWidth="3" />
        </g>
        {obstacles.map((o) => {
          const [x, y] = [
            o.distanceM * Math.sin(o.bearing * rad) * scale,
            -o.distanceM * Math.cos(o.bearing * rad) * scale,
          ];
          const stroke = chosen === o.id ? "var(--action)" : "var(--ink)";
          if (o.kind === "tree")
            return (
              <g key={o.id} onClick={() => onChoose(o.id)}>
                <circle
                  cx={x}
                  cy={y}
                  r={Math.max(2, (o.crownDiameterM / 2) * scale)}
                  fill="var(--well)"
                  stroke={stroke}
                  strokeWidth={chosen === o.id ? 3 : 1.5}
                  strokeDasharray="3 2"
                />
                <text x={x} y={y + 4} textAnchor="middle">
                  {o.name}
                </text>
              </g>
            );
          const along = ((o.facing ?? o.bearing + 180) + 90) * rad;
          const [dx, dy] = [(Math.sin(along) * o.widthM * scale) / 2, (-Math.cos(along) * o.widthM * scale) / 2];
          return (
            <g key={o.id} onClick={() => onChoose(o.id)}>
              <path
                d={`M${x - dx} ${y - dy}L${x + dx} ${y + dy}`}
                stroke={stroke}
                strokeWidth={chosen === o.id ? 6 : 4}
              />
              <text x={Math.max(-SIZE / 2 + 30, Math.min(SIZE / 2 - 30, x))} y={y - 8} textAnchor="middle">
                {o.name}
              </text>
            </g>
          );
        })}
      </svg>
      <button
        type="button"
        className="btn btn-plain no-print"
        onClick={() => svg.current && downloadSvg(svg.current, "obstacles.svg")}
      >
        <Download size={13} aria-hidden /> SVG
      </button>
    </div>
  );
}
