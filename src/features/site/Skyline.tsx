"use client";

import { linear } from "@/ui/scale";
import { useRef, useState } from "react";
import { horizonText, parseHorizon, type Horizon, type HorizonPoint } from "@/core/site/horizon";
import { horizonWords } from "@/words/plan";
import { Panorama } from "./Panorama";
import { areaThrough, type Point } from "@/ui/drawing";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** The far skyline: typed or pasted as azimuth and altitude, or traced over a panorama photo. */
export function Skyline({
  horizon,
  zone,
  place,
  onChange,
}: {
  horizon: Horizon;
  zone: string;
  place: { latitude: number; longitude: number };
  onChange: (horizon: HorizonPoint[]) => void;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [tracing, setTracing] = useState(false);
  const field = useRef<HTMLTextAreaElement>(null);
  const commit = (text: string) => {
    const read = parseHorizon(text);
    if (!read.ok) return setProblem(horizonWords(read.problem));
    setProblem(null);
    setDraft(null);
    if (horizonText(read.horizon) !== horizonText(horizon)) onChange(read.horizon);
  };
  return (
    <section aria-labelledby="skyline" className="min-w-0">
      <Head
        id="skyline"
        title="Skyline"
        side="hills and roofs far off: azimuth (0 north, 90 east) and altitude in degrees, one corner a line"
      />
      <Profile horizon={horizon} />
      <div className="grid grid-cols-1 gap-3 pt-1 sm:grid-cols-[180px_minmax(0,1fr)]">
        <label className="text-[13px] font-semibold">
          Corners
          <textarea
            ref={field}
            className="field mt-0.5 font-[inherit] tabular-nums"
            rows={8}
            value={draft ?? horizonText(horizon)}
            aria-invalid={problem !== null}
            aria-describedby="skyline-note"
            placeholder={"90\t12\n120\t5"}
            onChange={(e) => setDraft(e.target.value)}
            onBlur={(e) => draft !== null && commit(e.target.value)}
          />
        </label>
        <div className="text-[13.5px]">
          <p>
            Paste two columns from a table, or type them. Between corners the line runs straight; clear the field for a
            free horizon.
          </p>
          {problem && (
            <p id="skyline-note" role="alert" className="pt-1 font-semibold text-danger">
              {problem} Nothing was lost; mend the line.
            </p>
          )}
          <p className="pt-2">
            <Button aria-expanded={tracing} onClick={() => setTracing(!tracing)}>
              {tracing ? "Close the photo" : "Trace over a panorama photo"}
            </Button>
          </p>
        </div>
      </div>
      {tracing && (
        <Panorama
          zone={zone}
          place={place}
          onTrace={(points) => {
            onChange(points);
            setDraft(null);
            setProblem(null);
            setTracing(false);
          }}
        />
      )}
    </section>
  );
}

const W = 720;
const H = 74;

/** The skyline unrolled from north to north. */
function Profile({ horizon }: { horizon: Horizon }) {
  const top = Math.max(20, ...horizon.map((p) => p.altitude)) * 1.15;
  const X = linear([0, 360], [0, W]);
  const ofAltitude = linear([0, top], [H - 14, 6]);
  const Y = (h: number) => ofAltitude(Math.max(0, h));
  const points =
    horizon.length === 0
      ? []
      : [{ azimuth: 0, altitude: edge(horizon) }, ...horizon, { azimuth: 360, altitude: edge(horizon) }];
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="mt-1 block h-auto w-full"
      role="img"
      aria-label={
        horizon.length
          ? `Skyline with ${horizon.length} corners, highest ${Math.round(Math.max(...horizon.map((p) => p.altitude)))} degrees`
          : "Free horizon"
      }
    >
      {points.length > 0 && (
        <path
          d={areaThrough([[0, H - 14], ...points.map((p): Point => [X(p.azimuth), Y(p.altitude)]), [W, H - 14]])}
          fill="var(--ink-3)"
        />
      )}
      <path d={`M0 ${H - 14}H${W}`} stroke="var(--ink)" strokeWidth="1.5" />
      {["N", "E", "S", "W", "N"].map((n, i) => (
        <g key={i}>
          <path d={`M${(i * W) / 4} ${H - 14}v5`} stroke="var(--ink)" />
          <text x={Math.max(6, Math.min(W - 6, (i * W) / 4))} y={H - 1} textAnchor="middle">
            {n}
          </text>
        </g>
      ))}
      {Array.from({ length: Math.floor(top / 10) }, (_, i) => (i + 1) * 10).map((a) => (
        <g key={a}>
          <path d={`M0 ${Y(a)}H${W}`} stroke="var(--hair)" strokeWidth="0.75" />
          <text x={2} y={Y(a) - 2}>
            {a}°
          </text>
        </g>
      ))}
    </svg>
  );
}

function edge(horizon: Horizon): number {
  const first = horizon[0];
  const last = horizon[horizon.length - 1];
  const span = first.azimuth + 360 - last.azimuth;
  return span === 0 ? first.altitude : last.altitude + ((first.altitude - last.altitude) * (360 - last.azimuth)) / span;
}
