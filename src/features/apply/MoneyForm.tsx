"use client";

import { Plus, Trash2 } from "lucide-react";
import type { ApplySettings } from "@/core/season/schema";
import { FUELS } from "@/core/money/money";
import type { ApplyView } from "@/services/apply/applyView";
import { Choice } from "@/ui/Choice";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { Select, Tick } from "@/ui/form/Select";
import { Button } from "@/ui/Button";

type Money = NonNullable<ApplySettings["money"]>;
type Panels = NonNullable<ApplySettings["panels"]>;
type Change = (part: Partial<ApplySettings>) => void;

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

const figures = (currency: string): Asked<Money>[] => [
  {
    key: "fuelPrice",
    label: `Price of its energy, ${currency} per kWh`,
    quantity: "number",
    min: 0.0001,
    max: 1000,
    hint: "of the fuel as bought",
  },
  {
    key: "fuelEfficiency",
    label: "Heat out of it",
    quantity: "number",
    min: 0.05,
    max: 10,
    hint: "0.85 boiler, 3 heat pump",
  },
  { key: "electricityPrice", label: `Electricity, ${currency} per kWh`, quantity: "number", min: 0, max: 1000 },
  {
    key: "other",
    label: `Fan, ducts, store, ${currency}`,
    quantity: "number",
    min: 0,
    max: 1e8,
    hint: "all that is not a box",
  },
  { key: "upkeep", label: `Upkeep a year, ${currency}`, quantity: "number", min: 0, max: 1e8 },
  { key: "lifeYears", label: "Life, years", quantity: "number", min: 1, max: 100 },
  { key: "interest", label: "Interest", quantity: "fraction", min: -0.05, max: 0.5 },
  { key: "priceRise", label: "Energy prices rise a year", quantity: "fraction", min: -0.2, max: 0.5 },
];
const DOUBTS: Asked<Money["doubt"]>[] = [
  { key: "price", label: "± of prices", quantity: "fraction", min: 0, max: 1 },
  { key: "cost", label: "± of cost", quantity: "fraction", min: 0, max: 1 },
  { key: "life", label: "± of life", quantity: "fraction", min: 0, max: 1 },
  { key: "use", label: "± of use and weather", quantity: "fraction", min: 0, max: 1 },
];

/** The heat that is saved, and what it costs. */
export function MoneyForm({ view, money, change }: { view: ApplyView; money: ApplySettings["money"]; change: Change }) {
  const billed = view.candidates.find((c) => c.currency)?.currency ?? "EUR";
  const set = (part: Partial<Money>) => money && change({ money: { ...money, ...part } });
  const chooseFuel = (key: string) => {
    const fuel = FUELS.find((f) => f.key === key)!;
    const known = { fuel: fuel.key, fuelEfficiency: fuel.efficiency };
    // A price decides the answer: until it is said there is none.
    if (money) set(known);
    else change({ money: { ...NO_MONEY, currency: billed, ...known, fuelPrice: Number.NaN } });
  };
  return (
    <fieldset>
      <legend className="text-[15px] font-[650]">Against which heat</legend>
      <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2 md:grid-cols-4">
        <Select
          label="Other heater"
          value={money?.fuel ?? ""}
          empty="choose …"
          options={FUELS.map((f) => [f.key, f.name] as const)}
          onChange={chooseFuel}
        />
        {money && (
          <>
            <QuantityFields of={figures(money.currency)} value={money} set={set} />
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
            <QuantityFields
              of={DOUBTS}
              value={money.doubt}
              set={(part) => set({ doubt: { ...money.doubt, ...part } })}
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

type Renewal = Money["renewals"][number];

/** Parts that wear out before the end: fan, film, hose. */
function Renewals({ money, set }: { money: Money; set: (part: Partial<Money>) => void }) {
  const change = (i: number, part: Partial<Renewal>) =>
    set({ renewals: money.renewals.map((r, k) => (k === i ? { ...r, ...part } : r)) });
  const of: Asked<Renewal>[] = [
    { key: "cost", label: `Costs, ${money.currency}`, quantity: "number", min: 0, max: 1e8 },
    { key: "everyYears", label: "every, years", quantity: "number", min: 0.5, max: 100 },
  ];
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
          <QuantityFields of={of} value={r} set={(part) => change(i, part)} />
          <Button
            aria-label={`Take ${r.name} away`}
            onClick={() => set({ renewals: money.renewals.filter((_, k) => k !== i) })}
          >
            <Trash2 size={14} aria-hidden />
          </Button>
        </div>
      ))}
      <Button
        className="mt-2"
        disabled={money.renewals.length >= 10}
        onClick={() => set({ renewals: [...money.renewals, { name: "fan", cost: 0, everyYears: 8 }] })}
      >
        <Plus size={14} aria-hidden /> A part that wears out
      </Button>
    </div>
  );
}

const panelFields = (currency: string): Asked<Panels>[] => [
  { key: "efficiency", label: "Panels’ efficiency", quantity: "fraction", min: 0.01, max: 0.5 },
  { key: "performance", label: "After heat, dirt, inverter", quantity: "fraction", min: 0.1, max: 1 },
  {
    key: "cop",
    label: "Heat of a kilowatt-hour",
    quantity: "number",
    min: 1,
    max: 8,
    hint: "1 resistive, about 3 heat pump",
  },
  { key: "costPerM2", label: `Panels, ${currency} per m²`, quantity: "number", min: 1, max: 1e6 },
  {
    key: "other",
    label: `Beside them, ${currency}`,
    quantity: "number",
    min: 0,
    max: 1e8,
    hint: "heater or heat pump, inverter",
  },
];

/** The same area, and the same money, in photovoltaic panels. */
export function PanelsForm({
  panels,
  currency,
  change,
}: {
  panels: ApplySettings["panels"];
  currency: string;
  change: Change;
}) {
  return (
    <fieldset>
      <legend className="text-[15px] font-[650]">Photovoltaic panels instead</legend>
      <Tick
        label="on the same area, and for the same money"
        checked={panels !== null}
        onChange={(on) =>
          change({ panels: on ? { efficiency: 0.2, performance: 0.8, cop: 1, costPerM2: 150, other: 300 } : null })
        }
      />
      {panels && (
        <>
          <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2 md:grid-cols-4">
            <QuantityFields
              of={panelFields(currency)}
              value={panels}
              set={(part) => change({ panels: { ...panels, ...part } })}
            />
          </div>
          <p className="side">
            Their surplus current counts as nothing here; where it is sold, panels do better. Wiring: licensed
            electrician.
          </p>
        </>
      )}
    </fieldset>
  );
}
