"use client";

import { CalendarPlus, Dices, Printer, RadioTower } from "lucide-react";
import Link from "next/link";
import { useOptimistic, useState, useTransition } from "react";
import { toast } from "@/ui/toast";
import { quantityText } from "@/core/quantity/format";
import { METHOD_NAMES } from "@/core/method/list";
import { swapSchedule } from "@/core/plan/schedule";
import { patchedPlan, undoing } from "@/core/experiment/planPatch";
import type { PlanPatch, PlanSettings } from "@/core/experiment/schema/plan";
import type { PlanView } from "@/services/plan/plan";
import { Choice } from "@/ui/Choice";
import { usePreferences } from "@/ui/preferences";
import { benchProblemWords, conflictWords, NONE_WORDS, PROTOCOL_WORDS } from "@/words/plan";
import { changePlan } from "./actions";
import { Away } from "./Away";
import { BenchPlan } from "./BenchPlan";
import { Calendar } from "./Calendar";
import type { CalendarEdits } from "./EntryBar";
import { HowLong } from "./HowLong";
import { Months } from "./Months";
import { PLAN_FIELDS } from "@/core/experiment/settingFields";
import { askedOf, QuantityFields } from "@/ui/form/QuantityFields";
import { ProtocolPanel } from "./ProtocolPanel";
import { Swaps } from "./Swaps";
import { dayText, timeOfDay, weekdayOf } from "@/words/times";
import { answered } from "@/ui/useAct";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";

const DAYS = askedOf(PLAN_FIELDS, { days: "Days" });
const SEED = askedOf(PLAN_FIELDS, { seed: "Seed" });
const PROTOCOLS = METHOD_NAMES.map((p) => [p, PROTOCOL_WORDS[p].name] as const);

/** Which days and hours are worth standing outside, in which order the boxes stand, and how many days settle the question. */
export function Plan({ plan }: { plan: PlanView }) {
  const [settings, setSettings] = useOptimistic(plan.settings);
  const [busy, start] = useTransition();
  const [error, setError] = useState<string | null>(null);

  const send = async (patch: PlanPatch) => {
    setSettings(patchedPlan(settings, patch));
    const result = await answered(changePlan(plan.experimentId, patch, plan.settings));
    setError(result.ok ? null : `${result.error} The plan is as it was.`);
    return result.ok;
  };
  /** Only what changed is sent. From the first change on the plan keeps its first day, so that its order is not dealt anew as days go by. */
  const change = (patch: PlanPatch, undo?: string) =>
    start(async () => {
      const before = plan.settings;
      const first = before.start ?? plan.days[0]?.date ?? plan.today;
      const kept = await send(before.start === null ? { ...patch, set: { start: first, ...patch.set } } : patch);
      if (kept && undo)
        toast(undo, {
          action: { label: "Undo", onClick: () => start(async () => void (await send(undoing(before, patch)))) },
        });
    });
  const edits: CalendarEdits = {
    move: (e, minutes) =>
      change({ moved: { [e.id]: Math.max(-1440, Math.min(1440, (settings.moved[e.id] ?? 0) + minutes)) } }),
    reset: (e) => change({ moved: { [e.id]: null } }),
    skip: (date) => change({ skipped: { [date]: true } }, `${dayText(date)} is left out; what follows moves on.`),
    take: (date) => change({ skipped: { [date]: false } }),
  };
  const set = (part: PlanPatch["set"]) => change({ set: part });
  const conflicts = plan.days.flatMap((d) => d.conflicts.map((c) => ({ date: d.date, ...c })));
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-4 xl:grid-cols-[minmax(0,1fr)_360px]">
      <div className="grid min-w-0 grid-cols-1 content-start gap-4">
        <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
          <h1 className="sentence min-w-[280px] flex-1">
            <Sentence plan={plan} />
          </h1>
          <span className="flex gap-2">
            {/* A file from a route handler: a plain link, so that the browser saves it. */}
            <a
              className="btn btn-main"
              href={`/api/experiments/${plan.experimentId}/plan.ics`}
              download
              aria-disabled={plan.days.length === 0}
            >
              <CalendarPlus size={14} aria-hidden /> Calendar file
            </a>
            {plan.days[0] && (
              <Link className="btn" href={`/experiments/${plan.experimentId}/plan/${plan.days[0].date}`}>
                <Printer size={14} aria-hidden /> Day sheet
              </Link>
            )}
            {plan.days[0] && (
              <Link className="btn" href={`/devices?experiment=${plan.experimentId}`}>
                <RadioTower size={14} aria-hidden /> Start a live run
              </Link>
            )}
          </span>
        </div>
        {plan.problems.map((p) => (
          <p key={p.kind} role="alert" className="font-semibold text-doubt">
            {benchProblemWords(p)}
          </p>
        ))}
        <Problem>{error}</Problem>
        <PlanFields {...{ settings, set, plan, busy }} />
        {plan.baths[0] && <Bath bath={plan.baths[0]} zone={plan.site.zone} />}
        <Calendar plan={plan} edits={edits} busy={busy} />
        {conflicts.length > 0 && (
          <ul aria-label="Conflicts" className="text-[13.5px] text-doubt">
            {conflicts.map((c) => (
              <li key={`${c.entry}${c.with}`}>
                <b className="font-semibold">{dayText(c.date)}</b>, {c.entry.split("/")[1]}: {conflictWords(c)}
              </li>
            ))}
          </ul>
        )}
        {plan.baths[1] && <Bath bath={plan.baths[1]} zone={plan.site.zone} />}
        <ProtocolPanel plan={plan} settings={settings} change={change} />
        <Swaps plan={plan} />
        <BenchPlan plan={plan} settings={settings} change={change} />
      </div>
      <aside className="grid min-w-0 grid-cols-1 content-start gap-4" aria-label="How long">
        <Choice
          label="Chance to tell"
          value={String(settings.power) as "0.8"}
          options={[
            ["0.8", "80 %"],
            ["0.95", "95 %"],
          ]}
          onChange={(v) => set({ power: Number(v) as 0.8 })}
        />
        <HowLong plan={plan} settings={settings} change={change} />
        <Months plan={plan} />
        <Away plan={plan} />
      </aside>
    </div>
  );
}

