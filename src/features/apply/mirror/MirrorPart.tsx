"use client";

import { CalendarPlus, Download } from "lucide-react";
import Link from "next/link";
import { useEffect, useMemo, useState } from "react";
import { opening } from "@/core/collector/design";
import type { ApplySettings } from "@/core/experiment/schema/apply";
import type { MirrorCase, MirrorYearView } from "@/core/experiment/mirrorYear";
import type { SeasonJob } from "@/core/experiment/seasonJob";
import { seasonMirrors } from "@/core/experiment/seasonScenario";
import { isUp, mirrorPlace, reflectanceOf, type Mirror } from "@/core/mirror/mirror";
import { mirrorState, sunFrom } from "@/core/mirror/geometry";
import { beamsOf } from "@/core/mirror/several";
import { clearSky, transpose } from "@/core/sun/clearSky";
import { sunPosition } from "@/core/sun/position";
import { SEASON_YEAR, standardOffset } from "@/core/season/weather";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { downloadCsv } from "@/ui/download";
import { QuantityField } from "@/ui/QuantityField";
import { MIRROR_STATE_WORDS } from "@/words/mirror";
import { percent } from "@/words/sources";
import { seasonWorker, stopSeason } from "@/workers/season";
import { originOf, triedMirrors } from "../job";
import { MonthPick } from "../MonthPick";
import { Select } from "../UseForm";
import { MirrorFigures } from "./MirrorFigures";
import { LightSpot, PlanView, SideView, type Tried } from "./views";

type Chosen = NonNullable<ApplySettings["mirror"]>;

