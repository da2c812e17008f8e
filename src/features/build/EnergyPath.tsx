"use client";

import type { EnergyShare, Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { expandedStated } from "@/core/uncertainty/normal";
import { measured } from "@/core/uncertainty/uncertain";
import { usePreferences } from "@/ui/preferences";
import { Head } from "@/ui/Head";

/** In the order in which they leave the sun's band; the last is what stays. */
const NAMES: readonly (readonly [share: EnergyShare, name: string])[] = [
  ["reflected", "sent back as light"],
  ["front", "lost through the front"],
  ["back", "lost through the back"],
  ["edge", "lost at the edges"],
  ["useful", "useful heat"],
];
const UP: readonly EnergyShare[] = ["reflected", "front"];

const WIDTH = 320;
const HEIGHT = 150;
/** Pixels for 1,000 W, where the sun's band begins, and how far from each other losses turn off. */
const BAND = 90;
const TOP = 30;
const FIRST_TURN = 40;
const NEXT_TURN = 58;
const RISE = 16;

/** From 1,000 W of sun on the opening to the heat in the stream: what leaves on the way, as wide as it is much. */
export function EnergyPath({ prediction: { shares } }: { prediction: Prediction }) {
  const { system } = usePreferences();
  if (!shares) return null;
  const watts = (s: EnergyShare) => 1000 * shares[s].value;
  const text = (s: EnergyShare) =>
    quantityText(watts(s), "power", { system, expanded: 1000 * expandedStated(measured(shares[s])) });
  const { branches, rest } = pathOf(watts);
  return (
    <section aria-labelledby="energy-path" data-testid="energy-path">
      <Head
        id="energy-path"
        title="From sun to heat"
        side={<>of {quantityText(1000, "power", { system })} on the opening</>}
      />
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="mt-1 w-full max-w-[420px]" aria-hidden>
        <path d={`M0 ${TOP}H${FIRST_TURN}V${TOP + BAND}H0Z`} fill="var(--sun)" />
        {branches.map((b) => (
          <g key={b.share}>
            <path d={b.band} fill="var(--sun)" />
            {b.away && <path d={b.away} fill="var(--hair)" stroke="var(--ink-3)" />}
            <Numbered n={b.number} x={b.labelX} y={b.labelY} />
          </g>
        ))}
        <path d={rest.band} fill="var(--sun)" />
        <Numbered n={NAMES.length} x={WIDTH - 12} y={rest.middle + 4} />
      </svg>
      <ol className="text-[13.5px]">
        {NAMES.map(([share, name], i) => (
          <li key={share} className="flex gap-2 border-b border-hair py-[2.5px]">
            <span className="w-3 text-ink-2">{i + 1}</span>
            <span className="flex-1">
              {name}
              {watts(share) < -0.5 ? ", which gains here" : ""}
            </span>
            <b className={share === "useful" ? "font-[650]" : "font-normal"}>{text(share)}</b>
          </li>
        ))}
      </ol>
    </section>
  );
}

const Numbered = ({ n, x, y }: { n: number; x: number; y: number }) => (
  <text {...{ x, y }} fontSize="12" fontWeight="650" fill="var(--ink)">
    {n}
  </text>
);

/** Bands that turn off one after another, up or down, and what is left of the main one. */
function pathOf(watts: (s: EnergyShare) => number) {
  let [top, bottom, x] = [TOP, TOP + BAND, FIRST_TURN];
  const branches = NAMES.slice(0, -1).map(([share], i) => {
    const wide = (Math.max(0, watts(share)) / 1000) * BAND;
    const up = UP.includes(share);
    const [from, sign] = up ? [top, -1] : [bottom, 1];
    if (up) top += wide;
    else bottom -= wide;
    const to = x + NEXT_TURN;
    const edge = from - sign * wide;
    const [tip, turn] = [from + sign * RISE, x + wide];
    const away = wide > 0.3 ? `M${x} ${from}L${x} ${edge}C${turn} ${edge} ${turn} ${from} ${turn} ${tip}H${x}Z` : null;
    const branch = { share, number: i + 1, band: `M${x} ${top}H${to}V${bottom}H${x}Z`, away };
    const label = { labelX: turn + 4, labelY: up ? tip + 9 : tip };
    x = to;
    return { ...branch, ...label };
  });
  return { branches, rest: { band: `M${x} ${top}H${WIDTH}V${bottom}H${x}Z`, middle: (top + bottom) / 2 } };
}
