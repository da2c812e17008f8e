import { quantityText, formatNumber } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import type { Source, SourceKind } from "@/core/uncertainty/uncertain";
import type { Remedy } from "@/core/judge/verdict";
import type { FitFailure } from "@/core/analysis/curve";
import type { CleanReason } from "@/core/log/clean";
import type { LimitName } from "@/core/log/windows";
import type { ImportProblem, ImportSummary } from "@/core/log/readLog";
import type { ParsedQuantity, QuantityProblem } from "@/core/quantity/parseQuantity";

/** The one place where results become English. Core gives data; these give sentences. */

/** `1 in 200`, `1 in 3`; below one in a thousand `less than 1 in 1 000`. */
export function chanceWords(p: number): string {
  if (p < 0.001) return "less than 1 in 1\u2009000";
  if (p > 0.4) return "about even";
  return `1 in ${formatNumber(Number((1 / p).toPrecision(2)), 0)}`;
}

export const percent = (share: number): string => `${Math.round(share * 100)}\u2009%`;

/** A chance counted in draws is never quite nothing or quite certain. */
export const chancePercent = (p: number): string =>
  p < 0.01 ? "<\u20091\u2009%" : p > 0.99 ? ">\u200999\u2009%" : percent(p);

export const LIMIT_WORDS: Record<LimitName | "missing", string> = {
  irradiance: "too little sun",
  irradianceBand: "sun changed too much",
  ambient: "outside temperature moved",
  modifier: "sun too far off the normal",
  inlet: "inlet temperature moved",
  flow: "flow changed",
  missing: "readings missing or set aside",
};

const CLEAN_WORDS: Record<CleanReason, string> = {
  missing: "missing",
  errorCode: "probe error code",
  outOfRange: "physically impossible",
  stuck: "stuck at one value",
  spike: "lone spike",
  excluded: "set aside by you",
};
export const cleanWords = (reason: CleanReason): string => CLEAN_WORDS[reason];

/** The thing whose error a source is, as people call it. */
function sourceName(source: Source): string {
  if ("probe" in source) return source.probe;
  if ("meter" in source) return source.meter;
  return source.owner;
}

/** What a kind of source is, and of what by name. */
function sourceWords(kind: SourceKind, name: string): { label: string; detail: string } {
  switch (kind) {
    case "probe":
      return { label: `Temperature probe ${name}`, detail: "stated limit and display step" };
    case "ambient":
      return { label: "Outside probe, shared", detail: "stated limit; cancels in differences" };
    case "speedMeter":
      return { label: `Speed meter ${name}`, detail: "stated limit of reading" };
    case "volumeMeter":
      return { label: `Flow meter ${name}`, detail: "stated limit of reading" };
    case "massMeter":
      return { label: `Mass flow, ${name}`, detail: "stated limit" };
    case "profile":
      return { label: `Profile factor, duct ${name}`, detail: "one point instead of a traverse" };
    case "ductArea":
      return { label: `Duct size ${name}`, detail: "as measured" };
    case "sunSensor":
      return { label: "Sun sensor, shared", detail: "stated limit; all lanes alike" };
    case "pressure":
      return { label: "Air pressure, shared", detail: "from altitude or barometer" };
    case "humidity":
      return { label: "Humidity, shared", detail: "enters the air's density" };
    case "specificHeat":
      return { label: "Specific heat, shared", detail: "fluid tables" };
    case "area":
      return { label: `Area of lane ${name}`, detail: "as measured" };
    case "curveFit":
      return { label: `Curve fit of ${name}`, detail: "scatter of its windows" };
    case "dayScatter":
      return { label: "Scatter of windows", detail: "window to window, day to day" };
    case "station":
      return { label: `Place ${name} on the bench`, detail: "draught, view, shade" };
    case "repeatability":
      return { label: "Bench repeatability", detail: "from the identical pair" };
    case "incidence":
      return { label: `Incidence modifier of ${name}`, detail: "b₀ assumed" };
    case "probeNoise":
      return { label: "Noise of probes", detail: "within the window" };
    case "speedNoise":
      return { label: "Noise of flow", detail: "within the window" };
    case "sunNoise":
      return { label: "Change of sun", detail: "within the window" };
    case "otherNoise":
      return { label: "Other noise", detail: "" };
    case "drift":
      return { label: `Drift of probe ${name}`, detail: "between two calibrations" };
    case "reference":
      return { label: "Bath’s reference, shared", detail: "one for all probes of the bath; cancels in a rise" };
    case "transmittance":
      return { label: "Light through the covers", detail: "model, 1.2 %" };
    case "absorptance":
      return { label: "Absorptance of the surface", detail: "model, 0.012" };
    case "emittance":
      return { label: "Emittance of the surface", detail: "model, 0.025" };
    case "gapConvection":
      return { label: "Still air between the layers", detail: "model, 10 %" };
    case "streamTransfer":
      return { label: "Heat from wall to stream", detail: "model, 15 %" };
    case "windLoss":
      return { label: "Loss to the wind", detail: "model, 25 %" };
    case "insulation":
      return { label: "Insulation as built", detail: "model, 12 %" };
    case "edge":
      return { label: "Loss at the edges", detail: "model, 30 %" };
    case "friction":
      return { label: "Friction along the path", detail: "model, 20 %" };
    case "heatHeld":
      return { label: "Heat the materials hold", detail: "model, 10 %" };
  }
}

