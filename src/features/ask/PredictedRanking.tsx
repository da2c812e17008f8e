"use client";

import Link from "next/link";
import { useState } from "react";
import { billOf } from "@/core/collector/bill";
import { designAreas } from "@/core/collector/content";
import { pipeLength } from "@/core/collector/design";
import { whyLess, type Reason } from "@/core/collector/explain";
import {
  AREA_BASES,
  type AreaBasis,
  type FigureName,
  type Operating,
  type Prediction,
} from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import { expandedStated } from "@/core/uncertainty/normal";
import { measured, scale } from "@/core/uncertainty/uncertain";
import { differenceData, figureData, predictedWorking } from "@/features/experiment/figures";
import type { Variant } from "@/core/experiment/records";
import type { VariantsView } from "@/services/variant/variants";
import { Badge } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { Head } from "@/ui/Head";
import type { HeatLimitCheck } from "@/core/collector/limits";
import { PER_AREA_WORDS } from "@/words/areas";

const REASON_WORDS: Record<Reason, string> = {
  light: "lets in less light",
  transfer: "heats its stream less well",
  loss: "loses more",
  aperture: "has a smaller opening",
};
/** A predicted figure that opens its working. */
const Opened = ({ p, name, op, letter }: { p: Prediction; name: FigureName; op: Operating; letter: string }) => (
  <Figure
    figure={figureData(p, name)!}
    opens={{ figure: "predicted", letter, name }}
    local={() => predictedWorking(p, name, op, letter)}
  />
);

type By = AreaBasis | "metre" | "cost" | "box";
const BY_WORDS: Record<By, string> = {
  box: "per box",
  ...PER_AREA_WORDS,
  metre: "per metre of pipe",
  cost: "per money of a repeat unit",
};

function shownBy(by: By, v: number, system: UnitSystem): string {
  switch (by) {
    case "box":
      return quantityText(v, "power", { system, figures: 3 });
    case "metre":
      return quantityText(v, "heatPerLength", { system, figures: 3 });
    case "cost":
      return `${formatNumber(v, 1)} W`;
    default:
      return quantityText(v, "heatFlux", { system, figures: 3 });
  }
}

interface Row {
  variant: Variant;
  prediction: Prediction;
  value: Record<By, number | null>;
}

