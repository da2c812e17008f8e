"use client";

import type { SessionRow } from "@/services/network/people";
import { Button } from "@/ui/Button";
import { useAct } from "@/ui/useAct";
import { endSession } from "./actions";

interface Props {
  sessions: SessionRow[];
  /** The session that looks at the list. */
  here?: number | null;
  /** Whose each is, where they are several people's. */
  named?: boolean;
}

const at = (ms: number) => `${new Date(ms).toISOString().slice(0, 16).replace("T", " ")} UTC`;

/** Devices that are signed in, the last used first. */
export function Sessions({ sessions, here = null, named = false }: Props) {
  const { busy, act } = useAct();
  return (
    <ul aria-label="Signed in">
      {sessions.map((s) => (
        <li key={s.id} className="flex flex-wrap items-center gap-x-3 border-b border-hair py-1">
          {named && <b className="font-semibold">{s.name ? <bdi>{s.name}</bdi> : "the owner"}</b>}
          <span>{s.device}</span>
          <span className="side">
            {s.id === here ? "this one" : `last used ${at(s.usedAt)}`}, from {s.address}, since {at(s.createdAt)}
          </span>
          {named && (
            <Button kind="plain" className="ml-auto" disabled={busy} onClick={() => act(() => endSession(s.id))}>
              Sign out
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