/** A mirror at its place: where its light falls by hour and day, when to turn it, and what it is worth in heat. */
export function MirrorPart({
  view,
  settings,
  hours,
  change,
}: {
  view: ApplyView;
  settings: ApplySettings;
  hours: string | null;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const withMirrors = view.candidates.filter((c) => c.design.mirrors.length > 0);
  const own = withMirrors.find((c) => c.key === settings.mirror?.lane) ?? null;
  if (withMirrors.length === 0)
    return (
      <p>
        No variant has a mirror. Add one to a box in{" "}
        <Link className="underline" href={`/experiments/${view.experimentId}/build`}>
          Build
        </Link>
        , along any edge or standing free.
      </p>
    );
  const begin = (c: CandidateView) => {
    const plain = view.candidates.find((k) => k.design.mirrors.length === 0 && k.origins.length > 0) ?? c;
    change({ mirror: { lane: c.key, box: plain.key, tried: {}, snow: [], toleranceDeg: 5, aboveK: 30, riseK: 20 } });
  };
  if (!settings.mirror || !own)
    return (
      <div className="flex flex-wrap gap-2">
        {withMirrors.map((c) => (
          <button key={c.key} type="button" className="btn btn-main" onClick={() => begin(c)}>
            Mirror of {c.name}
          </button>
        ))}
      </div>
    );
  return <Sheet {...{ view, settings, hours, change, own, withMirrors }} chosen={settings.mirror} />;
}

const DAY = 86400000;

function Sheet({
  view,
  settings,
  hours,
  change,
  own,
  chosen,
  withMirrors,
}: {
  view: ApplyView;
  settings: ApplySettings;
  hours: string | null;
  change: (part: Partial<ApplySettings>) => void;
  own: CandidateView;
  chosen: Chosen;
  withMirrors: readonly CandidateView[];
}) {
  const [day, setDay] = useState(
    () => Math.floor((Date.now() - Date.UTC(new Date().getUTCFullYear(), 0, 1)) / DAY) % 365,
  );
  const [minute, setMinute] = useState(12 * 60);
  const { site } = view;
  const plane = useMemo(() => settings.rows[0] ?? view.bench, [settings.rows, view.bench]);
  const box = opening(own.design);
  const mirrors = triedMirrors(own.design.mirrors, own.key, settings);
  const atMs = Date.UTC(SEASON_YEAR, 0, 1) - standardOffset(site.zone) + day * DAY + minute * 60000;
  const position = sunPosition(atMs, site);
  const sun = position.altitude > 0 ? sunFrom(plane, position) : null;
  const date = new Date(Date.UTC(SEASON_YEAR, 0, 1 + day));
  const [month, dayOfMonth] = [date.getUTCMonth() + 1, date.getUTCDate()];
  const drawn = {
    box,
    plane,
    sun,
    mirrors: mirrors
      .filter((m) => isUp(m, month, dayOfMonth))
      .map((mirror) => ({ mirror, place: mirrorPlace(box, plane, mirror) })),
  };
  const set = (part: Partial<Chosen>) => change({ mirror: { ...chosen, ...part } });
  const onTry = (id: string, part: Partial<Tried>) => {
    const m = mirrors.find((x) => x.id === id)!;
    set({ tried: { ...chosen.tried, [id]: { angle: m.angle, depthM: m.depthM, widthM: m.widthM, ...part } } });
  };
  const year = useMirrorYear(view, settings, hours, own, mirrors);
  const tried = Object.keys(chosen.tried).length > 0;
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      <div className="flex flex-wrap items-end gap-3">
        <Select
          label="Mirror of"
          value={chosen.lane}
          options={withMirrors.map((c) => [c.key, c.name] as const)}
          onChange={(lane) => set({ lane, tried: {} })}
        />
        <Select
          label="On the box of"
          value={chosen.box}
          options={view.candidates.filter((c) => c.origins.length > 0).map((c) => [c.key, c.name] as const)}
          onChange={(next) => set({ box: next })}
        />
        {tried && (
          <button type="button" className="btn" onClick={() => set({ tried: {} })}>
            As drawn again
          </button>
        )}
      </div>
      <div className="grid grid-cols-1 gap-3 md:grid-cols-[minmax(0,1.5fr)_minmax(0,0.68fr)_minmax(0,1.2fr)]">
        <SideView drawn={drawn} onTry={onTry} />
        <LightSpot drawn={drawn} />
        <div>
          <PlanView drawn={drawn} onTry={onTry} />
          <Now {...{ drawn, position, atMs, own, site, plane }} />
        </div>
      </div>
      <Scrubbers {...{ day, minute, setDay, setMinute, date }} />
      <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
        {mirrors.slice(0, 2).map((m, i) => (
          <QuantityField
            key={m.id}
            label={`Angle of mirror ${i + 1}`}
            quantity="angle"
            si={m.angle}
            min={m.stand === "free" ? 1 : 20}
            max={179}
            onChange={(angle) => onTry(m.id, { angle })}
          />
        ))}
        {mirrors.slice(0, 2).map((m, i) => (
          <QuantityField
            key={`${m.id}-depth`}
            label={`Length of mirror ${i + 1}`}
            quantity="length"
            si={m.depthM}
            min={0.05}
            max={10}
            onChange={(depthM) => onTry(m.id, { depthM })}
          />
        ))}
        <QuantityField
          label="Heats above outside by"
          quantity="temperatureDifference"
          si={chosen.aboveK}
          min={0}
          max={120}
          onChange={(aboveK) => set({ aboveK })}
        />
        <QuantityField
          label="Air may rise by"
          quantity="temperatureDifference"
          si={chosen.riseK}
          min={1}
          max={100}
          onChange={(riseK) => set({ riseK })}
        />
        <QuantityField
          label="Angle may lie off by"
          quantity="angle"
          si={chosen.toleranceDeg}
          min={1}
          max={30}
          onChange={(toleranceDeg) => set({ toleranceDeg })}
        />
      </div>
      <MonthPick label="Snow lies on it" months={chosen.snow} onChange={(snow) => set({ snow })} />
      {year.problem && <p className="font-semibold text-doubt">{year.problem}</p>}
      {year.view ? (
        <>
          <MirrorFigures {...{ view, own, chosen, plane }} year={year.view} candidate={year.of!} />
          {year.view.angles && <Adjustments {...{ view, tried }} list={year.view.angles.list} />}
        </>
      ) : (
        !year.problem && <p role="status">Working out the mirror’s year …</p>
      )}
    </div>
  );
}

