import type { EventKind } from "../core/log/eventKind";
import { EVENT_WORDS } from "./live";
import { fieldWords } from "./refusal";

type Detail = Record<string, unknown>;

const run = ({ run: number }: Detail): string => (number === undefined ? "a run" : `run ${String(number)}`);
const list = (value: unknown): string => (Array.isArray(value) ? value.map(String).join(", ") : "");
const keys = (value: unknown): string =>
  value && typeof value === "object" && !Array.isArray(value) ? Object.keys(value).map(fieldWords).join(", ") : "";
const named = (value: unknown): string => (typeof value === "string" && value ? ` “${value}”` : "");

/** What was done, by what the journal calls it. One that is missing here is said as the journal has it. */
const SAID: Record<string, (detail: Detail) => string> = {
  question: ({ after }) => `changed the question: ${keys(after)}`,
  settings: ({ change }) => `changed settings: ${keys(change)}`,
  plan: ({ patch }) => `changed the plan${patch ? `: ${keys(patch)}` : ""}`,
  "variant added": ({ name }) => `drew a new variant${named(name)}`,
  "variant renamed": ({ name }) => `renamed a variant to${named(name)}`,
  "variant removed": () => "took a variant away",
  "variant restored": () => "put a variant back",
  "experiment duplicated": ({ from }) => `duplicated “${String(from)}”`,
  "drawing changed": ({ revision }) => `changed a drawing (revision ${String(revision)})`,
  "revision saved": ({ revision, note }) => `saved revision ${String(revision)} of a drawing${named(note)}`,
  "specimen added": ({ letter }) => `built specimen ${String(letter)}`,
  "specimen measured": () => "changed what was measured of a specimen",
  "specimen removed": () => "took a specimen away",
  "run imported": () => "imported a run",
  "run continued": (d) => `added ${String(d.rows)} rows to ${run(d)}`,
  "run went on": (d) => `let ${run(d)} go on`,
  "run paused": (d) => `paused ${run(d)}`,
  "run read again": (d) => `read run ${String(d.from)} again as ${run(d)}`,
  "reading taken back": (d) => `took back reading run ${String(d.from)} again`,
  "logger moved": (d) => `ended ${run(d)}: its logger was set up on another bench`,
  "run ended": (d) => `ended ${run(d)}`,
  "run opened again": (d) => `opened ${run(d)} again`,
  "run follows the plan": (d) => `let ${run(d)} follow the plan`,
  "run by hand": (d) => `took ${run(d)} in hand`,
  "run deleted": () => "deleted a run",
  "run restored": () => "brought a run back",
  "event marked": (d) => `marked an event in ${run(d)}: ${EVENT_WORDS[d.kind as EventKind] ?? String(d.kind)}`,
  "event corrected": (d) => `corrected an event in ${run(d)}`,
  "event deleted": () => "took an event back",
  "event restored": () => "put an event back",
  "alarm acknowledged": (d) => `saw an alarm of ${run(d)}`,
  "unit of a channel changed": (d) => `said another unit for a channel of ${run(d)}`,
  "layers removed": ({ layerIds }) => `took out layers ${list(layerIds)}`,
  "layers put back": ({ layerIds }) => `put back layers ${list(layerIds)}`,
  "layer switched on": ({ layerId }) => `switched layer ${String(layerId)} on`,
  "layer switched off": ({ layerId }) => `switched layer ${String(layerId)} off`,
  "calibration applied": ({ reason }) => `applied a calibration${named(reason)}`,
  "flow factor applied": () => "applied a flow factor",
  "verdict frozen": () => "froze the verdict",
  "rig set up": ({ letters, scenario }) => `put ${list(letters)} on the simulated bench: ${String(scenario)}`,
  "package opened": () => "opened it from a package",
  "experiment deleted": () => "deleted the experiment",
  "experiment restored": () => "brought the experiment back",
  "put away unreadable": ({ kind }) => `put an unreadable ${String(kind)} away`,
};

/** One line of an experiment's history, after who and when. @param detail as the journal keeps it */
export function historyWords(action: string, detail: unknown): string {
  const known = detail && typeof detail === "object" ? (detail as Detail) : {};
  if (action.endsWith(" layer added")) return `added a layer over the readings: ${action.replace(" layer added", "")}`;
  return SAID[action]?.(known) ?? action;
}
