import type { BathProblem, BathWarning } from "@/core/calibration/bath";
import type { WhatIfKind } from "@/core/uncertainty/whatIf";

const k = (v: number, digits = 2) => `${v.toFixed(digits)}\u2009K`;

/** Why a bath gives no calibration, and the way out. */
export function bathProblemWords(p: BathProblem | { kind: "gone" }): string {
  switch (p.kind) {
    case "tooFewProbes":
      return `${p.probes} usable probe${p.probes === 1 ? "" : "s"}: a bath compares at least two. Log more probes together, or take one back in.`;
    case "duplicate":
      return `Two columns are called "${p.key}". Give every probe a label of its own in the log’s header.`;
    case "tooShort":
      return `The log is too short: ${p.readings} readings, at least ${p.needed} are needed. Log the bath for half an hour.`;
    case "referenceMissing":
      return `The reference "${p.key}" is not among the usable probes. Choose another, or the mean.`;
    case "gone":
      return "This log is no longer there, or was not understood. Drop it again.";
  }
}

/** What weakens a calibration, and what to do. */
export function bathWarningWords(w: BathWarning): string {
  switch (w.kind) {
    case "twoProbes":
      return "Two probes only: each is compared with the mean of both, so neither is known to be right. Their difference is good all the same.";
    case "constant":
      return `The bath stood still (${k(w.spanK)} span): the offsets hold near ${w.atC.toFixed(0)}\u2009°C only. Warm it and let it cool to cover the range you run in.`;
    case "slopeRefused":
      return `No slope from a span of ${k(w.spanK, 1)}: it takes ${w.neededK}\u2009K, else a slope is guessed and carried far outside the bath. Offsets only.`;
    case "slopeLagMixed":
      return "Slope and lag cannot be told apart in this bath: it only cooled. Warm it up again within the log.";
    case "cooledTooFast":
      return `The bath moved ${k(w.rateKPerMin)} a minute while the probes’ lags differ by ${w.lagSpreadS.toFixed(0)}\u2009s: up to ${k(w.errorK)} of that is lag, not offset. It is taken out; a slower bath needs no taking out.`;
    case "missing":
      return `${w.key} logged nothing for ${Math.round(w.share * 100)}\u2009% of the time; what it logged counts.`;
    case "outlier":
      return `${w.key} stands ${k(w.byK, 1)} off the others and is left out of the mean. Look at its cable and type before you trust it.`;
  }
}

export const WHAT_IF_WORDS: Record<WhatIfKind, string> = {
  calibrateProbes: "calibrate the probes in one stirred bath",
  betterProbes: "buy probes twice as good",
  carryMeter: "carry one flow meter from lane to lane",
  traverseDucts: "traverse each duct once",
  slowerFlow: "run at two thirds of the flow",
  moreWindows: "four times as many windows",
  betterSun: "a sun sensor twice as good",
};
