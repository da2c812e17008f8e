"use client";

import { useEffect, useRef, useState, type RefObject } from "react";
import { fromWall } from "@/core/log/zone";
import { fitPanorama, type HorizonPoint, type PanoramaMark } from "@/core/site/horizon";
import { sunPosition } from "@/core/sun/position";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";

type Mode = "mark" | "trace";

function fitWords(marks: number, fit: ReturnType<typeof fitPanorama>, corners: number): string {
  if (marks < 2) return `${2 - marks} more mark${marks === 1 ? "" : "s"} needed`;
  if (!fit) return "The marks must lie at least 5° apart, rising from left to right";
  const agree = marks > 2 ? `, marks agree within ${fit.misfit.toFixed(1)}°` : "";
  return `${fit.degreesPerPixel.toFixed(3)}° a pixel${agree}; ${corners} corner${corners === 1 ? "" : "s"}`;
}

/**
 * Tracing a skyline on a photo: first two marks whose direction is known (a spire on the map, or the sun at a known time),
 * then clicks along the ridge. Arrow keys move a cross and Enter sets it, so that it works without a pointer. The photo stays in the browser.
 */
export function Panorama({
  zone,
  place,
  onTrace,
}: {
  zone: string;
  place: { latitude: number; longitude: number };
  onTrace: (points: HorizonPoint[]) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const panorama = usePanorama(onTrace, box);
  return (
    <div className="no-print border-t border-hair pt-2" data-testid="panorama">
      <label className="text-[13px] font-semibold">
        Photo
        <input
          type="file"
          accept="image/*"
          aria-label="Panorama photo"
          className="field mt-0.5"
          onChange={(e) => panorama.open(e.target.files?.[0])}
        />
      </label>
      <p className="side">
        It stays in your browser; only the traced line is kept. Never look into the sun to take it.
      </p>
      <Problem>{panorama.error}</Problem>
      {panorama.photo && (
        <>
          <p className="pt-1 text-[13.5px]">
            {panorama.mode === "mark"
              ? "Click two things whose direction you know, far apart; type their azimuth and altitude below."
              : "Now click along the skyline, corner by corner."}
          </p>
          <div
            ref={box}
            className="relative cursor-crosshair border border-ink"
            tabIndex={0}
            role="application"
            aria-label={`Panorama photo, ${panorama.mode === "mark" ? "setting marks" : "tracing the skyline"}: arrow keys move the cross, Enter sets a point, Backspace takes the last away`}
            onClick={panorama.onClick}
            onKeyDown={panorama.onKeyDown}
          >
            {/* A local picture: the server never sees it. */}
            {/* eslint-disable-next-line @next/next/no-img-element -- a photo of the device, never on a server */}
            <img src={panorama.photo.url} alt="Your panorama" className="block w-full" />
            <Over photo={panorama.photo} panorama={panorama} />
          </div>
          <ul className="grid gap-2 pt-2">
            {panorama.marks.map((m, i) => (
              <Mark
                key={i}
                number={i + 1}
                mark={m}
                zone={zone}
                place={place}
                onChange={(change) =>
                  panorama.setMarks(panorama.marks.map((o, k) => (k === i ? { ...o, ...change } : o)))
                }
                onRemove={() => panorama.setMarks(panorama.marks.filter((_, k) => k !== i))}
              />
            ))}
          </ul>
          <Steps panorama={panorama} />
          {panorama.fit && panorama.fit.misfit > 1.5 && (
            <p role="alert" className="text-doubt">
              The marks disagree by {panorama.fit.misfit.toFixed(1)}°: check their azimuths, or take marks nearer to
              what you trace.
            </p>
          )}
        </>
      )}
    </div>
  );
}

type PanoramaWork = ReturnType<typeof usePanorama>;

/** The photo, its marks and the line traced on it. */
function usePanorama(onTrace: (points: HorizonPoint[]) => void, box: RefObject<HTMLDivElement | null>) {
  const [photo, setPhoto] = useState<{ url: string; width: number; height: number } | null>(null);
  const [mode, setMode] = useState<Mode>("mark");
  const [marks, setMarks] = useState<PanoramaMark[]>([]);
  const [trace, setTrace] = useState<{ x: number; y: number }[]>([]);
  const [cross, setCross] = useState({ x: 0, y: 0 });
  const [error, setError] = useState<string | null>(null);
  useEffect(
    () => () => {
      if (photo) URL.revokeObjectURL(photo.url);
    },
    [photo],
  );
  const open = (file: File | undefined) => {
    if (!file) return;
    const url = URL.createObjectURL(file);
    const image = new Image();
    image.onload = () => {
      setError(null);
      setMarks([]);
      setTrace([]);
      setMode("mark");
      setCross({ x: image.naturalWidth / 2, y: image.naturalHeight / 2 });
      setPhoto({ url, width: image.naturalWidth, height: image.naturalHeight });
    };
    image.onerror = () => {
      URL.revokeObjectURL(url);
      setError(`${file.name} is not a picture this browser can show. Take JPEG or PNG.`);
    };
    image.src = url;
  };
  const fit = fitPanorama(marks);
  const put = (x: number, y: number) => {
    if (mode === "mark") setMarks([...marks, { x, y, azimuth: 180, altitude: 0 }]);
    else setTrace([...trace, { x, y }].sort((a, b) => a.x - b.x));
  };
  const onClick = (e: React.MouseEvent) => {
    const rect = box.current!.getBoundingClientRect();
    put(((e.clientX - rect.left) / rect.width) * photo!.width, ((e.clientY - rect.top) / rect.height) * photo!.height);
  };
  const onKeyDown = (e: React.KeyboardEvent) => {
    const step = (e.shiftKey ? 0.02 : 0.004) * photo!.width;
    const move: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    if (e.key === "Enter") put(cross.x, cross.y);
    else if (e.key === "Backspace") {
      if (mode === "trace") setTrace(trace.slice(0, -1));
      else setMarks(marks.slice(0, -1));
    } else if (move[e.key])
      setCross({
        x: Math.max(0, Math.min(photo!.width, cross.x + move[e.key][0])),
        y: Math.max(0, Math.min(photo!.height, cross.y + move[e.key][1])),
      });
    else return;
    e.preventDefault();
  };
  const use = () => {
    if (!fit) return;
    const points = trace
      .map((t) => fit.toDirection(t.x, t.y))
      .filter((p) => p.altitude > -10 && p.altitude <= 85)
      .map((p) => ({ azimuth: Number((p.azimuth % 360).toFixed(1)) % 360, altitude: Number(p.altitude.toFixed(1)) }))
      .sort((a, b) => a.azimuth - b.azimuth);
    onTrace(points.filter((p, i) => i === 0 || p.azimuth !== points[i - 1].azimuth));
  };
  return {
    open,
    error,
    photo,
    mode,
    onClick,
    onKeyDown,
    marks,
    trace,
    cross,
    setMarks,
    fit,
    setMode,
    setTrace,
    use,
  };
}

function Steps({ panorama: { fit, setMode, mode, trace, setTrace, use, marks } }: { panorama: PanoramaWork }) {
  return (
    <p className="flex flex-wrap items-center gap-2 pt-2">
      <Button disabled={!fit} onClick={() => setMode(mode === "mark" ? "trace" : "mark")}>
        {mode === "mark" ? "Go on to trace" : "Back to the marks"}
      </Button>
      {mode === "trace" && (
        <Button disabled={trace.length === 0} onClick={() => setTrace(trace.slice(0, -1))}>
          Take the last point away
        </Button>
      )}
      <Button kind="main" disabled={!fit || trace.length < 2} onClick={use}>
        Use this skyline
      </Button>
      <span className="side" role="status">
        {fitWords(marks.length, fit, trace.length)}
      </span>
    </p>
  );
}

/** Marks, trace and cross over the photo. */
function Over({
  photo,
  panorama: { marks, trace, cross },
}: {
  photo: { width: number; height: number };
  panorama: PanoramaWork;
}) {
  return (
    <svg
      viewBox={`0 0 ${photo.width} ${photo.height}`}
      className="pointer-events-none absolute inset-0 h-full w-full"
      aria-hidden="true"
    >
      <g stroke="var(--action)" strokeWidth={photo.width / 600}>
        {marks.map((m, i) => (
          <g key={i}>
            <circle cx={m.x} cy={m.y} r={photo.width / 110} fill="none" />
            <text
              x={m.x + photo.width / 80}
              y={m.y}
              style={{ fontSize: photo.width / 45, fill: "var(--action)", stroke: "none" }}
            >
              {i + 1}
            </text>
          </g>
        ))}
      </g>
      {trace.length > 0 && (
        <polyline
          points={trace.map((t) => `${t.x},${t.y}`).join(" ")}
          fill="none"
          stroke="var(--danger)"
          strokeWidth={photo.width / 400}
        />
      )}
      {trace.map((t, i) => (
        <circle key={i} cx={t.x} cy={t.y} r={photo.width / 260} fill="var(--danger)" />
      ))}
      <path
        d={`M${cross.x - photo.width / 60} ${cross.y}h${photo.width / 30}M${cross.x} ${cross.y - photo.width / 60}v${photo.width / 30}`}
        stroke="var(--ink)"
        strokeWidth={photo.width / 700}
      />
    </svg>
  );
}

function Mark({
  number,
  mark,
  zone,
  place,
  onChange,
  onRemove,
}: {
  number: number;
  mark: PanoramaMark;
  zone: string;
  place: { latitude: number; longitude: number };
  onChange: (change: Partial<PanoramaMark>) => void;
  onRemove: () => void;
}) {
  const [time, setTime] = useState("");
  const fromSun = () => {
    const local = fromWall(Date.parse(`${time}:00Z`), zone);
    if (local.kind === "skipped") return;
    const sun = sunPosition(local.kind === "single" ? local.utcMs : local.utcMs[0], place);
    onChange({ azimuth: Number(sun.azimuth.toFixed(1)), altitude: Number(sun.altitude.toFixed(1)) });
  };
  return (
    <li className="flex flex-wrap items-end gap-2 text-[13px]">
      <b className="pb-2">{number}</b>
      <label className="w-[92px] font-semibold">
        Azimuth, °
        <input
          className="field mt-0.5"
          type="number"
          min={0}
          max={360}
          step="0.1"
          aria-label={`Azimuth of mark ${number}`}
          value={mark.azimuth}
          onChange={(e) => onChange({ azimuth: Number(e.target.value) })}
        />
      </label>
      <label className="w-[92px] font-semibold">
        Altitude, °
        <input
          className="field mt-0.5"
          type="number"
          min={-10}
          max={85}
          step="0.1"
          aria-label={`Altitude of mark ${number}`}
          value={mark.altitude}
          onChange={(e) => onChange({ altitude: Number(e.target.value) })}
        />
      </label>
      <label className="font-semibold">
        or the sun at
        <input
          className="field mt-0.5"
          type="datetime-local"
          aria-label={`Mark ${number} is the sun at`}
          value={time}
          onChange={(e) => setTime(e.target.value)}
        />
      </label>
      <Button disabled={!time} onClick={fromSun}>
        It is the sun
      </Button>
      <Button kind="plain" onClick={onRemove}>
        Remove
      </Button>
    </li>
  );
}