const PLURALS: Partial<Record<Source["kind"], string>> = {
  probe: "Temperature probes",
  speedMeter: "Speed meters",
  volumeMeter: "Flow meters",
  massMeter: "Mass flow meters",
  profile: "Profile factors, ducts",
  ductArea: "Duct sizes",
  area: "Areas of lanes",
  curveFit: "Curve fits of",
  station: "Places on the bench",
  incidence: "Incidence modifiers of",
};

/** One line for all sources of a kind: `Speed meters 1, 2, 3, 4`. */
export function sourceGroupWords(sources: readonly Source[]): { label: string; detail: string } {
  const [{ kind }] = sources;
  const first = sourceWords(kind, sourceName(sources[0]));
  const plural = PLURALS[kind];
  if (sources.length === 1 || !plural) return first;
  const names = [...new Set(sources.map(sourceName))].sort();
  if (names.length > 4)
    return {
      label: `${names.length} ${plural.toLowerCase().replace(/(, ducts| of| of lanes)$/, "")}`,
      detail: first.detail,
    };
  return { label: `${plural} ${names.join(", ")}`, detail: first.detail };
}

export function remedyWords(remedy: Remedy, system: UnitSystem): string | null {
  switch (remedy.kind) {
    case "nothing":
      return null;
    case "moreDays":
      return `test ${remedy.days === 1 ? "one more clear day" : `${remedy.days} more clear days`} like those so far`;
    case "swapStations":
      return `swap the places of ${remedy.a} and ${remedy.b}, so that what belongs to meters and places cancels`;
    case "betterInstrument": {
      const { label } = sourceWords(remedy.source, "");
      const now = quantityText(0, "heatFlux", { expanded: remedy.expandedNow, system });
      const then = quantityText(0, "heatFlux", { expanded: remedy.expandedThen, system });
      return `improve “${label.trim().replace(/,$/, "")}”: half its error would cut ${now.replace(/^0(\.0+)? /, "")} to ${then.replace(/^0(\.0+)? /, "")}`;
    }
  }
}

export function failureWords(failure: FitFailure): string {
  return failure.kind === "tooFewPoints"
    ? `${failure.lane} has ${failure.points} steady window${failure.points === 1 ? "" : "s"}; a curve needs ${failure.needed}. Loosen the rules to “backyard”, or log more sun.`
    : `${failure.lane}'s windows all lie at nearly one reduced temperature, so slope and intercept cannot be told apart. Warm the inlet in steps and log again.`;
}

/** Row, column and reason of something in a file that could not be taken. */
export function problemWords(problem: ImportProblem): { where: string; what: string } {
  const where = (column?: string) => `row ${formatNumber(problem.row, 0)}${column ? `, ${column}` : ""}`;
  switch (problem.kind) {
    case "fieldCount":
      return { where: where(), what: `has ${problem.found} fields instead of ${problem.expected}; row left out` };
    case "badTime": {
      const why =
        problem.reason === "skippedHour"
          ? "never was: clocks went forward over it. If the logger keeps winter time, choose a fixed offset as its zone"
          : problem.reason === "noSuchDate"
            ? "is no date in the chosen day and month order"
            : "is not a time in the chosen format";
      return { where: where(problem.column), what: `“${problem.text}” ${why}; row left out` };
    }
    case "notANumber":
      return { where: where(problem.column), what: `“${problem.text}” is not a number; cell left empty` };
    case "columnsChanged":
      return {
        where: where(),
        what: `columns change here${problem.missing.length ? `; ${problem.missing.join(", ")} missing from here on` : "; read by their names from here on"}`,
      };
    case "longLine":
      return { where: where(), what: `line longer than a megabyte; left out` };
  }
}

export function quantityProblemWords(problem: QuantityProblem): string {
  switch (problem.kind) {
    case "empty":
      return "Type a figure.";
    case "notANumber":
      return `“${problem.text}” is not a number.`;
    case "ambiguousNumber":
      return `“${problem.text}” can mean ${problem.readings[0]} or ${problem.readings[1]}. Write it without the mark, or with a point.`;
    case "unknownUnit":
      return `“${problem.unit}” is no unit here. Use ${problem.accepted.slice(0, 5).join(", ")}.`;
  }
}

export const parsedProblem = (parsed: ParsedQuantity): string | null =>
  parsed.ok ? null : quantityProblemWords(parsed.problem);

/** What happened while a file was read; empty when nothing did. */
export function summaryNotes(summary: ImportSummary): string[] {
  const told: [count: number, words: string][] = [
    [summary.rowsRejected, "rows left out"],
    [summary.cellsUnreadable, "cells unreadable"],
    [summary.duplicateTimes, "repeated times, last kept"],
    [summary.backwardTimes, "rows out of order, sorted"],
    [summary.repeatedHourRows, "rows in the hour that clocks show twice"],
  ];
  return told.flatMap(([count, words]) => (count ? [`${formatNumber(count, 0)} ${words}`] : []));
}
