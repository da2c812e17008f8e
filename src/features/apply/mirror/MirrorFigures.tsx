"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { flowForRise, type MirrorYearView } from "@/core/season/mirrorYear";
import type { ApplySettings } from "@/core/season/schema";
import { usualSpecificHeat } from "@/core/judge/flowWay";
import { quantityText } from "@/core/quantity/format";
import { worstMirrorGain } from "@/core/collector/reflector";
import type { Candidate } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import type { MethodsView } from "@/services/page/methodsView";
import { Chart } from "@/ui/chart/Chart";
import { HourMap } from "@/ui/chart/HourMap";
import type { ChartSpec } from "@/ui/chart/model";
import { ask } from "@/ui/Fetching";
import { usePreferences } from "@/ui/preferences";
import { compass } from "@/words/mirror";
import { MONTH_NAMES } from "@/words/plan";
import { Wide } from "../Wide";
import { Head } from "@/ui/Head";

type Chosen = NonNullable<ApplySettings["mirror"]>;

/** Maps by month and hour, gain in light and in heat, best angles, flow and cautions. */
export function MirrorFigures({
  view,
  own,
  chosen,
  year,
  candidate,
  plane,
}: {
  view: ApplyView;
  own: CandidateView;
  chosen: Chosen;
  year: MirrorYearView;
  candidate: Candidate;
  plane: { tilt: number; azimuth: number };
}) {
  const most = Math.max(1, ...year.added.flat().map((v) => v ?? 0));
  const litPercent = year.lit.map((row) => row.map((v) => (v === null ? null : 100 * v)));
  return (
    <>
      <p className="sentence">{gainSentence(year, chosen.aboveK)}</p>
      <Gains year={year} aboveK={chosen.aboveK} />
      <Measured view={view} own={own} year={year} />
      <div className="grid grid-cols-1 gap-4 md:grid-cols-2">
        <HourMap
          title="Lit share by month and hour"
          unit="% of the box"
          rows={MONTH_NAMES}
          values={litPercent}
          hours={[5, 19]}
          shade={(v) => v / 100}
          color="var(--sun)"
          summary={`Mean share of the box that mirrors light, plane at ${Math.round(plane.tilt)}°.`}
          none="nothing"
          format={(v) => String(Math.round(v))}
        />
        <HourMap
          title="Light added by month and hour"
          unit="W/m²"
          rows={MONTH_NAMES}
          values={year.added}
          hours={[5, 19]}
          shade={(v) => v / most}
          color="var(--doubt-line)"
          summary="Mean irradiance that mirrors add in the climate’s hours; where they shade more than they throw, nothing is shown."
          none="nothing"
          format={(v) => String(Math.round(v))}
        />
      </div>
      {year.angles && <Angles angles={year.angles} />}
      <Cautions {...{ view, own, year, candidate, chosen }} />
    </>
  );
}

const times = (m: { with: number; without: number }) => (m.without > 0 ? m.with / m.without : NaN);
const timesText = (m: { with: number; without: number }) => (m.without > 1e-6 ? `× ${times(m).toFixed(2)}` : "–");

function gainSentence(year: MirrorYearView, aboveK: number): string {
  const at = year.heat.find((h) => h.aboveK === aboveK)!;
  if (year.light.with < year.light.without)
    return `At this angle the mirror takes more light than it throws: ${timesText(year.light)} over the year. Turn it.`;
  const best = year.angles?.best;
  return `The mirror gives ${timesText(year.light)} the light of a year and ${timesText(at)} the heat at ${Math.round(aboveK)} K above outside${best ? `; left at one angle, ${Math.round(best.angle)}° adds most on clear days` : ""}.`;
}

