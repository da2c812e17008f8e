"use client";

import { useMemo } from "react";
import type { ApplySettings } from "@/core/season/schema";
import type { SeasonAnswer } from "@/core/season/job";
import { moneyBand, worthOf, type Investment, type MoneyBand, type Worth } from "@/core/money/money";
import { formatNumber } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { percent } from "@/words/sources";
import { costOf } from "@/services/apply/seasonJob";
import { MoneyForm, PanelsForm } from "./MoneyForm";

type Money = NonNullable<ApplySettings["money"]>;

export interface Priced {
  season: Season;
  cost: number;
  worth: Worth;
  band: MoneyBand;
}

/** What a season is worth; null where no bill is known. @param cost of all of it */
export function pricedSeason(season: Season, money: Money, cost: number): Priced {
  const panels = season.candidate.origin === "panels";
  const investment: Investment = {
    first: cost,
    renewals: panels ? [] : money.renewals,
    usefulKwh: season.useful,
    usefulSd: season.usefulSd,
    fanKwh: panels ? 0 : season.fan,
    fuelPrice: money.fuelPrice,
    electricityPrice: money.electricityPrice,
    fuelEfficiency: money.fuelEfficiency,
    upkeep: panels ? 0 : money.upkeep,
    lifeYears: money.lifeYears,
    interest: money.interest,
    priceRise: money.priceRise,
  };
  return { season, cost, worth: worthOf(investment), band: moneyBand(investment, money.doubt) };
}

export function pricedAll(view: ApplyView, settings: ApplySettings, answer: SeasonAnswer): Priced[] {
  const { money, panels } = settings;
  // Without a price there is no answer.
  if (!money || !(money.fuelPrice > 0)) return [];
  return [...answer.seasons, ...answer.panels].flatMap((s) => {
    const cost =
      s.candidate.origin === "panels" && panels
        ? s.candidate.areaM2 * boxes(settings) * panels.costPerM2 + panels.other
        : costOf(view, settings, s.candidate.key);
    return cost === null ? [] : [pricedSeason(s, money, cost)];
  });
}

const boxes = (s: ApplySettings) => s.rows.reduce((n, r) => n + r.inSeries * r.sideBySide, 0);

/** When it has paid for itself, what a kilowatt-hour costs, and whether something else would do it cheaper. */
export function MoneyPart({
  view,
  settings,
  answer,
  change,
}: {
  view: ApplyView;
  settings: ApplySettings;
  answer: SeasonAnswer | null;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { money } = settings;
  const priced = useMemo(() => (answer ? pricedAll(view, settings, answer) : []), [view, settings, answer]);
  const without = answer?.seasons.filter((s) => !priced.some((p) => p.season === s)) ?? [];
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      {money && priced[0] && <p className="sentence">{moneySentence(priced[0], money)}</p>}
      {priced.length > 0 && money && <MoneyTable priced={priced} currency={money.currency} />}
      {without.length > 0 && money && (
        <p className="side">
          Left out: {without.map((s) => s.candidate.name).join(", ")}: no bill in {money.currency}. Draw the box in
          Build, or choose the currency of its bill.
        </p>
      )}
      <MoneyForm {...{ view, money, change }} />
      <PanelsForm panels={settings.panels} change={change} currency={money?.currency ?? ""} />
      <p className="side">
        Payback counts renewals when they fall due; renewals and upkeep are taken at today’s prices, fuel and
        electricity rise as said. The ± of payback draws useful heat, price, cost and life within their doubt, 4,000
        times with a fixed seed. Subsidies and taxes are yours to add.
      </p>
    </div>
  );
}

export function moneySentence({ season, worth, band, cost }: Priced, money: Money): string {
  const amount = (v: number) => `${formatNumber(v, 0)}\u2009${money.currency}`;
  const [low, , high] = band.payback;
  const years = (y: number | null) => (y === null ? "never" : formatNumber(y, y < 10 ? 1 : 0));
  const each =
    worth.costPerKwh === null
      ? ""
      : ` A kilowatt-hour costs ${formatNumber(worth.costPerKwh, 2)}\u2009${money.currency}.`;
  if (worth.payback === null)
    return `${season.candidate.name} for ${amount(cost)} does not pay within its ${formatNumber(money.lifeYears, 0)} years, renewals, fan and upkeep counted; chance that it does: ${band.pays < 0.01 ? "under 1 %" : percent(band.pays)}.${each}`;
  return `${season.candidate.name} for ${amount(cost)} pays itself back in ${years(worth.payback)} years (${years(low)} to ${years(high)}); chance that it pays within its ${formatNumber(money.lifeYears, 0)} years: ${band.pays > 0.99 ? "over 99 %" : percent(band.pays)}.${each}`;
}

const Range = ({
  values,
  digits,
}: {
  values: readonly [number | null, number | null, number | null];
  digits: number;
}) => (
  <span className="side">
    {" "}
    ({values[0] === null ? "never" : formatNumber(values[0], digits)} to{" "}
    {values[2] === null ? "never" : formatNumber(values[2], digits)})
  </span>
);

export function MoneyTable({ priced, currency }: { priced: readonly Priced[]; currency: string }) {
  const columns: TableColumn<Priced>[] = [
    { id: "name", title: "variant", rowHeader: true, value: (p) => p.season.candidate.name },
    {
      id: "cost",
      title: `cost, ${currency}`,
      number: true,
      value: (p) => Number(p.cost.toFixed(2)),
      cell: (p) => formatNumber(p.cost, 0),
    },
    {
      id: "saving",
      title: `saves a year, ${currency}`,
      number: true,
      value: (p) => Number(p.worth.saving.toFixed(2)),
      cell: (p) => formatNumber(p.worth.saving, 0),
    },
    {
      id: "payback",
      title: "payback, years",
      number: true,
      value: (p) => p.worth.payback,
      cell: (p) => (
        <>
          {p.worth.payback === null ? "not within its life" : formatNumber(p.worth.payback, 1)}
          <Range values={p.band.payback} digits={1} />
        </>
      ),
    },
    {
      id: "npv",
      title: `worth over life, ${currency}`,
      number: true,
      value: (p) => Number(p.worth.netPresentValue.toFixed(2)),
      cell: (p) => (
        <>
          {formatNumber(p.worth.netPresentValue, 0)}
          <Range values={p.band.netPresentValue} digits={0} />
        </>
      ),
    },
    {
      id: "kwh",
      title: `${currency} per kWh`,
      number: true,
      value: (p) => p.worth.costPerKwh,
      cell: (p) => (p.worth.costPerKwh === null ? "–" : formatNumber(p.worth.costPerKwh, 3)),
    },
  ];
  return <DataTable label="Money" file="money" columns={columns} rows={[...priced]} minWidth={600} />;
}
