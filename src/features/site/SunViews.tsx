"use client";

import { timeOfDay } from "@/words/times";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useMemo, useState, type Dispatch, type SetStateAction } from "react";
import { localDay } from "@/core/log/zone";
import type { Climate } from "@/core/site/climate";
import { coneOutline, CONE, sunPaths } from "@/core/site/typical";
import type { DaySky } from "@/core/plan/daySky";
import { horizonAltitude } from "@/core/site/horizon";
import { sunPosition, type Plane } from "@/core/sun/position";
import { sunDay } from "@/core/sun/sunDay";
import type { Site } from "@/core/experiment/types";
import { Chart } from "@/ui/chart/Chart";
import { HourMap } from "@/ui/chart/HourMap";
import type { ChartSpec } from "@/ui/chart/model";
import { QuantityField } from "@/ui/QuantityField";
import { downloadCsv } from "@/ui/download";
import { ordinaryDay, SunStrip } from "@/ui/SunStrip";
import { MONTH_NAMES } from "@/words/plan";
import { useWorkerAnswer, type Desk } from "@/ui/useWorkerAnswer";
import { sunWorker } from "@/workers/sun";
import type { YearView } from "@/workers/sun.worker";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const SEASONS: { key: string; words: string; north: number[] }[] = [
  { key: "winter", words: "winter, November to February", north: [10, 11, 0, 1] },
  { key: "heating", words: "heating season, October to April", north: [9, 10, 11, 0, 1, 2, 3] },
  { key: "year", words: "the year", north: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11] },
  { key: "summer", words: "summer, May to August", north: [4, 5, 6, 7] },
];
const SOUTH_WORDS: Record<string, string> = {
  winter: "winter, May to August",
  heating: "heating season, April to October",
  year: "the year",
  summer: "summer, November to February",
};

/** The sun over the site: any day, the year's paths over the skyline, hours of every month, and the tilt that gets most. */
export function SunViews({ site, climate, nowMs }: { site: Site; climate: Climate | null; nowMs: number }) {
  const south = site.latitude < 0;
  const [plane, setPlane] = useState<Plane>({ tilt: 55, azimuth: south ? 0 : 180 });
  const [date, setDate] = useState(localDay(nowMs, site.zone));
  const [season, setSeason] = useState("winter");
  const year = Number(date.slice(0, 4)) || new Date(nowMs).getUTCFullYear();
  const months = useMemo(
    () =>
      SEASONS.find((s) => s.key === season)!
        .north.map((m) => (south ? (m + 6) % 12 : m))
        .sort((a, b) => a - b),
    [season, south],
  );
  const { view, failed } = useYear(site, plane, climate, months, year);
  const noon = Date.parse(`${date}T12:00:00Z`) - (site.longitude / 15) * 3600000;
  const sky = useMemo(() => ordinaryDay(noon, site, plane), [noon, site, plane]);
  const shift = (days: number) =>
    setDate(new Date(Date.parse(`${date}T12:00:00Z`) + days * 86400000).toISOString().slice(0, 10));
  const rows = MONTH_NAMES;
  const hours = useMemo((): [number, number] => {
    const lit = Array.from({ length: 24 }, (_, h) => view?.map.irradiance.some((r) => r[h] > 1) ?? false);
    return lit.includes(true) ? [lit.indexOf(true), lit.lastIndexOf(true)] : [6, 18];
  }, [view]);
  return (
    <section aria-labelledby="sun" className="grid min-w-0 grid-cols-1 gap-3">
      <Head
        id="sun"
        title="Sun"
        side="clear sky by model, typically within 5 % with the sun above 20°, up to a fifth too little at 10°; positions within 0.01°"
      />
      <PlaneFields {...{ date, setDate, shift, plane, setPlane }} />
      <div data-testid="site-strip">
        <SunStrip site={site} plane={plane} atMs={noon} now={false} sky={sky} />
      </div>
      <DayTable sky={sky} zone={site.zone} />
      <div className="grid grid-cols-1 gap-x-6 gap-y-3 lg:grid-cols-2">
        <SunPathChart site={site} plane={plane} date={date} />
        <WholeYear {...{ season, south, setSeason, view, climate, setPlane, plane }} />
        {!view && !failed && (
          <p role="status" className="side">
            Working out the year …
          </p>
        )}
        {failed && (
          <p role="alert" className="text-danger">
            {failed}
          </p>
        )}
        {view && (
          <HourMap
            title="Irradiance in the plane"
            unit="W/m²"
            rows={rows}
            hours={hours}
            values={view.map.irradiance}
            shade={(v) => v / 1000}
            color="var(--sun)"
            format={(v) => String(Math.round(v))}
            summary={`${climate ? `Average days of ${climate.name}` : "Clear days"}; most ${Math.round(Math.max(...view.map.irradiance.flat()))} watts per square metre.`}
          />
        )}
        {view && (
          <HourMap
            title="Incidence on the plane"
            unit="° off the normal, darker is straighter"
            rows={rows}
            hours={hours}
            values={view.map.incidence}
            shade={(v) => 1 - v / 90}
            color="var(--action)"
            format={(v) => String(Math.round(v))}
            summary={`Smallest ${Math.round(Math.min(...view.map.incidence.flat().filter((v): v is number => v !== null), 90))} degrees.`}
          />
        )}
      </div>
      {view && (
        <p className="side">
          {climate
            ? `Irradiance: average days of “${climate.name}”, hours shaped like the clear day’s.`
            : "Irradiance: clear days; choose a climate below for average ones."}{" "}
          Skyline and obstacles count.
        </p>
      )}
    </section>
  );
}

