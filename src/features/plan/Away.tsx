"use client";

import { useState, useTransition } from "react";
import { atMinute } from "@/core/log/zone";
import type { PlanView } from "@/services/plan/plan";
import { WEEKDAYS } from "@/words/plan";
import { answered, useAct } from "@/ui/useAct";
import { addUnavailable, removeUnavailable } from "./actions";
import { dayOf, timeOfDay } from "@/words/times";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";

const minutes = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));
const hhmm = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

/** Times when nobody can stand at the bench, kept for all plans: days are planned around them. */
export function Away({ plan }: { plan: PlanView }) {
  const { zone } = plan.site;
  const [busy, start] = useTransition();
  const { undoable } = useAct();
  const [form, setForm] = useState({
    kind: "weekly" as "weekly" | "once",
    weekday: 1,
    date: "",
    from: "08:00",
    to: "17:00",
    reason: "",
  });
  const [error, setError] = useState<string | null>(null);
  const add = () =>
    start(async () => {
      if (form.kind === "once" && !form.date) return setError("Choose the date.");
      if (!form.from || !form.to) return setError("Give both times.");
      const day = Date.parse(`${form.date}T00:00:00Z`) - (plan.site.longitude / 15) * 3600000;
      const result = await answered(
        addUnavailable(
          plan.experimentId,
          form.kind === "weekly"
            ? {
                kind: "weekly",
                weekday: form.weekday,
                fromMinute: minutes(form.from),
                toMinute: minutes(form.to) || 1440,
                reason: form.reason,
              }
            : {
                kind: "once",
                fromMs: atMinute(day + 12 * 3600000, minutes(form.from), zone),
                toMs: atMinute(day + 12 * 3600000, minutes(form.to) || 1440, zone),
                reason: form.reason,
              },
        ),
      );
      setError(result.ok ? null : result.error);
    });
  const remove = (id: number) =>
    undoable(
      () => removeUnavailable(plan.experimentId, id, true),
      () => removeUnavailable(plan.experimentId, id, false),
      "Removed.",
    );
  return (
    <section aria-labelledby="away">
      <Head id="away" title="When you are away" side="for all plans" />
      <ul>
        {plan.unavailable.map((u) => (
          <li key={u.id} className="flex items-center gap-2 border-b border-hair py-1 text-[13.5px]">
            <span className="flex-1">
              {u.kind === "weekly"
                ? `${WEEKDAYS[u.weekday - 1]}s ${hhmm(u.fromMinute)} to ${hhmm(u.toMinute)}`
                : `${dayOf(u.fromMs, zone)}, ${timeOfDay(u.fromMs, zone)} to ${timeOfDay(u.toMs, zone)}`}
              {u.reason ? <span className="text-ink-2">, {u.reason}</span> : ""}
            </span>
            <Button kind="plain" className="min-h-[26px]" disabled={busy} onClick={() => remove(u.id)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="no-print grid grid-cols-2 gap-2 pt-2"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <Select
          label="Away"
          value={form.kind}
          options={[
            ["weekly", "every week"],
            ["once", "once"],
          ]}
          onChange={(v) => setForm({ ...form, kind: v })}
        />
        {form.kind === "weekly" ? (
          <Select
            label="Day"
            value={form.weekday}
            options={WEEKDAYS.map((w, i) => [i + 1, w] as const)}
            onChange={(v) => setForm({ ...form, weekday: v })}
          />
        ) : (
          <TextField label="Date" type="date" value={form.date} onChange={(v) => setForm({ ...form, date: v })} />
        )}
        <TextField label="From" type="time" value={form.from} onChange={(v) => setForm({ ...form, from: v })} />
        <TextField label="To" type="time" value={form.to} onChange={(v) => setForm({ ...form, to: v })} />
        <TextField label="Why" maxLength={120} value={form.reason} onChange={(v) => setForm({ ...form, reason: v })} />
        <Button className="self-end" type="submit" disabled={busy}>
          Add
        </Button>
      </form>
      <Problem className="text-[13px]">{error}</Problem>
    </section>
  );
}