function Scrubbers({
  day,
  minute,
  setDay,
  setMinute,
  date,
}: {
  day: number;
  minute: number;
  setDay: (d: number) => void;
  setMinute: (m: number) => void;
  date: Date;
}) {
  const clock = `${Math.floor(minute / 60)}:${String(minute % 60).padStart(2, "0")}`;
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1 text-[13px] font-semibold">
      <label htmlFor="mirror-day" className="w-[150px]">
        {date.toLocaleDateString("en-GB", { day: "numeric", month: "long", timeZone: "UTC" })}
      </label>
      <input
        id="mirror-day"
        type="range"
        aria-label="Day of the year"
        min={0}
        max={364}
        value={day}
        onChange={(e) => setDay(Number(e.target.value))}
      />
      <label htmlFor="mirror-hour">{clock}, standard time</label>
      <input
        id="mirror-hour"
        type="range"
        aria-label="Time of day"
        min={240}
        max={1260}
        step={10}
        value={minute}
        onChange={(e) => setMinute(Number(e.target.value))}
      />
    </div>
  );
}

/** The instant in figures: lit share, light added under a clear sky, and where the geometry does not hold. */
function Now({
  drawn,
  position,
  atMs,
  own,
  site,
  plane,
}: {
  drawn: Parameters<typeof SideView>[0]["drawn"];
  position: { altitude: number; azimuth: number };
  atMs: number;
  own: CandidateView;
  site: ApplyView["site"];
  plane: { tilt: number; azimuth: number };
}) {
  const { box, mirrors, sun } = drawn;
  if (!sun) return <p className="side">The sun is down.</p>;
  if (mirrors.length === 0) return <p className="side">No mirror is up on this day.</p>;
  const beams = beamsOf(
    box,
    mirrors.map((m) => m.place),
    sun,
  );
  const sky = clearSky(atMs, site, site.detail.turbidity[new Date(atMs).getUTCMonth()], position);
  const plain = transpose(sky, { timeMs: atMs, sun: position, plane });
  const added = beams.mirrors.reduce(
    (s, b, i) => s + sky.beamNormal * reflectanceOf(mirrors[i].mirror, own.design.materials) * b.lit * b.cosine,
    0,
  );
  return (
    <dl className="mt-1 grid grid-cols-[auto_auto] justify-start gap-x-4 text-[13.5px]" aria-live="polite">
      {mirrors.map((m, i) => (
        <div key={m.mirror.id} className="contents">
          <dt>mirror {mirrors.length > 1 ? i + 1 : ""} lights</dt>
          <dd className="num font-[650]" data-testid={`lit-${i + 1}`}>
            {percent(beams.mirrors[i].lit)}
          </dd>
          {beams.mirrors[i].lit === 0 && (
            <dd className="side col-span-2">{MIRROR_STATE_WORDS[mirrorState(box, m.place, sun, position.altitude)]}</dd>
          )}
        </div>
      ))}
      <dt>shaded by mirrors</dt>
      <dd className="num">{percent(beams.shaded)}</dd>
      <dt>clear sun in the plane</dt>
      <dd className="num">{Math.round(plain.total)} W/m²</dd>
      <dt>mirrors add</dt>
      <dd className="num">{Math.round(added - beams.shaded * plain.beam)} W/m²</dd>
      <dt className="side">sun</dt>
      <dd className="side num">
        {Math.round(position.altitude)}° high, {Math.round(position.azimuth)}°
      </dd>
    </dl>
  );
}

