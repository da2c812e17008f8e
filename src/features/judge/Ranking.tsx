"use client";

import { displayUnit, fromSi } from "@/core/quantity/quantities";
import type { ExperimentView } from "@/services/page/views";
import { Interval, scaleOver } from "@/ui/Interval";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { chancePercent } from "@/words/sources";
import { Head } from "@/ui/Head";

/** Chance of each variant to take each place: with three or more, the best is not all there is to know. */
function Places({ view: { ranking, head } }: { view: ExperimentView }) {
  const variantOf = (lane: string) => head.lanes.find((l) => l.letter === lane)?.variantId;
  const rows = ranking.filter((r, i) => ranking.findIndex((o) => variantOf(o.lane) === variantOf(r.lane)) === i);
  if (rows.length < 3) return null;
  const columns: TableColumn<(typeof rows)[number]>[] = [
    {
      id: "lane",
      title: "lane",
      rowHeader: true,
      value: (r) => r.lane,
      cell: (r) => <LaneMark lane={r.lane} size={12} />,
    },
    ...rows[0].chances.map((_, k): TableColumn<(typeof rows)[number]> => ({
      id: `${k + 1}`,
      title: `place ${k + 1}`,
      number: true,
      value: (r) => r.chances[k],
      cell: (r) => chancePercent(r.chances[k]),
    })),
  ];
  return (
    <details>
      <summary className="cursor-pointer text-[13.5px] font-semibold text-action">Chance of each place</summary>
      <DataTable label="Chance of each place" file="places" columns={columns} rows={rows} />
    </details>
  );
}

/** One lane with its place, its interval and its chance. @param last of those that share a place */
function Row({
  r,
  tied,
  last,
  show,
  ...scale
}: {
  r: ExperimentView["ranking"][number];
  tied: boolean;
  last: boolean;
  show: (si: number) => number;
  min: number;
  max: number;
  step: number;
}) {
  return (
    <li
      className={`grid grid-cols-[58px_40px_minmax(0,1fr)_auto] items-center gap-x-2 py-1.5 ${last ? "border-b border-hair" : ""}`}
    >
      <span className={`text-[15px] font-bold ${tied ? "border-l-2 border-ink pl-1.5" : "pl-2"}`}>
        {tied ? (
          <>
            {r.rank[0]}–{r.rank[1]}
            <small className="block text-[11px] leading-tight font-semibold">not separated</small>
          </>
        ) : (
          r.rank[0]
        )}
      </span>
      <LaneMark lane={r.lane} />
      <div>
        <Interval
          value={show(r.heat.si)}
          half={show(r.heat.expanded ?? 0) - show(0)}
          {...scale}
          lane={r.lane}
          width={210}
        />
        <span className="text-[15px]">
          <Figure figure={r.heat} opens={{ figure: "laneHeat", lane: r.lane }} />
        </span>
      </div>
      <span className="self-end whitespace-nowrap text-right">{chancePercent(r.chanceBest)}</span>
    </li>
  );
}

/** Lanes by heat at the operating point; those that cannot be told apart share a rank and a bracket. */
export function Ranking({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const { ranking } = view;
  if (ranking.length === 0) return <section aria-label="Ranking" />;
  const unit = displayUnit("heatFlux", system);
  const show = (si: number) => fromSi(si, unit);
  const lows = ranking.map((r) => show(r.heat.si - (r.heat.expanded ?? 0)));
  const highs = ranking.map((r) => show(r.heat.si + (r.heat.expanded ?? 0)));
  const { min, max, step } = scaleOver(Math.min(...lows), Math.max(...highs));
  const tied = (i: number) => ranking[i].rank[0] !== ranking[i].rank[1];
  return (
    <section aria-labelledby="ranking">
      <Head
        id="ranking"
        title="Ranking"
        side={
          <>
            useful heat per {view.head.settings.areaBasis} area {view.way === "point" ? "at your point" : "as tested"}
          </>
        }
      >
        <span className="more side">chance of being best</span>
      </Head>
      <ol>
        {ranking.map((r, i) => (
          <Row
            key={r.lane}
            {...{ r, show, min, max, step }}
            tied={tied(i)}
            last={!(i < ranking.length - 1 && ranking[i + 1].rank[0] === r.rank[0])}
          />
        ))}
      </ol>
      <div className="ml-[114px] flex w-[210px] justify-between text-[12px] text-ink-3" aria-hidden>
        <span>{Math.round(min * 100) / 100}</span>
        <span>{unit.symbol}</span>
        <span>{Math.round(max * 100) / 100}</span>
      </div>
      <p className="side mt-1">
        Bars hold the errors that all lanes share. The differences below do not, so they are sharper. Copies of one
        variant share one chance.
      </p>
      <Places view={view} />
    </section>
  );
}
