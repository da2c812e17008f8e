"use client";

import { useState } from "react";
import { shiftClock, swapLanes, turnLayer } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/page/views";
import { QuantityField } from "@/ui/QuantityField";
import { useAct } from "@/ui/useAct";
import { LAYER_WORDS, layerText } from "@/words/layers";
import { atMinute } from "@/core/log/zone";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";

/** What lies over a run's raw readings, in its order: each dated, with its reason, on or off. The readings themselves never change. */
export function Layers({ view, run }: { view: ExperimentView; run: RunView }) {
  const { busy, act } = useAct();
  const { zone } = view.head.site;
  const streams = new Map(run.streams.map((s) => [s.id, s.name]));
  const first = run.layers.find((l) => l.kind === "assignment");
  return (
    <details className="no-print mt-1">
      <summary className="cursor-pointer py-1 font-semibold text-action">
        Layers over the readings ({run.layers.length})
      </summary>
      <ul aria-label={`Layers of run ${run.number}`}>
        {run.layers.map((l) => (
          <li
            key={l.id}
            className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1 text-[13.5px]"
            data-layer={l.kind}
          >
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="size-4 accent-[var(--action)]"
                checked={l.on}
                disabled={busy || l === first}
                onChange={(e) => act(() => turnLayer(view.head.id, l.id, e.target.checked))}
              />
              <b className="font-semibold">{LAYER_WORDS[l.kind]}</b>
            </label>
            <span className={l.on ? "" : "text-ink-3 line-through decoration-1"}>{layerText(l, zone, streams)}</span>
            <span className="side ml-auto">
              {l.reason}, {new Date(l.createdAt).toISOString().slice(0, 10)}
            </span>
          </li>
        ))}
      </ul>
      <div className="grid gap-x-8 gap-y-2 pt-2 md:grid-cols-2">
        <ClockForm view={view} run={run} />
        {run.arrangements.length > 0 && Object.keys(run.stations).length > 1 && <SwapForm view={view} run={run} />}
      </div>
    </details>
  );
}

/** A logger's clock that was slow or fast: every reading of its file moves, on paper. */
function ClockForm({ view, run }: { view: ExperimentView; run: RunView }) {
  const { busy, act } = useAct();
  const [streamId, setStreamId] = useState(run.streams[0]?.id ?? 0);
  const [seconds, setSeconds] = useState(0);
  const [reason, setReason] = useState("");
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        act(
          () => shiftClock(view.head.id, { runId: run.id, streamId, offsetMs: Math.round(seconds * 1000), reason }),
          () => setReason(""),
        );
      }}
    >
      <fieldset className="flex flex-wrap items-end gap-2">
        <legend className="font-semibold">A logger’s clock was wrong</legend>
        <Select
          label="Logger"
          value={streamId}
          options={run.streams.map((s) => [s.id, s.name] as const)}
          onChange={setStreamId}
        />
        <QuantityField
          label="Slow by (minus: fast)"
          quantity="duration"
          si={seconds}
          min={-86400 * 400}
          max={86400 * 400}
          onChange={setSeconds}
        />
        <Reason value={reason} onChange={setReason} example="phone and logger side by side at noon" />
        <Button disabled={busy} type="submit">
          Shift
        </Button>
      </fieldset>
    </form>
  );
}

/** Two lanes that changed places during the run: from then on each is read with the other's instruments. */
function SwapForm({ view, run }: { view: ExperimentView; run: RunView }) {
  const { busy, act } = useAct();
  const { zone } = view.head.site;
  const letters = Object.keys(run.arrangements.at(-1)!.stations);
  const [pair, setPair] = useState<[string, string]>([letters[0], letters[1]]);
  const [date, setDate] = useState(new Date(run.startMs).toISOString().slice(0, 10));
  const [time, setTime] = useState("12:00");
  const [reason, setReason] = useState("");
  const submit = (e: React.FormEvent) => {
    e.preventDefault();
    const [hours, minutes] = time.split(":").map(Number);
    const atMs = atMinute(Date.parse(`${date}T12:00:00Z`), hours * 60 + minutes, zone);
    act(
      () => swapLanes(view.head.id, { runId: run.id, atMs, lanes: pair, reason }),
      () => setReason(""),
    );
  };
  const choose = (i: 0 | 1) => (
    <select
      className="field mt-0.5 w-auto"
      aria-label={i === 0 ? "Lane that moved" : "Lane it changed places with"}
      value={pair[i]}
      onChange={(e) => setPair(i === 0 ? [e.target.value, pair[1]] : [pair[0], e.target.value])}
    >
      {letters.map((l) => (
        <option key={l}>{l}</option>
      ))}
    </select>
  );
  return (
    <form onSubmit={submit}>
      <fieldset className="flex flex-wrap items-end gap-2">
        <legend className="font-semibold">Lanes changed places during the run</legend>
        {choose(0)}
        {choose(1)}
        <TextField label="Day" type="date" value={date} required onChange={setDate} />
        <TextField label={`Time, ${zone}`} type="time" value={time} required onChange={setTime} />
        <Reason value={reason} onChange={setReason} example="swapped at noon" />
        <Button disabled={busy || pair[0] === pair[1]} type="submit">
          Swap
        </Button>
      </fieldset>
    </form>
  );
}

function Reason({ value, onChange, example }: { value: string; onChange: (v: string) => void; example: string }) {
  return (
    <TextField
      label="because"
      place="min-w-[160px] flex-1"
      value={value}
      placeholder={example}
      maxLength={300}
      required
      onChange={onChange}
    />
  );
}