function Adjustments({
  view,
  list,
  tried,
}: {
  view: ApplyView;
  list: NonNullable<MirrorYearView["angles"]>["list"];
  tried: boolean;
}) {
  return (
    <section aria-labelledby="adjustments">
      <div className="head">
        <h2 id="adjustments">When to turn it</h2>
        <span className="side">by clear days, mirrored about the solstice</span>
        <span className="more no-print flex gap-2">
          <a className="btn" href={`/api/experiments/${view.experimentId}/apply.ics`} download>
            <CalendarPlus size={14} aria-hidden /> Calendar file
          </a>
          <button
            type="button"
            className="btn"
            onClick={() =>
              void downloadCsv("mirror-angles.csv", [
                ["from", "until", "angle °", "off by at most °", "share of turning it daily"],
                ...list.map((l) => [
                  l.from,
                  l.until,
                  l.angle ?? "down",
                  Number(l.offDeg.toFixed(1)),
                  Number(l.share.toFixed(3)),
                ]),
              ])
            }
          >
            <Download size={14} aria-hidden /> CSV
          </button>
          <Link className="btn" href={`/experiments/${view.experimentId}/apply/today`}>
            Today’s sheet
          </Link>
        </span>
      </div>
      <table className="grid-table text-[13.5px]" aria-label="Adjustment list">
        <thead>
          <tr>
            <th scope="col">from</th>
            <th scope="col">until</th>
            <th scope="col" className="num">
              angle
            </th>
            <th scope="col" className="num">
              off by at most
            </th>
            <th scope="col" className="num">
              of turning it daily
            </th>
          </tr>
        </thead>
        <tbody>
          {list.map((l) => (
            <tr key={l.from}>
              <td>{dayMonth(l.from)}</td>
              <td>{dayMonth(l.until)}</td>
              <td className="num font-[650]">{l.angle === null ? "lay it down" : `${l.angle}°`}</td>
              <td className="num">{l.angle === null ? "" : `${l.offDeg.toFixed(1)}°`}</td>
              <td className="num">{percent(l.share)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {tried && (
        <p className="side">The angle tried above is not in the drawing: change it in Build to keep it there.</p>
      )}
    </section>
  );
}

export const dayMonth = (date: string): string =>
  new Date(`${date}T12:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** The mirror's year off the page's thread, after the hand has rested. */
function useMirrorYear(
  view: ApplyView,
  settings: ApplySettings,
  hours: string | null,
  own: CandidateView,
  mirrors: readonly Mirror[],
) {
  const [state, setState] = useState<{
    view: MirrorYearView | null;
    of: MirrorCase["candidate"] | null;
    problem: string | null;
  }>({
    view: null,
    of: null,
    problem: null,
  });
  const chosen = settings.mirror!;
  const boxView = view.candidates.find((c) => c.key === chosen.box);
  const candidate = boxView ? originOf(boxView, settings) : null;
  const plane = settings.rows[0] ?? view.bench;
  const question = candidate && {
    plane: { tilt: plane.tilt, azimuth: plane.azimuth },
    box: opening(own.design),
    mirrors: seasonMirrors(mirrors, (m) => reflectanceOf(m, own.design.materials), chosen.snow),
    candidate,
    aboveK: [...new Set([15, 30, 50, chosen.aboveK])].sort((a, b) => a - b),
    toleranceDeg: chosen.toleranceDeg,
  };
  const key = JSON.stringify([question, settings.weather, settings.seed, settings.without, hours?.length ?? 0]);
  useEffect(() => {
    if (!question) return;
    let live = true;
    const job: Pick<SeasonJob, "settings" | "site" | "climate" | "hours"> = {
      settings,
      site: view.site,
      climate: view.climate,
      hours,
    };
    const timer = setTimeout(() => {
      seasonWorker("mirror")
        .mirror(job, question)
        .then(
          (answer) =>
            live &&
            setState({
              view: answer,
              of: question.candidate,
              problem: answer ? null : "There is no weather to work the year out from: see Weather and shade.",
            }),
          (error: unknown) => live && setState({ view: null, of: null, problem: String(error) }),
        );
    }, 200);
    return () => {
      live = false;
      clearTimeout(timer);
      stopSeason("mirror");
    };
    // The key holds all that the question is made of.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return question
    ? state
    : { view: null, of: null, problem: "The box chosen has no curve to go by: draw it in Build or measure it." };
}
