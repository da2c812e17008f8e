import type { UnitSystem } from "@/core/quantity/quantities";
import type { Alarm } from "../core/live/alarms";
import { quantityText } from "../core/quantity/format";
import { CHANNEL_WORDS } from "./channels";

/** The first names of a list, and how many more. */
const named = (names: readonly string[]) =>
  names.slice(0, 3).join(", ") + (names.length > 3 ? ` and ${names.length - 3} more` : "");

const degrees = (c: number, system: UnitSystem) => quantityText(c, "temperature", { system });
const laneWord = (lane: string | null) => (lane ? `${lane}’s ` : "the ");

function apart(seconds: number): string {
  const s = Math.round(Math.abs(seconds));
  if (s < 120) return `${s} s`;
  return s < 7200 ? `${Math.round(s / 60)} min` : `${Math.round(s / 3600)} h`;
}

/** What an alarm says: one short sentence. */
export function alarmWords(alarm: Alarm, system: UnitSystem): string {
  switch (alarm.kind) {
    case "hot":
      return `${alarm.lane}’s ${alarm.by} is at ${degrees(alarm.nowC, system)}; ${alarm.material} bears ${degrees(alarm.limitC, system)}.`;
    case "flowLost":
      return `${alarm.lane} has lost its flow in the sun.`;
    case "hunting":
      return `${alarm.lane}’s fan or pump started ${alarm.starts} times in ${alarm.minutes} min: it hunts.`;
    case "unsettled":
      return `Nothing was steady for ${Math.round(alarm.minutes)} min of sun.`;
    case "stuck":
      return `${laneWord(alarm.lane)}${CHANNEL_WORDS[alarm.channelKind]} (${alarm.channel}) has shown one value for ${alarm.minutes} min.`.replace(
        /^t/,
        "T",
      );
    case "range":
      return `${laneWord(alarm.lane)}${CHANNEL_WORDS[alarm.channelKind]} (${alarm.channel}) ${alarm.lost ? "has lost its probe" : "shows what cannot be"}.`.replace(
        /^t/,
        "T",
      );
    case "gone":
    case "rewired":
    case "silent":
    case "clock":
      return deviceWords(alarm);
    case "flowsApart":
      return `${alarm.lanes[0]} gets ${Math.round((alarm.ratio - 1) * 100)} % more flow an area than ${alarm.lanes[1]}.`;
    case "scald":
      return `${alarm.lane} is at ${degrees(alarm.nowC, system)}: ${alarm.boils ? "near boiling" : "hot enough to scald"}.`;
    case "freezing":
      return `${alarm.lane} is at ${degrees(alarm.nowC, system)}: water may freeze in it.`;
  }
}

function deviceWords(alarm: Extract<Alarm, { kind: "gone" | "rewired" | "silent" | "clock" }>): string {
  switch (alarm.kind) {
    case "gone":
      return `${laneWord(alarm.lane)}${CHANNEL_WORDS[alarm.channelKind]} (${alarm.channel}) has not come for ${alarm.minutes} min, though its logger sends.`.replace(
        /^t/,
        "T",
      );
    case "rewired":
      return `${alarm.device} was set up anew: ${named(alarm.came)} came, ${named(alarm.gone)} went. This run is paused.`;
    case "silent":
      return `${alarm.device} has sent nothing for ${apart(alarm.seconds)}.`;
    case "clock":
      return `${alarm.device}’s clock is ${alarm.lagMs > 0 ? "slow" : "fast"} by ${apart(alarm.lagMs / 1000)}.`;
  }
}

/** What to do, in this order: people, fire, box, data. */
export function alarmAdvice(alarm: Alarm): string[] {
  switch (alarm.kind) {
    case "hot":
      return [
        "Keep hands and faces off glass, frame and outlet.",
        "Look and smell for smoke. If there is any: away from it, and call the fire service.",
        "Start the flow, or cover the box from the side with a light cloth or board. No water on hot glass.",
        "Note what you did; the readings stay.",
      ];
    case "flowLost":
      return [
        "The box heats up now: keep clear of outlet and metal.",
        "Look for a tripped fuse only with dry hands; leave wiring to whoever is licensed.",
        "Bring fan or pump back, or cover the box.",
        "Readings since then are set aside by themselves.",
      ];
    case "scald":
      return [
        "Nobody opens a tap or hose on it. Let it mix down or cool first.",
        "Leave pressure relief free; do not stand by it.",
        "Cover the collector.",
        "Stored water between 20 and 50 °C breeds legionella: follow your local rules.",
      ];
    case "freezing":
      return [
        "Watch for ice under foot.",
        "Drain the loop, or keep the pump running.",
        "A frozen pipe may burst when it thaws: look before you start it.",
      ];
    case "gone":
      return ["Look at plug and cable of the probe, and whether the logger still lists it."];
    case "rewired":
      return [
        "If this logger now measures something else, end this run and set the logger up anew under Devices.",
        "If its old channels are back, press Go on. Readings meanwhile are saved but not used.",
      ];
    case "silent":
      return [
        "Look at its power and network.",
        "If it keeps its readings it may send them later: they find their place.",
      ];
    case "clock":
      return ["Set its clock, or let it take the time from Bravel’s answers.", "Or shift it afterwards under Layers."];
    case "range":
      return ["Look at plug and cable of the probe.", "What it shows is left out until it is back."];
    case "stuck":
      return ["Touch the probe: it must move.", "If it does not, take its plug out and put it in again."];
    case "hunting":
      return ["Widen the thermostat’s band, or run the fan steadily during the test."];
    case "flowsApart":
      return ["Balance the flows before the next window: hotter air of less flow is not more heat."];
    case "unsettled":
      return [
        alarm.heldBy
          ? "See under Steady what holds it back; loosen the limit in Read, or wait for calmer sky."
          : "Wait for calmer sky, or loosen the limits in Read.",
      ];
  }
}
