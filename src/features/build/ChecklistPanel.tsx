"use client";

import { Camera, Printer, X } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "@/ui/toast";
import { STAGES } from "@/core/collector/checklist";
import type { Study } from "@/core/collector/study";
import type { ChecklistState } from "@/core/experiment/schema/design";
import type { PhotoHead, Variant } from "@/core/experiment/records";
import { checklistWords, STAGE_WORDS } from "@/words/checklist";
import { useAct } from "@/ui/useAct";
import { NotKept } from "@/ui/NotKept";
import { useChanged } from "@/ui/useChanged";
import { deletePhoto, keepChecklist } from "@/features/experiment/variantActions";
import { sendPhoto } from "@/ui/photo";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

function doneWords(done: number, all: number, name: string): string {
  if (done === 0) return `${all} things to do while building ${name}.`;
  return done === all ? `All ${all} things are done: ${name} is built.` : `${done} of ${all} things done on ${name}.`;
}

/** What to do while building, made from the stack; ticks, notes and photos stay with the variant. */
export function ChecklistPanel({
  experimentId,
  variant,
  study,
}: {
  experimentId: number;
  variant: Variant;
  study: Study | null;
}) {
  const {
    shown: state,
    error,
    busy,
    change,
  } = useChanged<ChecklistState>(variant.checklist, (next, before) =>
    keepChecklist(experimentId, variant.id, next, before),
  );
  const [own, setOwn] = useState("");
  if (!study)
    return (
      <p className="sentence" role="status">
        Making the checklist …
      </p>
    );
  if (study.problems.length)
    return <p className="sentence">No checklist for a design that cannot be built: mend it under Design first.</p>;
  const item = (key: string, of = state) => of.items[key] ?? { done: false, doneAt: null, note: "" };
  const set = (key: string, part: Partial<ChecklistState["items"][string]>) =>
    change((now) => ({ ...now, items: { ...now.items, [key]: { ...item(key, now), ...part } } }));
  const all = [...study.checklist.map((i) => i.key), ...state.own.map((o) => o.key)];
  const done = all.filter((k) => item(k).done).length;
  const row = (key: string, text: string, onRemove?: () => void) => (
    <Item
      key={key}
      id={key}
      text={text}
      value={item(key)}
      photos={variant.photos.filter((p) => p.item === key)}
      at={{ experimentId, variantId: variant.id, item: key }}
      onChange={(part) => set(key, part)}
      onRemove={onRemove}
    />
  );
  return (
    <div>
      <h1 className="sentence">{doneWords(done, all.length, variant.name)}</h1>
      <NotKept error={error} busy={busy} />
      <p className="side">
        Made from the drawing; when it changes, ticks stay with what is still there. Makers’ instructions and local
        rules come first.
      </p>
      <p className="no-print mt-1">
        <Button onClick={() => window.print()}>
          <Printer size={14} aria-hidden /> Print
        </Button>
      </p>
      {STAGES.map((stage) => {
        const items = study.checklist.filter((i) => i.stage === stage);
        if (!items.length) return null;
        return (
          <section key={stage} className="mt-3">
            <Head title={STAGE_WORDS[stage]} />
            <ul>{items.map((i) => row(i.key, checklistWords(i)))}</ul>
          </section>
        );
      })}
      <section className="mt-3">
        <Head title="Your own" />
        <ul>
          {state.own.map((o) =>
            row(o.key, o.text, () => change((now) => ({ ...now, own: now.own.filter((x) => x.key !== o.key) }))),
          )}
        </ul>
        <form
          className="no-print mt-1 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (!own.trim()) return;
            const added = { key: `own-${Date.now()}`, text: own.trim().slice(0, 300) };
            change((now) => ({ ...now, own: [...now.own, added] }));
            setOwn("");
          }}
        >
          <label className="flex-1">
            <span className="sr-only">Something to do</span>
            <input
              className="field"
              maxLength={300}
              value={own}
              onChange={(e) => setOwn(e.target.value)}
              placeholder="Something else to do"
            />
          </label>
          <Button type="submit" disabled={!own.trim()}>
            Add
          </Button>
        </form>
      </section>
    </div>
  );
}

