"use client";

import { useState, type Dispatch, type SetStateAction, type KeyboardEvent } from "react";
import { toast } from "@/ui/toast";
import {
  rectangularTraversePoints,
  roundTraversePoints,
  traverseMean,
  type TraverseResult,
  type TraversePoint,
} from "@/core/flow/traverse";
import { parseQuantity } from "@/core/quantity/parseQuantity";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { ProveView } from "@/services/prove/prove";
import { usePreferences } from "@/ui/preferences";
import { QuantityField } from "@/ui/QuantityField";
import { parsedProblem } from "@/words/quantity";
import { useAct } from "@/ui/useAct";
import { applyFlowFactor } from "./actions";
import { Select } from "@/ui/form/Select";
import { QuantityFields } from "@/ui/form/QuantityFields";
import { Button } from "@/ui/Button";
import type { FlowSetup } from "@/core/analysis/setup";
import type { UnitSystem } from "@/core/quantity/quantities";

/** The duct drawn with the places to hold the probe; readings go in by keyboard alone: Enter takes you to the next place. */
export function Traverse({ experimentId, prove }: { experimentId: number; prove: ProveView }) {
  const { system } = usePreferences();
  const speeds = prove.meters.filter((m) => m.profileFactor !== null);
  const [meter, setMeter] = useState(speeds[0]?.key ?? "");
  const [shape, setShape] = useState<"round" | "rectangular">("round");
  const [diameterM, setDiameter] = useState(speeds[0]?.ductM ?? 0.125);
  const [size, setSize] = useState({ widthM: 0.2, heightM: 0.1 });
  const [lines, setLines] = useState(2);
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [usual, setUsual] = useState("");
  const { busy, act } = useAct();
  const points =
    shape === "round"
      ? Array.from({ length: lines }, () => roundTraversePoints(diameterM, 6))
      : Array.from({ length: 4 }, (_, row) =>
          rectangularTraversePoints(size.widthM, size.heightM).slice(4 * row, 4 * row + 4),
        );
  const read = (text: string) => parseQuantity(text, "speed", { defaultUnit: system });
  const keyOf = (i: number, j: number) => `${shape}-${i}-${j}`;
  const problem = (text: string): string | null => {
    if (!text.trim()) return null;
    const parsed = read(text);
    if (!parsed.ok) return parsedProblem(parsed);
    return parsed.si < 0 ? "A speed is not negative: turn the probe round." : null;
  };
  const values = points.map((line, i) =>
    line.map((_, j) => {
      const p = read(texts[keyOf(i, j)] ?? "");
      return p.ok && p.si >= 0 ? p.si : NaN;
    }),
  );
  const complete = values.every((l) => l.every((v) => !Number.isNaN(v)));
  const place = read(usual);
  const result: TraverseResult | null = complete
    ? traverseMean(values, place.ok && place.si > 0 ? place.si : undefined)
    : null;
  const limit = result?.profileFactor ? result.profileFactor * result.standardShare * Math.sqrt(3) : 0;
  const next = (e: React.KeyboardEvent<HTMLInputElement>) => {
    if (e.key !== "Enter") return;
    e.preventDefault();
    const all = [...e.currentTarget.closest("fieldset")!.querySelectorAll<HTMLInputElement>("input[data-place]")];
    all[all.indexOf(e.currentTarget) + 1]?.focus();
  };
  const apply = () =>
    act(
      () =>
        applyFlowFactor(experimentId, {
          runIds: prove.runs.map((r) => r.id),
          detail: { meter, method: "traverse", factor: result!.profileFactor!, limit },
          reason: `traverse of ${points.flat().length} places`,
        }),
      () => {
        toast.success("Laid over the runs; results are recomputed.");
      },
    );
  return (
    <details className="no-print">
      <summary className="cursor-pointer py-1 font-semibold text-action">Traverse worksheet</summary>
      <div className="grid gap-3">
        <DuctForm
          {...{ shape, setShape, diameterM, setDiameter, lines, setLines, size, setSize, speeds, meter, setMeter }}
        />
        <div className="flex flex-wrap gap-6">
          <Duct shape={shape} diameterM={diameterM} size={size} points={points} />
          <fieldset className="min-w-0 flex-1">
            <legend className="text-[13px] font-semibold">Speeds, at the numbered places; Enter goes on</legend>
            <Places {...{ points, texts, keyOf, problem, system, setTexts, next, usual, setUsual }} />
          </fieldset>
        </div>
        <Mean result={result} system={system} values={values} />
        {result?.profileFactor && meter && prove.runs.length > 0 && (
          <p>
            <Button kind="main" disabled={busy} onClick={apply}>
              Use this factor for meter {meter}
            </Button>
          </p>
        )}
      </div>
    </details>
  );
}

