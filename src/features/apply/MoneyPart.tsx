"use client";

import { Plus, Trash2 } from "lucide-react";
import { useMemo } from "react";
import type { ApplySettings } from "@/core/experiment/schema/apply";
import type { SeasonAnswer } from "@/core/experiment/seasonJob";
import { FUELS, moneyBand, worthOf, type Investment, type MoneyBand, type Worth } from "@/core/money/money";
import { formatNumber } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import { Choice } from "@/ui/Choice";
import { DataTable, type Column } from "@/ui/table/DataTable";
import { QuantityField } from "@/ui/QuantityField";
import { percent } from "@/words/sources";
import { costOf } from "./job";

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
      {priced.length > 0 && money && <Table priced={priced} currency={money.currency} />}
      {without.length > 0 && money && (
        <p className="side">
          Left out: {without.map((s) => s.candidate.name).join(", ")}: no bill in {money.currency}. Draw the box in
          Build, or choose the currency of its bill.
        </p>
      )}
      <MoneyForm {...{ view, money, change }} />
      <PanelsForm panels={settings.panels} change={change} currency={money?.currency ?? ""} />
      <p className="side">
        The ± of payback draws useful heat, price, cost and life within their doubt, 4,000 times with a fixed seed.
        Subsidies and taxes are yours to add.
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
    return `${season.candidate.name} for ${amount(cost)} never pays itself back: fan and upkeep take more than it saves.${each}`;
  return `${season.candidate.name} for ${amount(cost)} pays itself back in ${years(worth.payback)} years (${years(low)} to ${years(high)}); chance that it pays within its ${formatNumber(money.lifeYears, 0)} years: ${percent(band.pays)}.${each}`;
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

