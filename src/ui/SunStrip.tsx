import { clearSkyInPlane } from "@/core/sun/clearSky";
import { incidenceAngle, sunPosition, type Place, type Plane } from "@/core/sun/position";
import { fromWall, startOfDay, toWall } from "@/core/log/zone";

interface SunStripProps {
  place: Place;
  zone: string;
  plane: Plane;
  /** Any instant of the day shown; with `now` it is also marked. */
  atMs: number;
  now: boolean;
  windows?: readonly { startMs: number; endMs: number }[];
  recorded?: readonly { ms: number; wm2: number }[];
  thin?: boolean;
}

const W = 1280;
const FROM = 5;
const TO = 21;
const MINUTES = 5;

/** The clock of the application: the site's day from 5 to 21 h, sun path, clear-sky curve in the plane, usable window, what was recorded. */
export function SunStrip({ place, zone, plane, atMs, now, windows = [], recorded = [], thin = false }: SunStripProps) {
  const dayStart = startOfDay(atMs, zone);
  const wallStart = toWall(dayStart, zone);
  const instant = (hour: number) => {
    const local = fromWall(wallStart + hour * 3600000, zone);
    return local.kind === "single" ? local.utcMs : local.kind === "repeated" ? local.utcMs[0] : wallStart + hour * 3600000 - (wallStart - dayStart);
  };
  const X = (ms: number) => ((toWall(ms, zone) - wallStart) / 3600000 - FROM) * (W / (TO - FROM));
  const samples = Array.from({ length: ((TO - FROM) * 60) / MINUTES + 1 }, (_, i) => {
    const ms = instant(FROM + (i * MINUTES) / 60);
    const sun = sunPosition(ms, place);
    return { ms, sun, total: clearSkyInPlane(ms, place, plane).total, incidence: incidenceAngle(sun, plane) };
  });
  const H = thin ? 18 : 104;
  const usable = samples.filter((s) => s.sun.altitude > 3 && s.incidence < 33.6 && s.total >= 700);
  const bands = skyBands(samples);
  const low = thin ? H : 100;
  const reach = thin ? 15 : 42;
  const yOf = (w: number) => low - (Math.max(0, w) / 1150) * reach;
  const path = (points: readonly { ms: number; wm2: number }[]) => points.map((p, i) => `${i ? "L" : "M"}${X(p.ms).toFixed(1)} ${yOf(p.wm2).toFixed(1)}`).join("");
  const curve = samples.filter((s) => s.total > 1).map((s) => ({ ms: s.ms, wm2: s.total }));
  const sunPath = samples.filter((s) => s.sun.altitude > 0).map((s, i) => `${i ? "L" : "M"}${X(s.ms).toFixed(1)} ${(52 - (s.sun.altitude / 75) * 44).toFixed(1)}`).join("");
  const best = samples.reduce((a, b) => (b.total > a.total ? b : a));
  const date = new Intl.DateTimeFormat("en-GB", { timeZone: zone, weekday: "short", day: "numeric", month: "long" }).format(atMs);
  const clock = (ms: number) => new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(ms);
  const nowX = X(atMs);
  const label = `Sun strip, ${date}. ${usable.length ? `Usable from ${clock(usable[0].ms)} to ${clock(usable.at(-1)!.ms)}` : "No usable test window this day"}, clear sky gives at most ${Math.round(best.total)} watts per square metre in the collector plane at ${clock(best.ms)}.${windows.length ? ` ${windows.length} steady windows used.` : ""}`;
  return (
    <div className="relative overflow-x-auto">
    <svg viewBox={`0 0 ${W} ${H + (thin ? 8 : 20)}`} className="block h-auto w-full min-w-[900px]" role="img" aria-label={label}>
      {bands.map((b) => <rect key={b.from} x={X(b.from)} width={Math.max(0, X(b.to) - X(b.from) + 0.6)} y={0} height={H} fill={`var(--sky-${b.sky})`} />)}
      {usable.length > 1 && <rect x={X(usable[0].ms)} width={X(usable.at(-1)!.ms) - X(usable[0].ms)} y={0} height={H} fill="var(--sheet)" />}
      {recorded.length > 1 && <path d={`${path(recorded)}L${X(recorded.at(-1)!.ms)} ${low}L${X(recorded[0].ms)} ${low}Z`} fill="var(--sun)" stroke="var(--ink)" strokeWidth="0.75" />}
      {curve.length > 1 && <path d={path(curve)} fill="none" stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="5 4" />}
      {!thin && <path d={sunPath} fill="none" stroke="var(--ink)" strokeWidth="1.5" />}
      {!thin && <path d={`M0 54H${W}`} stroke="var(--rule)" />}
      <path d={`M0 ${H}H${W}`} stroke="var(--ink)" />
      {Array.from({ length: TO - FROM + 1 }, (_, i) => {
        const x = (i * W) / (TO - FROM);
        return (
          <g key={i}>
            <path d={`M${x} ${H}v${thin ? 5 : 7}`} stroke="var(--ink)" />
            {!thin && i > 0 && i < TO - FROM && <text x={x + 4} y={H + 14}>{FROM + i}</text>}
          </g>
        );
      })}
      {windows.map((w) => <rect key={w.startMs} x={X(w.startMs)} width={Math.max(2, X(w.endMs) - X(w.startMs))} y={H + 1} height={4} fill="var(--ink)" />)}
      {now && nowX > 0 && nowX < W && <path d={`M${nowX} 0V${H}`} stroke="var(--ink)" strokeWidth="1.8" />}
      {thin ? (
        <text x={24} y={13.5} style={{ fill: "var(--on-night)", fontWeight: 650 }}>{date}</text>
      ) : (
        <>
          <text x={24} y={20} style={{ fill: "var(--on-night)", fontSize: 14, fontWeight: 650 }}>{date}</text>
          {usable.length > 1 && <text x={X(usable[0].ms) + 8} y={14}><tspan fontWeight="650">Test window</tspan> {clock(usable[0].ms)}–{clock(usable.at(-1)!.ms)}</text>}
          {usable.length === 0 && <text x={W / 2} y={16} textAnchor="middle">no usable test window: sun below 700 W/m² or over 34° off the normal</text>}
          <text x={X(best.ms)} y={low - 8} textAnchor="middle" style={{ fill: "var(--ink)" }}>clear sky {Math.round(best.total)} W/m² in the collector plane</text>
          {now && nowX > 0 && nowX < W && (
            <g transform={`translate(${Math.max(26, Math.min(W - 26, nowX))} ${H + 2})`}><rect x={-24} width={48} height={17} fill="var(--ink)" /><text y={13} textAnchor="middle" style={{ fill: "var(--ground)", fontWeight: 700 }}>{clock(atMs)}</text></g>
          )}
        </>
      )}
    </svg>
    </div>
  );
}

type Sky = "n" | "d3" | "d2" | "d1" | "day";

function skyBands(samples: readonly { ms: number; sun: { altitude: number } }[]): { sky: Sky; from: number; to: number }[] {
  const skyOf = (h: number): Sky => (h > -0.8 ? "day" : h > -6 ? "d1" : h > -12 ? "d2" : h > -18 ? "d3" : "n");
  const bands: { sky: Sky; from: number; to: number }[] = [];
  for (const s of samples) {
    const sky = skyOf(s.sun.altitude);
    const last = bands.at(-1);
    if (last?.sky === sky) last.to = s.ms;
    else {
      if (last) last.to = s.ms;
      bands.push({ sky, from: s.ms, to: s.ms });
    }
  }
  return bands;
}