function Places({
  points,
  texts,
  keyOf,
  problem,
  system,
  setTexts,
  next,
  usual,
  setUsual,
}: {
  points: TraversePoint[][];
  texts: Record<string, string>;
  keyOf: (i: number, j: number) => string;
  problem: (text: string) => string | null;
  system: UnitSystem;
  setTexts: Dispatch<SetStateAction<Record<string, string>>>;
  next: (e: KeyboardEvent<HTMLInputElement>) => void;
  usual: string;
  setUsual: Dispatch<SetStateAction<string>>;
}) {
  let n = 0;
  return (
    <ol className="grid grid-cols-2 gap-x-3 gap-y-1 sm:grid-cols-3">
      {points.flatMap((line, i) =>
        line.map((p, j) => {
          const number = ++n;
          const text = texts[keyOf(i, j)] ?? "";
          const wrong = problem(text);
          return (
            <li key={keyOf(i, j)}>
              <label className="flex items-center gap-1 text-[13px]">
                <b className="w-6 text-right">{number}</b>
                <input
                  data-place
                  className="field min-h-7 py-0"
                  aria-label={`Speed at place ${number}, ${quantityText(p.xM, "smallLength", { system, figures: 3 })} from the wall`}
                  aria-invalid={wrong !== null}
                  value={text}
                  onChange={(e) => setTexts({ ...texts, [keyOf(i, j)]: e.target.value })}
                  onKeyDown={next}
                />
              </label>
              <span className="side ml-7">
                {wrong ? (
                  <span role="alert" className="font-semibold text-danger">
                    {wrong}
                  </span>
                ) : (
                  quantityText(p.xM, "smallLength", { system, figures: 3 })
                )}
              </span>
            </li>
          );
        }),
      )}
      <li>
        <label className="flex items-center gap-1 text-[13px]">
          <b className="w-6 text-right">★</b>
          <input
            data-place
            className="field min-h-7 py-0"
            aria-label="Speed at the meter’s usual place"
            aria-invalid={problem(usual) !== null}
            value={usual}
            onChange={(e) => setUsual(e.target.value)}
            onKeyDown={next}
          />
        </label>
        <span className="side ml-7">the meter’s usual place</span>
      </li>
    </ol>
  );
}

function Mean({ result, system, values }: { result: TraverseResult | null; system: UnitSystem; values: number[][] }) {
  return (
    <p aria-live="polite" data-testid="traverse">
      {result ? (
        <>
          Mean speed{" "}
          <b className="font-[650]">
            {quantityText(result.meanSpeedMs, "speed", {
              system,
              expanded: 2 * result.standardShare * result.meanSpeedMs,
            })}
          </b>
          {result.profileFactor ? (
            <>
              ; mean ÷ read speed <b className="font-[650]">{formatNumber(result.profileFactor, 3)}</b> ±{" "}
              {formatNumber(2 * result.standardShare * result.profileFactor, 3)}
            </>
          ) : (
            "; read the usual place too to get the factor"
          )}
          .
        </>
      ) : (
        `${values.flat().filter((v) => !Number.isNaN(v)).length} of ${values.flat().length} places read.`
      )}
    </p>
  );
}

