import { laneShape } from "./LaneMark";
import { linear, rounded } from "./scale";

/** A figure with its half-width on a shared scale: tick marks are the scale's, so they can be read off. */
export function Interval({
  value,
  half,
  min,
  max,
  step,
  lane,
  width = 200,
  zero = false,
  neutral = 0,
}: {
  value: number;
  half: number;
  min: number;
  max: number;
  step: number;
  lane?: string;
  width?: number;
  /** Draw the line of no difference, with the band too small to matter. */
  zero?: boolean;
  neutral?: number;
}) {
  const X = linear([min, max], [4, width - 4], true);
  const color = lane ? `var(--lane-${lane.toLowerCase()})` : "var(--ink)";
  const ticks = X.ticks(Math.round((max - min) / step));
  return (
    <svg width={width} height={20} viewBox={`0 0 ${width} 20`} aria-hidden="true" className="block max-w-full">
      {zero && neutral > 0 && (
        <rect x={X(-neutral)} width={X(neutral) - X(-neutral)} y={0} height={20} fill="var(--well)" />
      )}
      {!zero && <path d={`M${X(min)} 16H${X(max)}`} stroke="var(--rule)" />}
      {ticks.map((t) => (
        <path key={t} d={`M${X(t)} ${zero ? 17 : 13}V${zero ? 20 : 16}`} stroke="var(--rule)" />
      ))}
      {zero && <path d={`M${X(0)} 0V20`} stroke="var(--ink)" strokeWidth="1.25" />}
      {lane ? (
        <rect
          x={X(value - half)}
          y={4}
          width={Math.max(1, X(value + half) - X(value - half))}
          height={8}
          fill={color}
          opacity="0.45"
        />
      ) : (
        <path d={`M${X(value - half)} 10H${X(value + half)}`} stroke={color} strokeWidth="1.75" />
      )}
      {[value - half, value + half].map((v, i) => (
        <path key={i} d={`M${X(v)} ${lane ? 2.5 : 6}v${lane ? 11 : 8}`} stroke={color} strokeWidth="1.75" />
      ))}
      {lane ? (
        <path d={laneShape(lane)} fill={color} transform={`translate(${X(value)} 8) scale(0.75)`} />
      ) : (
        <circle cx={X(value)} cy={10} r={3.6} fill={color} />
      )}
    </svg>
  );
}

const TICKS = 5;

/** A scale from a round figure to a round figure with a few ticks, also where all values are one. */
export function scaleOver(low: number, high: number): { min: number; max: number; step: number } {
  const ends = rounded([low, high === low ? low + (Math.abs(low) || 1) : high], TICKS);
  const [min, max] = ends;
  const [first, second] = linear(ends, [0, 1]).ticks(TICKS);
  return { min, max, step: Number((second - first).toPrecision(12)) };
}
