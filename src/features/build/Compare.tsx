"use client";

import { ASPECTS, type Aspect, aspectValues, differences, withAspect } from "@/core/collector/compare";
import { layerDepth, type Design } from "@/core/collector/design";
import type { FigureName, Operating, Prediction } from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import { designProblems } from "@/core/collector/validate";
import { quantityText } from "@/core/quantity/format";
import type { Variant } from "@/core/experiment/records";
import { LaneMark } from "@/ui/LaneMark";
import { layoutSection } from "@/ui/section/layout";
import { SectionArt } from "@/ui/section/Section";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { ASPECT_WORDS, listWords } from "@/words/build";
import { differenceData, FIGURE_META, figureData, predictedWorking } from "@/features/experiment/figures";
import { layerName } from "./names";
import { aspectText } from "@/features/experiment/aspectText";
import { Button } from "@/ui/Button";
import type { UnitSystem } from "@/core/quantity/quantities";

const ROWS: FigureName[] = [
  "heatPerArea",
  "outlet",
  "eta0",
  "a1",
  "stagnation",
  "pressure",
  "fanPower",
  "netHeat",
  "timeConstant",
];

/** Two variants side by side: sections on one scale, what differs marked, predicted figures with their difference. */
export function Compare({
  a,
  b,
  studies,
  operating,
  onMixed,
}: {
  a: Variant;
  b: Variant;
  studies: [Study | null, Study | null];
  operating: Operating;
  onMixed: (name: string, design: Design) => void;
}) {
  const { system } = usePreferences();
  const differ = differences(a.design, b.design);
  const [x, y] = [aspectValues(a.design), aspectValues(b.design)];
  const [pa, pb] = studies.map((s) => s?.prediction ?? null);
  const heat = pa && pb ? differenceData(pa, pb, "heatPerArea") : null;
  const told = heat && Math.abs(heat.si) > (heat.expanded ?? 0);
  return (
    <div className="grid gap-4">
      <h1 className="sentence">
        {differ.length === 0
          ? `${a.letter} and ${b.letter} do not differ: they make an identical pair.`
          : `${a.letter} and ${b.letter} differ in ${listWords(differ.map((d) => ASPECT_WORDS[d]))}.`}
        {differ.length > 1 ? " Their effects cannot be separated." : ""}
        {heat &&
          (told
            ? ` Predicted: ${b.letter} gives ${quantityText(Math.abs(heat.si), "heatFlux", { expanded: heat.expanded ?? undefined, system })} ${heat.si > 0 ? "more" : "less"}.`
            : " In heat they are not separated by the model.")}
      </h1>
      <div className="grid gap-4 md:grid-cols-2">
        {[a, b].map((v, i) => (
          <OneSection key={v.id} variant={v} other={i ? a : b} />
        ))}
      </div>
      <Aspects {...{ a, b, x, y, differ, system, onMixed }} />
      {pa && pb && <Figures {...{ a, b, pa, pb, operating }} />}
    </div>
  );
}

