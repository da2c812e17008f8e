import type { Knex } from "knex";
import { LISTED, reportProblem, type FrameProblem, type ReadMessage } from "../../core/ingest/frame";
import { nameTwice, shapeFault } from "../../core/ingest/jsonKeys";
import { readJsonFrames } from "../../core/ingest/jsonFrames";
import { PRECISIONS, readLineProtocol, type LinePrecision } from "../../core/ingest/lineProtocol";
import { looksReset } from "../../core/ingest/resetClock";
import { noteContact, type KnownDevice } from "../../data/device/devices";
import { holdFrames, type HeldFrame } from "../../data/reading/held";
import { appendFrames, type TimedFrame } from "../../data/reading/tail";

export interface IngestAnswer {
  /** Frames kept, with those that were there already. */
  accepted: number;
  repeated: number;
  /** Readings that differ from one that is there for the same instant and channel: the first stands, these are kept beside it. */
  second: number;
  /** Of those accepted, kept apart until somebody says when they were taken: their time looks like that of a clock that was reset. */
  held: number;
  /** What was left out, the first fifty; good lines beside them are kept. */
  rejected: FrameProblem[];
  rejectedCount: number;
  /** The server's clock, ms: a device may set its own by it. */
  time: number;
}

export type Ingested = { status: number; answer: IngestAnswer | { error: string }; waitMs?: number };
/** @property tail frames that wait to be packed, where some were kept */
export type Taken = Ingested & { tail: number | null };

/** What a device sent, whoever it is. */
export interface Message {
  contentType: string;
  precision: string | null;
  body: string;
}

/** Largest body of one message, bytes, unpacked. */
export const LARGEST_MESSAGE = 8 * 1024 * 1024;
/** A device's contact is written down at most so often, ms. */
const CONTACT_EVERY = 5000;
/** A clock is off by the same while what it is off by changes by no more than this, ms, or a twentieth of it. */
const SAME_LAG_MS = 20_000;

const MISSHAPEN = {
  nested: "The body is nested more than 64 deep; frames are not.",
  wide: "An object of the body has more than 4096 names; a frame has a few channels.",
};

export const refusal = (status: number, error: string, waitMs?: number): Ingested => ({
  status,
  answer: { error },
  waitMs,
});

/** Reads a message and keeps what it holds. */
export async function takeMessage(knex: Knex, device: KnownDevice, sent: Message, nowMs: number): Promise<Taken> {
  const message = readMessage(sent, { nowMs, simulated: device.simulated });
  if (!("status" in message)) return keep(knex, device, message, nowMs);
  // Whoever looks at Devices must see that this one talks in vain.
  const fault = "error" in message.answer ? message.answer.error : null;
  await noteContact(knex, device.id, { seenAt: nowMs, fault }).catch(() => undefined);
  return { ...message, tail: null };
}

function readMessage(sent: Message, bounds: { nowMs: number; simulated: boolean }): ReadMessage | Ingested {
  const { contentType, body, precision } = sent;
  if (body.length > LARGEST_MESSAGE) return refusal(413, "A message holds at most 8 MB. Send it in parts.");
  if (/^application\/json\b/i.test(contentType)) {
    const shape = shapeFault(body);
    if (shape) return refusal(400, `${MISSHAPEN[shape]} Compare it with the programs under Devices.`);
    let parsed: unknown;
    try {
      parsed = JSON.parse(body);
    } catch {
      // The program's own words differ from one version to the next; what loggers really send is named instead.
      const odd = /\b(?:NaN|Infinity|None|nan|inf)\b/.exec(body)?.[0];
      return refusal(
        400,
        odd
          ? `The body is not JSON: it holds ${odd}. Leave that reading out, or send null.`
          : "The body is not JSON. Compare it with the programs under Devices.",
      );
    }
    const twice = nameTwice(body);
    if (twice !== null)
      return refusal(400, `“${twice.slice(0, 80)}” stands twice in one object: which of the two counts, nobody said.`);
    return readJsonFrames(parsed, bounds);
  }
  if (/^text\/plain\b/i.test(contentType)) {
    if (precision !== null && !(precision in PRECISIONS))
      return refusal(400, "precision is ns, us, ms or s; without it times count in nanoseconds.");
    return readLineProtocol(body, (precision ?? "ns") as LinePrecision, bounds);
  }
  return refusal(415, "Say what you send: Content-Type: application/json, or text/plain for line protocol.");
}

async function keep(knex: Knex, device: KnownDevice, message: ReadMessage, nowMs: number): Promise<Taken> {
  const { frames, problems } = message;
  const all = atArrival(frames, nowMs);
  const isHeld = ({ atMs }: TimedFrame) => !device.simulated && looksReset(atMs, nowMs);
  const [held, timed] = [all.filter(isHeld), all.filter((f) => !isHeld(f))];
  if (held.length) await holdFrames(knex, device.streamId, byArrival(held, nowMs));
  const kept = timed.length ? await appendFrames(knex, device.streamId, timed, nowMs) : null;
  const refused = new Set(kept?.noRoom);
  if (refused.size)
    for (const { line, frame } of frames) {
      const at = frame.values.find(([name]) => refused.has(name))?.[0];
      if (at !== undefined)
        reportProblem(message, () => ({
          line,
          at,
          why: "the device has 64 channels already; this one was left out",
        }));
    }
  const newest = timed.reduce((latest, f) => Math.max(latest, f.atMs), -Infinity);
  if (nowMs - (device.seenAt ?? 0) > CONTACT_EVERY || problems.length)
    await noteContact(knex, device.id, {
      seenAt: nowMs,
      ...(timed.length ? { heardAt: nowMs, lag: lagOf(device, nowMs - newest, nowMs) } : {}),
      fault:
        problems[0] && `line ${problems[0].line}: ${problems[0].at ? `${problems[0].at}: ` : ""}${problems[0].why}`,
    });
  return {
    status: frames.length || !problems.length ? 200 : 422,
    answer: {
      accepted: frames.length,
      repeated: kept?.repeated ?? 0,
      second: kept?.second ?? 0,
      held: held.length,
      rejected: problems.slice(0, LISTED),
      rejectedCount: message.problemCount,
      time: nowMs,
    },
    tail: kept?.tail ?? null,
  };
}

/** Frames of a device without a clock came when their message did, one after the other: the last of them at that very instant. */
function atArrival(frames: ReadMessage["frames"], nowMs: number): TimedFrame[] {
  let left = frames.filter(({ frame }) => frame.atMs === null).length;
  return frames.map(({ frame: { atMs, values } }) => ({ atMs: atMs ?? nowMs - --left, values }));
}

/** Frames of a clock that was reset, with when they were taken if the last of them was taken as the message came. */
function byArrival(held: readonly TimedFrame[], nowMs: number): HeldFrame[] {
  const last = Math.max(...held.map((f) => f.atMs));
  return held.map((f) => ({ ...f, arrivedMs: nowMs - (last - f.atMs) }));
}

/** What readings kept back are late by shrinks as they come; what a wrong clock is off by stays. */
function lagOf({ lagMs, lagSinceMs }: KnownDevice, ms: number, nowMs: number): { ms: number; sinceMs: number } {
  const same = lagMs !== null && Math.abs(ms - lagMs) < Math.max(SAME_LAG_MS, Math.abs(lagMs) / 20);
  return { ms, sinceMs: same ? (lagSinceMs ?? nowMs) : nowMs };
}
