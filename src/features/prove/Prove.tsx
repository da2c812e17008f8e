"use client";

import { withView } from "@/features/experiment/withView";
import { useState, type Dispatch, type SetStateAction } from "react";
import { toast } from "@/ui/toast";
import { quantityText } from "@/core/quantity/format";
import { expandedStated } from "@/core/uncertainty/normal";
import type { CalibrationHead } from "@/core/experiment/records";
import type { ExperimentView } from "@/services/page/views";
import type { ProveView } from "@/services/prove/prove";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { WHAT_IF_WORDS } from "@/words/prove";
import { percent } from "@/words/sources";
import { removeLayers } from "@/features/experiment/actions";
import { useAct } from "@/ui/useAct";
import { applyToRuns, removeCalibration } from "./actions";
import { Bath } from "./Bath";
import { Budget } from "./Budget";
import { Placement } from "./Placement";
import { SunSensor } from "./SunSensor";
import { Flow } from "./Flow";
import { Register } from "./Register";
import { TwoPoint } from "./TwoPoint";
import { matchedProbes, rememberedProbes, rememberProbes } from "./probeLabels";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import type { UnitSystem } from "@/core/quantity/quantities";

/** Are the instruments good enough for the question, which one to improve, and the calibrations that are laid over the runs. */
export function Prove({ view, prove }: { view: ExperimentView; prove: ProveView }) {
  const { head } = view;
  const { system } = usePreferences();
  const { applied, whatIf } = prove;
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(300px,380px)]">
      <div className="grid min-w-0 grid-cols-1 content-start gap-4">
        <ProveSentence view={view} prove={prove} />
        <Calibrations view={view} prove={prove} />
        <Bath zone={head.site.zone} />
        <Flow experimentId={head.id} prove={prove} />
        <SunSensor prove={prove} />
        <TwoPoint altitudeM={head.site.altitudeM} />
        <Placement view={view} prove={prove} />
        <Register prove={prove} />
      </div>
      <aside className="grid min-w-0 grid-cols-1 content-start gap-4" aria-label="Uncertainty budget">
        <Budget experimentId={head.id} figures={prove.figures} layerKey={JSON.stringify(applied)} />
        {whatIf && (
          <section aria-labelledby="whatif" data-testid="what-if">
            <Head id="whatif" title="What if" side="expected ± of the verdict’s difference, 95 %" />
            {whatIf.options.length === 0 && <p className="side py-1">Nothing single would make it much sharper.</p>}
            <table className="grid-table">
              <tbody>
                {whatIf.options.map((o) => (
                  <tr key={o.kind}>
                    <th scope="row">{WHAT_IF_WORDS[o.kind]}</th>
                    <td className="num">± {quantityText(o.expanded, "heatFlux", { system, figures: 2 })}</td>
                    <td className="num font-semibold">−{percent(o.gain)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {whatIf.options.length > 0 && (
              <p className="side pt-1">
                Each contribution is scaled alone and the rest kept (first order). A calibration or a traverse that is
                applied also moves the readings, so its ± can end up somewhat other.
              </p>
            )}
          </section>
        )}
      </aside>
    </div>
  );
}

const runsWords = (runs: readonly number[]): string =>
  `run${new Set(runs).size > 1 ? "s" : ""} ${[...new Set(runs)].sort((a, b) => a - b).join(", ")}`;

/** Whose limits count, what the difference is with them, and what would help most. */
function ProveSentence({ view: { verdict }, prove: { applied, whatIf } }: { view: ExperimentView; prove: ProveView }) {
  const { system } = usePreferences();
  const [best] = whatIf?.options ?? [];
  const told =
    verdict.kind === "winner" ||
    verdict.kind === "cannotTell" ||
    verdict.kind === "turned" ||
    verdict.kind === "daylight";
  const difference = told ? verdict.difference : null;
  return (
    <div>
      <h1 className="sentence">
        {applied.length
          ? `Calibrated probes count in ${runsWords(applied.flatMap((a) => a.runs))}`
          : "Every probe counts with its maker’s limit"}
        {difference ? (
          <>
            : the difference is <Figure figure={difference} opens={{ figure: "verdict" }} />
            {verdict.kind === "cannotTell" ? <span className="text-doubt">, not enough to tell</span> : ""}
          </>
        ) : (
          ""
        )}
        .
      </h1>
      {best && best.gain > 0.1 && (
        <p className="mt-1 text-ink-2">
          Largest gain: {WHAT_IF_WORDS[best.kind]} (expected ±{" "}
          {quantityText(best.expanded, "heatFlux", { system, figures: 2 })}).
        </p>
      )}
    </div>
  );
}

/** Calibrations kept, and which lie over this experiment's runs; a press lays one on or takes it off, and the results follow at once. */
function Calibrations({ view, prove }: { view: ExperimentView; prove: ProveView }) {
  const keys = [...new Set(prove.runs.flatMap((r) => r.probes.map((p) => p.key)))];
  return (
    <section aria-labelledby="calibrations">
      <Head
        id="calibrations"
        title="Calibrations"
        side="layers over the raw readings: dated, reasoned, and off again at a press"
      />
      {prove.calibrations.length === 0 && (
        <p className="py-1">
          None yet. Put all probes into one stirred pot of hot water, log them while it cools, and drop the log below.
        </p>
      )}
      <ul>
        {prove.calibrations.map((c) => (
          <OneCalibration
            key={c.id}
            calibration={c}
            experimentId={view.head.id}
            runs={prove.runs}
            keys={keys}
            applied={prove.applied.find((a) => a.calibrationId === c.id) ?? null}
          />
        ))}
      </ul>
    </section>
  );
}

function OneCalibration({
  calibration: c,
  experimentId,
  runs,
  keys,
  applied,
}: {
  calibration: CalibrationHead;
  experimentId: number;
  runs: ProveView["runs"];
  keys: readonly string[];
  applied: ProveView["applied"][number] | null;
}) {
  const { busy, act, undoable } = useAct();
  const { system } = usePreferences();
  const own = c.result.probes.map((p) => p.key);
  const [mapping, setMapping] = useState<Record<string, string>>(() => applied?.probes ?? matchedProbes(keys, own));
  const asBefore = () => {
    const said = rememberedProbes(keys, own);
    if (Object.keys(said).length) setMapping((m) => ({ ...said, ...m }));
    else toast("None of these labels was matched to a probe before, in this browser.");
  };
  const matched = Object.values(mapping).filter(Boolean).length;
  const on = () => {
    rememberProbes(mapping);
    act(
      () =>
        applyToRuns(experimentId, {
          calibrationId: c.id,
          runIds: runs.map((r) => r.id),
          probes: Object.fromEntries(Object.entries(mapping).filter(([, v]) => v)),
          reason: c.name,
        }),
      () => toast.success("Laid over the runs; results are recomputed."),
    );
  };
  const off = () =>
    act(
      () => removeLayers(experimentId, applied!.layerIds, true),
      () => toast.success("Taken off; the stated limits count again."),
    );
  const remove = () =>
    undoable(
      () => removeCalibration(c.id, true),
      () => removeCalibration(c.id, false),
      `${c.name} removed.`,
    );
  return (
    <li className="border-b border-hair py-1.5" data-calibration={c.id}>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <b className="font-[650]">{c.name}</b>
        <span className="side">
          {new Date(c.atMs).toISOString().slice(0, 10)};{" "}
          {c.result.kind === "bath"
            ? `${own.length} probes, ${quantityText(c.result.spanC[0], "temperature", { system, figures: 2 })} to ${quantityText(c.result.spanC[1], "temperature", { system, figures: 2 })}, apart by ${quantityText(c.result.spreadBeforeK, "temperatureDifference", { system, figures: 2 })} before and ${quantityText(c.result.spreadAfterK, "temperatureDifference", { system, figures: 2 })} after`
            : "two fixed points"}
        </span>
        <span className="ml-auto flex gap-1">
          {applied ? (
            <Button disabled={busy} onClick={off}>
              {busy ? "…" : "Take it off"}
            </Button>
          ) : (
            <Button kind="main" disabled={busy || matched === 0 || runs.length === 0} onClick={on}>
              {busy ? "…" : "Apply to this experiment"}
            </Button>
          )}
          {!applied && (
            <Button kind="plain" disabled={busy} onClick={remove}>
              Remove
            </Button>
          )}
        </span>
      </div>
      {!applied && (matched === 0 || runs.length === 0) && (
        <p className="text-[13.5px] font-semibold text-doubt">
          {runs.length === 0
            ? "There is no run yet to lay it over."
            : "No label of the bath is one of the run’s probes: say below which is which."}{" "}
          {runs.length > 0 && (
            <Button kind="plain" onClick={asBefore}>
              As last time
            </Button>
          )}
        </p>
      )}
      {applied ? (
        <p className="side">
          over {runsWords(applied.runs)}:{" "}
          {Object.entries(applied.probes)
            .map(([k, v]) => (k === v ? k : `${k} as ${v}`))
            .join(", ")}
        </p>
      ) : (
        <Mapping {...{ matched, keys, mapping, setMapping, own }} />
      )}
      <Results c={c} system={system} />
    </li>
  );
}

function Mapping({
  matched,
  keys,
  mapping,
  setMapping,
  own,
}: {
  matched: number;
  keys: readonly string[];
  mapping: Record<string, string>;
  setMapping: Dispatch<SetStateAction<Record<string, string>>>;
  own: string[];
}) {
  return (
    <details>
      <summary className="cursor-pointer text-[13px] text-action">
        {matched} of {keys.length} probes of this bench matched by label
      </summary>
      <ul className="grid gap-1 py-1 sm:grid-cols-2">
        {keys.map((k) => (
          <li key={k} className="text-[13px]">
            <label>
              {k} is{" "}
              <select
                className="border border-rule bg-sheet px-1"
                value={mapping[k] ?? ""}
                onChange={(e) => setMapping({ ...mapping, [k]: e.target.value })}
              >
                <option value="">not in it</option>
                {own.map((o) => (
                  <option key={o} value={o}>
                    {o}
                  </option>
                ))}
              </select>
            </label>
          </li>
        ))}
      </ul>
    </details>
  );
}

function Results({ c, system }: { c: CalibrationHead; system: UnitSystem }) {
  return (
    <details>
      <summary className="cursor-pointer text-[13px] text-action">Corrections</summary>
      <table className="grid-table text-[13.5px]">
        <thead>
          <tr>
            <th>probe</th>
            <th className="num">shows too much</th>
            <th className="num">slope</th>
            <th className="num">lag</th>
          </tr>
        </thead>
        <tbody>
          {c.result.probes.map((p) => (
            <tr key={p.key}>
              <th scope="row">
                {p.key}
                {p.outlier ? <span className="text-doubt"> outlier</span> : ""}
              </th>
              <td className="num">
                {quantityText(p.correction.offsetK, "temperatureDifference", {
                  system,
                  expanded: expandedStated({
                    value: 0,
                    standardUncertainty: p.correction.standardOffsetK,
                    dof: Infinity,
                  }),
                  signed: true,
                })}
              </td>
              <td className="num">{p.correction.slope ? `${(p.correction.slope * 100).toFixed(2)} %` : "–"}</td>
              <td className="num">{p.lagS === null ? "–" : `${Math.round(p.lagS) || 0} s`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

/** The same from the page's packed data. */
export const ProveStep = withView(Prove);
