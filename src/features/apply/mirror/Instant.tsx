"use client";

import { mirrorState } from "@/core/mirror/geometry";
import { reflectanceOf } from "@/core/mirror/mirror";
import { beamsOf } from "@/core/mirror/several";
import { clearSky, transpose } from "@/core/sun/clearSky";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { MIRROR_STATE_WORDS } from "@/words/mirror";
import { percent } from "@/words/sources";
import type { SideView } from "./views";

/** Any day and hour of the year, by hand. */
export function Scrubbers({
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
        className="h-7 accent-[var(--action)]"
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
        className="h-7 accent-[var(--action)]"
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
export function Now({
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
