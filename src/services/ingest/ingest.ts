import type { Knex } from "knex";
import { LISTED, type FrameProblem, type ReadMessage } from "../../core/ingest/frame";
import { nameTwice } from "../../core/ingest/jsonKeys";
import { readJsonFrames } from "../../core/ingest/jsonFrames";
import { PRECISIONS, readLineProtocol, type LinePrecision } from "../../core/ingest/lineProtocol";
import { deviceByToken, noteContact, type KnownDevice } from "../../data/device/devices";
import { compactStream, FULL_TAIL } from "../../data/reading/compact";
import { appendFrames, type TimedFrame } from "../../data/reading/tail";
import { failureWords } from "../web/failure";
import { noteBenchesOf } from "../live/watchman";
import { log } from "../web/log";
import { Buckets } from "./rate";

export interface IngestAnswer {
  /** Frames kept, with those that were there already. */
  accepted: number;
  repeated: number;
  /** Readings that differ from one that is there for the same instant and channel: the first stands, these are kept beside it. */
  second: number;
  /** What was left out, the first fifty; good lines beside them are kept. */
  rejected: FrameProblem[];
  rejectedCount: number;
  /** The server's clock, ms: a device may set its own by it. */
  time: number;
}

export interface IngestRequest {
  /** The whole Authorization header. */
  authorization: string | null;
  contentType: string;
  precision: string | null;
  body: string;
  /** Who asks, for the lock-out after wrong tokens. */
  from: string;
}

export type Ingested = { status: number; answer: IngestAnswer | { error: string }; waitMs?: number };

/** Largest body of one message, bytes, unpacked. */
export const LARGEST_MESSAGE = 8 * 1024 * 1024;
/** A device's requests: well above what one second of readings needs one by one, far below what would stop the others. */
const REQUESTS = { perSecond: 500, burst: 2000 };
/** Wrong tokens from one address. */
const WRONG = { perSecond: 0.2, burst: 20 };
/** A device's contact is written down at most so often, ms. */
const CONTACT_EVERY = 5000;
/** A clock is off by the same while what it is off by changes by no more than this, ms, or a twentieth of it. */
const SAME_LAG_MS = 20_000;

interface Limits {
  requests: Buckets;
  wrong: Buckets;
  compacting: Set<number>;
}
// Losing these on a restart lets a few more requests through, nothing else.
const limits = ((globalThis as { bravelIngest?: Limits }).bravelIngest ??= {
  requests: new Buckets(REQUESTS.perSecond, REQUESTS.burst),
  wrong: new Buckets(WRONG.perSecond, WRONG.burst),
  compacting: new Set(),
});

const refusal = (status: number, error: string, waitMs?: number): Ingested => ({ status, answer: { error }, waitMs });

/** Takes a device's message: who it is, what it says, and an answer once that is on disk. */
export async function ingest(knex: Knex, request: IngestRequest, nowMs: number): Promise<Ingested> {
  const found = await whoSends(knex, request, nowMs);
  if ("status" in found) return found;
  const message = readMessage(request, { nowMs, simulated: found.simulated });
  if ("status" in message) {
    // Whoever looks at Devices must see that this one talks in vain.
    const fault = "error" in message.answer ? message.answer.error : null;
    await noteContact(knex, found.id, { seenAt: nowMs, fault }).catch(() => undefined);
    return message;
  }
  try {
    return await keep(knex, found, message, nowMs);
  } catch (error) {
    log.error({ err: error, device: found.id }, "readings could not be kept");
    return refusal(
      503,
      failureWords(error, "The readings were not kept.") + " Send them again: nothing is taken twice.",
      5000,
    );
  }
}

