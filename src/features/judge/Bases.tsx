"use client";

import { designAreas } from "@/core/collector/content";
import { pipeLength } from "@/core/collector/design";
import type { QuantityId } from "@/core/quantity/quantities";
import type { ExperimentView } from "@/services/views";
import { LaneMark } from "@/ui/LaneMark";
import { Figure } from "@/ui/Working";

const COLUMNS = ["box", "gross", "aperture", "absorber", "metre"] as const;
type Column = (typeof COLUMNS)[number];
const WORDS: Record<Column, string> = {
  box: "per box",
  gross: "per gross area",
  aperture: "per aperture",
  absorber: "per covered area",
  metre: "per metre of pipe",
};
const QUANTITY: Record<Column, QuantityId> = {
  box: "power",
  gross: "heatFlux",
  aperture: "heatFlux",
  absorber: "heatFlux",
  metre: "heatPerLength",
};

/** The same heat divided by everything people divide it by: boxes of different size or cover have different winners on each. */
export function Bases({ view }: { view: ExperimentView }) {
  const { head, ranking } = view;
  if (ranking.length < 2) return null;
  const rows = ranking.flatMap((r) => {
    const lane = head.lanes.find((l) => l.letter === r.lane);
    if (!lane) return [];
    const planned = designAreas(lane.design);
    const areas = {
      gross: lane.asBuilt.grossAreaM2 ?? planned.gross,
      aperture: lane.asBuilt.apertureAreaM2 ?? planned.aperture,
      absorber: lane.asBuilt.absorberAreaM2 ?? planned.absorber,
    };
    const base = areas[head.settings.areaBasis];
    const metres = pipeLength(lane.design);
    const by: Record<Column, number | null> = {
      box: base,
      gross: base / areas.gross,
      aperture: base / areas.aperture,
      absorber: base / areas.absorber,
      metre: metres ? base / metres : null,
    };
    return [{ ...r, by, sketch: lane.design.sketch }];
  });
  const best = (c: Column) =>
    rows.filter((r) => r.by[c] !== null).sort((a, b) => b.heat.si * b.by[c]! - a.heat.si * a.by[c]!)[0]?.lane;
  const shown = COLUMNS.filter((c) => rows.some((r) => r.by[c] !== null));
  const winners = new Set(shown.filter((c) => c !== "metre").map(best));
  return (
    <details open={winners.size > 1}>
      <summary className="cursor-pointer text-[13.5px] font-semibold text-action">
        {winners.size > 1
          ? `Who is first depends on the basis: ${shown.map((c) => `${best(c)} ${WORDS[c]}`).join(", ")}`
          : "The same per box, other areas and metre of pipe"}
      </summary>
      <div className="relative overflow-x-auto">
        <table className="grid-table min-w-[480px]">
          <thead>
            <tr>
              <th>lane</th>
              {shown.map((c) => (
                <th key={c} className="num">
                  {WORDS[c]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.lane}>
                <th scope="row">
                  <LaneMark lane={r.lane} size={12} />
                </th>
                {shown.map((c) => (
                  <td key={c} className="num">
                    {r.by[c] === null ? (
                      "–"
                    ) : (
                      <Figure
                        figure={{
                          si: r.heat.si * r.by[c]!,
                          expanded: r.heat.expanded === null ? null : r.heat.expanded * r.by[c]!,
                          quantity: QUANTITY[c],
                        }}
                        opens={c === head.settings.areaBasis ? { figure: "laneHeat", lane: r.lane } : undefined}
                      />
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows.some((r) => r.sketch) && (
        <p className="side">
          Areas not measured are those of a sketch: draw the box in Build, or measure it under Specimens.
        </p>
      )}
    </details>
  );
}