function WholeYear({
  season,
  south,
  setSeason,
  view,
  climate,
  setPlane,
  plane,
}: {
  season: string;
  south: boolean;
  setSeason: Dispatch<SetStateAction<string>>;
  view: YearView | null;
  climate: Climate | null;
  setPlane: Dispatch<SetStateAction<Plane>>;
  plane: Plane;
}) {
  return (
    <div className="min-w-0">
      <div className="flex flex-wrap items-end gap-3 pb-1">
        <Select
          label="Best tilt for"
          value={season}
          options={SEASONS.map((s) => [s.key, south ? SOUTH_WORDS[s.key] : s.words] as const)}
          onChange={setSeason}
        />
        {view && (
          <p className="pb-1.5" data-testid="best-tilt">
            <b className="text-[19px] font-[650]">{view.tilt.best.tilt}°</b>{" "}
            <span className="text-ink-2">
              gets {view.tilt.best.kwhM2.toFixed(2)} kWh/m² a day{climate ? "" : " under clear skies"}; within 1 % from{" "}
              {withinOne(view)[0]}° to {withinOne(view)[1]}°
            </span>{" "}
            <Button className="min-h-[26px]" onClick={() => setPlane({ ...plane, tilt: view.tilt.best.tilt })}>
              Take it
            </Button>
          </p>
        )}
      </div>
      {view && <TiltChart view={view} plane={plane} />}
    </div>
  );
}

function PlaneFields({
  date,
  setDate,
  shift,
  plane,
  setPlane,
}: {
  date: string;
  setDate: Dispatch<SetStateAction<string>>;
  shift: (days: number) => void;
  plane: Plane;
  setPlane: Dispatch<SetStateAction<Plane>>;
}) {
  return (
    <div className="flex flex-wrap items-end gap-3">
      <TextField label="Date" width="w-[150px]" type="date" value={date} onChange={(v) => v && setDate(v)} />
      <span className="flex">
        <Button className="min-h-8" aria-label="Day before" onClick={() => shift(-1)}>
          <ChevronLeft size={14} />
        </Button>
        <Button className="min-h-8" aria-label="Day after" onClick={() => shift(1)}>
          <ChevronRight size={14} />
        </Button>
      </span>
      <div className="w-[84px]">
        <QuantityField
          label="Tilt"
          quantity="angle"
          si={plane.tilt}
          min={0}
          max={90}
          onChange={(tilt) => setPlane({ ...plane, tilt })}
        />
      </div>
      <div className="w-[84px]">
        <QuantityField
          label="Faces"
          quantity="angle"
          direction
          si={plane.azimuth}
          min={0}
          max={360}
          onChange={(azimuth) => setPlane({ ...plane, azimuth: azimuth % 360 })}
        />
      </div>
    </div>
  );
}

