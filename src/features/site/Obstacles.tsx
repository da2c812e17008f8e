"use client";

import { Download, Fence, TreeDeciduous } from "lucide-react";
import { useRef, useState, type Dispatch, type SetStateAction } from "react";
import { obstacleProblems, type Obstacle } from "@/core/site/shade";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { downloadSvg } from "@/ui/download";
import { obstacleWords } from "@/words/plan";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const freshId = () => `o${Date.now().toString(36)}${Math.floor(Math.random() * 1e6).toString(36)}`;

/** Every figure of an obstacle, of whatever kind. */
type Figures = Record<
  | Exclude<keyof Extract<Obstacle, { kind: "wall" }>, "id" | "kind" | "name">
  | Exclude<keyof Extract<Obstacle, { kind: "tree" }>, "id" | "kind" | "name">,
  number
>;
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

const PLACE: Asked<Figures>[] = [
  { key: "bearing", label: "Bearing", quantity: "angle", min: 0, max: 360 },
  { key: "distanceM", label: "Distance", quantity: "length", max: 500 },
];
const WALL: Asked<Figures>[] = [
  ...PLACE,
  { key: "widthM", label: "Width", quantity: "length", max: 500 },
  { key: "heightM", label: "Height", quantity: "length", max: 200 },
  { key: "facing", label: "Looks toward", quantity: "angle", min: 0, max: 360 },
];
const TREE: Asked<Figures>[] = [
  ...PLACE,
  { key: "crownDiameterM", label: "Crown across", quantity: "length", max: 100 },
  { key: "topM", label: "Top", quantity: "length", max: 120 },
  { key: "bottomM", label: "Crown from", quantity: "length", min: 0, max: 120 },
  { key: "transmittance", label: "Lets through in leaf", quantity: "fraction", min: 0, max: 1 },
  { key: "winterTransmittance", label: "Bare", quantity: "fraction", min: 0, max: 1 },
];
/** 360° is north, as 0° is. */
const inCircle = (part: Partial<Figures>): Partial<Figures> =>
  Object.fromEntries(
    Object.entries(part).map(([key, v]) => [key, key === "bearing" || key === "facing" ? v % 360 : v]),
  );

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
      <Head
        id="obstacles"
        title="Near obstacles"
        side="from the middle of the bench; an upper mirror and neighbours come from the designs, in Plan"
      >
        <span className="more flex gap-2">
          <Button onClick={() => add("tree")}>
            <TreeDeciduous size={14} aria-hidden /> Add a tree
          </Button>
          <Button onClick={() => add("wall")}>
            <Fence size={14} aria-hidden /> Add a wall
          </Button>
        </span>
      </Head>
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
        <List {...{ obstacles, chosen, setChosen, set, onChange }} />
      </div>
    </section>
  );
}

function List({
  obstacles,
  chosen,
  setChosen,
  set,
  onChange,
}: {
  obstacles: readonly Obstacle[];
  chosen: string | null;
  setChosen: Dispatch<SetStateAction<string | null>>;
  set: (id: string, change: Partial<Obstacle>) => void;
  onChange: (obstacles: Obstacle[]) => void;
}) {
  return (
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
            <QuantityFields
              of={o.kind === "wall" ? WALL : TREE}
              value={o.kind === "wall" ? { ...o, facing: o.facing ?? (o.bearing + 180) % 360 } : o}
              set={(part) => set(o.id, inCircle(part))}
            />
            <Button
              kind="plain"
              className="self-end justify-self-start"
              onClick={() => onChange(obstacles.filter((x) => x.id !== o.id))}
            >
              Remove
            </Button>
          </div>
        </li>
      ))}
      {obstacles.length === 0 && <li className="side py-1">Nothing near takes light.</li>}
    </ul>
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
        <Drawn {...{ obstacles, rad, scale, chosen, onChoose }} />
      </svg>
      <Button
        kind="plain"
        className="no-print"
        onClick={() => svg.current && downloadSvg(svg.current, "obstacles.svg")}
      >
        <Download size={13} aria-hidden /> SVG
      </Button>
    </div>
  );
}

function Drawn({
  obstacles,
  rad,
  scale,
  chosen,
  onChoose,
}: {
  obstacles: readonly Obstacle[];
  rad: number;
  scale: number;
  chosen: string | null;
  onChoose: (id: string) => void;
}) {
  return obstacles.map((o) => {
    const [x, y] = [o.distanceM * Math.sin(o.bearing * rad) * scale, -o.distanceM * Math.cos(o.bearing * rad) * scale];
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
        <path d={`M${x - dx} ${y - dy}L${x + dx} ${y + dy}`} stroke={stroke} strokeWidth={chosen === o.id ? 6 : 4} />
        <text x={Math.max(-SIZE / 2 + 30, Math.min(SIZE / 2 - 30, x))} y={y - 8} textAnchor="middle">
          {o.name}
        </text>
      </g>
    );
  });
}
