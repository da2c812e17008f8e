import type { UnitSystem } from "@/core/quantity/quantities";
import type { EventKind } from "../core/log/eventKind";
import type { HeldBack, Signal } from "../core/live/steadyNow";
import { quantityText } from "../core/quantity/format";

/** Names of what a person marks, as on its button. */
export const EVENT_WORDS: Record<EventKind, string> = {
  cloud: "Cloud",
  door: "Door",
  swap: "Swap",
  probeMoved: "Probe moved",
  fanChanged: "Fan changed",
  coverCleaned: "Cover cleaned",
  snow: "Snow, dew",
  mirror: "Mirror turned",
  filled: "Ice or water filled",
  stillBegin: "Stagnation begins",
  stillEnd: "Stagnation ends",
  note: "Note, photo",
  spot: "Spot reading",
};

/** A figure that may have got lost on the way: JSON has no NaN. */
const known = (v: number | null): v is number => v !== null && Number.isFinite(v);

const SIGNAL_WORDS: Record<Signal, string> = {
  irradiance: "sun",
  ambient: "outside temperature",
  inlet: "inlet",
  outlet: "outlet",
  flow: "flow",
};

/** What keeps a lane from being steady, short enough for its column. */
export function heldBackWords(held: HeldBack, system: UnitSystem): string {
  if (held.name === "missing")
    return held.what.length
      ? `no reading of ${lettersOf(held.what.map((s) => SIGNAL_WORDS[s]))}`
      : "no earlier readings";
  const { name, worst, limit } = held;
  const against = (q: Parameters<typeof quantityText>[1]) =>
    known(worst) && known(limit)
      ? `: ± ${quantityText(worst, q, { system })}, wanted ± ${quantityText(limit, q, { system })}`
      : "";
  switch (name) {
    case "irradiance":
      return known(worst)
        ? `sun too weak: ${quantityText(worst, "irradiance", { system })}, wanted ${quantityText(limit, "irradiance", { system })}`
        : "sun too weak";
    case "irradianceBand":
      return `sun changes${against("irradiance")}`;
    case "ambient":
      return `outside air changes${against("temperatureDifference")}`;
    case "modifier":
      return "sun too far off the normal";
    case "inlet":
      return `inlet changes${against("temperatureDifference")}`;
    case "outlet":
      return `outlet still moves${against("temperatureDifference")}`;
    case "flow":
      return known(worst)
        ? `flow changes: ± ${Math.round(100 * worst)} %, wanted ± ${Math.round(100 * limit)} %`
        : "flow changes";
    case "stopped":
      return "no flow";
  }
}

/** Minutes and seconds as a countdown: `3:40`. */
export function countdown(ms: number): string {
  const s = Math.max(0, Math.round(ms / 1000));
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;
}

/** Letters in a row: `A, B and C`. */
export function lettersOf(letters: readonly string[]): string {
  if (letters.length < 2) return letters.join("");
  return `${letters.slice(0, -1).join(", ")} and ${letters.at(-1)}`;
}

interface LaneState {
  letter: string;
  steady: { forMs: number; neededMs: number; heldBack: HeldBack | null } | null;
}

/** The live bench in one sentence: what runs, who is steady, what holds back the rest. @returns the part in doubt apart */
export function liveSentence(
  state: "waiting" | "running" | "paused" | "ended",
  number: number,
  lanes: readonly LaneState[],
): { known: string; doubt: string } {
  if (state === "waiting") return { known: `Run ${number} waits for its first readings.`, doubt: "" };
  if (state === "paused")
    return { known: `Run ${number} is paused; readings are kept and count for nothing.`, doubt: "" };
  if (state === "ended") return { known: `Run ${number} has ended.`, doubt: "" };
  if (lanes.every((l) => l.steady === null))
    return { known: `Run ${number} is running, without a sun sensor: hours count, not windows.`, doubt: "" };
  const steady = lanes.filter((l) => l.steady && !l.steady.heldBack).map((l) => l.letter);
  const settling = lanes.filter((l) => l.steady?.heldBack && l.steady.forMs > 0).map((l) => l.letter);
  const open = lanes.filter((l) => l.steady?.heldBack && l.steady.forMs === 0).map((l) => l.letter);
  if (steady.length === lanes.length)
    return { known: `Run ${number} is running; ${lanes.length === 1 ? steady[0] : "all lanes"} steady.`, doubt: "" };
  const parts = [
    ...(steady.length ? [`${lettersOf(steady)} steady`] : []),
    ...(settling.length ? [`${lettersOf(settling)} settling`] : []),
  ];
  return {
    known: `Run ${number} is running${parts.length ? `: ${parts.join(", ")}` : ""}${open.length ? ";" : "."}`,
    doubt: open.length ? `${lettersOf(open)} not steady.` : "",
  };
}
