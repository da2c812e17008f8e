import ical, { ICalEventRepeatingFreq } from "ical-generator";
import { oneLine } from "../../core/text/line";
import type { Knex } from "knex";
import { opening, type Design } from "../../core/collector/design";
import { triedMirror } from "../../core/experiment/tried";
import type { Experiment } from "../../core/experiment/types";
import { localDay, startOfDay } from "../../core/log/zone";
import { adjustmentList, listYear, type Adjustment } from "../../core/mirror/angles";
import { mirrorBeam, sunFrom } from "../../core/mirror/geometry";
import { isUp, mirrorPlace, reflectanceOf, type Mirror } from "../../core/mirror/mirror";
import type { Mode } from "../../core/season/parts";
import { sunPosition } from "../../core/sun/position";
import { findExperiment } from "../../data/experiment/experiments";
import { MODE_WORDS } from "../../words/apply";

interface Turned {
  mirror: Mirror;
  design: Design;
  plane: { tilt: number; azimuth: number };
  list: Adjustment[];
}

/** The mirror that Apply is about, and when to turn it; null without one that is hinged. */
function turnedMirror(experiment: Experiment, nowMs: number): Turned | null {
  const { apply, ask } = experiment.settings;
  const chosen = apply.mirror;
  const own = [...experiment.lanes, ...experiment.drawn].find((l) => l.letter === chosen?.lane);
  const mirror = own && chosen && triedMirror(own.design.mirrors[0], chosen);
  if (!own || !chosen || !mirror || mirror.stand === "free") return null;
  const bench = experiment.runs.at(-1)?.setup.plane ?? {
    tilt: ask.use.tilt,
    azimuth: experiment.site.latitude < 0 ? 0 : 180,
  };
  const plane = apply.rows[0] ?? bench;
  const list = adjustmentList(
    experiment.site,
    plane,
    opening(own.design),
    mirror,
    reflectanceOf(mirror, own.design.materials),
    chosen.toleranceDeg,
    listYear(experiment.site.latitude, nowMs),
  );
  return { mirror, design: own.design, plane, list };
}

/** Turns of the mirror and changes of mode as an iCalendar file (RFC 5545): whole days, every year again. */
export async function applyCalendar(knex: Knex, experimentId: number, nowMs: number): Promise<string | null> {
  const experiment = await findExperiment(knex, experimentId);
  if (!experiment) return null;
  const calendar = ical({
    // The library escapes every text but this one.
    name: oneLine(`${experiment.name}: mirror and modes`),
    prodId: { company: "Bravel", product: "apply", language: "EN" },
  });
  const add = (id: string, day: string, summary: string, description: string) =>
    calendar.createEvent({
      id: `${id}.${experimentId}@bravel.local`,
      start: new Date(`${day}T00:00:00Z`),
      allDay: true,
      repeating: { freq: ICalEventRepeatingFreq.YEARLY },
      summary: `${experiment.name}: ${summary}`,
      description,
      location: experiment.site.name,
    });
  for (const a of turns(turnedMirror(experiment, nowMs)?.list ?? []))
    add(
      `mirror-${a.from.slice(5)}`,
      a.from,
      a.angle === null ? "lay the mirror down" : `mirror to ${a.angle}°`,
      a.angle === null
        ? "It adds nothing in these weeks."
        : `Between mirror and box. Best of the day stays within ${a.offDeg.toFixed(1)}° until ${dayAndMonth(a.until)}. Do not look into it.`,
    );
  const year = new Date(nowMs).getUTCFullYear();
  modeChanges(experiment.settings.apply.modes).forEach(({ month, mode }) =>
    add(
      `mode-${month + 1}`,
      `${year}-${String(month + 1).padStart(2, "0")}-01`,
      `boxes: ${MODE_WORDS[mode]}`,
      mode === "off" ? "Cover the boxes or see that their layers bear standing still in the sun." : "",
    ),
  );
  return calendar.toString();
}

/** What is really turned: an angle that the mirror has already is none, over the turn of the year too. Each holds until the next. */
function turns(list: readonly Adjustment[]): Adjustment[] {
  const turned = list.filter(
    (a, i) => list.length === 1 || a.angle !== list[(i + list.length - 1) % list.length].angle,
  );
  return turned.map((a, i) => ({ ...a, until: turned[(i + 1) % turned.length].from }));
}

/** Without its year: the event comes back every year. */
const dayAndMonth = (day: string): string =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "long", timeZone: "UTC" });

/** Months that do another thing than the one before. */
export const modeChanges = (modes: readonly Mode[]): { month: number; mode: Mode }[] =>
  modes.flatMap((mode, month) => (mode === modes[(month + 11) % 12] ? [] : [{ month, mode }]));

/** The mirror on one day, for who stands before it with a phone. */
export interface MirrorToday {
  experimentId: number;
  name: string;
  date: string;
  zone: string;
  up: boolean;
  now: Adjustment | null;
  next: Adjustment | null;
  drawnAngle: number | null;
  /** First and last quarter hour in which it lights a twentieth of the box and more at today's angle, UTC ms; null for none. */
  lights: { fromMs: number; toMs: number; mostAtMs: number; most: number } | null;
  mode: Mode;
}

export async function mirrorToday(knex: Knex, experimentId: number, nowMs: number): Promise<MirrorToday | null> {
  const experiment = await findExperiment(knex, experimentId);
  if (!experiment) return null;
  const { site } = experiment;
  const date = localDay(nowMs, site.zone);
  const turned = turnedMirror(experiment, nowMs);
  const at = turned ? turned.list.findIndex((a) => a.from <= date && date < a.until) : -1;
  const now = at >= 0 ? turned!.list[at] : null;
  const next = now && turned ? nextTurn(turned.list, at) : null;
  const [, month, day] = date.split("-").map(Number);
  return {
    experimentId,
    name: experiment.name,
    date,
    zone: site.zone,
    up: turned ? isUp(turned.mirror, month, day) : false,
    now: now && next ? { ...now, until: next.from } : now,
    next,
    drawnAngle: turned?.mirror.angle ?? null,
    lights: turned && now?.angle != null ? lightsOfDay(turned, now.angle, experiment, nowMs) : null,
    mode: experiment.settings.apply.modes[month - 1],
  };
}

/** The next other angle: what stays over the low solstice is no turn. */
function nextTurn(list: readonly Adjustment[], at: number): Adjustment | null {
  for (let k = 1; k < list.length; k++) {
    const next = list[(at + k) % list.length];
    if (next.angle !== list[at].angle) return next;
  }
  return null;
}

function lightsOfDay(
  { mirror, design, plane }: Turned,
  angle: number,
  { site }: Experiment,
  nowMs: number,
): MirrorToday["lights"] {
  const box = opening(design);
  const place = mirrorPlace(box, plane, { ...mirror, angle });
  const start = startOfDay(nowMs, site.zone);
  let found: MirrorToday["lights"] = null;
  for (let ms = start; ms < start + 86400000; ms += 900000) {
    const position = sunPosition(ms, site);
    if (position.altitude <= 0) continue;
    const { lit } = mirrorBeam(box, place, sunFrom(plane, position));
    if (lit < 0.05) continue;
    found ??= { fromMs: ms, toMs: ms, mostAtMs: ms, most: 0 };
    found.toMs = ms;
    if (lit > found.most) [found.most, found.mostAtMs] = [lit, ms];
  }
  return found;
}