async function whoSends(
  knex: Knex,
  { authorization, from }: IngestRequest,
  nowMs: number,
): Promise<KnownDevice | Ingested> {
  const token = /^Bearer\s+(\S+)$/i.exec(authorization ?? "")?.[1];
  const device = token ? await deviceByToken(knex, token) : undefined;
  if (!device || device.revokedAt !== null) {
    const wait = limits.wrong.take(from, nowMs);
    if (wait) return refusal(429, "Too many requests without a valid token. Check the device's token, and wait.", wait);
    if (!token) return refusal(401, "Send the device's token: Authorization: Bearer bravel_… (Devices shows it once).");
    return refusal(
      401,
      device
        ? `The token of “${device.name}” was revoked. Give the device a new one under Devices.`
        : "This token belongs to no device. Copy it again, or make a new one under Devices.",
    );
  }
  const wait = limits.requests.take(String(device.id), nowMs);
  return wait ? refusal(429, "This device sends more than 500 messages a second. Put frames together.", wait) : device;
}

function readMessage(request: IngestRequest, bounds: { nowMs: number; simulated: boolean }): ReadMessage | Ingested {
  const { contentType, body, precision } = request;
  if (body.length > LARGEST_MESSAGE) return refusal(413, "A message holds at most 8 MB. Send it in parts.");
  if (/^application\/json\b/i.test(contentType)) {
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

async function keep(knex: Knex, device: KnownDevice, message: ReadMessage, nowMs: number): Promise<Ingested> {
  const { frames, problems } = message;
  const timed = atArrival(frames, nowMs);
  const kept = timed.length ? await appendFrames(knex, device.streamId, timed, nowMs) : null;
  const refused = new Set(kept?.noRoom);
  if (refused.size)
    for (const { line, frame } of frames) {
      const at = frame.values.find(([name]) => refused.has(name))?.[0];
      if (at !== undefined)
        problems.push({ line, at, why: "the device has 64 channels already; this one was left out" });
    }
  const newest = timed.reduce((latest, f) => Math.max(latest, f.atMs), -Infinity);
  if (nowMs - (device.seenAt ?? 0) > CONTACT_EVERY || problems.length)
    await noteContact(knex, device.id, {
      seenAt: nowMs,
      ...(timed.length ? { heardAt: nowMs, lag: lagOf(device, nowMs - newest, nowMs) } : {}),
      fault:
        problems[0] && `line ${problems[0].line}: ${problems[0].at ? `${problems[0].at}: ` : ""}${problems[0].why}`,
    });
  if (kept && kept.tail >= FULL_TAIL) compactSoon(knex, device.streamId);
  if (kept)
    noteBenchesOf(knex, device.streamId, nowMs).catch((error: unknown) =>
      log.warn({ err: error, stream: device.streamId }, "what is wrong at a bench could not be written down"),
    );
  return {
    status: frames.length || !problems.length ? 200 : 422,
    answer: {
      accepted: frames.length,
      repeated: kept?.repeated ?? 0,
      second: kept?.second ?? 0,
      rejected: problems.slice(0, LISTED),
      rejectedCount: problems.length,
      time: nowMs,
    },
  };
}

/** Frames of a device without a clock came when their message did, one after the other: the last of them at that very instant. */
function atArrival(frames: ReadMessage["frames"], nowMs: number): TimedFrame[] {
  let left = frames.filter(({ frame }) => frame.atMs === null).length;
  return frames.map(({ frame: { atMs, values } }) => ({ atMs: atMs ?? nowMs - --left, values }));
}

/** What readings kept back are late by shrinks as they come; what a wrong clock is off by stays. */
function lagOf({ lagMs, lagSinceMs }: KnownDevice, ms: number, nowMs: number): { ms: number; sinceMs: number } {
  const same = lagMs !== null && Math.abs(ms - lagMs) < Math.max(SAME_LAG_MS, Math.abs(lagMs) / 20);
  return { ms, sinceMs: same ? (lagSinceMs ?? nowMs) : nowMs };
}

/** Beside the answer, one at a time for a stream: a device need not wait for it. */
function compactSoon(knex: Knex, streamId: number): void {
  if (limits.compacting.has(streamId)) return;
  limits.compacting.add(streamId);
  compactStream(knex, streamId)
    .catch((error: unknown) => log.error({ err: error, stream: streamId }, "a tail could not be compacted"))
    .finally(() => limits.compacting.delete(streamId));
}
