"use client";

import { KeyRound, Play } from "lucide-react";
import Link from "next/link";
import type { DeviceRow } from "@/core/experiment/records";
import { formatNumber } from "@/core/quantity/format";
import type { DevicesPage } from "@/services/device/queries";
import { useAct } from "@/ui/useAct";
import { toast } from "@/ui/toast";
import { newToken, revoke, settleHeldFrames } from "./actions";
import { Button } from "@/ui/Button";

export interface Shown {
  name: string;
  token: string;
}

/** Beyond this a clock is worth a word, ms. */
const CLOCK_MS = 20_000;
const SHOWN_CHANNELS = 8;

/** One device: what it has sent, what is wrong with it, and what can be done. */
export const Device = ({
  device,
  run,
  experiment,
  onToken,
}: {
  device: DeviceRow;
  run: DevicesPage["running"][number] | undefined;
  experiment: number | null;
  onToken: (shown: Shown) => void;
}) => (
  <li className="grid gap-x-6 gap-y-1 border-b border-hair py-2 lg:grid-cols-[1fr_auto]">
    <About device={device} />
    <div className="flex flex-wrap items-center gap-2">
      <RunLink device={device} run={run} experiment={experiment} />
      <TokenButtons device={device} onToken={onToken} />
    </div>
  </li>
);

function About({ device }: { device: DeviceRow }) {
  const { channels, lagMs } = device;
  const clockOff = lagMs !== null && Math.abs(lagMs) > CLOCK_MS && !device.simulated;
  return (
    <div>
      <p>
        <b className="text-[15px] font-[650]">
          <bdi>{device.name}</bdi>
        </b>{" "}
        <span className="side">
          token ends in {device.tokenEnd}
          {device.revokedAt !== null ? ", revoked" : ""}
          {device.simulated ? "; simulated bench" : ""}
        </span>
      </p>
      <p className="text-[13.5px]">
        {device.frames === 0
          ? "Nothing has arrived yet."
          : `${counted(device.frames, "frame")}, newest ${stamp(device.endMs!)}; ${counted(channels.length, "channel")}: ${channels.slice(0, SHOWN_CHANNELS).join(", ")}${channels.length > SHOWN_CHANNELS ? " …" : ""}`}
      </p>
      {device.second > 0 && (
        <p className="text-doubt">
          {formatNumber(device.second, 0)} readings came again with another value. The first ones stand; these are kept
          beside them. A clock that was set back, or two loggers under one token, do so.
        </p>
      )}
      {device.held && <Held id={device.id} held={device.held} />}
      {clockOff && (
        <p className="font-semibold text-doubt">
          Its clock seems {lagMs > 0 ? "slow" : "fast"} by {Math.round(Math.abs(lagMs) / 1000)} s.
        </p>
      )}
      {device.lastFault && device.lastFaultAt !== null && (
        <p className="text-doubt">
          Left out, {stamp(device.lastFaultAt)}: {device.lastFault}
        </p>
      )}
    </div>
  );
}

/** Readings of a clock that was reset: whoever was there says when they were taken. */
function Held({ id, held }: { id: number; held: NonNullable<DeviceRow["held"]> }) {
  const { busy, act } = useAct();
  const settle = (answer: Parameters<typeof settleHeldFrames>[1], said: string) => () =>
    act(
      () => settleHeldFrames(id, answer),
      ({ settled }) => void toast(`${counted(settled, "frame")}: ${said}.`),
    );
  return (
    <div className="my-1 border-l-2 border-doubt pl-2">
      <p className="text-doubt">
        {counted(held.frames, "frame")} stamped {stamp(held.firstMs)} to {stamp(held.lastMs)}, as by a clock that lost
        its power. Kept apart, they count for nothing until you say when they were taken.
      </p>
      <p className="mt-1 flex flex-wrap gap-2">
        <Button disabled={busy} onClick={settle("arrived", "taken just before they came")}>
          Just before they came, {stamp(held.firstArrivedMs)} to {stamp(held.lastArrivedMs)}
        </Button>
        <Button disabled={busy} onClick={settle("stamped", "taken as they are stamped")}>
          As they are stamped
        </Button>
        <Button kind="plain" disabled={busy} onClick={settle("left out", "left apart, and counting for nothing")}>
          Nobody knows
        </Button>
      </p>
    </div>
  );
}

function RunLink({
  device,
  run,
  experiment,
}: {
  device: DeviceRow;
  run: DevicesPage["running"][number] | undefined;
  experiment: number | null;
}) {
  if (run)
    return (
      <Link className="btn" href={`/experiments/${run.experimentId}/run`}>
        In run {run.run} of {run.experiment}
      </Link>
    );
  if (device.frames === 0) return null;
  return (
    <Link className="btn btn-main" href={`/import?device=${device.id}${experiment ? `&experiment=${experiment}` : ""}`}>
      <Play size={14} aria-hidden /> Start a run with it
    </Link>
  );
}

function TokenButtons({ device, onToken }: { device: DeviceRow; onToken: (shown: Shown) => void }) {
  const { busy, act, undoable } = useAct();
  const { id, name } = device;
  const revoked = device.revokedAt !== null;
  return (
    <>
      <Button
        kind="plain"
        disabled={busy}
        onClick={() =>
          act(
            () => newToken(id),
            ({ token }) => onToken({ name, token }),
          )
        }
      >
        <KeyRound size={14} aria-hidden /> New token
      </Button>
      <Button
        kind="plain"
        disabled={busy}
        onClick={() =>
          revoked
            ? act(() => revoke(id, false))
            : undoable(
                () => revoke(id, true),
                () => revoke(id, false),
                `${name} may send no more. What it sent is kept.`,
              )
        }
      >
        {revoked ? "Let it send again" : "Revoke"}
      </Button>
    </>
  );
}

const counted = (n: number, one: string): string => `${formatNumber(n, 0)} ${one}${n === 1 ? "" : "s"}`;
const stamp = (ms: number): string => `${new Date(ms).toISOString().slice(0, 16).replace("T", " ")} UTC`;
