"use client";

import { Choice } from "@/ui/Choice";
import { exact } from "@/words/times";
import { liveSources, type ImportDraft } from "./draft";
import { TextField } from "@/ui/form/fields";

/** Where a live run begins, and ends if it has: readings from before are there and may count. */
export function Begins({ draft, onChange }: { draft: ImportDraft; onChange: (change: Partial<ImportDraft>) => void }) {
  const live = liveSources(draft);
  if (live.length === 0) return null;
  const zone = draft.files[0].settings?.zone ?? "UTC";
  const span = draft.liveSpan ?? { from: "", until: "" };
  // The site says on which clock the times are typed.
  const placed = draft.target !== "new" || draft.siteId !== null;
  const starts = live.flatMap((l) => l.startMs ?? []);
  return (
    <div className="grid gap-1">
      <Choice
        label="The run begins"
        value={draft.liveFrom ?? "now"}
        options={[
          ["now", "now"],
          ["first", "with the first reading shown"],
          ["span", "at a time"],
        ]}
        onChange={(liveFrom) => onChange({ liveFrom })}
      />
      {draft.liveFrom === "span" && !placed && (
        <p className="side">Choose the site first: the times are typed on its clock.</p>
      )}
      {draft.liveFrom === "span" && placed && (
        <div className="flex flex-wrap items-end gap-3">
          {(["from", "until"] as const).map((end) => (
            <TextField
              key={end}
              label={end === "from" ? "Run from" : "until"}
              width="!w-auto"
              type="datetime-local"
              value={span[end]}
              onChange={(v) => onChange({ liveSpan: { ...span, [end]: v } })}
            />
          ))}
          <span className="side pb-1.5">
            on the clock of {zone}; an empty end goes on
            {starts.length > 0 && `; readings since ${exact(Math.min(...starts), zone)}`}
          </span>
        </div>
      )}
    </div>
  );
}
