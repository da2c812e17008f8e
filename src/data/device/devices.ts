import { createHash, randomBytes } from "node:crypto";
import type { Knex } from "knex";
import type { DeviceKind, DeviceRow } from "../../core/experiment/records";
import { heldByStream } from "../reading/held";
import { secondReadings } from "../reading/tail";
import { transact } from "../transact";

export const hashToken = (token: string): string => createHash("sha256").update(token).digest("hex");

const freshToken = (): string => `bravel_${randomBytes(24).toString("base64url")}`;

/** A device with its stream and its token, which is never to be seen again. */
export async function insertDevice(
  knex: Knex,
  input: { name: string; kind: DeviceKind; simulated?: boolean; token?: string },
): Promise<{ id: number; streamId: number; token: string }> {
  const token = input.token ?? freshToken();
  return transact(knex, async (trx) => {
    const now = Date.now();
    const [id] = await trx("device").insert({
      name: input.name,
      kind: input.kind,
      simulated: input.simulated ?? false,
      token_sha256: hashToken(token),
      token_end: token.slice(-4),
      created_at: now,
    });
    const [streamId] = await trx("stream").insert({
      device_id: id,
      name: input.name,
      frames: 0,
      t_start: 0,
      t_end: 0,
      settings: "{}",
      summary: "{}",
      created_at: now,
    });
    return { id, streamId, token };
  });
}

/** The same device under a new token; the old one is worth nothing from now on. */
export async function renewToken(knex: Knex, id: number): Promise<string | null> {
  const token = freshToken();
  const changed = await knex("device")
    .where({ id })
    .update({ token_sha256: hashToken(token), token_end: token.slice(-4), revoked_at: null });
  return changed ? token : null;
}

export const revokeDevice = async (knex: Knex, id: number, revoked: boolean): Promise<boolean> =>
  (await knex("device")
    .where({ id })
    .update({ revoked_at: revoked ? Date.now() : null })) > 0;

export interface KnownDevice {
  id: number;
  name: string;
  simulated: boolean;
  revokedAt: number | null;
  seenAt: number | null;
  lagMs: number | null;
  lagSinceMs: number | null;
  streamId: number;
}

/** Whose token this is. */
export async function deviceByToken(knex: Knex, token: string): Promise<KnownDevice | undefined> {
  const row = await knex("device as d")
    .join("stream as s", "s.device_id", "d.id")
    .where("d.token_sha256", hashToken(token))
    .first({
      id: "d.id",
      name: "d.name",
      simulated: "d.simulated",
      revokedAt: "d.revoked_at",
      seenAt: "d.seen_at",
      lagMs: "d.lag_ms",
      lagSinceMs: "d.lag_since",
      streamId: "s.id",
    });
  return row && { ...row, simulated: Boolean(row.simulated) };
}

export interface Contact {
  seenAt: number;
  /** When readings of it were last taken; left out: none were. */
  heardAt?: number;
  /** Arrival less the newest frame's time, and since when it has been about that; left out: nothing is known anew. */
  lag?: { ms: number; sinceMs: number };
  fault?: string | null;
}

/** Notes that a device was heard of. */
export async function noteContact(knex: Knex, id: number, { seenAt, heardAt, lag, fault }: Contact): Promise<void> {
  await knex("device")
    .where({ id })
    .update({
      seen_at: seenAt,
      ...(heardAt === undefined ? {} : { heard_at: heardAt }),
      ...(lag === undefined ? {} : { lag_ms: lag.ms, lag_since: lag.sinceMs }),
      ...(fault ? { last_fault: fault.slice(0, 300), last_fault_at: seenAt } : {}),
    });
}

/** All devices, newest first, with what their streams hold. */
export async function listDevices(knex: Knex): Promise<DeviceRow[]> {
  const rows = await knex("device as d").join("stream as s", "s.device_id", "d.id").orderBy("d.id", "desc").select({
    id: "d.id",
    name: "d.name",
    kind: "d.kind",
    simulated: "d.simulated",
    tokenEnd: "d.token_end",
    createdAt: "d.created_at",
    revokedAt: "d.revoked_at",
    seenAt: "d.seen_at",
    heardAt: "d.heard_at",
    lagMs: "d.lag_ms",
    lagSinceMs: "d.lag_since",
    lastFault: "d.last_fault",
    lastFaultAt: "d.last_fault_at",
    streamId: "s.id",
    frames: "s.frames",
    startMs: "s.t_start",
    endMs: "s.t_end",
  });
  const channels = await knex("channel")
    .whereIn(
      "stream_id",
      rows.map((r: { streamId: number }) => r.streamId),
    )
    .orderBy(["stream_id", "channel_no"])
    .select("stream_id", "name");
  const second = await secondReadings(
    knex,
    rows.map((r: { streamId: number }) => r.streamId),
  );
  const held = await heldByStream(
    knex,
    rows.map((r: { streamId: number }) => r.streamId),
  );
  return rows.map((r: DeviceRow) => ({
    ...r,
    held: held.get(r.streamId) ?? null,
    second: second.get(r.streamId) ?? 0,
    simulated: Boolean(r.simulated),
    startMs: r.frames ? r.startMs : null,
    endMs: r.frames ? r.endMs : null,
    channels: channels
      .filter((c: { stream_id: number }) => c.stream_id === r.streamId)
      .map((c: { name: string }) => c.name),
  }));
}
