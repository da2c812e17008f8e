"use client";

import { Plus } from "lucide-react";
import { useState } from "react";
import type { DevicesPage } from "@/services/device/queries";
import { useAct } from "@/ui/useAct";
import { addDevice } from "./actions";
import { Device, type Shown } from "./Device";
import { SerialLine } from "./SerialLine";
import { sendingExamples } from "./examples";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

/** What sends readings: each with its own token, what it has sent, and what is wrong with it. */
export function Devices({
  devices,
  running,
  experiment,
  address,
}: DevicesPage & { experiment: number | null; address: string }) {
  const [shown, setShown] = useState<Shown | null>(null);
  const heard = devices.filter((d) => d.frames > 0).length;
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">
        {devices.length === 0
          ? "No device sends to Bravel yet. Give it a name, then its token to the device."
          : `${devices.length} device${devices.length === 1 ? "" : "s"}, ${heard} of which ${heard === 1 ? "has" : "have"} sent readings.`}
      </h1>
      <NewDevice onMade={setShown} />
      {shown && <Token shown={shown} onClose={() => setShown(null)} />}
      {devices.length > 0 && (
        <ul aria-label="Devices" className="mt-4">
          {devices.map((d) => (
            <Device
              key={d.id}
              device={d}
              run={running.find((r) => r.streamId === d.streamId)}
              experiment={experiment}
              onToken={setShown}
            />
          ))}
        </ul>
      )}
      <SerialLine />
      <Sending address={address} token={shown?.token ?? "bravel_…"} />
    </div>
  );
}

function NewDevice({ onMade }: { onMade: (shown: Shown) => void }) {
  const { busy, act } = useAct();
  const [name, setName] = useState("");
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        act(
          () => addDevice({ name, kind: "logger" }),
          ({ token }) => {
            onMade({ name, token });
            setName("");
          },
        );
      }}
    >
      <TextField
        label="Name of the device"
        width="w-64"
        value={name}
        maxLength={80}
        placeholder="logger on the terrace"
        required
        onChange={setName}
      />
      <Button kind="main" disabled={busy || name.trim() === ""} type="submit">
        <Plus size={14} aria-hidden /> Add a device
      </Button>
    </form>
  );
}

/** Shown once: Bravel keeps only its hash. */
function Token({ shown, onClose }: { shown: Shown; onClose: () => void }) {
  const [copied, setCopied] = useState(false);
  return (
    <div role="status" className="mt-3 max-w-3xl border-[1.5px] border-ink bg-sheet px-3 py-2">
      <p className="font-semibold">Token of {shown.name}: it is shown this once. Copy it into the device now.</p>
      <p className="mt-1 flex flex-wrap items-center gap-2">
        <code className="break-all bg-well px-2 py-1 text-[15px]" data-testid="token">
          {shown.token}
        </code>
        <Button onClick={() => void navigator.clipboard?.writeText(shown.token).then(() => setCopied(true))}>
          {copied ? "Copied" : "Copy"}
        </Button>
        <Button kind="plain" onClick={onClose}>
          I have it
        </Button>
      </p>
    </div>
  );
}

function Sending({ address, token }: { address: string; token: string }) {
  const examples = sendingExamples(address, token);
  const [open, setOpen] = useState(examples[0].name);
  return (
    <section aria-labelledby="sending" className="mt-6 max-w-4xl">
      <Head
        id="sending"
        title="How a device sends"
        side={
          <>
            a reading that was answered is on disk; sent again it is there once.{" "}
            <a className="underline" href="/api/openapi.json">
              Whole description (OpenAPI 3.1)
            </a>
          </>
        }
      />
      <div className="flex flex-wrap gap-1 py-1" role="tablist" aria-label="Language">
        {examples.map((e) => (
          <button
            key={e.name}
            type="button"
            role="tab"
            aria-selected={open === e.name}
            className={`min-h-8 border-b-[3px] px-2 ${open === e.name ? "border-action font-semibold" : "border-transparent text-ink-2"}`}
            onClick={() => setOpen(e.name)}
          >
            {e.name}
          </button>
        ))}
      </div>
      <pre className="overflow-x-auto bg-well p-3 text-[12.5px] leading-snug" tabIndex={0}>
        {examples.find((e) => e.name === open)!.text}
      </pre>
    </section>
  );
}