/** The strip as figures, hour by hour: what a screen reader or a spreadsheet wants. */
function DayTable({ sky, zone }: { sky: DaySky; zone: string }) {
  const clock = (ms: number) => timeOfDay(ms, zone);
  const rows = sky.samples.filter((s, i) => i % 6 === 0 && s.altitude > -1);
  const columns = [
    "time",
    "altitude °",
    "azimuth °",
    "clear sky in the plane W/m²",
    "off the normal °",
    "beam that arrives %",
  ];
  const cells = (s: (typeof rows)[number]) => [
    clock(s.ms),
    s.altitude.toFixed(1),
    s.azimuth.toFixed(1),
    Math.round(s.irradiance),
    Math.round(s.incidence),
    Math.round(100 * s.worstShare),
  ];
  return (
    <details>
      <summary className="cursor-pointer text-[13px] font-semibold text-action">The day as a table</summary>
      <div className="max-h-[260px] overflow-auto" tabIndex={0} role="region" aria-label="The day, table">
        <table className="grid-table text-[13px]">
          <thead>
            <tr>
              {columns.map((c) => (
                <th key={c} scope="col" className="num">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((s) => (
              <tr key={s.ms}>
                {cells(s).map((c, i) => (
                  <td key={i} className="num">
                    {c}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button kind="plain" onClick={() => void downloadCsv("sun-day.csv", [columns, ...rows.map(cells)])}>
        CSV
      </Button>
    </details>
  );
}

const withinOne = (view: YearView): [number, number] => {
  const good = view.tilt.curve.filter((c) => c.kwhM2 >= 0.99 * view.tilt.best.kwhM2);
  return [good[0].tilt, good[good.length - 1].tilt];
};

/** The year's figures from the worker; the last ones stay until the next are there. */
const SUN: Desk = { name: "sun" };
type YearAsked = [Site, Plane, Climate | null, number[], number];

function useYear(...asked: YearAsked): { view: YearView | null; failed: string | null } {
  const { last, failed } = useWorkerAnswer<YearAsked, YearView>({
    desk: SUN,
    asked,
    key: JSON.stringify(asked),
    answer: (a) => sunWorker().year(...a),
    failure:
      "The year could not be worked out: this page’s worker stopped. Reload the page; what is kept of the site stays.",
  });
  // The last year's figures belong to another question.
  return { view: failed ? null : (last?.value ?? null), failed };
}

function SunPathChart({ site, plane, date }: { site: Site; plane: Plane; date: string }) {
  const spec = useMemo((): ChartSpec => {
    // South of the tropics the noon sun is in the north: azimuths then run from −180 to 180, so that the path is whole.
    const south = site.latitude < 0;
    const turn = (a: number) => (south ? ((a + 540) % 360) - 180 : ((a % 360) + 360) % 360);
    const year = Number(date.slice(0, 4));
    const paths = sunPaths(site, year);
    // Toward the poles the summer sun goes all the way round.
    const round = Math.abs(site.latitude) > 52;
    const broken = (points: { azimuth: number; altitude: number }[]) =>
      points.map((p) => ({ x: turn(p.azimuth), y: p.altitude })).sort((a, b) => a.x - b.x);
    const day = sunDay(Date.parse(`${date}T12:00:00Z`) - (site.longitude / 15) * 3600000, site, site.zone);
    const today = Array.from({ length: 145 }, (_, i) =>
      sunPosition(day.startMs + ((day.endMs - day.startMs) * i) / 144, site),
    ).filter((p) => p.altitude > -1);
    const cone = coneOutline(plane).map((p) => ({ x: turn(p.azimuth), y: p.altitude }));
    // A cone that crosses the chart's seam would be drawn across it.
    const whole = cone.every((p, i) => i === 0 || Math.abs(p.x - cone[i - 1].x) < 180);
    const ridge = Array.from({ length: 181 }, (_, i) => (south ? -180 : 0) + i * 2).map((x) => ({
      x,
      y: horizonAltitude(site.detail.horizon, (x + 360) % 360),
    }));
    const names = [
      "21 Dec",
      "21 Jan or Nov",
      "21 Feb or Oct",
      "21 Mar or Sep",
      "21 Apr or Aug",
      "21 May or Jul",
      "21 Jun",
    ];
    return {
      title: "Sun paths",
      summary: `Altitude against azimuth on the 21sts of the year, the skyline, and the cone ${CONE} degrees about the collector's normal. ${day.kind === "polarNight" ? "On the chosen day the sun does not rise." : `On the chosen day the sun is highest at ${Math.round(day.noonAltitude)} degrees.`}`,
      x: {
        title: south ? "azimuth, ° (0 north, 90 east, −90 west)" : "azimuth, ° (90 east, 180 south, 270 west)",
        min: (south ? -180 : 0) + (round ? 0 : 30),
        max: (south ? 180 : 360) - (round ? 0 : 30),
      },
      y: { title: "altitude, °", min: 0, max: 90 },
      series: [
        { label: "skyline", kind: "area", color: "--ink-3", points: ridge },
        ...paths.map((p, i) => ({ label: names[i], kind: "line" as const, color: "--rule", points: broken(p.points) })),
        { label: "chosen day", kind: "line", color: "--ink", points: broken(today) },
        ...(whole
          ? [{ label: `cone of ${CONE}°`, kind: "line" as const, color: "--action", dashed: true, points: cone }]
          : []),
      ],
      table: {
        columns: ["path", "azimuth °", "altitude °"],
        rows: [
          ...today
            .filter((_, i) => i % 6 === 0)
            .map((p) => ["chosen day", p.azimuth.toFixed(1), p.altitude.toFixed(1)]),
          ...paths.flatMap((p, i) =>
            p.points.filter((_, k) => k % 6 === 0).map((q) => [names[i], q.azimuth.toFixed(1), q.altitude.toFixed(1)]),
          ),
          ...site.detail.horizon.map((h) => ["skyline", h.azimuth.toFixed(1), h.altitude.toFixed(1)]),
        ],
      },
    };
  }, [site, plane, date]);
  return (
    <div>
      <Chart spec={spec} height={250} legend={false} />
      <p className="side">
        grey: 21sts of the year; black: the chosen day; dashed: ±{CONE}° about the normal; filled: skyline
      </p>
    </div>
  );
}

function TiltChart({ view, plane }: { view: YearView; plane: Plane }) {
  const spec = useMemo(
    (): ChartSpec => ({
      title: "Irradiation against tilt",
      summary: `Best at ${view.tilt.best.tilt} degrees with ${view.tilt.best.kwhM2.toFixed(2)} kilowatt-hours per square metre and day.`,
      x: { title: "tilt, °", min: 0, max: 90 },
      y: { title: "kWh/m² a day", min: 0 },
      series: [
        {
          label: "irradiation",
          kind: "line",
          color: "--ink",
          points: view.tilt.curve.map((c) => ({ x: c.tilt, y: c.kwhM2 })),
        },
      ],
      lines: [{ x: plane.tilt, label: "now" }],
      table: {
        columns: ["tilt °", "kWh/m² a day"],
        rows: view.tilt.curve.filter((_, i) => i % 5 === 0).map((c) => [c.tilt, c.kwhM2.toFixed(3)]),
      },
    }),
    [view, plane.tilt],
  );
  return <Chart spec={spec} height={190} legend={false} />;
}