function DuctForm({
  shape,
  setShape,
  diameterM,
  setDiameter,
  lines,
  setLines,
  size,
  setSize,
  speeds,
  meter,
  setMeter,
}: {
  shape: "round" | "rectangular";
  setShape: Dispatch<SetStateAction<"round" | "rectangular">>;
  diameterM: number;
  setDiameter: Dispatch<SetStateAction<number>>;
  lines: number;
  setLines: Dispatch<SetStateAction<number>>;
  size: { widthM: number; heightM: number };
  setSize: Dispatch<SetStateAction<{ widthM: number; heightM: number }>>;
  speeds: {
    kind: FlowSetup["kind"];
    ductAreaM2: number | null;
    ductM: number | null;
    key: string;
    limitShare: number;
    where: string;
    profileFactor: number | null;
    profileLimit: number | null;
  }[];
  meter: string;
  setMeter: Dispatch<SetStateAction<string>>;
}) {
  return (
    <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
      <Select
        label="Duct"
        value={shape}
        options={[
          ["round", "round"],
          ["rectangular", "rectangular"],
        ]}
        onChange={setShape}
      />
      {shape === "round" ? (
        <>
          <QuantityField
            label="Inner diameter"
            quantity="smallLength"
            si={diameterM}
            min={0.02}
            max={2}
            onChange={setDiameter}
          />
          <Select
            label="Diameters"
            value={lines}
            options={[
              [1, "one"],
              [2, "two, crossed"],
            ]}
            onChange={setLines}
          />
        </>
      ) : (
        <>
          <QuantityFields
            of={[
              { key: "widthM", label: "Inner width", quantity: "smallLength", min: 0.02, max: 3 },
              { key: "heightM", label: "Inner height", quantity: "smallLength", min: 0.02, max: 3 },
            ]}
            value={size}
            set={(part) => setSize({ ...size, ...part })}
          />
        </>
      )}
      {speeds.length > 0 && (
        <Select
          label="Meter"
          value={meter}
          options={speeds.map((m) => [m.key, `${m.key}, lane ${m.where}`] as const)}
          onChange={(v) => {
            setMeter(v);
            setDiameter(speeds.find((m) => m.key === v)?.ductM ?? diameterM);
          }}
        />
      )}
    </div>
  );
}

function Duct({
  shape,
  diameterM,
  size,
  points,
}: {
  shape: "round" | "rectangular";
  diameterM: number;
  size: { widthM: number; heightM: number };
  points: { xM: number; yM: number }[][];
}) {
  let n = 0;
  const box = 190;
  const scale = shape === "round" ? (box - 20) / diameterM : (box - 20) / Math.max(size.widthM, size.heightM);
  const at = (line: number, p: { xM: number; yM: number }): [number, number] => {
    if (shape === "rectangular") return [10 + p.xM * scale, 10 + p.yM * scale];
    const along = 10 + p.xM * scale;
    return line === 0 ? [along, box / 2] : [box / 2, along];
  };
  return (
    <svg
      width={box}
      height={box}
      role="img"
      aria-label="Where to hold the probe in the duct, numbered"
      className="shrink-0"
    >
      {shape === "round" ? (
        <circle
          cx={box / 2}
          cy={box / 2}
          r={(diameterM * scale) / 2}
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ) : (
        <rect
          x={10}
          y={10}
          width={size.widthM * scale}
          height={size.heightM * scale}
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      )}
      {points.flatMap((line, i) =>
        line.map((p) => {
          const [x, y] = at(i, p);
          n++;
          return (
            <g key={n}>
              <circle cx={x} cy={y} r="3.5" fill="var(--action)" />
              <text x={x + 4} y={y - 5} style={{ fontSize: 11 }}>
                {n}
              </text>
            </g>
          );
        }),
      )}
    </svg>
  );
}
