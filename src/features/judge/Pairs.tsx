"use client";

import { displayUnit, fromSi } from "@/core/quantity/quantities";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/page/views";
import { Interval, scaleOver } from "@/ui/Interval";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { chanceWords, pairWords, UNIT_WORDS } from "@/words/judge";
import { Head } from "@/ui/Head";

/** All lanes against each other over the windows they share. */
export function Pairs({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  if (view.pairs.length === 0) return <section aria-label="Pairwise differences" />;
  const unit = displayUnit("heatFlux", system);
  const show = (si: number) => fromSi(si, unit);
  // The better lane is named first, so that every bar points right.
  const pairs = view.pairs.map((p) =>
    p.difference.si >= 0 ? p : { ...p, a: p.b, b: p.a, difference: { ...p.difference, si: -p.difference.si } },
  );
  const reach = Math.max(...pairs.map((p) => show(Math.abs(p.difference.si) + (p.difference.expanded ?? 0))));
  const low = Math.min(0, ...pairs.map((p) => show(p.difference.si - (p.difference.expanded ?? 0))));
  const smallest = view.head.settings.smallestDifference;
  const { min, max, step } = scaleOver(Math.min(low, -show(smallest)), reach);
  const spans = UNIT_WORDS[view.way === "tested" && view.tested ? view.tested.unit : "window"][1];
  const columns: TableColumn<Pair>[] = [
    {
      id: "lanes",
      title: "lanes",
      rowHeader: true,
      place: "whitespace-nowrap",
      value: (p) => `${p.a} over ${p.b}${p.identical ? ", identical pair" : ""}`,
      cell: (p) => (
        <>
          <LaneMark lane={p.a} size={12} /> <span className="text-ink-3">over</span> <LaneMark lane={p.b} size={12} />
          {p.identical && <span className="side"> identical pair</span>}
        </>
      ),
    },
    {
      id: "interval",
      title: `± ${unit.symbol}`,
      heading: <span className="sr-only">interval</span>,
      sorts: false,
      place: "min-w-[168px]",
      value: (p) => show(p.difference.expanded ?? 0),
      cell: (p) => (
        <Interval
          value={show(p.difference.si)}
          half={show(p.difference.expanded ?? 0)}
          {...{ min, max, step }}
          zero
          neutral={show(smallest)}
          width={160}
        />
      ),
    },
    {
      id: "difference",
      title: `difference (95 %), ${unit.symbol}`,
      heading: "difference (95 %)",
      number: true,
      value: (p) => show(p.difference.si),
      cell: (p) => <Figure figure={p.difference} signed opens={{ figure: "difference", a: p.a, b: p.b }} />,
    },
    {
      id: "windows",
      title: spans,
      number: true,
      value: (p) => p.windows,
      cell: (p) => (
        <>
          {p.windows}
          <span className="side">
            {" "}
            / {p.days} d{pairWords(p)}
          </span>
        </>
      ),
    },
    {
      id: "chance",
      title: "chance wrong",
      number: true,
      value: (p) => DECISION_WORDS[p.decision] ?? p.chanceWrong,
      cell: (p) => <Decision pair={p} />,
    },
  ];
  return (
    <section aria-labelledby="pairs">
      <Head
        id="pairs"
        title="Pairwise differences"
        side={
          <>
            grey: under {quantityText(smallest, "heatFlux", { system, figures: 2 })}, too small to matter; ticks every{" "}
            {step} {unit.symbol}
          </>
        }
      />
      <DataTable label="Differences, pair by pair" file="pairs" columns={columns} rows={pairs} />
      <p className="side mt-1">
        Decisions are adjusted for the number of comparisons (Holm). Equal: the 90 % interval lies inside the grey.
      </p>
    </section>
  );
}

type Pair = ExperimentView["pairs"][number];

/** Where there is no order to be wrong about. */
const DECISION_WORDS: Partial<Record<Pair["decision"], string>> = { equal: "equal", cannotTell: "cannot tell" };

function Decision({ pair: { decision, chanceWrong } }: { pair: Pair }) {
  const words = DECISION_WORDS[decision];
  return words ? <b className={decision === "cannotTell" ? "text-doubt" : ""}>{words}</b> : chanceWords(chanceWrong);
}
