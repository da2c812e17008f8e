import type { Knex } from "knex";
import { deviceByToken, type KnownDevice } from "../../data/device/devices";
import { compactStream, FULL_TAIL } from "../../data/reading/compact";
import { heavy } from "../heavy/heavy";
import { failureWords } from "../web/failure";
import { noteBenchesOf } from "../live/watchman";
import { log } from "../web/log";
import { Buckets } from "./rate";
import { refusal, takeMessage, type Ingested, type Message } from "./take";

export interface IngestRequest extends Message {
  /** The whole Authorization header. */
  authorization: string | null;
  /** Who asks, for the lock-out after wrong tokens. */
  from: string;
}

/** A message up to this length is read where it arrived: sooner done than handed on. */
const DIRECT = 64 * 1024;
/** A device's requests: well above what one second of readings needs one by one, far below what would stop the others. */
const REQUESTS = { perSecond: 500, burst: 2000 };
/** Wrong tokens from one address. */
const WRONG = { perSecond: 0.2, burst: 20 };
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

/** Takes a message from whoever has the token it came with. */
export async function ingest(knex: Knex, request: IngestRequest, nowMs: number): Promise<Ingested> {
  const found = await whoSends(knex, request, nowMs);
  return "status" in found ? found : takeFrom(knex, found, request, nowMs);
}

/** Takes a device's message: what it says, and an answer once that is on disk. */
export async function takeFrom(
  knex: Knex,
  device: KnownDevice,
  { contentType, precision, body }: Message,
  nowMs: number,
): Promise<Ingested> {
  try {
    // A large message is read and kept off the thread that answers everybody else.
    const take = body.length > DIRECT ? heavy(knex).takeMessage : takeMessage.bind(null, knex);
    const { tail, ...taken } = await take(device, { contentType, precision, body }, nowMs);
    if (tail !== null) afterwards(knex, device.streamId, tail, nowMs);
    return taken;
  } catch (error) {
    log.error({ err: error, device: device.id }, "readings could not be kept");
    return refusal(
      503,
      failureWords(error, "The readings were not kept.") + " Send them again: nothing is taken twice.",
      5000,
    );
  }
}

/** Whose token it is, or why nothing is taken. */
export async function whoSends(
  knex: Knex,
  { authorization, from }: Pick<IngestRequest, "authorization" | "from">,
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

/** What follows from new readings, beside the answer: the device need not wait for it. */
function afterwards(knex: Knex, streamId: number, tail: number, nowMs: number): void {
  if (tail >= FULL_TAIL) compactSoon(knex, streamId);
  noteBenchesOf(knex, streamId, nowMs).catch((error: unknown) =>
    log.warn({ err: error, stream: streamId }, "what is wrong at a bench could not be written down"),
  );
}

/** Beside the answer, one at a time for a stream: a device need not wait for it. */
function compactSoon(knex: Knex, streamId: number): void {
  if (limits.compacting.has(streamId)) return;
  limits.compacting.add(streamId);
  compactStream(knex, streamId)
    .catch((error: unknown) => log.error({ err: error, stream: streamId }, "a tail could not be compacted"))
    .finally(() => limits.compacting.delete(streamId));
}
