import { Plus, X } from "lucide-react";
import { Button } from "@/ui/Button";
import { QuantityField } from "@/ui/QuantityField";
import { STATED, type LaneDraft } from "./laneDraft";

/** A flow that nothing logged and that was set anew during the run: when, on the logger's clock, and to what. */
export function FlowChanges({
  lane,
  set,
  letter,
  day,
}: {
  lane: LaneDraft;
  set: (change: Partial<LaneDraft>) => void;
  letter: string;
  /** First day of the log: what a new line begins with. */
  day: string;
}) {
  const changes = lane.flowChanges ?? [];
  const put = (i: number, part: Partial<(typeof changes)[number]>) =>
    set({ flowChanges: changes.map((c, k) => (k === i ? { ...c, ...part } : c)) });
  return (
    <div className="col-span-2">
      {changes.map((c, i) => (
        <div key={i} className="flex flex-wrap items-end gap-2 border-b border-hair py-1 sm:flex-nowrap">
          <label className="text-[13px] font-semibold">
            Set anew at
            <input
              className="field mt-0.5 !w-auto"
              type="datetime-local"
              aria-label={`${letter}, change ${i + 1}: set anew at`}
              value={c.at}
              onChange={(e) => put(i, { at: e.target.value })}
            />
          </label>
          <QuantityField
            label="to"
            quantity={STATED[lane.statedAs]}
            si={c.reading}
            min={1e-7}
            max={60}
            onChange={(reading) => put(i, { reading })}
            onClear={() => put(i, { reading: null })}
          />
          <Button
            kind="plain"
            aria-label={`Take change ${i + 1} of ${letter}’s flow out`}
            onClick={() => set({ flowChanges: changes.filter((_, k) => k !== i) })}
          >
            <X size={14} aria-hidden />
          </Button>
        </div>
      ))}
      <Button
        kind="plain"
        className="mt-1"
        onClick={() => set({ flowChanges: [...changes, { at: day && `${day}T12:00`, reading: null }] })}
      >
        <Plus size={14} aria-hidden /> Its flow was set anew
      </Button>
    </div>
  );
}
