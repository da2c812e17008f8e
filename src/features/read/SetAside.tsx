"use client";

import { Undo2 } from "lucide-react";
import { useState } from "react";
import { removeLayers, setSpanAside, swapLanes } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/page/views";
import { clock } from "@/words/times";
import { spanOf, wallText } from "./typedSpan";
import { useAct } from "@/ui/useAct";

/** Sets the span in view aside, with a reason; dated, reversible, raw readings untouched. */
export function SetAside({ view, run, range }: { view: ExperimentView; run: RunView; range: [number, number] | null }) {
  const { zone } = view.head.site;
  const [lane, setLane] = useState("");
  const [reason, setReason] = useState("");
  const [typed, setTyped] = useState<{ from?: string; to?: string }>({});
  const [wrong, setWrong] = useState<string | null>(null);
  const [shown, setShown] = useState(range);
  const { busy, act } = useAct();
  // A span zoomed to takes the place of what was typed.
  if (shown !== range) {
    setShown(range);
    setTyped({});
  }
  const from = typed.from ?? (range ? wallText(range[0], zone) : "");
  const to = typed.to ?? (range ? wallText(range[1], zone) : "");
  const submit = (e: React.FormEvent) => {
    e.preventDefault();
    const span = spanOf({ from, to }, zone, run);
    setWrong("why" in span ? span.why : null);
    if ("why" in span) return;
    act(
      () => setSpanAside(view.head.id, { runId: run.id, lane: lane || null, ...span, reason }),
      () => {
        setReason("");
        setTyped({});
      },
    );
  };
  return (
    <div className="mt-2">
      <Aside view={view} run={run} />
      <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
        <WallField label="Set aside from" value={from} onChange={(v) => setTyped({ ...typed, from: v })} />
        <WallField label="to" value={to} onChange={(v) => setTyped({ ...typed, to: v })} />
        <label className="text-[13px] font-semibold">
          of
          <select className="field mt-0.5" value={lane} onChange={(e) => setLane(e.target.value)}>
            <option value="">all lanes</option>
            {view.head.lanes.map((l) => (
              <option key={l.letter} value={l.letter}>
                lane {l.letter}
              </option>
            ))}
          </select>
        </label>
        <label className="min-w-[180px] flex-1 text-[13px] font-semibold">
          because
          <input
            className="field mt-0.5"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder="shade of the chimney"
            maxLength={300}
            required
          />
        </label>
        <button className="btn" disabled={busy}>
          Set aside
        </button>
        {range && <SwapHere view={view} run={run} range={range} />}
      </form>
      {wrong && (
        <p role="alert" className="mt-1 font-semibold text-danger">
          {wrong}
        </p>
      )}
      <p className="side">
        Times of {zone}; zooming to a span fills them in
        {range ? "" : ", and lets you say that boxes changed places there"}.
      </p>
    </div>
  );
}

/** What is set aside already. */
function Aside({ view, run }: { view: ExperimentView; run: RunView }) {
  const { busy, undoable } = useAct();
  const when = (ms: number) => clock(ms, view.head.site.zone);
  if (run.exclusions.length === 0) return null;
  return (
    <ul className="mb-2">
      {run.exclusions.map((e) => (
        <li key={e.id} className="flex flex-wrap items-center gap-2 border-b border-hair py-1">
          <span>
            {when(e.fromMs)} to {when(e.toMs)}
            {e.lane ? `, lane ${e.lane}` : ", all lanes"}: {e.reason}
          </span>
          <button
            type="button"
            className="btn btn-plain ml-auto"
            disabled={busy}
            onClick={() =>
              undoable(
                () => removeLayers(view.head.id, [e.id], true),
                () => removeLayers(view.head.id, [e.id], false),
                "Taken back; its readings count again.",
              )
            }
          >
            <Undo2 size={14} aria-hidden /> Take back
          </button>
        </li>
      ))}
    </ul>
  );
}

const WallField = ({ label, value, onChange }: { label: string; value: string; onChange(value: string): void }) => (
  <label className="text-[13px] font-semibold">
    {label}
    <input
      type="datetime-local"
      step={1}
      required
      className="field mt-0.5"
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  </label>
);

/** Two boxes that changed places within the span in view: the span is set aside, and from its middle on they stand exchanged. */
function SwapHere({ view, run, range }: { view: ExperimentView; run: RunView; range: [number, number] }) {
  const { busy, act } = useAct();
  const middle = (range[0] + range[1]) / 2;
  const letters = Object.keys(run.stations).sort();
  const [pair, setPair] = useState("");
  if (letters.length < 2 || run.byHand) return null;
  const pairs = letters.flatMap((a, i) => letters.slice(i + 1).map((b) => `${a}${b}`));
  const [a, b] = pairs.includes(pair) ? pair : pairs[0];
  const swap = () =>
    act(async () => {
      const done = await swapLanes(view.head.id, {
        runId: run.id,
        atMs: middle,
        lanes: [a, b],
        reason: "picked on the trace",
      });
      if (!done.ok) return done;
      return setSpanAside(view.head.id, {
        runId: run.id,
        lane: null,
        fromMs: range[0],
        toMs: range[1],
        reason: `${a} and ${b} were being moved`,
      });
    });
  return (
    <span className="flex items-end gap-1">
      <label className="text-[13px] font-semibold">
        or changed places here
        <select className="field mt-0.5" value={`${a}${b}`} onChange={(e) => setPair(e.target.value)}>
          {pairs.map((p) => (
            <option key={p} value={p}>
              {p[0]} and {p[1]}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="btn" disabled={busy} onClick={swap}>
        Swap here
      </button>
    </span>
  );
}
