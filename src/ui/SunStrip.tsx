import { NONE_WORDS } from "@/words/plan";
import { linear } from "./scale";
import { atMinute, startOfDay, toWall } from "@/core/log/zone";
import { timeOfDay, weekdayOf } from "@/words/times";
import { benchStations } from "@/core/plan/bench";
import { daySky, type DaySample, type DaySky } from "@/core/plan/daySky";
import { horizonAltitude } from "@/core/site/horizon";
import type { SiteWorld } from "@/core/site/site";
import type { Plane } from "@/core/sun/position";
import { lineThrough } from "./drawing";
import type { Span } from "@/core/method/method";

interface SunStripProps {
  site: SiteWorld;
  plane: Plane;
  /** Any instant of the day shown; with `now` it is also marked. */
  atMs: number;
  now: boolean;
  windows?: readonly { startMs: number; endMs: number }[];
  recorded?: readonly { ms: number; wm2: number }[];
  thin?: boolean;
  /** The day as already worked out, for the bench as it stands. */
  sky?: DaySky;
}

const W = 1280;
const RULES = { minIrradiance: 700, minModifier: 0.98 };

/** A box of ordinary size alone in the middle of the bench. */
export const ordinaryDay = (atMs: number, site: SiteWorld, plane: Plane): DaySky =>
  daySky(
    atMs,
    site,
    benchStations({ plane, rows: 1, gapM: 0.3, rowPitchM: 3, bottomM: 0.5 }, [
      { widthM: 1, lengthM: 2, depthM: 0.12, mirrors: [] },
    ]),
    { protocol: "steady", rules: RULES, b0: 0.1 },
  );

/** Local hours shown: 5 to 21, or the whole day where the sun is up outside them. */
function stripHours(samples: readonly DaySample[], zone: string, dayStartMs: number): [number, number] {
  const wallStart = toWall(dayStartMs, zone);
  const hour = (s: DaySample) => (toWall(s.ms, zone) - wallStart) / 3600000;
  return samples.some((s) => s.altitude > 0 && (hour(s) < 4.9 || hour(s) > 21.1)) ? [0, 24] : [5, 21];
}

