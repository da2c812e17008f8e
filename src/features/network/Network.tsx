"use client";

import { useState } from "react";
import type { NetworkPage } from "@/services/network/network";
import { useAct } from "@/ui/useAct";
import { addViewer, endViewer } from "./actions";
import { People } from "./People";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

type Props = NetworkPage & {
  codes: { address: string; code: string }[];
  /** The session that looks at the page. */
  here: number | null;
};

/** How the phone at the bench reaches Bravel, what that exposes, and who may look on. */
export function Network(props: Props) {
  const { codes, authority } = props;
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">
        {codes.length
          ? "The phone at the bench reaches Bravel here."
          : "Bravel answers this computer only. Open it to your network for a phone or a logger."}
      </h1>
      {codes.length ? <Open codes={codes} authority={authority} /> : <Closed />}
      {codes.length > 0 && <People people={props.people} sessions={props.sessions} here={props.here} />}
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
        The second encrypts with a certificate of Bravel’s own. Browsers warn until a device has installed its authority
        once, which this page then shows how. Only then do phones keep pages for use without a link.
      </li>
    </ul>
  </section>
);

const Open = ({ codes, authority }: Pick<Props, "codes" | "authority">) => (
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
    {authority ? (
      <Trust file={authority} />
    ) : (
      <p className="mt-2 max-w-3xl">
        Plain HTTP: whoever is in this network can read along, the passphrase and devices’ tokens too. Use it in a
        network of your own only, or start with BRAVEL_TLS=1.
      </p>
    )}
  </section>
);

const Trust = ({ file }: { file: string }) => (
  <div className="mt-2 max-w-3xl">
    <p>
      Encrypted by a certificate of Bravel’s own authority. A phone that has installed it once shows no warning, and
      keeps pages for use without a link:
    </p>
    <ol className="mt-1 list-decimal pl-5">
      <li>
        Open <a href="/authority.pem">/authority.pem</a> on the phone, or copy {file} to it.
      </li>
      <li>
        iPhone: Settings, Profile downloaded, Install; then General, About, Certificate trust settings, switch it on.
        Android: Settings, Security, Install a certificate, CA certificate.
      </li>
      <li>Compare the fingerprint it shows with the authority’s in the terminal before you agree.</li>
    </ol>
  </div>
);

function Viewers({ viewers, experiments, codes }: Props) {
  return (
    <section aria-labelledby="viewers" className="mt-6 max-w-3xl">
      <Head
        id="viewers"
        title="Links that only show"
        side="one experiment, to look at; nothing can be changed; revoked, a link ends at once"
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
  const [takes, setTakes] = useState(false);
  const [link, setLink] = useState<string | null>(null);
  const made = ({ token }: { token: string }) => {
    setLink(`${base}/view/${token}`);
    setLabel("");
    setTakes(false);
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        act(() => addViewer({ experimentId, label, takes }), made);
      }}
    >
      <Select
        label="Experiment"
        value={experimentId}
        options={experiments.map((e) => [e.id, e.name] as const)}
        onChange={setExperimentId}
      />
      <TextField label="For whom" value={label} maxLength={80} required onChange={setLabel} />
      <label className="flex items-center gap-1.5 py-1">
        <input type="checkbox" checked={takes} onChange={(e) => setTakes(e.target.checked)} /> may take the package
        along
      </label>
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
      <b className="font-semibold">
        <bdi>{v.label}</bdi>
      </b>{" "}
      <span>
        <bdi>{v.experiment}</bdi>
      </span>{" "}
      {v.takes && <span className="side">with the package</span>}
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
