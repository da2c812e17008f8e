"use client";

import { linear } from "@/ui/scale";
import { TriangleAlert } from "lucide-react";
import { useId, useState } from "react";
import type { Effect } from "@/core/judge/doubt/doubt";
import { doubtKey, isDismissed, stopsVerdict } from "@/core/judge/doubt/dismissed";
import type { Doubt } from "@/core/judge/doubt/list";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentView } from "@/services/page/views";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { doubtWords } from "@/words/doubts";
import { dayOf } from "@/words/times";
import { dismissDoubt, setSpanAside } from "@/features/experiment/actions";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** What weakens the answer, in the answer's unit, each with what would settle it. */
export function Doubts({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const { head, verdict } = view;
  const { dismissed } = head.settings;
  const doubts = view.doubts.filter((d) => !isDismissed(d, dismissed));
  const answer =
    verdict.kind === "winner" || verdict.kind === "cannotTell" || verdict.kind === "daylight"
      ? verdict.difference.si
      : null;
  const reach =
    Math.max(
      1,
      Math.abs(answer ?? 0),
      ...doubts.flatMap((d) =>
        d.effect ? [Math.abs((answer ?? 0) + d.effect.low), Math.abs((answer ?? 0) + d.effect.high)] : [],
      ),
    ) * 1.1;
  const X = linear([-reach * 0.25, reach], [6, 144]);
  return (
    <section aria-labelledby="doubts">
      <Head id="doubts" title="Doubts">
        {answer !== null && (
          <span className="side">
            bar: what the answer could become; heavy tick:{" "}
            {quantityText(answer, "heatFlux", { system, figures: 2, signed: true })}
          </span>
        )}
      </Head>
      {doubts.length === 0 && <p className="py-2">None found.</p>}
      <ul>
        {doubts.map((d, i) => {
          const { title, detail, remedy } = doubtWords(d, { zone: head.site.zone, system });
          return (
            <li
              key={i}
              className={`grid gap-x-4 border-b border-hair py-1.5 ${d.effect && answer !== null ? "sm:grid-cols-[1fr_150px]" : ""}`}
            >
              <div>
                <p className="flex gap-1.5 font-semibold text-doubt">
                  <TriangleAlert size={15} className="mt-0.5 shrink-0" aria-hidden /> {title}
                </p>
                <div className="text-[13.5px] text-ink-2">
                  {detail} <b className="font-semibold text-ink">{remedy}</b> <SetSpellsAside view={view} doubt={d} />
                  {!stopsVerdict(d) && <Dismiss experimentId={head.id} doubt={d} title={title} />}
                </div>
              </div>
              {d.effect && answer !== null && <Bar effect={d.effect} answer={answer} X={X} />}
            </li>
          );
        })}
      </ul>
      <Dismissed view={view} doubts={view.doubts.filter((d) => isDismissed(d, dismissed))} />
    </section>
  );
}

/** Minutes that are known to be wrong leave by one press; the readings stay, and Read takes it back. */
function SetSpellsAside({ view: { head, runs }, doubt }: { view: ExperimentView; doubt: Doubt }) {
  const { system } = usePreferences();
  const { busy, act } = useAct();
  if (doubt.kind !== "impossible" || !("spells" in doubt.found) || !doubt.found.spells?.length) return null;
  const run = runs.find((r) => String(r.number) === doubt.run);
  const { found } = doubt;
  const lane = "lane" in found ? found.lane : null;
  const spells = found.spells!.filter(
    (s) => !run?.exclusions.some((e) => (e.lane ?? lane) === lane && e.fromMs <= s.fromMs && e.toMs >= s.toMs),
  );
  if (!run || spells.length === 0) return null;
  const reason = doubtWords(doubt, { zone: head.site.zone, system }).title;
  const setAside = async () => {
    let done = await setSpanAside(head.id, { runId: run.id, lane, ...spells[0], reason });
    for (const spell of spells.slice(1))
      if (done.ok) done = await setSpanAside(head.id, { runId: run.id, lane, ...spell, reason });
    return done;
  };
  return (
    <Button kind="plain" className="no-print" disabled={busy} onClick={() => act(setAside)}>
      Set {spells.length > 1 ? `these ${spells.length} stretches` : "these minutes"} aside
    </Button>
  );
}

/** What the answer could become: bar, and its ends in words. */
function Bar({ effect, answer, X }: { effect: Effect; answer: number; X: (wm2: number) => number }) {
  const { system } = usePreferences();
  const becomes = (si: number) => quantityText(si, "heatFlux", { system, figures: 2, signed: true });
  return (
    <div className="self-center">
      <svg width="150" height="18" viewBox="0 0 150 18" aria-hidden="true">
        <path d="M4 14H146" stroke="var(--ink)" />
        <path d={`M${X(0)} 2V14`} stroke="var(--ink)" strokeWidth="1.25" />
        <path
          d={`M${X(answer + effect.low)} 7H${Math.max(X(answer + effect.low) + 1, X(answer + effect.high))}`}
          stroke="var(--doubt-line)"
          strokeWidth="7"
        />
        <path d={`M${X(answer)} 1V14`} stroke="var(--ink)" strokeWidth="2.5" />
      </svg>
      <span className="text-[13px] font-semibold">
        {becomes(answer + effect.low).replace(/\u2009.*$/, "")} to {becomes(answer + effect.high)}
      </span>
    </div>
  );
}

/** A doubt goes only with a reason, which stays beside the answer and in print. */
function Dismiss({ experimentId, doubt, title }: { experimentId: number; doubt: Doubt; title: string }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const { busy, act } = useAct();
  const id = useId();
  if (!open)
    return (
      <Button kind="plain" className="no-print" aria-label={`Dismiss: ${title}`} onClick={() => setOpen(true)}>
        Dismiss …
      </Button>
    );
  return (
    <form
      className="no-print mt-1 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        act(() => dismissDoubt(experimentId, doubtKey(doubt), reason));
      }}
    >
      <label htmlFor={id} className="min-w-[16em] flex-1 text-[13px] font-semibold">
        Why it does not count
        <input
          id={id}
          className="field mt-0.5 w-full"
          autoFocus
          minLength={8}
          maxLength={400}
          required
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </label>
      <Button type="submit" disabled={busy || reason.trim().length < 8}>
        Dismiss it
      </Button>
      <Button kind="plain" onClick={() => setOpen(false)}>
        Keep it
      </Button>
    </form>
  );
}

/** What was dismissed, by whom nobody asks, with its reason: the answer no longer waits for it. */
function Dismissed({ view: { head }, doubts }: { view: ExperimentView; doubts: readonly Doubt[] }) {
  const { system } = usePreferences();
  const { busy, act } = useAct();
  if (doubts.length === 0) return null;
  const { zone } = head.site;
  return (
    <div className="mt-2">
      <h3 className="text-[13px] font-semibold">Dismissed, with a reason</h3>
      <ul aria-label="Dismissed doubts">
        {doubts.map((d) => {
          const { title } = doubtWords(d, { zone, system });
          const { reason, atMs } = head.settings.dismissed[doubtKey(d)];
          return (
            <li
              key={doubtKey(d)}
              className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1 text-[13.5px]"
            >
              <span className="min-w-0 flex-1">
                {title}. <q>{reason}</q> <span className="side">{dayOf(atMs, zone)}</span>
              </span>
              <Button
                kind="plain"
                className="no-print"
                aria-label={`Take back: ${title}`}
                disabled={busy}
                onClick={() => act(() => dismissDoubt(head.id, doubtKey(d), null))}
              >
                Take back
              </Button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
