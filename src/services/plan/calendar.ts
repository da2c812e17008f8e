import ical, { ICalAlarmType } from "ical-generator";
import { entryWords, PROTOCOL_WORDS, RISK_WORDS } from "../../words/plan";
import { oneLine } from "../../core/text/line";
import { methodOf } from "../../core/method/list";
import type { PlanView } from "./plan";

/** The plan as an iCalendar file (RFC 5545): one event an entry, instants in UTC, an alarm before each swap and first check. */
export function planCalendar(plan: PlanView): string {
  const protocol = methodOf(plan.settings.protocol);
  const calendar = ical({
    // The library escapes every text but this one.
    name: oneLine(`${plan.name}: ${PROTOCOL_WORDS[plan.settings.protocol].name.toLowerCase()}`),
    prodId: { company: "Bravel", product: "plan", language: "EN" },
  });
  plan.days.forEach((day, i) => {
    const periods = day.order.map((row) =>
      row.map((s, station) => `${station + 1}: ${plan.specimens[s].letter}`).join(", "),
    );
    let period = 0;
    for (const e of day.entries) {
      if (e.kind === "swap" && e.fromMs > day.entries[0].fromMs + 60 * 60000)
        period = Math.min(period + 1, periods.length - 1);
      const sky =
        e.sky && e.sky.irradiance > 1
          ? [
              `Clear sky ${Math.round(e.sky.irradiance)} W/m² in the plane, sun ${Math.round(e.sky.incidence)}° off the normal.`,
            ]
          : [];
      const event = calendar.createEvent({
        id: `${e.id.replace(/\//g, "-")}.${plan.experimentId}@bravel.local`,
        start: new Date(e.fromMs),
        end: new Date(e.toMs),
        summary: `${plan.name}: ${entryWords(e)}`,
        description: [
          `Day ${i + 1} of ${plan.settings.days}. Stations ${periods[period]}.`,
          ...sky,
          ...(e.kind === "check" || e.kind === "swap" ? protocol.risks.map((r) => RISK_WORDS[r]) : []),
        ].join("\n"),
        location: plan.site.name,
      });
      if (e === day.entries[0])
        event.createAlarm({
          type: ICalAlarmType.display,
          triggerBefore: 45 * 60,
          description: "Look at the sky, pack, go to the bench",
        });
    }
  });
  for (const bath of plan.baths) {
    calendar.createEvent({
      id: `bath-${bath.when}.${plan.experimentId}@bravel.local`,
      start: new Date(bath.fromMs),
      end: new Date(bath.toMs),
      summary: `${plan.name}: calibration bath ${bath.when} the days`,
      description: ["All probes in one stirred pot of hot water, logged while it cools.", RISK_WORDS.scald].join("\n"),
      location: plan.site.name,
    });
  }
  return calendar.toString();
}
