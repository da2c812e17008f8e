"use client";

import Link from "next/link";
import { useMemo, useState } from "react";
import { formatNumber, quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi } from "@/core/quantity/quantities";
import type { OfferView, WorthView } from "@/services/judge/worthView";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { Choice } from "@/ui/Choice";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { Head } from "@/ui/Head";

type Unit = "repeat" | "first";

/** What a box costs against what it gives: which variants another one beats on both, and what more money buys. */
export function CostAndHeat({ worth, experimentId }: { worth: WorthView; experimentId: number }) {
  const [unit, setUnit] = useState<Unit>("repeat");
  const { system } = usePreferences();
  const offers = worth[unit];
  const currency = worth.currency ?? "";
  const spec = useMemo(() => frontChart(offers, currency, system), [offers, currency, system]);
  if (offers.length + worth.left.length < 2) return null;
  return (
    <section aria-labelledby="cost">
      <Head
        id="cost"
        title="Cost and heat"
        side={<>heat of one box {unit === "repeat" ? "when built again" : "when built once"}</>}
      />
      {offers.length > 1 && (
        <>
          <p className="mt-1">{frontSentence(offers, currency, system)}</p>
          <Choice
            label="Cost of"
            value={unit}
            options={[
              ["repeat", "one more box"],
              ["first", "the first box"],
            ]}
            onChange={setUnit}
          />
          <Chart spec={spec} height={220} legend={false} />
          <DataTable
            label="Variants by cost"
            file="cost-and-heat"
            columns={columnsOf(currency, experimentId)}
            rows={offers}
            minWidth={420}
          />
        </>
      )}
      {worth.left.map(({ lanes, why }) => (
        <p key={lanes.join()} className="side">
          {lanes.join(" and ")} left out:{" "}
          {why === "sketch"
            ? "its box is a sketch, so its bill would be made up; draw it in Build."
            : "its bill is in another currency."}
        </p>
      ))}
      <p className="side">
        Parts and work as in each bill of Build: prices are the library’s typical ones until changed there.
      </p>
    </section>
  );
}

const money = (value: number, currency: string) => `${formatNumber(value, 0)}\u2009${currency}`;

function frontSentence(offers: readonly OfferView[], currency: string, system: "metric" | "us"): string {
  const onFront = offers.filter((o) => o.front);
  const name = (o: OfferView) => `${o.variant} (${o.lanes.join(" and ")})`;
  const [cheapest] = onFront;
  if (onFront.length === 1)
    return `${name(cheapest)} costs least, ${money(cheapest.cost, currency)} a box. No other variant has a higher heat value.`;
  const steps = onFront.slice(1).map((o) => {
    const { heat, cost } = o.step!;
    const by = quantityText(heat.si, "power", { system, expanded: heat.expanded ?? undefined });
    return o.surely
      ? `${name(o)} gives ${by} more for ${money(cost, currency)} more.`
      : `${name(o)} costs ${money(cost, currency)} more. More heat is not shown (${by}).`;
  });
  return `${name(cheapest)} costs least, ${money(cheapest.cost, currency)} a box. ${steps.join(" ")}`;
}

function frontChart(offers: readonly OfferView[], currency: string, system: "metric" | "us"): ChartSpec {
  const unit = displayUnit("power", system);
  const y = (o: OfferView) => fromSi(o.heat.si, unit);
  const half = (o: OfferView) => fromSi(o.heat.expanded ?? 0, unit) - fromSi(0, unit);
  const front = offers.filter((o) => o.front);
  const costs = offers.map((o) => o.cost);
  const margin = Math.max(5, 0.15 * (Math.max(...costs) - Math.min(...costs)));
  return {
    title: "Heat of a box over its cost",
    summary: offers
      .map(
        (o) =>
          `${o.lanes[0]}: ${Math.round(y(o))} ± ${Math.round(half(o))} ${unit.symbol} for ${money(o.cost, currency)}`,
      )
      .join("; "),
    x: {
      title: `cost of a box, ${currency}`,
      min: Math.max(0, Math.floor(Math.min(...costs) - margin)),
      max: Math.ceil(Math.max(...costs) + margin),
    },
    y: {
      title: `heat, ${unit.symbol}`,
      min: Math.floor(Math.min(...offers.map((o) => y(o) - half(o))) / 10) * 10,
      max: Math.ceil(Math.max(...offers.map((o) => y(o) + half(o))) / 10) * 10,
    },
    series: [
      ...(front.length > 1
        ? [
            {
              label: "",
              color: "--ink-3",
              kind: "line" as const,
              dashed: true,
              points: front.map((o) => ({ x: o.cost, y: y(o) })),
            },
          ]
        : []),
      ...offers.map((o) => ({
        label: o.variant,
        lane: o.lanes[0],
        kind: "points" as const,
        points: [{ x: o.cost, y: y(o), plusMinus: half(o) }],
      })),
    ],
    table: {
      columns: ["lane", "variant", `cost, ${currency}`, `heat, ${unit.symbol}`, "± (95 %)"],
      rows: offers.map((o) => [
        o.lanes.join(" "),
        o.variant,
        Number(o.cost.toFixed(2)),
        Number(y(o).toFixed(1)),
        Number(half(o).toFixed(1)),
      ]),
    },
  };
}

const standing = (o: OfferView) => {
  if (o.front) return "nothing beats it on both";
  return o.surely ? `${o.beatenBy} gives more for no more` : `${o.beatenBy} costs no more and seems to give more`;
};

const columnsOf = (currency: string, experimentId: number): TableColumn<OfferView>[] => [
  {
    id: "lanes",
    title: "variant",
    rowHeader: true,
    value: (o) => `${o.lanes.join(" ")} ${o.variant}`,
    cell: (o) => (
      <Link href={`/experiments/${experimentId}/build?v=${o.lanes[0]}`} className="inline-flex gap-1">
        {o.lanes.map((l) => (
          <LaneMark key={l} lane={l} size={12} />
        ))}
      </Link>
    ),
  },
  {
    id: "heat",
    title: "heat of a box",
    number: true,
    value: (o) => o.heat.si,
    cell: (o) => <Figure figure={o.heat} />,
  },
  {
    id: "cost",
    title: `cost, ${currency}`,
    number: true,
    value: (o) => Number(o.cost.toFixed(2)),
    cell: (o) => formatNumber(o.cost, 0),
  },
  { id: "hours", title: "hours", number: true, value: (o) => o.hours, cell: (o) => formatNumber(o.hours, 1) },
  {
    id: "per",
    title: `W per ${currency}`,
    number: true,
    value: (o) => (o.cost > 0 ? Number((o.heat.si / o.cost).toFixed(2)) : null),
    cell: (o) =>
      o.cost > 0 ? `${formatNumber(o.heat.si / o.cost, 2)} ± ${formatNumber((o.heat.expanded ?? 0) / o.cost, 2)}` : "–",
  },
  { id: "standing", title: "standing", value: standing, cell: (o) => <span className="side">{standing(o)}</span> },
];
