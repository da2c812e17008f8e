import type { AbsorberForm, AirPath } from "@/core/collector/specification";
import { laneColor } from "./LaneMark";

export interface BadgeSpecification {
  absorber: AbsorberForm;
  airPath: AirPath;
  fluid: "air" | "water";
  covers: number;
  mirror: boolean;
}

const FORM_WORDS: Record<AbsorberForm, string> = {
  flat: "flat sheet", corrugated: "corrugated sheet", fins: "fins", mesh: "mesh layers", columns: "columns of cans", ductCoil: "coil of duct",
  hose: "hose spiral", tubeSheet: "tube and sheet", perforated: "perforated sheet", masonry: "dark masonry",
};
const PATH_WORDS: Record<AirPath, string> = { back: "air behind", front: "air in front", both: "air on both sides", through: "air through", none: "" };

export function badgeWords(s: BadgeSpecification): string {
  const covers = s.covers === 0 ? "no glazing" : s.covers === 1 ? "one glazing" : `${s.covers} glazings`;
  return [FORM_WORDS[s.absorber], s.fluid === "air" ? PATH_WORDS[s.airPath] : "water", covers, s.mirror ? "bottom mirror" : ""].filter(Boolean).join(", ");
}

const WIDTH = 48;
const BACK = 23.5;
const FLOOR = 29.5;

/** The variant in section, 48 × 32: glazing and frame in ink, absorber in the lane's colour, air as an arrow, insulation hatched. */
export function Badge({ specification: s, lane, scale = 1 }: { specification: BadgeSpecification; lane: string; scale?: number }) {
  const left = s.mirror ? 13 : 3.5;
  const right = 44.5;
  const top = s.covers === 0 ? 12 : s.covers === 1 ? 5.5 : 3.5;
  const arrow = s.fluid === "air" && s.airPath !== "none";
  const level = !arrow || s.airPath === "through" ? (s.fluid === "water" ? 20.5 : 15) : s.airPath === "back" ? 14.5 : s.airPath === "front" ? 18.5 : 16;
  return (
    <svg width={WIDTH * scale} height={32 * scale} viewBox="0 0 48 32" role="img" aria-label={badgeWords(s)} className="shrink-0">
      <g fill="none" stroke="var(--ink)">
        <path d={`M${left} ${top}V${FLOOR}H${right}V${top}`} strokeWidth="1.3" />
        <path d={`M${left} ${BACK}H${right}`} strokeWidth="0.8" />
        <path d={hatch(left, right)} strokeWidth="0.7" />
        {s.covers > 0 && <path d={`M${left - 1.5} ${top}H${right + 1.5}`} strokeWidth="1.4" />}
        {s.covers > 1 && <path d={`M${left} ${top + 3.6}H${right}`} strokeWidth="1.1" />}
        {s.mirror && <path d="M11.5 29.5L2.5 9" strokeWidth="1.9" />}
        {s.mirror && <path d="M10.8 27.9l-2.6 1.6M9 23.8l-2.6 1.6M7.2 19.7l-2.6 1.6M5.4 15.6l-2.6 1.6" strokeWidth="0.8" />}
      </g>
      <g fill="none" stroke={laneColor(lane)} strokeWidth="2" strokeLinejoin="round">{absorber(s.absorber, left + 1.5, right - 1.5, level)}</g>
      {arrow && <g stroke="var(--ink)" fill="var(--ink)">{arrows(s.airPath, left + 4, right - 4, level)}</g>}
    </svg>
  );
}

function hatch(left: number, right: number): string {
  const lines: string[] = [];
  for (let x = left - 4; x < right; x += 3.6) {
    const [x0, y0] = x < left ? [left, FLOOR - (left - x)] : [x, FLOOR];
    const over = x + 6 > right ? x + 6 - right : 0;
    lines.push(`M${x0} ${y0}L${x + 6 - over} ${BACK + over}`);
  }
  return lines.join("");
}

function absorber(form: AbsorberForm, a: number, b: number, y: number) {
  const across = (step: number) => Array.from({ length: Math.floor((b - a) / step) }, (_, i) => a + step * (i + 0.5));
  switch (form) {
    case "flat": return <path d={`M${a} ${y}H${b}`} strokeWidth="2.4" />;
    case "corrugated": return <path d={`M${a} ${y}${across(5).map(() => "q1.25 -4.6 2.5 0t2.5 0").join("")}`} />;
    case "fins": return <path d={`M${a} ${y - 2}H${b}${across(3.6).map((x) => `M${x} ${y - 2}v4.6`).join("")}`} strokeWidth="1.5" />;
    case "mesh": return <path d={[-3.4, 0, 3.4].map((d) => `M${a} ${y + d - 1}L${b} ${y + d + 1}`).join("")} strokeWidth="1.7" strokeDasharray="2.6 1.4" />;
    case "columns": return <>{across(7.4).map((x) => <circle key={x} cx={x} cy={y} r="3" strokeWidth="1.8" />)}</>;
    case "ductCoil": return <>{across(4.2).map((x) => <ellipse key={x} cx={x} cy={y} rx="2.6" ry="4.4" strokeWidth="1.4" />)}</>;
    case "hose": return <>{across(5.2).map((x) => <circle key={x} cx={x} cy={y} r="2.1" strokeWidth="1.6" />)}</>;
    case "tubeSheet": return <><path d={`M${a} ${y - 3}H${b}`} />{across(9).map((x) => <circle key={x} cx={x} cy={y - 0.2} r="2.1" strokeWidth="1.6" />)}</>;
    case "perforated": return <path d={`M${a} ${y}H${b}`} strokeWidth="2.6" strokeDasharray="3.4 2" />;
    case "masonry": return <path d={`M${a} ${y - 1.8}H${b}M${a} ${y + 1.8}H${b}`} strokeWidth="2.4" strokeDasharray="6.4 1" />;
  }
}

function arrows(path: AirPath, a: number, b: number, level: number) {
  const line = (y: number) => <path key={y} d={`M${a} ${y}H${b - 2}`} strokeWidth="1.1" fill="none" />;
  const tip = (y: number) => <path key={`t${y}`} d={`M${b} ${y}l-3.6 -2.2v4.4Z`} stroke="none" />;
  if (path === "through") {
    return [0.3, 0.68].map((t) => {
      const x = a + (b - a) * t;
      return <g key={t}><path d={`M${x} ${level - 6}l4 9`} strokeWidth="1.1" fill="none" /><path d={`M${x + 5} ${level + 5.4}l-3.4 -2.2l3.2 -1.5Z`} stroke="none" /></g>;
    });
  }
  const ys = path === "back" ? [20.2] : path === "front" ? [11.4] : [10, 20.9];
  return ys.flatMap((y) => [line(y), tip(y)]);
}