/** The clock of the application: the site's day, sun path over the skyline, clear sky in the plane, shade, usable window, what was recorded. */
export function SunStrip({
  site,
  plane,
  atMs,
  now,
  windows = [],
  recorded = [],
  thin = false,
  sky = ordinaryDay(atMs, site, plane),
}: SunStripProps) {
  const { zone } = site;
  const dayStart = startOfDay(atMs, zone);
  const wallStart = toWall(dayStart, zone);
  const [from, to] = stripHours(sky.samples, zone, dayStart);
  const ofHour = linear([from, to], [0, W]);
  const X = (ms: number) => ofHour((toWall(ms, zone) - wallStart) / 3600000);
  const edge = (hour: number) => atMinute(dayStart, hour * 60, zone);
  const samples = sky.samples.filter((s) => s.ms >= edge(from) - 1 && s.ms <= edge(to) + 1);
  const H = thin ? 18 : 104;
  const bands = skyBands(samples);
  const low = thin ? H : 100;
  const reach = thin ? 15 : 42;
  const ofSun = linear([0, 1150], [low, low - reach]);
  const yOf = (w: number) => ofSun(Math.max(0, w));
  const ofAltitude = linear([0, 75], [52, 8]);
  const altitudeY = (h: number) => ofAltitude(Math.max(0, h));
  const path = (points: readonly { ms: number; wm2: number }[]) =>
    lineThrough(points.map((p) => [X(p.ms), yOf(p.wm2)]));
  const line = (points: readonly DaySample[], y: (s: DaySample) => number) =>
    lineThrough(points.map((s) => [X(s.ms), y(s)]));
  const up = samples.filter((s) => s.altitude > 0);
  const curve = samples.filter((s) => s.irradiance > 1).map((s) => ({ ms: s.ms, wm2: s.irradiance }));
  const best = samples.reduce((a, b) => (b.irradiance > a.irradiance ? b : a));
  const shaded = shadeSpans(samples);
  const date = weekdayOf(atMs, zone, "long", "short");
  const clock = (ms: number) => timeOfDay(ms, zone);
  const nowX = X(atMs);
  const usable = sky.spans;
  const none = sky.none ? `no usable test window: ${NONE_WORDS[sky.none]}` : "";
  const label = `Sun strip, ${date}. ${usable.length ? `Usable from ${usable.map((u) => `${clock(u.fromMs)} to ${clock(u.toMs)}`).join(" and ")}` : none}; clear sky gives at most ${Math.round(best.irradiance)} watts per square metre in the collector plane at ${clock(best.ms)}.${sky.shade.map((s) => ` ${s.owner} shades it for ${s.minutes} minutes.`).join("")}${windows.length ? ` ${windows.length} steady windows used.` : ""}`;
  const step = to - from > 16 ? 2 : 1;
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Sky over the bench">
      <svg
        viewBox={`0 0 ${W} ${H + (thin ? 8 : 20)}`}
        className="block h-auto w-full min-w-[900px]"
        role="img"
        aria-label={label}
      >
        <defs>
          <pattern id="shade" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V6" stroke="var(--ink)" strokeWidth="1.4" opacity="0.55" />
          </pattern>
        </defs>
        {bands.map((b) => (
          <rect
            key={b.from}
            x={X(b.from)}
            width={Math.max(0, X(b.to) - X(b.from) + 0.6)}
            y={0}
            height={H}
            fill={`var(--sky-${b.sky})`}
          />
        ))}
        {usable.map((u) => (
          <rect key={u.fromMs} x={X(u.fromMs)} width={X(u.toMs) - X(u.fromMs)} y={0} height={H} fill="var(--sheet)" />
        ))}
        {shaded.map((s) => (
          <rect
            key={s.from}
            x={X(s.from)}
            width={Math.max(2, X(s.to) - X(s.from))}
            y={thin ? 0 : 54}
            height={thin ? H : H - 54}
            fill="url(#shade)"
          />
        ))}
        {recorded.length > 1 && (
          <path
            d={`${path(recorded)}L${X(recorded.at(-1)!.ms)} ${low}L${X(recorded[0].ms)} ${low}Z`}
            fill="var(--sun)"
            stroke="var(--ink)"
            strokeWidth="0.75"
          />
        )}
        {curve.length > 1 && (
          <path d={path(curve)} fill="none" stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="5 4" />
        )}
        {!thin && site.detail.horizon.length > 0 && samples.length > 1 && (
          <path
            d={`${line(samples, (s) => altitudeY(horizonAltitude(site.detail.horizon, s.azimuth)))}L${X(samples.at(-1)!.ms)} 53L${X(samples[0].ms)} 53Z`}
            fill="var(--ink-3)"
            opacity="0.75"
          />
        )}
        {!thin && up.length > 1 && (
          <path d={line(up, (s) => altitudeY(s.altitude))} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        )}
        {!thin && <path d={`M0 54H${W}`} stroke="var(--rule)" />}
        <path d={`M0 ${H}H${W}`} stroke="var(--ink)" />
        {Array.from({ length: (to - from) / step + 1 }, (_, i) => from + i * step).map((h) => {
          const x = ofHour(h);
          return (
            <g key={h}>
              <path d={`M${x} ${H}v${thin ? 5 : 7}`} stroke="var(--ink)" />
              {!thin && h > from && h < to && (
                <text x={x + 4} y={H + 14}>
                  {h}
                </text>
              )}
            </g>
          );
        })}
        {windows.map((w) => (
          <rect
            key={w.startMs}
            x={X(w.startMs)}
            width={Math.max(2, X(w.endMs) - X(w.startMs))}
            y={H + 1}
            height={4}
            fill="var(--ink)"
          />
        ))}
        {now && nowX > 0 && nowX < W && <path d={`M${nowX} 0V${H}`} stroke="var(--ink)" strokeWidth="1.8" />}
        {thin ? (
          <text
            x={24}
            y={13.5}
            style={{
              fill: bandAt(bands, edge(from) + 3600000) === "day" ? "var(--ink)" : "var(--on-night)",
              fontWeight: 650,
            }}
          >
            {date}
          </text>
        ) : (
          <Labels {...{ bands, edge, from, date, sky, clock, to, usable, X, none, best, low, now, nowX, H, atMs }} />
        )}
      </svg>
    </div>
  );
}

