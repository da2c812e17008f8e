"use client";

import { Undo2 } from "lucide-react";
import { useState } from "react";
import { removeLayers, setSpanAside, swapLanes } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/views";
import { clock } from "@/words/times";
import { useAct } from "@/ui/useAct";

/** Sets the span in view aside, with a reason; dated, reversible, raw readings untouched. */
export function SetAside({ view, run, range }: { view: ExperimentView; run: RunView; range: [number, number] | null }) {
  const [lane, setLane] = useState("");
  const [reason, setReason] = useState("");
  const { busy, act, undoable } = useAct();
  const when = (ms: number) => clock(ms, view.head.site.zone);
  const submit = (e: React.FormEvent) => {
    e.preventDefault();
    if (!range) return;
    act(
      () =>
        setSpanAside(view.head.id, {
          runId: run.id,
          lane: lane || null,
          fromMs: range[0],
          toMs: range[1],
          reason,
        }),
      () => setReason(""),
    );
  };
  return (
    <div className="mt-2">
      {run.exclusions.length > 0 && (
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
      )}
      {range ? (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
          <label className="text-[13px] font-semibold">
            Set aside {when(range[0])} to {when(range[1])} of
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
          <SwapHere view={view} run={run} range={range} />
        </form>
      ) : (
        <p className="side">To set a span aside, or to say that boxes changed places in it, zoom to it first.</p>
      )}
    </div>
  );
}

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
