"use client";

import { Undo2 } from "lucide-react";
import { useState } from "react";
import { removeLayers, setSpanAside, swapLanes } from "@/features/experiment/actions";
import type { ExperimentView, RunView } from "@/services/page/views";
import { clock } from "@/words/times";
import { spanOf, wallText } from "./typedSpan";
import { useAct } from "@/ui/useAct";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";

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
        <Select
          label="of"
          value={lane}
          options={[["", "all lanes"], ...view.head.lanes.map((l) => [l.letter, `lane ${l.letter}`] as const)]}
          onChange={setLane}
        />
        <TextField
          label="because"
          place="min-w-[180px] flex-1"
          value={reason}
          placeholder="shade of the chimney"
          maxLength={300}
          required
          onChange={setReason}
        />
        <Button disabled={busy} type="submit">
          Set aside
        </Button>
        {range && <SwapHere view={view} run={run} range={range} />}
      </form>
      <Problem className="mt-1">{wrong}</Problem>
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
          <Button
            kind="plain"
            className="ml-auto"
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
          </Button>
        </li>
      ))}
    </ul>
  );
}

const WallField = ({ label, value, onChange }: { label: string; value: string; onChange(value: string): void }) => (
  <TextField label={label} type="datetime-local" step={1} required value={value} onChange={onChange} />
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
      <Select
        label="or changed places here"
        value={`${a}${b}`}
        options={pairs.map((p) => [p, `${p[0]} and ${p[1]}`] as const)}
        onChange={setPair}
      />
      <Button disabled={busy} onClick={swap}>
        Swap here
      </Button>
    </span>
  );
}
