"use client";

import type { DeletedThing } from "@/core/experiment/records";
import { deleteExperiment, deleteRun } from "@/features/experiment/actions";
import { useAct } from "@/ui/useAct";
import { dayOf } from "@/words/times";
import { Button } from "@/ui/Button";

/** What was deleted, folded away: nothing is really gone before its day. */
export function Deleted({ things }: { things: readonly DeletedThing[] }) {
  if (things.length === 0) return null;
  return (
    <details className="mt-6">
      <summary className="cursor-pointer text-ink-2">
        {things.length === 1 ? "One deleted thing" : `${things.length} deleted things`} can be brought back
      </summary>
      <ul className="mt-1">
        {things.map((t) => (
          <Thing key={`${t.kind} ${t.id}`} thing={t} />
        ))}
      </ul>
    </details>
  );
}

function Thing({ thing }: { thing: DeletedThing }) {
  const { busy, act } = useAct();
  const back = () =>
    act(() =>
      thing.kind === "run" ? deleteRun(thing.experimentId, thing.id, false) : deleteExperiment(thing.id, false),
    );
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
      <span>
        <b className="font-semibold">{thing.name}</b>, deleted on {dayOf(thing.deletedAt, "UTC")}; goes for good on{" "}
        {dayOf(thing.goesAt, "UTC")}
      </span>
      <Button kind="plain" disabled={busy} onClick={back} aria-label={`Bring back ${thing.name}`}>
        Bring back
      </Button>
    </li>
  );
}
