"use client";

import type { EnergyShare, Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { expandedStated } from "@/core/uncertainty/normal";
import { measured } from "@/core/uncertainty/uncertain";
import { usePreferences } from "@/ui/preferences";

const NAMES: Record<EnergyShare, string> = {
  reflected: "sent back by cover and absorber",
  front: "lost through the front",
  back: "lost through the back",
  edge: "lost at the edges",
  useful: "useful heat",
};
const UP: readonly EnergyShare[] = ["reflected", "front"];
const DOWN: readonly EnergyShare[] = ["back", "edge"];

const WIDTH = 560;
const HEIGHT = 190;
/** Pixels for 1,000 W, and where the sun's band begins. */
const BAND = 104;
const TOP = 34;
const FIRST_TURN = 96;
const NEXT_TURN = 112;
const RISE = 20;

/** From 1,000 W of sun on the opening to the heat in the stream: what leaves on the way, as wide as it is much. */
export function EnergyPath({ prediction }: { prediction: Prediction }) {
  const { system } = usePreferences();
  if (!prediction.shares) return null;
  const { shares } = prediction;
  const watts = (s: EnergyShare) => 1000 * shares[s].value;
  const text = (s: EnergyShare) =>
    quantityText(watts(s), "power", { system, expanded: 1000 * expandedStated(measured(shares[s])) });
  const gains = [...UP, ...DOWN].filter((s) => watts(s) < 0);
  const branches = branchesOf(watts);
  const last = branches.end;
  return (
    <section aria-labelledby="energy-path" data-testid="energy-path">
      <div className="head">
        <h2 id="energy-path">From sun to heat</h2>
        <span className="side">of 1,000{"\u2009"}W on the opening, at your operating point</span>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-1 w-full max-w-[640px]"
        role="img"
        aria-label={`Of 1,000 W of sun: ${(Object.keys(NAMES) as EnergyShare[]).map((s) => `${text(s)} ${NAMES[s]}`).join(", ")}.`}
      >
        <path d={`M0 ${TOP}H${FIRST_TURN}V${TOP + BAND}H0Z`} fill="var(--sun)" />
        <text x="8" y={TOP + BAND / 2 + 5} fontSize="13" fontWeight="650" fill="var(--ink)">
          sun
        </text>
        {branches.list.map((b) => (
          <Branch key={b.share} branch={b} text={text(b.share)} />
        ))}
        <path d={last.band} fill="var(--sun)" />
        <text x={WIDTH - 6} y={last.middle - 2} fontSize="14" fontWeight="650" textAnchor="end" fill="var(--ink)">
          {text("useful")}
        </text>
        <text x={WIDTH - 6} y={last.middle + 14} fontSize="12.5" textAnchor="end" fill="var(--ink)">
          {NAMES.useful}
        </text>
      </svg>
      {gains.length > 0 && (
        <p className="side">
          Colder than what is around it, the box gains: {gains.map((s) => `${text(s)} ${NAMES[s]}`).join(", ")}.
        </p>
      )}
    </section>
  );
}

/** One loss turning off the sun's band. */
function Branch({ branch: b, text }: { branch: ReturnType<typeof branchesOf>["list"][number]; text: string }) {
  return (
    <g>
      <path d={b.band} fill="var(--sun)" opacity="0.75" />
      <path d={b.away} fill={b.share === "reflected" ? "var(--sheet)" : "var(--hair)"} stroke="var(--ink-3)" />
      <text x={b.labelX} y={b.labelY} fontSize="12.5" fill="var(--ink)">
        <tspan fontWeight="650">{text}</tspan> {NAMES[b.share]}
      </text>
    </g>
  );
}

/** Bands that turn off one after another, up or down, and what is left of the main one. */
function branchesOf(watts: (s: EnergyShare) => number) {
  const high = (s: EnergyShare) => (Math.max(0, watts(s)) / 1000) * BAND;
  let [top, bottom, x] = [TOP, TOP + BAND, FIRST_TURN];
  const list = [...UP, ...DOWN].map((share) => {
    const h = high(share);
    const up = UP.includes(share);
    const turn = Math.max(6, h);
    const from = up ? top : bottom;
    const sign = up ? -1 : 1;
    if (up) top += h;
    else bottom -= h;
    const to = x + (share === "back" ? 12 : NEXT_TURN);
    const band = `M${x} ${top}H${to}V${bottom}H${x}Z`;
    const tip = from + sign * RISE;
    const away = `M${x} ${from}L${x} ${from - sign * h}C${x + turn} ${from - sign * h} ${x + turn} ${from} ${x + turn} ${tip}H${x}C${x} ${from + sign * 8} ${x} ${from} ${x} ${from}Z`;
    const label = { labelX: x + turn + 6, labelY: up ? tip + 10 : tip - 2 };
    x = to;
    return { share, band, away, ...label };
  });
  return { list, end: { band: `M${x} ${top}H${WIDTH}V${bottom}H${x}Z`, middle: (top + bottom) / 2 } };
}
