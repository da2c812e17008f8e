"use client";

import { useState } from "react";
import type { ExperimentHead } from "@/core/experiment/types";
import type { RunEvent } from "@/core/experiment/schema/event";
import { quantityText } from "@/core/quantity/format";
import { fromWall, localDay } from "@/core/log/zone";
import type { LiveView } from "@/services/live/view";
import { sendPhoto } from "@/ui/photo";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { EVENT_WORDS } from "@/words/live";
import { timeOfDay } from "@/words/times";
import { deleteEvent, editEvent } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";

/** Everything marked in the run, newest first; time, words and photo can be mended later. */
export function EventList({ head, view }: { head: ExperimentHead; view: LiveView }) {
  const { zone } = head.site;
  const [open, setOpen] = useState<number | null>(null);
  if (view.events.length === 0) return null;
  return (
    <div className="mt-3">
      <h3 className="text-[13px] font-semibold">Marked in run {view.number}</h3>
      <ul aria-label="Events of the run">
        {[...view.events].reverse().map((e) => (
          <li key={e.id} className="border-b border-hair py-1">
            <EventLine event={e} zone={zone} onEdit={() => setOpen(open === e.id ? null : e.id)} />
            {open === e.id && <EditForm event={e} head={head} view={view} onDone={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
    </div>
  );
}

function EventLine({ event: e, zone, onEdit }: { event: RunEvent; zone: string; onEdit: () => void }) {
  const { system } = usePreferences();
  return (
    <p className="flex flex-wrap items-center gap-x-2">
      <span className="tabular-nums">{timeOfDay(e.atMs, zone)}</span>
      <b className="font-semibold">{EVENT_WORDS[e.kind]}</b>
      {e.lane && <LaneMark lane={e.lane} size={11} />}
      {e.lanes && (
        <>
          <LaneMark lane={e.lanes[0]} size={11} /> and <LaneMark lane={e.lanes[1]} size={11} />
        </>
      )}
      {e.spot && (
        <span>
          {e.spot.what} {quantityText(e.spot.valueC, "temperature", { system })}
        </span>
      )}
      <span className="text-ink-2">{e.text}</span>
      {e.photoId !== null && (
        // eslint-disable-next-line @next/next/no-img-element -- a kept photo needs no optimiser
        <img
          src={`/api/photos/${e.photoId}`}
          alt={`Photo of ${EVENT_WORDS[e.kind]}`}
          className="h-12 border border-rule"
        />
      )}
      <Button kind="plain" className="ml-auto min-h-9" onClick={onEdit}>
        Edit
      </Button>
    </p>
  );
}

function EditForm({
  event,
  head,
  view,
  onDone,
}: {
  event: RunEvent;
  head: ExperimentHead;
  view: LiveView;
  onDone: () => void;
}) {
  const { busy, act } = useAct();
  const { zone } = head.site;
  const run = [view.experimentId, view.runId] as const;
  const [time, setTime] = useState(timeOfDay(event.atMs, zone));
  const [text, setText] = useState(event.text);
  const [photo, setPhoto] = useState<File | null>(null);
  const keep = () =>
    act(async () => {
      const lane = head.lanes.find((l) => l.letter === event.lane) ?? head.lanes[0];
      const at = { experimentId: head.id, variantId: lane.variantId, item: `event-${event.key}` };
      const sent = photo ? await sendPhoto(at, photo) : undefined;
      if (sent && "error" in sent) return { ok: false as const, error: sent.error };
      return editEvent(...run, {
        eventId: event.id,
        // Unchanged, it keeps its seconds.
        atMs: time === timeOfDay(event.atMs, zone) ? event.atMs : (atTime(event.atMs, time, zone) ?? event.atMs),
        text,
        photoId: sent?.id,
      });
    }, onDone);
  return (
    <div className="flex flex-wrap items-end gap-2 py-2" role="group" aria-label={`Edit ${EVENT_WORDS[event.kind]}`}>
      <TextField label="Time" width="min-h-11" type="time" value={time} onChange={setTime} />
      <TextField
        label="What happened"
        place="min-w-[180px] flex-1"
        width="min-h-11"
        value={text}
        maxLength={500}
        onChange={setText}
      />
      <PhotoField onPhoto={setPhoto} />
      <Button kind="main" className="min-h-11" disabled={busy} onClick={keep}>
        Keep
      </Button>
      <DeleteButton event={event} run={run} onDone={onDone} />
    </div>
  );
}

const PhotoField = ({ onPhoto }: { onPhoto: (photo: File | null) => void }) => (
  <label className="text-[13px] font-semibold">
    Photo
    <input
      type="file"
      accept="image/*"
      capture="environment"
      className="field mt-0.5 min-h-11"
      onChange={(e) => onPhoto(e.target.files?.[0] ?? null)}
    />
  </label>
);

function DeleteButton({ event, run, onDone }: { event: RunEvent; run: readonly [number, number]; onDone: () => void }) {
  const { busy, undoable } = useAct();
  return (
    <Button
      className="min-h-11"
      disabled={busy}
      onClick={() =>
        undoable(
          () => deleteEvent(...run, event.id, true),
          () => deleteEvent(...run, event.id, false),
          `${EVENT_WORDS[event.kind]} is off the run.`,
          onDone,
        )
      }
    >
      Delete
    </Button>
  );
}

/** The same day at another time of day, on the site's clock. */
function atTime(ms: number, time: string, zone: string): number | null {
  const wall = Date.parse(`${localDay(ms, zone)}T${time}:00Z`);
  const at = Number.isNaN(wall) ? null : fromWall(wall, zone);
  if (!at || at.kind === "skipped") return null;
  return at.kind === "single" ? at.utcMs : at.utcMs[0];
}
