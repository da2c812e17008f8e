"use client";

import { useState } from "react";
import type { DarkCheck } from "@/core/analysis/placement";
import { airPath, opening, type Design } from "@/core/collector/design";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/page/views";
import type { ProveView } from "@/services/prove/prove";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { layoutSection } from "@/ui/section/layout";
import { SectionArt } from "@/ui/section/Section";
import { Head } from "@/ui/Head";
import type { UnitSystem } from "@/core/quantity/quantities";

function placementWords(d: DarkCheck): string {
  if (d.beyondLimits)
    return ": more than both probes’ limits. Look for a probe in the wrong place, wet or mixed up, then calibrate.";
  return Math.abs(d.riseK) > 0.1 ? ", within the stated limits; a calibration would take it out" : ", good";
}

/** Where each probe goes, by its number in the picture. */
function rulesOf(design: Design, system: UnitSystem): string[] {
  const air = design.fluid.kind === "air";
  const straight = quantityText(5 * design.ports.diameterM, "length", { system, figures: 2 });
  return [
    air
      ? `In the middle of the inlet duct, ${straight} before the box, shaded.`
      : "Immersed in the inlet pipe against the stream, the pipe insulated around it.",
    air
      ? `In the outlet duct, ${straight} behind the box and any bend, the duct insulated, out of sight of the hot absorber; stir the stream with a half-turn of mesh before it.`
      : "Immersed right at the outlet, insulated outside.",
    airPath(design) === "inside"
      ? "On the outside of a middle pipe, two thirds along, under tape."
      : "On the absorber’s back, two thirds along the flow, with paste, out of the sun.",
    air
      ? "Speed meter in a straight duct, ten diameters from the fan and bends, or traversed."
      : "Flow meter in straight pipe, full of liquid, no air.",
    "Outside probe north of the box, shaded and ventilated, away from its warm air.",
    `Sun sensor in the collector plane, at its edge, level with the glass; nothing shades it from ${quantityText(opening(design).widthM, "length", { system, figures: 2 })} of box.`,
  ];
}

/** Where each probe goes on this lane's own section, and what the readings say about how they were placed. */
export function Placement({ view, prove }: { view: ExperimentView; prove: ProveView }) {
  const { lanes } = view.head;
  const { system } = usePreferences();
  const [letter, setLetter] = useState(lanes[0]?.letter ?? "");
  const lane = lanes.find((l) => l.letter === letter);
  const dark = prove.dark;
  if (!lane) return null;
  const { design } = lane;
  const rules = rulesOf(design, system);
  return (
    <section aria-labelledby="placement">
      <Head id="placement" title="Where the probes go">
        <label className="more no-print text-[13px]">
          lane{" "}
          <select
            className="border border-rule bg-sheet px-1"
            value={letter}
            onChange={(e) => setLetter(e.target.value)}
          >
            {lanes.map((l) => (
              <option key={l.letter} value={l.letter}>
                {l.letter} {l.variant}
              </option>
            ))}
          </select>
        </label>
      </Head>
      <div className="flex flex-wrap gap-4 pt-1">
        <Spots letter={letter} design={design} />
        <ol className="min-w-60 flex-1 list-decimal pl-5 text-[13.5px]">
          {rules.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ol>
      </div>
      {prove.spikes.map((s) => (
        <p key={`${s.run}${s.lane}`} className="border-l-4 border-doubt-line pl-2 text-[13.5px]">
          <b className="font-[650] text-doubt">
            {s.lane ? `The inlet probe of ${s.lane}` : "The outside probe"} follows the sun by {s.perHundred.toFixed(2)}{" "}
            K per 100 W/m² within a minute (run {s.run}).
          </b>{" "}
          The sun reaches it: shade it with foil that does not touch it.
        </p>
      ))}
      {prove.lags.map((l) => (
        <p key={`${l.run}${l.lane}`} className="border-l-4 border-doubt-line pl-2 text-[13.5px]">
          <b className="font-[650] text-doubt">
            The inlet probe of {l.lane} comes {Math.round(l.lagS)} s after the others (run {l.run}).
          </b>{" "}
          Move it into the stream.
        </p>
      ))}
      {dark.length > 0 && <Dark dark={dark} system={system} />}
    </section>
  );
}

const Spot = ({ n, x, y }: { n: number; x: number; y: number }) => (
  <g>
    <circle cx={x} cy={y} r="9" fill="var(--action)" />
    <text x={x} y={y + 4} textAnchor="middle" style={{ fill: "var(--action-ink)", fontWeight: 700 }}>
      {n}
    </text>
  </g>
);

/** The lane's section with the places of its probes, numbered as the rules beside it. */
function Spots({ letter, design }: { letter: string; design: Design }) {
  const air = design.fluid.kind === "air";
  const layout = layoutSection(design, 130, "large");
  const absorber = layout.slabs.find((s) => s.layer.kind === "absorber");
  const channel =
    layout.slabs.filter((s) => s.layer.kind === "channel").sort((a, b) => b.y1 - b.y0 - (a.y1 - a.y0))[0] ?? absorber;
  const [left, right] = [70, 400];
  const middle = channel ? (channel.y0 + channel.y1) / 2 : 60;
  return (
    <svg
      viewBox="0 0 480 170"
      width="480"
      className="h-auto max-w-full shrink-0"
      role="img"
      aria-label={`Section of lane ${letter} with the places of the probes`}
    >
      <g transform="translate(0 26)">
        <SectionArt
          design={design}
          lane={letter}
          layout={layout}
          stage={{ left, right, line: 1.2, pxPerM: layout.pxPerM, size: "large" }}
        />
        <path d={`M${left} 0V${layout.height}H${right}V0`} fill="none" stroke="var(--ink)" strokeWidth="2" />
        {air && <path d={`M8 ${middle}H${left}M${right} ${middle}H472`} stroke="var(--ink)" strokeDasharray="5 4" />}
        <Spot n={1} x={26} y={middle} />
        <Spot n={2} x={450} y={middle} />
        <Spot n={3} x={left + (right - left) * 0.66} y={absorber ? absorber.y1 + 6 : 60} />
        <Spot n={4} x={420} y={Math.max(8, middle - 26)} />
        <Spot n={5} x={26} y={-10} />
        <Spot n={6} x={left + 16} y={-12} />
      </g>
    </svg>
  );
}

function Dark({ dark, system }: { dark: (DarkCheck & { run: number })[]; system: UnitSystem }) {
  return (
    <div className="pt-1" data-testid="dark">
      <p className="text-[13.5px] font-semibold">Before sunrise, in and out should agree:</p>
      <ul className="text-[13.5px]">
        {dark.map((d) => (
          <li key={`${d.run}${d.lane}`} className={d.beyondLimits ? "font-semibold text-doubt" : ""}>
            <LaneMark lane={d.lane} size={11} /> run {d.run}:{" "}
            {quantityText(d.riseK, "temperatureDifference", {
              system,
              signed: true,
              expanded: Math.max(0.02, 2 * d.standardK),
            })}
            {placementWords(d)}
          </li>
        ))}
      </ul>
    </div>
  );
}