function Table({ priced, currency }: { priced: readonly Priced[]; currency: string }) {
  const columns: Column<Priced>[] = [
    { id: "name", title: "", rowHeader: true, value: (p) => p.season.candidate.name },
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
          {p.worth.payback === null ? "never" : formatNumber(p.worth.payback, 1)}
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

const NO_MONEY = {
  unit: "first" as const,
  other: 0,
  renewals: [],
  upkeep: 0,
  lifeYears: 20,
  interest: 0.02,
  priceRise: 0,
  electricityPrice: 0,
  doubt: { price: 0.2, cost: 0.1, life: 0.2, use: 0.15 },
};

function MoneyForm({
  view,
  money,
  change,
}: {
  view: ApplyView;
  money: ApplySettings["money"];
  change: (part: Partial<ApplySettings>) => void;
}) {
  const billed = view.candidates.find((c) => c.currency)?.currency ?? "EUR";
  const set = (part: Partial<Money>) => money && change({ money: { ...money, ...part } });
  return (
    <fieldset>
      <legend className="text-[15px] font-[650]">Against which heat</legend>
      <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2 md:grid-cols-4">
        <label className="text-[13px] font-semibold">
          Other heater
          <select
            aria-label="Other heater"
            className="field mt-0.5"
            value={money?.fuel ?? ""}
            onChange={(e) => {
              const fuel = FUELS.find((f) => f.key === e.target.value)!;
              const known = { fuel: fuel.key, fuelEfficiency: fuel.efficiency };
              // A price decides the answer: until it is said there is none.
              if (money) set(known);
              else change({ money: { ...NO_MONEY, currency: billed, ...known, fuelPrice: Number.NaN } });
            }}
          >
            <option value="" disabled>
              choose …
            </option>
            {FUELS.map((f) => (
              <option key={f.key} value={f.key}>
                {f.name}
              </option>
            ))}
          </select>
        </label>
        {money && (
          <>
            <QuantityField
              label={`Price of its energy, ${money.currency} per kWh`}
              quantity="number"
              si={Number.isNaN(money.fuelPrice) ? null : money.fuelPrice}
              min={0.0001}
              max={1000}
              hint="of the fuel as bought"
              onChange={(fuelPrice) => set({ fuelPrice })}
            />
            <QuantityField
              label="Heat out of it"
              quantity="number"
              si={money.fuelEfficiency}
              min={0.05}
              max={10}
              hint="0.85 boiler, 3 heat pump"
              onChange={(fuelEfficiency) => set({ fuelEfficiency })}
            />
            <QuantityField
              label={`Electricity, ${money.currency} per kWh`}
              quantity="number"
              si={money.electricityPrice}
              min={0}
              max={1000}
              onChange={(electricityPrice) => set({ electricityPrice })}
            />
            <QuantityField
              label={`Fan, ducts, store, ${money.currency}`}
              quantity="number"
              si={money.other}
              min={0}
              max={1e8}
              hint="all that is not a box"
              onChange={(other) => set({ other })}
            />
            <QuantityField
              label={`Upkeep a year, ${money.currency}`}
              quantity="number"
              si={money.upkeep}
              min={0}
              max={1e8}
              onChange={(upkeep) => set({ upkeep })}
            />
            <QuantityField
              label="Life, years"
              quantity="number"
              si={money.lifeYears}
              min={1}
              max={100}
              onChange={(lifeYears) => set({ lifeYears })}
            />
            <QuantityField
              label="Interest"
              quantity="fraction"
              si={money.interest}
              min={-0.05}
              max={0.5}
              onChange={(interest) => set({ interest })}
            />
            <QuantityField
              label="Prices rise a year"
              quantity="fraction"
              si={money.priceRise}
              min={-0.2}
              max={0.5}
              onChange={(priceRise) => set({ priceRise })}
            />
            <label className="text-[13px] font-semibold">
              Currency
              <input
                aria-label="Currency"
                className="field mt-0.5"
                defaultValue={money.currency}
                maxLength={8}
                onBlur={(e) => e.target.value.trim() && set({ currency: e.target.value.trim() })}
              />
            </label>
            <QuantityField
              label="± of prices"
              quantity="fraction"
              si={money.doubt.price}
              min={0}
              max={1}
              onChange={(price) => set({ doubt: { ...money.doubt, price } })}
            />
            <QuantityField
              label="± of cost"
              quantity="fraction"
              si={money.doubt.cost}
              min={0}
              max={1}
              onChange={(cost) => set({ doubt: { ...money.doubt, cost } })}
            />
            <QuantityField
              label="± of life"
              quantity="fraction"
              si={money.doubt.life}
              min={0}
              max={1}
              onChange={(life) => set({ doubt: { ...money.doubt, life } })}
            />
            <QuantityField
              label="± of use and weather"
              quantity="fraction"
              si={money.doubt.use}
              min={0}
              max={1}
              onChange={(use) => set({ doubt: { ...money.doubt, use } })}
            />
            <div className="col-span-2 self-end">
              <Choice
                label="Boxes at the cost of"
                value={money.unit}
                options={[
                  ["first", "a first one and repeats"],
                  ["repeat", "repeats"],
                ]}
                onChange={(unit) => set({ unit })}
              />
            </div>
          </>
        )}
      </div>
      {money && <Renewals money={money} set={set} />}
    </fieldset>
  );
}

/** Parts that wear out before the end: fan, film, hose. */
function Renewals({ money, set }: { money: Money; set: (part: Partial<Money>) => void }) {
  const change = (i: number, part: Partial<Money["renewals"][number]>) =>
    set({ renewals: money.renewals.map((r, k) => (k === i ? { ...r, ...part } : r)) });
  return (
    <div className="mt-2">
      {money.renewals.map((r, i) => (
        <div key={i} className="grid grid-cols-[2fr_1fr_1fr_auto] items-end gap-2">
          <label className="text-[13px] font-semibold">
            Part
            <input
              aria-label={`Part ${i + 1}`}
              className="field mt-0.5"
              defaultValue={r.name}
              onBlur={(e) => e.target.value.trim() && change(i, { name: e.target.value.trim() })}
            />
          </label>
          <QuantityField
            label={`Costs, ${money.currency}`}
            quantity="number"
            si={r.cost}
            min={0}
            max={1e8}
            onChange={(cost) => change(i, { cost })}
          />
          <QuantityField
            label="every, years"
            quantity="number"
            si={r.everyYears}
            min={0.5}
            max={100}
            onChange={(everyYears) => change(i, { everyYears })}
          />
          <button
            type="button"
            className="btn"
            aria-label={`Take ${r.name} away`}
            onClick={() => set({ renewals: money.renewals.filter((_, k) => k !== i) })}
          >
            <Trash2 size={14} aria-hidden />
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn mt-2"
        disabled={money.renewals.length >= 10}
        onClick={() => set({ renewals: [...money.renewals, { name: "fan", cost: 0, everyYears: 8 }] })}
      >
        <Plus size={14} aria-hidden /> A part that wears out
      </button>
    </div>
  );
}

function PanelsForm({
  panels,
  currency,
  change,
}: {
  panels: ApplySettings["panels"];
  currency: string;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const set = (part: Partial<NonNullable<ApplySettings["panels"]>>) =>
    panels && change({ panels: { ...panels, ...part } });
  return (
    <fieldset>
      <legend className="text-[15px] font-[650]">Photovoltaic panels instead</legend>
      <label className="flex items-center gap-2 text-[13px] font-semibold">
        <input
          type="checkbox"
          className="size-4"
          checked={panels !== null}
          onChange={(e) =>
            change({
              panels: e.target.checked
                ? { efficiency: 0.2, performance: 0.8, cop: 1, costPerM2: 150, other: 300 }
                : null,
            })
          }
        />
        on the same area, and for the same money
      </label>
      {panels && (
        <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2 md:grid-cols-4">
          <QuantityField
            label="Panels’ efficiency"
            quantity="fraction"
            si={panels.efficiency}
            min={0.01}
            max={0.5}
            onChange={(efficiency) => set({ efficiency })}
          />
          <QuantityField
            label="After heat, dirt, inverter"
            quantity="fraction"
            si={panels.performance}
            min={0.1}
            max={1}
            onChange={(performance) => set({ performance })}
          />
          <QuantityField
            label="Heat of a kilowatt-hour"
            quantity="number"
            si={panels.cop}
            min={1}
            max={8}
            hint="1 resistive, about 3 heat pump"
            onChange={(cop) => set({ cop })}
          />
          <QuantityField
            label={`Panels, ${currency} per m²`}
            quantity="number"
            si={panels.costPerM2}
            min={1}
            max={1e6}
            onChange={(costPerM2) => set({ costPerM2 })}
          />
          <QuantityField
            label={`Beside them, ${currency}`}
            quantity="number"
            si={panels.other}
            min={0}
            max={1e8}
            hint="heater or heat pump, inverter"
            onChange={(other) => set({ other })}
          />
        </div>
      )}
      {panels && (
        <p className="side">
          Their surplus current counts as nothing here; where it is sold, panels do better. Wiring: licensed
          electrician.
        </p>
      )}
    </fieldset>
  );
}
