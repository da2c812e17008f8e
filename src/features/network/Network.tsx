"use client";

import { useState } from "react";
import type { NetworkPage } from "@/services/network/network";
import { useAct } from "@/ui/useAct";
import { addViewer, endViewer } from "./actions";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

type Props = NetworkPage & { codes: { address: string; code: string }[] };

/** How the phone at the bench reaches Bravel, what that exposes, and who may look on. */
export function Network(props: Props) {
  const { codes, encrypted } = props;
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">
        {codes.length
          ? "The phone at the bench reaches Bravel here."
          : "Bravel answers this computer only. Open it to your network for a phone or a logger."}
      </h1>
      {codes.length ? <Open codes={codes} encrypted={encrypted} /> : <Closed />}
      <Viewers {...props} />
    </div>
  );
}

const Closed = () => (
  <section aria-label="How to open it" className="mt-3 max-w-3xl">
    <p>Stop Bravel, and start it with an address to listen on and a passphrase of twelve characters or more:</p>
    <pre className="mt-2 overflow-x-auto bg-well p-3 text-[12.5px]" tabIndex={0}>
      BRAVEL_LISTEN=0.0.0.0 BRAVEL_PASSPHRASE=&quot;…&quot; ./bravel start{"\n"}
      BRAVEL_LISTEN=0.0.0.0 BRAVEL_TLS=1 BRAVEL_PASSPHRASE=&quot;…&quot; ./bravel start
    </pre>
    <ul className="mt-2 list-disc pl-5">
      <li>
        The first speaks plain HTTP: whoever is in the same network can read along, passphrase and tokens too. For a
        network of your own, with nobody else in it.
      </li>
      <li>
        The second encrypts with a certificate Bravel makes itself. Browsers warn of it once; compare its fingerprint
        with the one in the terminal before you go on. Only behind a certificate your devices trust do phones keep pages
        for use without a link.
      </li>
    </ul>
  </section>
);

const Open = ({ codes, encrypted }: Pick<Props, "codes" | "encrypted">) => (
  <section aria-label="Addresses" className="mt-3">
    <ul className="flex flex-wrap gap-6">
      {codes.map(({ address, code }) => (
        <li key={address}>
          {/* eslint-disable-next-line @next/next/no-img-element -- made on the spot, nothing to optimise */}
          <img src={code} width={180} height={180} alt={`QR code of ${address}`} className="border border-rule" />
          <p className="mt-1 font-semibold">{address}</p>
        </li>
      ))}
    </ul>
    <p className="mt-2 max-w-3xl">
      {encrypted
        ? "Encrypted by a certificate Bravel made itself: the browser warns once. Compare the fingerprint with the one in the terminal."
        : "Plain HTTP: whoever is in this network can read along, the passphrase and devices’ tokens too. Use it in a network of your own only, or start with BRAVEL_TLS=1."}
    </p>
  </section>
);

function Viewers({ viewers, experiments, codes }: Props) {
  return (
    <section aria-labelledby="viewers" className="mt-6 max-w-3xl">
      <Head
        id="viewers"
        title="Links that only show"
        side="one experiment, to look at and to take along as a package; nothing can be changed; revoked, a link ends within the hour"
      />
      <NewViewer experiments={experiments} base={codes[0]?.address ?? ""} />
      <ul>
        {viewers.map((v) => (
          <Viewer key={v.id} viewer={v} />
        ))}
      </ul>
    </section>
  );
}

function NewViewer({ experiments, base }: Pick<Props, "experiments"> & { base: string }) {
  const { busy, act } = useAct();
  const [experimentId, setExperimentId] = useState(experiments[0]?.id ?? 0);
  const [label, setLabel] = useState("");
  const [link, setLink] = useState<string | null>(null);
  const made = ({ token }: { token: string }) => {
    setLink(`${base}/view/${token}`);
    setLabel("");
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        act(() => addViewer({ experimentId, label }), made);
      }}
    >
      <Select
        label="Experiment"
        value={experimentId}
        options={experiments.map((e) => [e.id, e.name] as const)}
        onChange={setExperimentId}
      />
      <TextField label="For whom" value={label} maxLength={80} required onChange={setLabel} />
      <Button disabled={busy || !experiments.length} type="submit">
        Make a link
      </Button>
      {link && (
        <p role="status" className="basis-full">
          Shown this once: <code className="break-all bg-well px-2 py-1">{link}</code>
        </p>
      )}
    </form>
  );
}

function Viewer({ viewer: v }: { viewer: NetworkPage["viewers"][number] }) {
  const { busy, undoable } = useAct();
  const revoke = () =>
    undoable(
      () => endViewer(v.id, true),
      () => endViewer(v.id, false),
      `The link for ${v.label} is revoked.`,
    );
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-1">
      <b className="font-semibold">{v.label}</b> <span>{v.experiment}</span>
      {v.revokedAt !== null ? (
        <span className="side">revoked</span>
      ) : (
        <Button kind="plain" className="ml-auto" disabled={busy} onClick={revoke}>
          Revoke
        </Button>
      )}
    </li>
  );
}
