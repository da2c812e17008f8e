"use client";

import { CHANNEL_KINDS } from "@/core/log/channel";
import { QUANTITIES, type Unit } from "@/core/quantity/quantities";
import type { RunView } from "@/services/page/views";
import { useAct } from "@/ui/useAct";
import { changeUnit } from "./live/actions";

/** The unit a device sends a channel in: live readings are kept as sent, so that a unit said wrongly is mended for all of them. */
export function LiveUnit({
  of,
  channel,
  onChanged,
}: {
  /** Experiment, run and stream. */
  of: [number, number, number];
  channel: RunView["streams"][number]["channels"][number];
  onChanged: () => void;
}) {
  const { busy, act } = useAct();
  if (channel.factor) return <span className="side"> by a factor of its own</span>;
  const units = QUANTITIES[CHANNEL_KINDS[channel.kind!].quantity].units as readonly Unit[];
  return (
    <select
      className="field ml-2 inline-block w-auto"
      aria-label={`Unit of ${channel.name}`}
      value={channel.unit ?? ""}
      disabled={busy}
      onChange={(e) => act(() => changeUnit(...of, channel.channelNo, e.target.value), onChanged)}
    >
      {channel.unit === null && <option value="">unit?</option>}
      {units.map((u) => (
        <option key={u.symbol}>{u.symbol}</option>
      ))}
    </select>
  );
}
