"use client";

import { useMemo } from "react";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, fromSi, type UnitSystem } from "@/core/quantity/quantities";
import { PLACE_GROUPS, type PlaceGroup } from "@/core/plan/precision";
import type { PlanPatch, PlanSettings } from "@/core/experiment/schema/plan";
import type { PlanView } from "@/services/plan/plan";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { adviceWords, SHORTER_WORDS } from "@/words/plan";
import { STATED_FIELDS } from "@/core/experiment/settingFields";
import { askedOf, QuantityFields } from "@/ui/form/QuantityFields";
import type { Duration } from "@/core/plan/howLong";

const GROUP_WORDS: Record<PlaceGroup, string> = {
  probe: "probes",
  meter: "flow meters",
  profile: "ducts and profiles",
  station: "the places themselves",
};

const STATED = askedOf(STATED_FIELDS, {
  heatWm2: "Expected heat",
  riseK: "Expected rise",
  probeLimitK: "Probes ±",
  meterLimitShare: "Flow meters ±",
  profileLimitShare: "Profiles ±",
  stationShare: "Places differ by",
  windowShare: "A window scatters by",
  dayShare: "A day scatters by",
});

/** How many days settle the question: the smallest difference told against days, what it is made of, and what shortens it. */
export function HowLong({
  plan,
  settings,
  change,
}: {
  plan: PlanView;
  settings: PlanSettings;
  change: (patch: PlanPatch) => void;
}) {
  const { system } = usePreferences();
  const { duration: d, smallest } = plan;
  const spec = useSpec({ d, system, smallest });
  if (!d || !spec) return null;
  const wanted = settings.power === 0.8 ? d.days80 : d.days95;
  const flux = (v: number) => quantityText(v, "heatFlux", { system, figures: 2 });
  return (
    <section data-testid="how-long">
      <Chart spec={spec} height={190} legend={false} />
      <p className="side">
        solid 80 %, dashed 95 % chance; level line: what matters, {smallest > 0 ? flux(smallest) : "not set"}.{" "}
        {plan.perDay === 1 ? "One figure" : `${Math.round(plan.perDay)} windows`} on a clear day.
      </p>
      <table className="grid-table mt-1">
        <tbody>
          <tr>
            <th scope="row">80 % chance</th>
            <td className="num font-semibold">{d.days80 === null ? "over 60 days" : `${d.days80} clear days`}</td>
          </tr>
          <tr>
            <th scope="row">95 % chance</th>
            <td className="num font-semibold">{d.days95 === null ? "over 60 days" : `${d.days95} clear days`}</td>
          </tr>
        </tbody>
      </table>
      <Advice plan={plan} />
      <h3 className="mt-2 font-semibold">What shortens it</h3>
      {d.shorter.length === 0 && (
        <p className="side">{wanted === 1 ? "Nothing: one day is the least." : "Nothing single."}</p>
      )}
      <table className="grid-table">
        <tbody>
          {d.shorter.map((s) => (
            <tr key={s.kind}>
              <th scope="row">{SHORTER_WORDS[s.kind]}</th>
              <td className="num">
                {s.days} day{s.days === 1 ? "" : "s"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Made plan={plan} settings={settings} change={change} />
    </section>
  );
}

function useSpec({ d, system, smallest }: { d: Duration | null; system: UnitSystem; smallest: number }) {
  const spec = useMemo((): ChartSpec | null => {
    if (!d) return null;
    const unit = displayUnit("heatFlux", system);
    const si = (v: number) => fromSi(v, unit);
    const top = si(Math.min(d.curve[0].at95, Math.max(d.curve[1]?.at95 ?? 0, smallest * 4)));
    const row = (r: (typeof d.curve)[number]) => [
      r.days,
      r.windows,
      si(r.at80).toPrecision(3),
      si(r.at95).toPrecision(3),
      r.balanced ? "even" : "uneven",
    ];
    return {
      title: "Days needed",
      summary: `Smallest difference told after so many clear days: ${d.curve
        .filter((r) => [1, 2, 4, 8].includes(r.days))
        .map(
          (r) =>
            `${r.days} days ${Math.round(r.at80)} watts per square metre with 80 percent chance, ${Math.round(r.at95)} with 95`,
        )
        .join("; ")}.`,
      x: { title: "clear days", min: 0, max: d.curve.length },
      y: { title: `difference told, ${unit.symbol}`, min: 0, max: Number(top.toPrecision(2)) },
      series: [
        {
          label: "95 % chance",
          kind: "line",
          color: "--ink-2",
          dashed: true,
          points: d.curve.map((r) => ({ x: r.days, y: si(r.at95) })),
        },
        {
          label: "80 % chance",
          kind: "line",
          color: "--ink",
          points: d.curve.map((r) => ({ x: r.days, y: si(r.at80) })),
        },
        ...(smallest > 0
          ? [
              {
                label: "what matters",
                kind: "line" as const,
                color: "--action",
                points: [
                  { x: 0, y: si(smallest) },
                  { x: d.curve.length, y: si(smallest) },
                ],
              },
            ]
          : []),
      ],
      table: {
        columns: ["clear days", "windows", `80 % chance, ${unit.symbol}`, `95 % chance, ${unit.symbol}`, "places"],
        rows: d.curve.map(row),
      },
    };
  }, [d, smallest, system]);
  return spec;
}

/** What to do next about days: the verdict's own answer, in days. */
function Advice({ plan }: { plan: PlanView }) {
  const { system } = usePreferences();
  if (!plan.advice) return null;
  const { head, text } = adviceWords(plan.advice, plan.smallest, system);
  return (
    <p className="mt-1 border-l-[3px] border-action pl-2" data-testid="advice">
      <b className="font-semibold">{head}</b> {text}{" "}
      {plan.advice.interim && <span className="side">Daily interim analyses are allowed for (Lan–DeMets).</span>}
    </p>
  );
}

/** What the ± is made of; before a run, from limits that can be typed. */
function Made({
  plan,
  settings,
  change,
}: {
  plan: PlanView;
  settings: PlanSettings;
  change: (patch: PlanPatch) => void;
}) {
  const { system } = usePreferences();
  const p = plan.precision;
  const flux = (v: number) => quantityText(v, "heatFlux", { system, figures: 2 });
  const stated = settings.stated;
  const set = (part: Partial<PlanSettings["stated"]>) => change({ stated: part });
  const rows: [string, number, string][] = [
    ...PLACE_GROUPS.map((g): [string, number, string] => [GROUP_WORDS[g], p.place[g], "cancels with swaps"]),
    ["sun, areas, specimens", p.fixed, "stays"],
    ["one window", p.window, "falls with windows"],
    ["one day", p.day, "falls with days"],
    ...(p.repeatability > 0 ? [["identical pair", p.repeatability, "stays"] as [string, number, string]] : []),
  ];
  return (
    <details className="mt-2">
      <summary className="cursor-pointer font-semibold text-action">From what it is reckoned</summary>
      <p className="side pt-1">
        {plan.precisionFrom === "runs"
          ? `Standard uncertainties of ${plan.pair?.join(" less ")}, from this experiment’s own windows.`
          : "No runs yet: typical values and stated limits. Put in your own."}{" "}
        {plan.comparisons > 1 ? `${plan.comparisons} comparisons at once share the 5 % (Holm).` : ""}
      </p>
      <table className="grid-table text-[13.5px]">
        <tbody>
          {rows.map(([words, v, what]) => (
            <tr key={words}>
              <th scope="row">{words}</th>
              <td className="num">{flux(v)}</td>
              <td className="side">{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {plan.precisionFrom === "stated" && (
        <div className="grid grid-cols-2 gap-2 pt-1">
          <QuantityFields of={STATED} value={stated} set={set} />
        </div>
      )}
    </details>
  );
}
