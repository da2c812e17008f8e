"use client";

import Link from "next/link";
import type { BrokenPart } from "@/core/experiment/records";
import { useAct } from "@/ui/useAct";
import { brokenWords } from "@/words/broken";
import { deleteRun, putAway } from "./actions";
import { Button } from "@/ui/Button";

/** Parts that cannot be shown, each with why and the way out: everything else stands as it is. */
export function Broken({ parts }: { parts: readonly BrokenPart[] }) {
  if (parts.length === 0) return null;
  return (
    <section role="alert" aria-label="What cannot be shown" className="mb-4 border-l-[3px] border-danger pl-3">
      <h2 className="text-[15px] font-[650] text-danger">
        {parts.length === 1 ? "One stored part cannot be shown" : `${parts.length} stored parts cannot be shown`}
      </h2>
      <ul>
        {parts.map((p) => (
          <Part key={`${p.kind} ${p.id}`} part={p} />
        ))}
      </ul>
      <p className="side">What is put away stays in the journal; a run can be brought back for thirty days.</p>
    </section>
  );
}

function Part({ part }: { part: BrokenPart }) {
  const { busy, act, undoable } = useAct();
  const { title, detail, mend } = brokenWords(part);
  const { experimentId, id, kind } = part;
  const run = kind === "run" && experimentId !== null && typeof id === "number";
  const away = () =>
    run
      ? undoable(
          () => deleteRun(experimentId, id, true),
          () => deleteRun(experimentId, id, false),
          `${part.name} is deleted.`,
        )
      : act(() => putAway(kind, id));
  return (
    <li className="mt-1 flex flex-wrap items-baseline gap-x-3">
      <span>
        <b className="font-semibold">{title}.</b> {detail}
      </span>
      {kind === "site" && (
        <Link className="btn btn-plain" href={`/site/${id}`}>
          Mend it on its page
        </Link>
      )}
      <Button kind="plain" disabled={busy} onClick={away}>
        {mend}
      </Button>
    </li>
  );
}