function Gains({ year, aboveK }: { year: MirrorYearView; aboveK: number }) {
  const rows = [
    ...MONTH_NAMES.map((name, m) => ({
      name: name.slice(0, 3),
      light: year.light.months[m],
      heat: year.heat.map((h) => h.months[m]),
    })),
    { name: "year", light: year.light, heat: year.heat },
  ];
  return (
    <Wide label="Gain by month">
      <table className="grid-table text-[13px]" aria-label="Gain of the mirror">
        <thead>
          <tr>
            <th scope="col">gain in</th>
            {rows.map((r) => (
              <th key={r.name} scope="col" className="num">
                {r.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">light</th>
            {rows.map((r) => (
              <td key={r.name} className="num">
                {timesText(r.light)}
              </td>
            ))}
          </tr>
          {year.heat.map((h, i) => (
            <tr key={h.aboveK}>
              <th scope="row" className={h.aboveK === aboveK ? "font-[650]" : undefined}>
                heat at {h.aboveK} K
              </th>
              {rows.map((r) => (
                <td key={r.name} className="num">
                  {timesText(r.heat[i])}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}

/** What a mirror turned on and off at the bench did, beside what geometry says of that month. */
function Measured({ view, own, year }: { view: ApplyView; own: CandidateView; year: MirrorYearView }) {
  const { data } = useQuery({
    queryKey: ["methods", view.experimentId, "mirror"],
    staleTime: 60_000,
    queryFn: ({ signal }) =>
      ask(`/api/experiments/${view.experimentId}/methods`, signal, (r) => r.json() as Promise<MethodsView>),
  });
  const found = data?.methods
    .flatMap((m) => m.findings)
    .find((f) => f.name === "eventRatio" && f.event?.kind === "mirror" && own.letters.includes(f.lane));
  if (!found?.event) return null;
  const month = new Date(found.event.atMs).getUTCMonth();
  const light = year.light.months[month];
  return (
    <p className="text-[13.5px]">
      Turned on and off at the bench in {MONTH_NAMES[month]} ({found.event.times} times):{" "}
      <b>× {found.figure.si.toFixed(2)}</b>
      {found.figure.expanded !== null && ` ± ${found.figure.expanded.toFixed(2)}`} in heat, about noon. Geometry over
      all hours of an average {MONTH_NAMES[month]}: {timesText(light)} in light; a bench day is clearer than that, and
      noon lights most.
    </p>
  );
}

function Angles({ angles }: { angles: NonNullable<MirrorYearView["angles"]> }) {
  const spec = useMemo(
    (): ChartSpec => ({
      title: "Light added by a fixed angle",
      summary: angles.best
        ? `Most, ${Math.round(angles.best.addedKwhM2)} kWh/m² a clear year, at ${Math.round(angles.best.angle)}°.`
        : "No angle adds light.",
      x: { title: "angle between mirror and box, °", min: 45, max: 175 },
      y: { title: "kWh/m², clear year" },
      series: [
        {
          label: "added",
          color: "--action",
          kind: "line",
          points: angles.curve.map((a) => ({ x: a.angle, y: a.addedKwhM2 })),
        },
      ],
      lines: angles.best ? [{ x: angles.best.angle, label: `${Math.round(angles.best.angle)}°` }] : [],
      table: {
        columns: ["angle, °", "added, kWh/m² a clear year"],
        rows: angles.curve.map((a) => [a.angle, Number(a.addedKwhM2.toFixed(1))]),
      },
    }),
    [angles],
  );
  return (
    <div>
      <Chart spec={spec} height={170} legend={false} />
      <p className="text-[13.5px]">
        Best of each month:{" "}
        {angles.months.map((a, m) => (
          <span key={m} className="mr-3 inline-block">
            {MONTH_NAMES[m].slice(0, 3)} <b className="font-[650]">{a ? `${a.angle}°` : "down"}</b>
          </span>
        ))}
      </p>
    </div>
  );
}

function Cautions({
  view,
  own,
  year,
  candidate,
  chosen,
}: {
  view: ApplyView;
  own: CandidateView;
  year: MirrorYearView;
  candidate: Candidate;
  chosen: Chosen;
}) {
  const { system } = usePreferences();
  const flow = flowForRise(candidate, year.strongest, chosen.aboveK, chosen.riseK, usualSpecificHeat(view.fluid, 25));
  const gain = worstMirrorGain(own.design).gain;
  const text = (v: number) => quantityText(v, "massFlow", { system, figures: 2 });
  const glare = new Map<string, Set<number>>();
  for (const g of year.glare) {
    const key = compass(g.azimuth);
    glare.set(key, (glare.get(key) ?? new Set()).add(g.month));
  }
  return (
    <section aria-labelledby="cautions">
      <Head id="cautions" title="Flow and care" />
      <ul className="ml-4 list-disc text-[13.5px]">
        <li>
          To keep the rise at {Math.round(chosen.riseK)} K in the strongest hour, one box needs {text(flow.without)}{" "}
          without and <b className="font-[650]">{text(flow.with)}</b> with the mirror.
        </li>
        <li>
          Without flow up to {gain.toFixed(2)} times the sun falls on the box: its heat limits stand in Build with this
          mirror counted. Lay it down before the fan is stopped.
        </li>
        {glare.size > 0 ? (
          <li>
            Its light goes low over the ground towards{" "}
            {[...glare].map(([where, months], i) => (
              <span key={where}>
                {i ? ", " : ""}
                {where} ({monthsText(months)})
              </span>
            ))}
            : into eyes and windows there. Look who lives or drives that way, and screen it.
          </li>
        ) : (
          <li>It throws no light low over the ground at full hours of the months’ middle days.</li>
        )}
        <li>
          Never look into it. Keep dry grass, film and plastics out of its light; a bent mirror gathers it and sets
          fire.
        </li>
      </ul>
    </section>
  );
}

function monthsText(months: ReadonlySet<number>): string {
  const list = [...months].sort((a, b) => a - b).map((m) => MONTH_NAMES[m].slice(0, 3));
  return list.length > 6 ? `${list.length} months` : list.join(", ");
}
