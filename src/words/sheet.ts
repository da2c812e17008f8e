import { formatNumber } from "@/core/quantity/format";

/** The sheet for tests read by hand. */
export const SHEET = {
  title: "Read by hand",
  empty: "An afternoon with two thermometers: type what you read, and each row becomes heat with its ±.",
  how: "Go from box to box and back (A B, B A): three rounds compare them. Wait until the reading stands still; keep sun off the probe.",
  safe: "Hot air and metal burn; do not look into a mirror’s light.",
  file: (date: string) => `sheet-${date}.csv`,
  needed: "missing",
  noTime: (text: string) => `“${text}” is no time of day; write 13:05.`,
  whichHalf: (text: string) => `“${text}” is in the night: write ${text} pm, or ${text} am.`,
  skipped: "Clocks skipped this hour on that day.",
  noLane: (lane: string, lanes: readonly string[]) =>
    lane ? `“${lane}” is none of ${lanes.join(", ")}.` : `one of ${lanes.join(", ")}`,
  impossible: (text: string) => `“${text}” is beyond what the instrument can show.`,
  sayDegrees: "Say whether temperatures were read in °C or °F.",
  sayFlow: "Say how the flow is known.",
  sayFlowUnit: "Say in which unit the flow was read.",
  sayThermometers: "Say how many thermometers there were: one that is carried is off by the same at every box.",
  sayMeter: "Say whether one flow meter was carried from box to box.",
  noRows: "Type or paste at least one row.",
  badRows: (n: number) => `${n === 1 ? "One row cannot" : `${n} rows cannot`} be read yet: see its marked cell.`,
  oneRound: (rounds: number, fewest: number) =>
    rounds === 0
      ? "Read another box within twenty minutes to compare them."
      : `${rounds} round${rounds > 1 ? "s" : ""} so far; ${fewest} compare the boxes.`,
  thumb: (constant: number, share: number) =>
    `1.08 × CFM × °F would say ${formatNumber(Math.abs(100 * share), 0)}\u2009% ${share > 0 ? "more" : "less"}: here the constant is ${formatNumber(constant, 2)}, because the air is ${share > 0 ? "thinner" : "denser"}.`,
  hotter: (hot: string, gives: string) =>
    `${hot} is hotter at its outlet, yet ${gives} gives more heat: less flow makes hotter air.`,
  alone: (n: number) =>
    `${n} row${n > 1 ? "s" : ""} without another box read within twenty minutes: shown, not compared.`,
} as const;

export const SHEET_FLOW_WORDS = {
  speed: "a speed, read each time",
  volume: "a flow, read each time",
  constant: "one figure: rating, bag or bucket",
} as const;
