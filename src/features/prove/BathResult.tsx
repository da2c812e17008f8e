"use client";

import { useMemo, useState } from "react";
import type { BathResult } from "@/core/calibration/bath";
import type { BathOptions } from "@/core/calibration/bathOptions";
import { formatNumber, quantityText } from "@/core/quantity/format";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { bathWarningWords } from "@/words/prove";
import type { BathAnswer } from "./actions";
import type { UnitSystem } from "@/core/quantity/quantities";

const TITLES = {
  traces: "The bath as logged",
  before: "Differences before correction",
  after: "Differences after correction",
};
const REASONS = {
  asked: "as asked",
  spanTooSmall: "the bath’s span carries no slope",
  noSlopeFound: "no probe shows a slope",
  slopesFound: "some probes show a slope",
};

const SHOWN_WORDS = { traces: "As logged", before: "Before", after: "After" };

/** What a bath says of its probes: offsets, slopes, lags and what is left. */
export function Result({
  answer,
  options,
  onLeaveOut,
}: {
  answer: Extract<BathAnswer, { ok: true }>;
  options: BathOptions;
  onLeaveOut: (key: string, out: boolean) => void;
}) {
  const { result, every } = answer;
  const { system } = usePreferences();
  const kelvin = (v: number) => quantityText(v, "temperatureDifference", { system, figures: 2 });
  const [shown, setShown] = useState<"traces" | "before" | "after">("before");
  const spec = useMemo<ChartSpec>(() => {
    const start = result.timesMs[0];
    const differences = shown === "after" ? result.after : result.before;
    const series = shown === "traces" ? differences.map((d) => d.map((v, j) => v + result.reference[j])) : differences;
    return {
      title: TITLES[shown],
      summary: `Each probe less the reference over the bath. Spread ${result.spreadBeforeK.toFixed(2)} K before, ${result.spreadAfterK.toFixed(2)} K after.`,
      x: { title: "minutes" },
      y: { title: shown === "traces" ? "as logged, °C" : "probe − reference, K" },
      series: result.probes.map((p, i) => ({
        label: p.key,
        lane: "ABCDEFGH"[i % 8],
        kind: "line" as const,
        dashed: i >= 8,
        points: result.timesMs.flatMap((t, j) =>
          Number.isNaN(series[i][j]) ? [] : [{ x: (t - start) / 60000, y: series[i][j] }],
        ),
      })),
      thinned: every > 1 ? `One of ${every} readings drawn.` : undefined,
      table: {
        columns: ["probe", "offset, K", "± (95 %)", "slope, %", "lag, s", "left over, K"],
        rows: result.probes.map((p) => [
          p.key,
          Number(p.correction.offsetK.toFixed(3)),
          Number((2 * p.correction.standardOffsetK).toFixed(3)),
          Number((100 * p.correction.slope).toFixed(2)),
          p.lagS === null ? "" : Math.round(p.lagS),
          Number(p.residualSdK.toFixed(3)),
        ]),
      },
    };
  }, [result, shown, every]);
  return (
    <div className="grid gap-2" data-testid="bath-result">
      <p className="text-[15px] font-semibold">
        The probes lie {kelvin(result.spreadBeforeK)} apart, and {kelvin(result.spreadAfterK)} after correction by{" "}
        {result.model === "line" ? "offset and slope" : "an offset"}{" "}
        <span className="side font-normal">({REASONS[result.reason]})</span>.
      </p>
      <ul>
        {result.warnings.map((w, i) => (
          <li key={i} className="border-l-4 border-doubt-line pl-2 text-[13.5px]">
            {bathWarningWords(w)}
          </li>
        ))}
      </ul>
      <Probes {...{ result, system, kelvin, options, onLeaveOut }} />
      <div className="flex gap-2">
        {(["traces", "before", "after"] as const).map((v) => (
          <button
            key={v}
            type="button"
            aria-pressed={shown === v}
            className={`min-h-7 border-b-[3px] px-1.5 text-[13px] ${shown === v ? "border-action font-semibold" : "border-transparent text-ink-2"}`}
            onClick={() => setShown(v)}
          >
            {SHOWN_WORDS[v]}
          </button>
        ))}
      </div>
      <Chart spec={spec} height={200} legend={false} />
    </div>
  );
}

function Probes({
  result,
  system,
  kelvin,
  options,
  onLeaveOut,
}: {
  result: Omit<BathResult, "timesMs" | "referenceC" | "before" | "after"> & {
    timesMs: number[];
    reference: number[];
    before: number[][];
    after: number[][];
  };
  system: UnitSystem;
  kelvin: (v: number) => string;
  options: BathOptions;
  onLeaveOut: (key: string, out: boolean) => void;
}) {
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Probes in the bath">
      <table className="grid-table min-w-[520px] text-[13.5px]">
        <thead>
          <tr>
            <th>probe</th>
            <th className="num">shows too much</th>
            <th className="num">slope, %</th>
            <th className="num">lag, s</th>
            <th className="num">left over</th>
            <th>use</th>
          </tr>
        </thead>
        <tbody>
          {result.probes.map((p) => (
            <tr key={p.key} className={p.outlier ? "text-doubt" : ""}>
              <th scope="row" className="font-semibold">
                {p.key}
                {p.outlier ? ", outlier" : ""}
              </th>
              <td className="num">
                {quantityText(p.correction.offsetK, "temperatureDifference", {
                  system,
                  signed: true,
                  expanded: 2 * p.correction.standardOffsetK,
                })}
              </td>
              <td className="num">{p.correction.slope ? formatNumber(100 * p.correction.slope, 2) : "–"}</td>
              <td className="num">
                {p.lagS === null ? "–" : `${formatNumber(p.lagS, 0)} ± ${formatNumber(2 * p.lagStandardS!, 0)}`}
              </td>
              <td className="num">{Number.isFinite(p.residualSdK) ? kelvin(p.residualSdK) : "–"}</td>
              <td>
                <label className="flex items-center gap-1">
                  <input
                    type="checkbox"
                    aria-label={`Use ${p.key}`}
                    checked={!options.leftOut.includes(p.key)}
                    onChange={(e) => onLeaveOut(p.key, !e.target.checked)}
                  />
                </label>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