/** What stands in the strip in words: sun's rise and set, the usable spans, the strongest sun. */
function Labels({
  bands,
  edge,
  from,
  date,
  sky,
  clock,
  to,
  usable,
  X,
  none,
  best,
  low,
  now,
  nowX,
  H,
  atMs,
}: {
  bands: { sky: SkyBand; from: number; to: number }[];
  edge: (hour: number) => number;
  from: number;
  date: string;
  sky: DaySky;
  clock: (ms: number) => string;
  to: number;
  usable: Span[];
  X: (ms: number) => number;
  none: string;
  best: DaySample;
  low: number;
  now: boolean;
  nowX: number;
  H: number;
  atMs: number;
}) {
  return (
    <>
      <text
        x={24}
        y={20}
        style={{
          fill: bandAt(bands, edge(from) + 3600000) === "day" ? "var(--ink)" : "var(--on-night)",
          fontSize: 14,
          fontWeight: 650,
        }}
      >
        {date}
      </text>
      {sky.sun.riseMs !== null && (
        <text
          x={24}
          y={37}
          style={{ fill: bandAt(bands, edge(from) + 3600000) === "day" ? "var(--ink-2)" : "var(--on-night)" }}
        >
          sunrise {clock(sky.sun.riseMs)}
        </text>
      )}
      {sky.sun.setMs !== null && (
        <text
          x={W - 24}
          y={20}
          textAnchor="end"
          style={{ fill: bandAt(bands, edge(to) - 3600000) === "day" ? "var(--ink-2)" : "var(--on-night)" }}
        >
          sunset {clock(sky.sun.setMs)}
        </text>
      )}
      {sky.sun.kind !== "rises" && (
        <text
          x={W - 24}
          y={20}
          textAnchor="end"
          style={{ fill: sky.sun.kind === "polarDay" ? "var(--ink-2)" : "var(--on-night)" }}
        >
          {sky.sun.kind === "polarDay" ? "the sun does not set" : "the sun does not rise"}
        </text>
      )}
      {usable.map(
        (u, i) =>
          X(u.toMs) - X(u.fromMs) > 60 && (
            <text key={u.fromMs} x={X(u.fromMs) + 8} y={14}>
              {i === 0 && <tspan fontWeight="650">Test window </tspan>}
              {clock(u.fromMs)}–{clock(u.toMs)}
            </text>
          ),
      )}
      {usable.length === 0 && sky.sun.kind !== "polarNight" && (
        <text x={W / 2} y={16} textAnchor="middle" style={{ fill: "var(--ink)" }}>
          {none}
        </text>
      )}
      {best.irradiance > 1 && (
        <text
          x={Math.max(160, Math.min(W - 160, X(best.ms)))}
          y={low - 8}
          textAnchor="middle"
          style={{ fill: "var(--ink)" }}
        >
          clear sky {Math.round(best.irradiance)} W/m² in the collector plane
        </text>
      )}
      {now && nowX > 0 && nowX < W && (
        <g transform={`translate(${Math.max(26, Math.min(W - 26, nowX))} ${H + 2})`}>
          <rect x={-24} width={48} height={17} fill="var(--ink)" />
          <text y={13} textAnchor="middle" style={{ fill: "var(--ground)", fontWeight: 700 }}>
            {clock(atMs)}
          </text>
        </g>
      )}
    </>
  );
}

type SkyBand = "n" | "d3" | "d2" | "d1" | "day";

/** Day and the three twilights, each by the height that the sun's middle is above. */
const SKIES = [
  ["day", -0.8],
  ["d1", -6],
  ["d2", -12],
  ["d3", -18],
] as const;

export function skyBands(
  samples: readonly { ms: number; altitude: number }[],
): { sky: SkyBand; from: number; to: number }[] {
  const skyOf = (h: number): SkyBand => SKIES.find(([, over]) => h > over)?.[0] ?? "n";
  const bands: { sky: SkyBand; from: number; to: number }[] = [];
  for (const s of samples) {
    const sky = skyOf(s.altitude);
    const last = bands.at(-1);
    if (last?.sky === sky) last.to = s.ms;
    else {
      if (last) last.to = s.ms;
      bands.push({ sky, from: s.ms, to: s.ms });
    }
  }
  return bands;
}

const bandAt = (bands: readonly { sky: SkyBand; from: number; to: number }[], ms: number): SkyBand | undefined =>
  bands.find((b) => b.from <= ms && b.to >= ms)?.sky;

/** Spans in which a station loses beam that would reach its plane. */
export function shadeSpans(samples: readonly DaySample[]): { from: number; to: number }[] {
  const spans: { from: number; to: number }[] = [];
  let open: { from: number; to: number } | null = null;
  for (const s of samples) {
    if (s.altitude > 0 && s.incidence < 90 && s.worstShare < 0.98) {
      if (open) open.to = s.ms;
      else spans.push((open = { from: s.ms, to: s.ms }));
    } else open = null;
  }
  return spans.filter((s) => s.to > s.from);
}
