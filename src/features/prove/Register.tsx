"use client";

import { useState } from "react";
import { toast } from "@/ui/toast";
import { errorAt } from "@/core/calibration/correction";
import { INSTRUMENT_KINDS } from "@/core/experiment/choices";
import type { Instrument } from "@/core/experiment/schema/calibration";
import type { StoredInstrument } from "@/core/experiment/records";
import type { ProveView } from "@/services/prove/prove";
import { TextField } from "@/ui/form/fields";
import { INSTRUMENT_FIELDS } from "@/core/experiment/settingFields";
import { askedOf, QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";
import { useChecked } from "@/ui/form/useChecked";
import { holdEnter } from "@/ui/holdEnter";
import { answered, useAct } from "@/ui/useAct";
import { keepInstrument, loadHistory, removeInstrument } from "./actions";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** Whether an instrument may be used, and as of when it is known. */
function Standing({ retired, due, last }: { retired: boolean; due: boolean; last: number | null }) {
  if (retired) return "retired";
  if (due)
    return <span className="font-semibold text-doubt">{last === null ? "never calibrated" : "calibration due"}</span>;
  return last ? `calibrated ${new Date(last).toISOString().slice(0, 10)}` : "in use";
}

const KIND_WORDS: Record<Instrument["kind"], string> = {
  probe: "temperature probe",
  logger: "logger",
  anemometer: "anemometer",
  flowMeter: "flow meter",
  sunSensor: "sun sensor",
  balance: "balance",
  wattMeter: "watt meter",
  hygrometer: "hygrometer",
  barometer: "barometer",
};
const UNIT: Record<Instrument["kind"], string> = {
  probe: "K",
  logger: "K",
  anemometer: "m/s",
  flowMeter: "of reading",
  sunSensor: "W/m²",
  balance: "kg",
  wattMeter: "W",
  hygrometer: "%",
  barometer: "Pa",
};
const DAY = 86400000;

/** Every instrument with what its maker says, where it is used here, and how it is. */
export function Register({ prove }: { prove: ProveView }) {
  const [edited, setEdited] = useState<{ id: number | null; instrument: Instrument } | null>(null);
  const used = new Map<string, string[]>();
  for (const r of prove.runs)
    for (const p of r.probes) used.set(p.key, [...(used.get(p.key) ?? []), `run ${r.number} ${p.where}`]);
  const known = new Set(prove.instruments.map((i) => i.label));
  const missing = [...new Map(prove.runs.flatMap((r) => r.probes).map((p) => [p.key, p])).values()].filter(
    (p) => !known.has(p.key),
  );
  const calibratedAt = (label: string): number | null =>
    Math.max(
      -Infinity,
      ...prove.calibrations.filter((c) => c.result.probes.some((p) => p.key === label)).map((c) => c.atMs),
    );
  /** Change between the last two calibrations of a label, K, when it is more than their own ± can explain. */
  const driftOf = (label: string): number | null => {
    const own = prove.calibrations.flatMap((c) =>
      c.result.probes.filter((p) => p.key === label).map((p) => p.correction),
    );
    if (own.length < 2) return null;
    const change = errorAt(own[0], own[0].t0C) - errorAt(own[1], own[0].t0C);
    return Math.abs(change) > 2 * Math.hypot(own[0].standardOffsetK, own[1].standardOffsetK) ? change : null;
  };
  const fresh = (label: string, limitK: number): Instrument => ({
    label,
    kind: "probe",
    limitFixed: limitK,
    limitShare: 0,
    resolution: 0.1,
    lagS: 15,
    range: [-40, 125],
    calibrateEveryDays: 180,
    retired: false,
    note: "",
  });
  return (
    <section aria-labelledby="register">
      <Head id="register" title="Instruments" side={<>{prove.instruments.length} in the register</>}>
        <span className="more no-print">
          <Button kind="plain" onClick={() => setEdited({ id: null, instrument: fresh("", 0.5) })}>
            Add an instrument
          </Button>
        </span>
      </Head>
      {edited && <Editor key={edited.id ?? "new"} at={edited} onDone={() => setEdited(null)} />}
      {prove.instruments.length > 0 && (
        <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Register of instruments">
          <table className="grid-table min-w-[640px] text-[13.5px]">
            <thead>
              <tr>
                <th>label</th>
                <th>what</th>
                <th className="num">stated ±</th>
                <th className="num">step</th>
                <th className="num">lag</th>
                <th>used</th>
                <th>health</th>
                <th className="no-print" />
              </tr>
            </thead>
            <tbody>
              {prove.instruments.map((i) => (
                <Row
                  key={i.id}
                  instrument={i}
                  used={used.get(i.label) ?? []}
                  calibratedAt={calibratedAt(i.label)}
                  driftK={driftOf(i.label)}
                  onEdit={() => setEdited({ id: i.id, instrument: i })}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {missing.length > 0 && (
        <p className="mt-1 flex flex-wrap items-center gap-2 text-[13.5px]">
          Used here and not in the register:{" "}
          {missing.map((p) => (
            <Button
              className="min-h-[26px]"
              key={p.key}
              onClick={() => setEdited({ id: null, instrument: fresh(p.key, p.limitK) })}
            >
              {p.key}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}

function Row({
  instrument: i,
  used,
  calibratedAt,
  driftK,
  onEdit,
}: {
  instrument: StoredInstrument;
  used: string[];
  calibratedAt: number | null;
  driftK: number | null;
  onEdit: () => void;
}) {
  const [history, setHistory] = useState<{ at: number; action: string }[] | null>(null);
  const [now] = useState(() => Date.now());
  const last = calibratedAt !== null && Number.isFinite(calibratedAt) ? calibratedAt : null;
  const due = i.calibrateEveryDays > 0 && !i.retired && (last === null || now - last > i.calibrateEveryDays * DAY);
  const { ask, undoable } = useAct();
  const remove = () =>
    undoable(
      () => removeInstrument(i.id, true),
      () => removeInstrument(i.id, false),
      `${i.label} removed.`,
    );
  return (
    <tr>
      <th scope="row" className="font-semibold">
        {i.label}
      </th>
      <td>{KIND_WORDS[i.kind]}</td>
      <td className="num">
        {[
          i.limitFixed ? `${i.limitFixed} ${UNIT[i.kind]}` : "",
          i.limitShare ? `${Number((i.limitShare * 100).toPrecision(3))} %` : "",
        ]
          .filter(Boolean)
          .join(" + ") || "–"}
      </td>
      <td className="num">{i.resolution || "–"}</td>
      <td className="num">{i.lagS ? `${i.lagS} s` : "–"}</td>
      <td className="side">
        {used.slice(0, 3).join(", ")}
        {used.length > 3 ? ` and ${used.length - 3} more` : ""}
      </td>
      <td>
        <Standing retired={i.retired} due={due} last={last} />
        {driftK !== null && (
          <span className="block font-semibold text-doubt">drifted by {driftK.toFixed(2)} K since the one before</span>
        )}
        {history && (
          <ul className="side">
            {history.map((h, k) => (
              <li key={k}>
                {new Date(h.at).toISOString().slice(0, 16).replace("T", " ")} {h.action}
              </li>
            ))}
          </ul>
        )}
      </td>
      <td className="no-print whitespace-nowrap">
        <Button kind="plain" onClick={onEdit}>
          Change
        </Button>
        <Button kind="plain" onClick={() => ask(() => loadHistory(i.id), setHistory)}>
          History
        </Button>
        <Button kind="plain" onClick={remove}>
          Remove
        </Button>
      </td>
    </tr>
  );
}

const KINDS = optionsOf(KIND_WORDS, INSTRUMENT_KINDS);

/** Its figures, in the unit of what it measures. */
const figures = (unit: string) =>
  askedOf(
    INSTRUMENT_FIELDS,
    {
      limitFixed: `Good to ±, ${unit}`,
      limitShare: "… and of the reading",
      resolution: `Display step, ${unit}`,
      lagS: "Lag, s",
    },
    { lagS: "to 63 % of a step" },
  );
const DUE = askedOf(
  INSTRUMENT_FIELDS,
  { calibrateEveryDays: "Calibrate every, days" },
  { calibrateEveryDays: "0 for never" },
);
interface Range {
  from: number;
  to: number;
}
const RANGE: Asked<Range>[] = [
  { key: "from", label: "Range from", quantity: "number", min: -1e6, max: 1e6 },
  { key: "to", label: "… to", quantity: "number", min: -1e6, max: 1e6 },
];
function Editor({ at, onDone }: { at: { id: number | null; instrument: Instrument }; onDone: () => void }) {
  const { values, set, problems, busy, sent } = useChecked<Instrument>(
    () => import("@/core/experiment/schema/calibration").then((m) => m.instrumentSchema),
    at.instrument,
  );
  const [from, to] = values.range;
  const keep = sent(async (instrument) => {
    const result = await answered(keepInstrument(at.id, instrument));
    if (result.ok) onDone();
    else toast.error(result.error);
  });
  return (
    <form className="border-b-[1.5px] border-ink py-2" onKeyDown={holdEnter} onSubmit={(e) => void keep(e)}>
      <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
        <TextField
          label="Label on it"
          maxLength={60}
          autoFocus
          value={values.label}
          problem={problems.label}
          onChange={(label) => set({ label })}
        />
        <Select label="What it is" value={values.kind} options={KINDS} onChange={(kind) => set({ kind })} />
        <QuantityFields of={figures(UNIT[values.kind])} value={values} set={set} />
        <QuantityFields<Range>
          of={RANGE}
          value={{ from, to }}
          set={(part) => set({ range: [part.from ?? from, part.to ?? to] })}
        />
        <QuantityFields of={DUE} value={values} set={set} />
        <Tick label="retired" checked={values.retired} onChange={(retired) => set({ retired })} />
        <TextField
          label="Note"
          place="md:col-span-3"
          maxLength={500}
          value={values.note}
          problem={problems.note}
          onChange={(note) => set({ note })}
        />
      </div>
      <p className="mt-2 flex gap-2">
        <Button kind="main" type="submit" disabled={busy || !values.label.trim()}>
          Keep it
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </p>
    </form>
  );
}