function Aspects({
  a,
  b,
  x,
  y,
  differ,
  system,
  onMixed,
}: {
  a: Variant;
  b: Variant;
  x: Record<Aspect, string>;
  y: Record<Aspect, string>;
  differ: Aspect[];
  system: UnitSystem;
  onMixed: (name: string, design: Design) => void;
}) {
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Layers side by side">
      <table className="grid-table min-w-[560px]">
        <caption className="sr-only">What the two variants are, and what differs</caption>
        <thead>
          <tr>
            <th>Build</th>
            <th>
              <LaneMark lane={a.letter} />
            </th>
            <th>
              <LaneMark lane={b.letter} />
            </th>
            <th className="no-print">Tell them apart by</th>
          </tr>
        </thead>
        <tbody>
          {ASPECTS.filter(
            (k) => x[k] !== y[k] || ["absorber", "coating", "glazing", "backing", "size", "airPath"].includes(k),
          ).map((k) => {
            const differs = x[k] !== y[k];
            const mixed = differs && differ.length > 1 && differ.includes(k) ? withAspect(a.design, b.design, k) : null;
            return (
              <tr key={k} className={differs ? "bg-action-wash" : ""}>
                <th scope="row">
                  {differs && (
                    <b className="mr-1 font-bold" aria-hidden>
                      ≠
                    </b>
                  )}
                  {ASPECT_WORDS[k]}
                  {differs && <span className="sr-only">, differs</span>}
                </th>
                <td>{aspectText(a.design, k, system)}</td>
                <td>{aspectText(b.design, k, system)}</td>
                <td className="no-print">
                  {mixed && designProblems(mixed).length === 0 && (
                    <Button
                      kind="plain"
                      onClick={() => onMixed(`${a.name} with ${ASPECT_WORDS[k]} of ${b.letter}`, mixed)}
                    >
                      draw {a.letter} with {b.letter}’s {ASPECT_WORDS[k]}
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Figures({
  a,
  b,
  pa,
  pb,
  operating,
}: {
  a: Variant;
  b: Variant;
  pa: Prediction;
  pb: Prediction;
  operating: Operating;
}) {
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Figures side by side">
      <table className="grid-table min-w-[560px]">
        <caption className="sr-only">Predicted figures side by side</caption>
        <thead>
          <tr>
            <th>
              Predicted <span className="side">model, 95 %</span>
            </th>
            <th className="num">{a.letter}</th>
            <th className="num">{b.letter}</th>
            <th className="num">
              {b.letter} − {a.letter}, shared doubts cancelled
            </th>
          </tr>
        </thead>
        <tbody>
          {ROWS.map((n) => {
            const [fa, fb, d] = [figureData(pa, n), figureData(pb, n), differenceData(pa, pb, n)];
            return (
              <tr key={n}>
                <th scope="row">{FIGURE_META[n].label}</th>
                <td className="num">
                  {fa ? (
                    <Figure
                      figure={fa}
                      opens={{ figure: "predicted", letter: a.letter, name: n }}
                      local={() => predictedWorking(pa, n, operating, a.letter)}
                    />
                  ) : (
                    "–"
                  )}
                </td>
                <td className="num">
                  {fb ? (
                    <Figure
                      figure={fb}
                      opens={{ figure: "predicted", letter: b.letter, name: n }}
                      local={() => predictedWorking(pb, n, operating, b.letter)}
                    />
                  ) : (
                    "–"
                  )}
                </td>
                <td className="num">{d ? <Figure figure={d} signed /> : "–"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Layers of one stack that the other does not have in the same order: what is left of it beside the longest common sequence. */
function unmatched(a: Design, b: Design): Set<string> {
  const [x, y] = [a, b].map((d) => d.layers.map((l) => JSON.stringify({ ...l, id: "" })));
  const length = Array.from({ length: x.length + 1 }, () => new Array<number>(y.length + 1).fill(0));
  for (let i = x.length - 1; i >= 0; i--)
    for (let j = y.length - 1; j >= 0; j--)
      length[i][j] = x[i] === y[j] ? length[i + 1][j + 1] + 1 : Math.max(length[i + 1][j], length[i][j + 1]);
  const out = new Set<string>();
  for (let i = 0, j = 0; i < x.length;) {
    if (j < y.length && x[i] === y[j]) [i, j] = [i + 1, j + 1];
    else if (j < y.length && length[i][j + 1] >= length[i + 1][j]) j++;
    else out.add(a.layers[i++].id);
  }
  return out;
}

function OneSection({ variant, other }: { variant: Variant; other: Variant }) {
  const { design } = variant;
  const total = (d: Design) => d.layers.reduce((s, l) => s + layerDepth(l), 0);
  // One scale for both: the deeper stack fills the height.
  const height = 180 * (total(design) / Math.max(total(design), total(other.design), 1e-6));
  const layout = layoutSection(design, Math.max(40, height), "large");
  const differs = unmatched(design, other.design);
  const ys = layout.slabs.map((s) => (s.y0 + s.y1) / 2 + 4);
  for (let i = 1; i < ys.length; i++) ys[i] = Math.max(ys[i], ys[i - 1] + 14);
  return (
    <figure className="min-w-0">
      <figcaption className="head">
        <h3 className="flex items-center gap-2">
          <LaneMark lane={variant.letter} /> {variant.name}
        </h3>
      </figcaption>
      <svg viewBox="0 0 560 220" className="block h-auto w-full" role="img" aria-label={`${variant.name}, section`}>
        <g transform="translate(0 14)">
          <SectionArt
            design={design}
            lane={variant.letter}
            layout={layout}
            stage={{ left: 24, right: 390, line: 1.3, pxPerM: layout.pxPerM, size: "large" }}
          />
          <path d={`M24 0V${layout.height}H390V0`} fill="none" stroke="var(--ink)" strokeWidth="2" />
          {layout.slabs.map((s, i) => (
            <g key={s.layer.id}>
              {differs.has(s.layer.id) && (
                <path d={`M12 ${s.y0}V${Math.max(s.y1, s.y0 + 4)}`} stroke="var(--action)" strokeWidth="5" />
              )}
              <path d={`M392 ${(s.y0 + s.y1) / 2}L398 ${ys[i] - 4}`} stroke="var(--rule)" />
              <text x={401} y={ys[i]} style={{ fontWeight: differs.has(s.layer.id) ? 700 : 400, fill: "var(--ink)" }}>
                {differs.has(s.layer.id) ? "≠ " : ""}
                {layerName(s.layer, design.materials).slice(0, 22)}
              </text>
            </g>
          ))}
        </g>
      </svg>
    </figure>
  );
}
