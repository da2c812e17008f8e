import Link from "next/link";
import type { MirrorToday } from "@/services/apply/calendar";
import { MODE_WORDS } from "@/words/apply";
import { percent } from "@/words/sources";
import { dayText, timeOfDay } from "@/words/times";

function whyNot({ drawnAngle, up }: MirrorToday): string {
  if (drawnAngle === null) return "No hinged mirror is chosen in Apply.";
  return up ? "The list has no angle for today." : "The mirror is down on this day.";
}

/** What to set the mirror to today, in figures that are read with gloves on. */
export function MirrorTodaySheet({ today }: { today: MirrorToday }) {
  const { now, next, lights, zone } = today;
  return (
    <section className="mx-auto grid max-w-[560px] grid-cols-1 gap-4 px-4 py-4">
      <p className="side">
        <Link className="underline" href={`/experiments/${today.experimentId}/apply`}>
          {today.name}
        </Link>
      </p>
      <h1 className="sentence">{dayText(today.date)}</h1>
      {!now || !today.up ? (
        <p className="text-[20px]">{whyNot(today)}</p>
      ) : (
        <>
          <p className="border-y-2 border-ink py-3 text-center" data-testid="angle-today">
            <span className="block text-[15px]">Angle between mirror and box</span>
            <b className="block text-[64px] leading-none font-[650]">{now.angle === null ? "down" : `${now.angle}°`}</b>
            <span className="block text-[15px]">
              until {dayText(now.until)}
              {next && `, then ${next.angle === null ? "down" : `${next.angle}°`}`}
            </span>
          </p>
          {lights ? (
            <p className="text-[18px]">
              It lights the box from <b>{timeOfDay(lights.fromMs, zone)}</b> to <b>{timeOfDay(lights.toMs, zone)}</b>,
              most at {timeOfDay(lights.mostAtMs, zone)}: {percent(lights.most)} of it.
            </p>
          ) : (
            <p className="text-[18px]">It lights none of the box today.</p>
          )}
        </>
      )}
      <p className="text-[18px]">
        Boxes this month: <b>{MODE_WORDS[today.mode]}</b>.
      </p>
      <p className="border-l-4 border-doubt-line pl-3 text-[16px]">
        Turn it from the side, and do not look into it. Two people hold a large one in wind. Fan off: lay it down first.
      </p>
    </section>
  );
}