/** The variants in the order the model expects, on every basis, with why. Other bases have other winners, and it says so. */
export function PredictedRanking({
  view,
  studies,
  areaBasis,
}: {
  view: VariantsView;
  studies: (Study | null)[];
  areaBasis: AreaBasis;
}) {
  const { system } = usePreferences();
  const [by, setBy] = useState<By>(areaBasis);
  const rows = rowsOf(view, studies);
  const missing = view.variants.length - rows.length;
  const sorted = rows.filter((r) => r.value[by] !== null).sort((a, b) => b.value[by]! - a.value[by]!);
  const winners = new Map(
    (Object.keys(BY_WORDS) as By[]).flatMap((k) => {
      const best = rows.filter((r) => r.value[k] !== null).sort((a, b) => b.value[k]! - a.value[k]!)[0];
      return best ? [[k, best.variant.letter] as const] : [];
    }),
  );
  const [best] = sorted;
  const most = Math.max(...sorted.map((r) => r.value[by]!), 1e-9);
  const show = (k: By, v: number | null) => (v === null ? "–" : shownBy(k, v, system));
  return (
    <section aria-labelledby="predictedRanking" data-testid="predicted-ranking">
      <Head
        id="predictedRanking"
        title="Predicted order"
        side={<>at your operating point; model, 95 %{studies.some((s) => !s) ? "; working …" : ""}</>}
      >
        <label className="more no-print text-[13px]">
          rank{" "}
          <select className="border border-rule bg-sheet px-1" value={by} onChange={(e) => setBy(e.target.value as By)}>
            {(Object.keys(BY_WORDS) as By[]).map((k) => (
              <option key={k} value={k}>
                {BY_WORDS[k]}
              </option>
            ))}
          </select>
        </label>
      </Head>
      {best && new Set(winners.values()).size > 1 && (
        <p className="pt-1 text-[13.5px]">
          Highest predicted value by basis: {[...winners].map(([k, l]) => `${l} ${BY_WORDS[k]}`).join(", ")}.
        </p>
      )}
      <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Predicted order">
        <table className="grid-table min-w-[640px]">
          <thead>
            <tr>
              <th className="w-[300px]">Variant</th>
              <th className="num">heat {BY_WORDS[by]}</th>
              <th className="max-sm:hidden">
                <span className="sr-only">bar</span>
              </th>
              <th className="num">outlet</th>
              <th className="num">no flow</th>
              {AREA_BASES.filter((b) => b !== by).map((b) => (
                <th key={b} className="num">
                  {BY_WORDS[b].replace("per ", "")}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sorted.map((row, i) => (
              <RankRow
                key={row.variant.id}
                row={row}
                best={i > 0 ? best : null}
                over={studies[view.variants.indexOf(row.variant)]?.limits.find((l) => l.state === "over")}
                {...{ view, by, areaBasis, most, show }}
              />
            ))}
          </tbody>
        </table>
      </div>
      {missing > 0 && !studies.some((s) => !s) && (
        <p className="side">
          {missing} variant{missing > 1 ? "s" : ""} cannot be predicted: mend {missing > 1 ? "them" : "it"} in Build.
        </p>
      )}
      {rows.length > sorted.length && (
        <p className="side">
          {rows.length - sorted.length} without pipe {rows.length - sorted.length > 1 ? "are" : "is"} left out of this
          order.
        </p>
      )}
    </section>
  );
}

/** Every variant that can be predicted, with its heat on every basis. */
const rowsOf = (view: VariantsView, studies: (Study | null)[]): Row[] =>
  view.variants.flatMap((variant, i) => {
    const prediction = studies[i]?.prediction;
    if (!prediction?.figures.heat) return [];
    const heat = prediction.figures.heat.value;
    const areas = designAreas(variant.design);
    const metres = pipeLength(variant.design);
    return [
      {
        variant,
        prediction,
        value: {
          box: heat,
          gross: heat / areas.gross,
          aperture: heat / areas.aperture,
          absorber: heat / areas.absorber,
          metre: metres ? heat / metres : null,
          cost: heat / Math.max(0.01, billOf(variant.design, variant.bill).repeat),
        },
      },
    ];
  });

function RankRow({
  row: { variant: v, prediction: p, value },
  best,
  over,
  view,
  by,
  areaBasis,
  most,
  show,
}: {
  row: Row;
  /** The first of the order; null where that is this row. */
  best: Row | null;
  over: HeatLimitCheck | undefined;
  view: VariantsView;
  by: By;
  areaBasis: AreaBasis;
  /** The largest value on this basis. */
  most: number;
  show: (k: By, v: number | null) => string;
}) {
  const [reason] = best ? whyLess(p, best.prediction, view.operating) : [];
  const d = best && differenceData(best.prediction, p, "heatPerArea");
  const half = (expandedStated(measured(scale(p.figures.heat!, value[by]! / p.figures.heat!.value))) / most) * 96;
  const x = (value[by]! / most) * 96;
  return (
    <tr>
      <th scope="row">
        <Link
          className="flex items-center gap-2 hover:underline"
          href={`/experiments/${view.experimentId}/build?v=${v.letter}`}
        >
          <LaneMark lane={v.letter} size={12} />
          <Badge design={v.design} lane={v.letter} scale={0.75} />
          <span className="font-semibold">{v.name}</span>
        </Link>
        <span className="side block">
          {best
            ? besideBest(best.variant.letter, reason ? REASON_WORDS[reason.reason] : null, d)
            : "highest value by the model"}
          {over ? "; passes a limit without flow" : ""}
        </span>
      </th>
      <td className="num">
        {by === areaBasis ? (
          <Figure
            figure={{
              si: value[by]!,
              expanded: expandedStated(measured(p.figures.heatPerArea!)),
              quantity: "heatFlux",
            }}
            opens={{ figure: "predicted", letter: v.letter, name: "heatPerArea" }}
            local={() => predictedWorking(p, "heatPerArea", view.operating, v.letter)}
          />
        ) : (
          show(by, value[by])
        )}
      </td>
      <td className="max-sm:hidden">
        <svg width="124" height="14" aria-hidden>
          <rect x="0" y="4" width={x} height="6" fill="var(--ink)" opacity="0.25" />
          <path d={`M${Math.max(0, x - half)} 7H${x + half}`} stroke="var(--ink)" strokeWidth="2" />
          <path d={`M${x} 2V12`} stroke="var(--ink)" strokeWidth="2" />
        </svg>
      </td>
      <td className="num">
        <Opened p={p} name="outlet" op={view.operating} letter={v.letter} />
      </td>
      <td className={`num ${over ? "font-semibold text-danger" : ""}`}>
        <Opened p={p} name="stagnation" op={view.operating} letter={v.letter} />
      </td>
      {AREA_BASES.filter((b) => b !== by).map((b) => (
        <td key={b} className="num">
          {show(b, value[b])}
        </td>
      ))}
    </tr>
  );
}

/** What the model says of a variant beside the best: why it has less, and whether its ± tells them apart. */
function besideBest(best: string, why: string | null, d: ReturnType<typeof differenceData> | null): string {
  const apart = d && Math.abs(d.si) > (d.expanded ?? 0);
  if (!why) return apart ? `less than ${best}` : `not separated from ${best} by the model`;
  return `${why} than ${best}${apart ? "" : "; not separated by the model"}`;
}