function PlanFields({
  settings,
  set,
  plan,
  busy,
}: {
  settings: PlanSettings;
  set: (part: PlanPatch["set"]) => void;
  plan: PlanView;
  busy: boolean;
}) {
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
      <Select
        label="Protocol"
        width="w-[150px]"
        value={settings.protocol}
        options={PROTOCOLS}
        onChange={(v) => set({ protocol: v })}
      />
      <TextField
        label="From"
        width="w-[140px]"
        type="date"
        value={settings.start ?? plan.today}
        onChange={(v) => set({ start: v || null })}
      />
      <div className="w-[88px]">
        <QuantityFields of={DAYS} value={settings} set={set} />
      </div>
      <Select
        label="Lanes swap"
        width="w-[150px]"
        value={settings.swaps}
        options={[
          ["daily", "every day"],
          ["noon", "every day and at noon"],
          ["none", "never"],
        ]}
        onChange={(v) => set({ swaps: v })}
      />
      <div className="w-[88px]">
        <QuantityFields of={SEED} value={settings} set={set} />
      </div>
      <Button
        className="min-h-[32px]"
        disabled={!plan.balance}
        onClick={() => set({ seed: otherSeed(plan, settings.seed) })}
      >
        <Dices size={14} aria-hidden /> Deal again
      </Button>
      <span className="side self-center" role="status">
        {busy && "Working it out …"}
        {!busy && !plan.saved && "defaults; kept with your first change"}
      </span>
    </div>
  );
}

/** The next seed of a fixed sequence that deals another order: three lanes have only a dozen. */
function otherSeed(plan: PlanView, seed: number): number {
  const now = JSON.stringify(plan.order);
  let next = seed;
  for (let tries = 0; tries < 40; tries++) {
    next = 1 + ((next * 48271) % 999983);
    if (JSON.stringify(swapSchedule(plan.specimens.length, plan.order.length, next).order) !== now) break;
  }
  return next;
}

function Bath({ bath, zone }: { bath: PlanView["baths"][number]; zone: string }) {
  const date = weekdayOf(bath.fromMs, zone);
  return (
    <p className="text-[13.5px]">
      <b className="font-semibold">{date}</b>, {timeOfDay(bath.fromMs, zone)} to {timeOfDay(bath.toMs, zone)}: all
      probes in one bath {bath.when === "before" ? "before the first" : "after the last"} day, so that their drift is
      known. <span className="side">Hot water scalds: carry it with a lid.</span>
    </p>
  );
}

function Sentence({ plan }: { plan: PlanView }) {
  const { system } = usePreferences();
  const { duration: d, settings } = plan;
  const first = plan.days[0];
  const measuring =
    first?.entries.filter(
      (e) => e.kind === "measure" || e.kind === "step" || e.kind === "bath" || e.kind === "check",
    ) ?? [];
  const sun = measuring.filter((e) => e.kind !== "check");
  const hours = sun.length ? sun : measuring;
  const reason = plan.passed.map((p) => p.reason).find((r) => r !== "skipped" && r !== "unavailable" && r !== "past");
  const next =
    first && hours.length ? (
      <>
        Next: {dayText(first.date)}, be there at {timeOfDay(first.entries[0].fromMs, plan.site.zone)}, measure{" "}
        {timeOfDay(hours[0].fromMs, plan.site.zone)} to {timeOfDay(hours[hours.length - 1].toMs, plan.site.zone)}.
      </>
    ) : (
      <span className="text-doubt">No day in the next four months fits{reason ? `: ${NONE_WORDS[reason]}` : ""}.</span>
    );
  if (!d)
    return (
      <>
        {plan.specimens.length < 2
          ? "Nothing to compare yet. "
          : `${PROTOCOL_WORDS[settings.protocol].name}: ${PROTOCOL_WORDS[settings.protocol].hours}. `}
        {next}
      </>
    );
  const needed = settings.power === 0.8 ? d.days80 : d.days95;
  const difference = quantityText(plan.smallest, "heatFlux", { system, figures: 2 });
  return (
    <>
      {plan.smallest <= 0 && "Say in Ask which difference matters, and the days it takes follow. "}
      {plan.smallest > 0 && needed === null && (
        <span className="text-doubt">
          Even 60 clear days do not tell {difference} with {settings.power * 100} % chance on this bench.{" "}
        </span>
      )}
      {plan.smallest > 0 && needed !== null && (
        <>
          {needed === 1 ? "One clear day tells" : `${numberWord(needed)} clear days tell`} a difference of {difference}{" "}
          with {settings.power * 100} % chance
          {needed > settings.days && <span className="text-doubt">, {needed - settings.days} more than planned</span>}
          .{" "}
        </>
      )}
      {next}
    </>
  );
}

const numberWord = (n: number): string =>
  ["No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve"][n] ??
  String(n);
