"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { SessionRow } from "@/services/network/people";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";
import { useAct } from "@/ui/useAct";
import { changeOwnPassphrase } from "./actions";
import { Passphrase } from "./Passphrase";
import { Sessions } from "./Sessions";

interface Props {
  role: "owner" | "hand";
  name: string | null;
  /** The session that asks; null where Bravel answers this computer only. */
  here: number | null;
  sessions: SessionRow[];
  /** Led here from a page that is the owner's. */
  refused: boolean;
}

const AS = { hand: ", a bench hand", owner: ", an owner" };

/** Who is signed in here, where else, and the way out. */
export function Account({ role, name, here, sessions, refused }: Props) {
  if (here === null)
    return (
      <div className="px-4 py-4 sm:px-6">
        <h1 className="sentence">Bravel answers this computer only: nobody signs in.</h1>
      </div>
    );
  return (
    <div className="max-w-3xl px-4 py-4 sm:px-6">
      <h1 className="sentence">
        You are signed in as {name ? <bdi>{name}</bdi> : "the owner"}
        {name && AS[role]}.
      </h1>
      {refused && (
        <p role="alert" className="mt-2 font-semibold text-danger">
          The page you asked for is the owner’s. Nothing was changed; everything else is where it was.
        </p>
      )}
      <p className="mt-2">
        {role === "hand"
          ? "A bench hand runs tests, marks events, takes in readings and proves instruments. Deleting, and all that decides a verdict, is the owner’s."
          : "An owner does everything here, and says under Network who else may."}
      </p>
      <section aria-labelledby="sessions" className="mt-6">
        <Head id="sessions" title="Where you are signed in" side="each ends by itself after 30 days" />
        <Sessions sessions={sessions} here={here} />
        {/* Plain forms: they work on a page whose script never came. */}
        <div className="mt-3 flex flex-wrap gap-2">
          <form action="/api/logout" method="post">
            <Button type="submit">Sign out here</Button>
          </form>
          <form action="/api/logout?everywhere" method="post">
            <Button type="submit">Sign out everywhere</Button>
          </form>
        </div>
      </section>
      {name && <OwnPassphrase />}
    </div>
  );
}

function OwnPassphrase() {
  const { busy, act } = useAct();
  const router = useRouter();
  const [old, setOld] = useState("");
  const [words, setWords] = useState("");
  return (
    <section aria-labelledby="own" className="mt-6">
      <Head id="own" title="Another passphrase" side="it signs you out on every device, this one too" />
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          act(
            () => changeOwnPassphrase(old, words),
            () => router.push("/login"),
          );
        }}
      >
        <Passphrase label="The old one" value={old} onChange={setOld} autoComplete="current-password" />
        <Passphrase label="The new one" value={words} onChange={setWords} />
        <Button type="submit" disabled={busy}>
          Change it
        </Button>
      </form>
    </section>
  );
}
