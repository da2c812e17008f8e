"use client";

import { useState } from "react";
import type { NetworkPage } from "@/services/network/network";
import { Button } from "@/ui/Button";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { toast } from "@/ui/toast";
import { useAct } from "@/ui/useAct";
import { addPerson, removePerson, setPassphrase } from "./actions";
import { Passphrase } from "./Passphrase";
import { Sessions } from "./Sessions";

type Person = NetworkPage["people"][number];
const ROLES = [
  ["hand", "bench hand"],
  ["owner", "owner"],
] as const;

/** Who may sign in by a name of their own, and where somebody is signed in. */
export function People({ people, sessions, here }: Pick<NetworkPage, "people" | "sessions"> & { here: number | null }) {
  return (
    <section aria-labelledby="people" className="mt-6 max-w-3xl">
      <Head
        id="people"
        title="People"
        side="a bench hand runs tests, marks events and takes in readings; deletes nothing and does not see this page"
      />
      <NewPerson />
      <ul aria-label="People">
        {people.map((p) => (
          <Row key={p.id} person={p} />
        ))}
      </ul>
      {sessions.length > 0 && (
        <>
          <h3 className="mt-4 font-semibold">Signed in now</h3>
          <Sessions sessions={sessions} here={here} named />
        </>
      )}
    </section>
  );
}

function NewPerson() {
  const { busy, act } = useAct();
  const [name, setName] = useState("");
  const [role, setRole] = useState<"hand" | "owner">("hand");
  const [words, setWords] = useState("");
  const made = () => {
    toast(`${name} may sign in now. Tell them the passphrase; Bravel keeps only its hash.`);
    setName("");
    setWords("");
    // Whoever comes next is not an owner because the last one was.
    setRole("hand");
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        act(() => addPerson({ name, role, passphrase: words }), made);
      }}
    >
      <TextField label="Name" value={name} maxLength={60} required onChange={setName} />
      <Select label="As" value={role} options={ROLES} onChange={setRole} />
      <Passphrase label="Passphrase, twelve characters or more" value={words} onChange={setWords} />
      <Button type="submit" disabled={busy}>
        Add
      </Button>
    </form>
  );
}

function Row({ person: { id, name, role } }: { person: Person }) {
  const { busy, act, undoable } = useAct();
  const [words, setWords] = useState<string | null>(null);
  const remove = () =>
    undoable(
      () => removePerson(id, true),
      () => removePerson(id, false),
      `${name} is signed out and opens nothing any more. What was done stays under the name.`,
    );
  const keep = () =>
    act(
      () => setPassphrase(id, words ?? ""),
      () => setWords(null),
    );
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-1">
      <b className="font-semibold">
        <bdi>{name}</bdi>
      </b>
      <span className="side">{role === "hand" ? "bench hand" : "owner"}</span>
      {words === null ? (
        <Button kind="plain" className="ml-auto" onClick={() => setWords("")}>
          Another passphrase
        </Button>
      ) : (
        <span className="ml-auto flex flex-wrap items-end gap-2">
          <Passphrase label={`New passphrase of ${name}`} value={words} onChange={setWords} />
          <Button disabled={busy} onClick={keep}>
            Set it
          </Button>
          <Button kind="plain" onClick={() => setWords(null)}>
            Leave it
          </Button>
        </span>
      )}
      <Button kind="plain" disabled={busy} onClick={remove}>
        Remove
      </Button>
    </li>
  );
}
