import { ArrowRight } from "lucide-react";
import { timeOfDay, weekdayOf } from "@/words/times";
import Link from "next/link";
import { methodOf } from "@/core/method/list";
import type { TodayView } from "@/services/plan/today";
import { LaneMark } from "@/ui/LaneMark";
import { NEED_WORDS, NONE_WORDS, PROTOCOL_WORDS } from "@/words/plan";

/** The next window worth standing outside for, whose it is, and what to bring. */
export function Today({ today }: { today: TodayView }) {
  const { site, next, none, plane } = today;
  const place = (
    <>
      <Link href={`/site/${site.id}`} className="font-semibold hover:underline">
        {site.name}
      </Link>{" "}
      <span className="text-ink-3">
        {Math.abs(site.latitude).toFixed(2)}° {site.latitude < 0 ? "S" : "N"} {Math.abs(site.longitude).toFixed(2)}°{" "}
        {site.longitude < 0 ? "W" : "E"}, {Math.round(site.altitudeM).toLocaleString("en").replace(",", "\u2009")} m,
        plane {Math.round(plane.tilt)}° facing {Math.round(plane.azimuth)}°; clear sky by model
      </span>
    </>
  );
  if (!next)
    return (
      <section aria-label="Next window" className="mb-4">
        <p className="sentence">
          No window in the next 30 days{none && none !== "unavailable" ? `: ${NONE_WORDS[none]}` : ""}.
        </p>
        <p className="text-[13.5px]">{place}</p>
      </section>
    );
  const date = weekdayOf(next.fromMs, site.zone, "long");
  const bring = methodOf(next.protocol).needs.map((n) => NEED_WORDS[n]);
  return (
    <section aria-label="Next window" className="mb-4" data-testid="next-window">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-[280px] flex-1">
          <p className="sentence">
            Next window: {date}, {timeOfDay(next.fromMs, site.zone)} to {timeOfDay(next.toMs, site.zone)}
            {next.name ? (
              <>
                , for{" "}
                <Link
                  className="underline decoration-1 underline-offset-4"
                  href={`/experiments/${next.experimentId}/plan`}
                >
                  {next.name}
                </Link>
              </>
            ) : (
              " if the sky is clear"
            )}
            .
          </p>
          <p className="mt-1 text-[13.5px]">
            {next.experimentId !== null ? (
              <>
                {PROTOCOL_WORDS[next.protocol].name}, day {next.day} of {next.days}; be there at{" "}
                <b className="font-semibold">{timeOfDay(next.thereMs, site.zone)}</b>
                {next.swap ? ", lanes change places first" : ""}. Stations from the left:{" "}
                {next.arrangement.map((a) => (
                  <span key={a.station} className="mr-2 inline-block">
                    <LaneMark lane={a.letter} size={11} />
                  </span>
                ))}
              </>
            ) : (
              "Nothing is planned: open an experiment’s Plan, and its days, order and calendar are worked out."
            )}
          </p>
          <p className="mt-0.5 text-[13.5px]">
            <b className="font-semibold">Bring</b> {bring.join(", ")}.
          </p>
          <p className="mt-1 text-[13.5px]">{place}</p>
        </div>
        {next.experimentId !== null && (
          <Link href={`/experiments/${next.experimentId}/plan/${next.date}`} className="btn btn-main">
            Day sheet <ArrowRight size={14} aria-hidden />
          </Link>
        )}
      </div>
    </section>
  );
}
