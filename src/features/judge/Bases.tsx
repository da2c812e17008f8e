"use client";

import { designAreas } from "@/core/collector/content";
import { pipeLength } from "@/core/collector/design";
import type { QuantityId } from "@/core/quantity/quantities";
import type { ExperimentView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { PER_AREA_WORDS } from "@/words/areas";

const BASES = ["box", "gross", "aperture", "absorber", "metre"] as const;
type Basis = (typeof BASES)[number];
const WORDS: Record<Basis, string> = {
  box: "per box",
  ...PER_AREA_WORDS,
  metre: "per metre of pipe",
};
const QUANTITY: Record<Basis, QuantityId> = {
  box: "power",
  gross: "heatFlux",
  aperture: "heatFlux",
  absorber: "heatFlux",
  metre: "heatPerLength",
};

interface Netted {
  net: number | null;
  fan: { watts: number } | undefined;
  heat: { si: number; expanded: number | null };
  by: Record<Basis, number | null>;
}

/** Heat of a box less what its fan or pump takes. */
function netColumn<Row extends Netted>(): TableColumn<Row> {
  return {
    id: "net",
    title: "net of fan",
    number: true,
    value: (r) => r.net,
    cell: ({ net, heat, by }) =>
      net === null ? (
        "–"
      ) : (
        <Figure
          figure={{
            si: net,
            expanded: heat.expanded === null || by.box === null ? null : heat.expanded * by.box,
            quantity: "power",
          }}
        />
      ),
  };
}

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
    const by: Record<Basis, number | null> = {
      box: base,
      gross: base / areas.gross,
      aperture: base / areas.aperture,
      absorber: base / areas.absorber,
      metre: metres ? base / metres : null,
    };
    const fan = view.fans[r.lane];
    const net = fan ? r.heat.si * base - head.settings.electricityWeight * fan.watts : null;
    return [{ ...r, by, net, fan, sketch: lane.design.sketch }];
  });
  const fans = rows.some((r) => r.fan && r.fan.watts > 0);
  const bestNet = [...rows].filter((r) => r.net !== null).sort((a, b) => b.net! - a.net!)[0]?.lane;
  const best = (c: Basis) =>
    rows.filter((r) => r.by[c] !== null).sort((a, b) => b.heat.si * b.by[c]! - a.heat.si * a.by[c]!)[0]?.lane;
  const shown = BASES.filter((c) => rows.some((r) => r.by[c] !== null));
  const winners = new Set([...shown.filter((c) => c !== "metre").map(best), ...(fans && bestNet ? [bestNet] : [])]);
  const columns: TableColumn<(typeof rows)[number]>[] = [
    {
      id: "lane",
      title: "lane",
      rowHeader: true,
      value: (r) => r.lane,
      cell: (r) => <LaneMark lane={r.lane} size={12} />,
    },
    ...shown.map((c): TableColumn<(typeof rows)[number]> => ({
      id: c,
      title: WORDS[c],
      number: true,
      value: (r) => (r.by[c] === null ? null : r.heat.si * r.by[c]),
      cell: ({ lane, heat, by }) => {
        const per = by[c];
        if (per === null) return "–";
        const expanded = heat.expanded === null ? null : heat.expanded * per;
        return (
          <Figure
            figure={{ si: heat.si * per, expanded, quantity: QUANTITY[c] }}
            opens={c === head.settings.areaBasis ? { figure: "laneHeat", lane } : undefined}
          />
        );
      },
    })),
    ...(fans ? [netColumn()] : []),
  ];
  return (
    <details open={winners.size > 1}>
      <summary className="cursor-pointer text-[13.5px] font-semibold text-action">
        {winners.size > 1
          ? `Highest value by basis, not tested: ${[...shown.map((c) => `${best(c)} ${WORDS[c]}`), ...(fans ? [`${bestNet} net of the fan`] : [])].join(", ")}`
          : "The same per box, other areas and metre of pipe"}
      </summary>
      <DataTable label="Heat on every basis" file="bases" columns={columns} rows={rows} minWidth={480} />
      {fans && (
        <p className="side">
          Net of the fan: a watt-hour of its electricity counts as {head.settings.electricityWeight} of heat;{" "}
          {rows.flatMap((r) => (r.fan ? [`${r.lane} ${Math.round(r.fan.watts)}\u2009W ${r.fan.from}`] : [])).join(", ")}
          .
        </p>
      )}
      {rows.some((r) => r.sketch) && (
        <p className="side">
          Areas not measured are those of a sketch: draw the box in Build, or measure it under Specimens.
        </p>
      )}
    </details>
  );
}