function Item({
  id,
  text,
  value,
  photos,
  at,
  onChange,
  onRemove,
}: {
  id: string;
  text: string;
  value: ChecklistState["items"][string];
  photos: PhotoHead[];
  at: { experimentId: number; variantId: number; item: string };
  onChange: (part: Partial<ChecklistState["items"][string]>) => void;
  onRemove?: () => void;
}) {
  const router = useRouter();
  const [sending, setSending] = useState(false);
  const [note, setNote] = useState(value.note);
  const add = async (files: FileList | null) => {
    if (!files?.length) return;
    setSending(true);
    for (const file of files) {
      const result = await sendPhoto(at, file);
      if ("error" in result) toast.error(result.error);
    }
    setSending(false);
    router.refresh();
  };
  const { undoable } = useAct();
  const remove = (photo: number) =>
    undoable(
      () => deletePhoto(at.experimentId, photo, true),
      () => deletePhoto(at.experimentId, photo, false),
      "Photo removed.",
      () => router.refresh(),
    );
  return (
    <li className="border-b border-hair py-1" data-item={id}>
      <div className="flex flex-wrap items-start gap-x-3 gap-y-1">
        <label className="flex min-h-11 w-full flex-none sm:w-auto sm:min-w-0 sm:flex-1 cursor-pointer items-start gap-3 sm:min-h-0">
          <input
            type="checkbox"
            className="mt-0.5 size-5 shrink-0 accent-[var(--action)]"
            checked={value.done}
            onChange={(e) => onChange({ done: e.target.checked, doneAt: e.target.checked ? Date.now() : null })}
          />
          <span className={value.done ? "text-ink-3 line-through decoration-1" : ""}>{text}</span>
        </label>
        <label className="min-w-0 flex-1 basis-40 sm:w-60 sm:flex-none">
          <span className="sr-only">Note</span>
          <input
            className="w-full border-b border-dotted border-rule bg-transparent py-0.5 text-[13px] max-sm:text-base"
            maxLength={1000}
            placeholder="note"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            onBlur={() => note !== value.note && onChange({ note })}
          />
        </label>
        <label className="btn btn-plain no-print min-h-7 cursor-pointer max-sm:min-h-11">
          <Camera size={14} aria-hidden /> {sending ? "Sending …" : "Photo"}
          <input
            type="file"
            accept="image/jpeg,image/png,image/webp"
            multiple
            className="sr-only"
            disabled={sending}
            onChange={(e) =>
              void add(e.target.files).then(() => {
                e.target.value = "";
              })
            }
          />
        </label>
        {onRemove && (
          <Button kind="plain" className="no-print" onClick={onRemove}>
            remove
          </Button>
        )}
      </div>
      {photos.length > 0 && <Photos photos={photos} text={text} remove={remove} />}
    </li>
  );
}

function Photos({ photos, text, remove }: { photos: PhotoHead[]; text: string; remove: (photo: number) => void }) {
  return (
    <div className="ml-8 flex flex-wrap items-center gap-2 py-1">
      {photos.map((p) => (
        <span key={p.id} className="relative">
          <a href={`/api/photos/${p.id}`} target="_blank" rel="noreferrer">
            {/* eslint-disable-next-line @next/next/no-img-element -- served from the data directory, already small */}
            <img
              src={`/api/photos/${p.id}`}
              alt={`Photo of: ${text.slice(0, 60)}`}
              className="h-16 w-auto border border-rule"
            />
          </a>
          <button
            type="button"
            className="no-print absolute -right-1.5 -top-1.5 grid size-6 place-items-center rounded-full bg-ink text-ground"
            aria-label="Remove this photo"
            onClick={() => remove(p.id)}
          >
            <X size={12} />
          </button>
        </span>
      ))}
    </div>
  );
}
