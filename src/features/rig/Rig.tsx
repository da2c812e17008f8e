"use client";

import { Pause, Play } from "lucide-react";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { RIG_FAULTS, type RigFaultKind, type RigSettings } from "@/core/experiment/schema/rig";
import type { RigPage } from "@/services/rig/rig";
import { Badge } from "@/ui/Badge";
import { Choice } from "@/ui/Choice";
import { LaneMark } from "@/ui/LaneMark";
import { useAct } from "@/ui/useAct";
import { BENCH_FAULTS, FAULT_WORDS } from "@/words/rig";
import { clock } from "@/words/times";
import { changeRig } from "./actions";
import { SetUp } from "./SetUp";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

const SPEEDS = ["1", "10", "60", "600"] as const;
/** Not heard of for so long, the driver is not there, ms. */
const GONE_MS = 10_000;

type Props = RigPage & { nowMs: number };

function rigSentence(rig: RigPage["rig"], driven: boolean): string {
  if (!rig) return "The simulated bench is empty. Put drawn boxes on it.";
  if (!driven) return "Nothing drives the simulated bench.";
  return rig.running
    ? `The simulated bench runs at ${rig.settings.speed} times the sun’s pace.`
    : "The simulated bench stands still.";
}

/** Where a box's inlet comes from, and what moves its stream. */
function boxWords({ station, loop, massFlowKgPerS, thermostat }: RigSettings["lanes"][number]): string {
  const inlet = { tank: "tank", plenum: "warmed inlet", outside: "outside air" }[loop.kind];
  return [
    `place ${station}`,
    loop.kind === "tank" ? `${inlet} of ${loop.litres} L` : inlet,
    ...(massFlowKgPerS === null ? ["its own drive"] : []),
    ...(thermostat ? ["thermostat"] : []),
  ].join(", ");
}

/** A bench for those without hardware: drawn boxes under a simulated sun, sending like any logger, with faults at a press. */
export function Rig(props: Props) {
  const { rig, device, nowMs } = props;
  const router = useRouter();
  // What the driver does shows on the server only.
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), 3000);
    return () => clearInterval(timer);
  }, [router]);
  const driven = rig?.heardAt != null && nowMs - rig.heardAt < GONE_MS;
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">{rigSentence(rig, driven)}</h1>
      {!driven && (
        <p className="mt-1">
          {rig ? "" : "Then "}start it in a second terminal with <code>./bravel rig</code>; the demo has it running
          already.
        </p>
      )}
      {rig && <State {...props} rig={rig} />}
      {rig && <Faults rig={rig} />}
      <SetUp experiments={props.experiments} open={props.open} />
      {device && device.frames > 0 && (
        <p className="side mt-4">
          It sends as <b className="font-semibold">{device.name}</b>: see{" "}
          <Link className="underline" href="/devices">
            Devices
          </Link>
          .
        </p>
      )}
    </div>
  );
}

function State({ rig, device }: Props & { rig: NonNullable<RigPage["rig"]> }) {
  const { busy, act } = useAct();
  const { settings } = rig;
  return (
    <section aria-label="Bench" className="mt-3">
      <ul className="flex flex-wrap gap-x-6 gap-y-2">
        {settings.lanes.map((l) => (
          <li key={l.letter} className="flex items-center gap-2">
            <LaneMark lane={l.letter} /> <Badge design={l.design} lane={l.letter} scale={0.8} />
            <span className="side">{boxWords(l)}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 side">
        {device?.endMs
          ? `Its clock shows ${clock(device.endMs, settings.site.zone)}; nights are skipped.`
          : "Nothing sent yet."}
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
        <Button disabled={busy} onClick={() => act(() => changeRig({ running: !rig.running }))}>
          {rig.running ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}{" "}
          {rig.running ? "Stop the bench" : "Let it run"}
        </Button>
        <Choice
          label="Pace"
          value={String(settings.speed) as (typeof SPEEDS)[number]}
          options={SPEEDS.map((s) => [s, `${s}×`] as const)}
          onChange={(speed) => act(() => changeRig({ speed: Number(speed) }))}
        />
      </div>
    </section>
  );
}

/** Faults at a press: on until they are taken off. */
function Faults({ rig }: { rig: NonNullable<RigPage["rig"]> }) {
  const { busy, act } = useAct();
  const { faults, lanes } = rig.settings;
  const [lane, setLane] = useState(lanes[0].letter);
  const own = (kind: RigFaultKind) => (BENCH_FAULTS.has(kind) ? null : lane);
  const on = (kind: RigFaultKind) => faults.some((f) => f.kind === kind && f.lane === own(kind));
  const toggle = (kind: RigFaultKind) =>
    act(() => changeRig({ fault: { fault: { kind, lane: own(kind), share: 0.5 }, on: !on(kind) } }));
  return (
    <section aria-labelledby="faults" className="mt-4">
      <Head
        id="faults"
        title="Let something go wrong"
        side={faults.length ? `${faults.length} on` : "nothing is wrong now"}
      />
      <Choice
        label="On lane"
        value={lane}
        options={lanes.map((l) => [l.letter, l.letter] as const)}
        onChange={setLane}
      />
      <div className="grid grid-cols-2 gap-px bg-rule sm:grid-cols-4 xl:grid-cols-6" role="group" aria-label="Faults">
        {RIG_FAULTS.map((kind) => (
          <button
            key={kind}
            type="button"
            aria-pressed={on(kind)}
            disabled={busy}
            className={`min-h-14 px-2 py-1 text-left ${on(kind) ? "bg-doubt-fill" : "bg-sheet hover:bg-action-wash"}`}
            onClick={() => toggle(kind)}
          >
            <b className="block text-[14px] font-semibold">
              {FAULT_WORDS[kind][0]}
              {on(kind) ? ": on" : ""}
            </b>
            <span className="side">{FAULT_WORDS[kind][1]}</span>
          </button>
        ))}
      </div>
    </section>
  );
}
