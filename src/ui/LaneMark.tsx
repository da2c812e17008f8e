/** A lane's letter, shape and colour always go together, so that any one of them may fail. */
const LANES = ["A", "B", "C", "D", "E", "F", "G", "H"] as const;

/** Beyond the bench's eight places a design is drawn in ink: it stands in no lane. */
export const laneColor = (lane: string): string =>
  LANES.includes(lane as "A") ? `var(--lane-${lane.toLowerCase()})` : "var(--ink-2)";

/** Paths in a box of ±8. */
const SHAPES: Record<string, string> = {
  A: "M5.7 0A5.7 5.7 0 1 1 -5.7 0A5.7 5.7 0 1 1 5.7 0Z",
  B: "M-5 -5H5V5H-5Z",
  C: "M0 -6.4L6.2 4.6H-6.2Z",
  D: "M0 -7L6.2 0L0 7L-6.2 0Z",
  E: "M0 6.4L6.2 -4.6H-6.2Z",
  F: "M-2 -6.3H2V-2H6.3V2H2V6.3H-2V2H-6.3V-2H-2Z",
  G: "M-7 -2.6H7V2.6H-7Z",
  H: "M-6 -3.6L-3.6 -6L0 -2.4L3.6 -6L6 -3.6L2.4 0L6 3.6L3.6 6L0 2.4L-3.6 6L-6 3.6L-2.4 0Z",
};

/** A ring for every letter without a lane. */
const RING = "M6 0A6 6 0 1 1 -6 0A6 6 0 1 1 6 0ZM3 0A3 3 0 1 0 -3 0A3 3 0 1 0 3 0Z";

export const laneShape = (lane: string): string => SHAPES[lane] ?? RING;

export function LaneShape({ lane, size = 14 }: { lane: string; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-8 -8 16 16" aria-hidden="true" className="inline-block shrink-0">
      <path d={laneShape(lane)} fill={laneColor(lane)} />
    </svg>
  );
}

export function LaneMark({ lane, size = 14 }: { lane: string; size?: number }) {
  return (
    <span className="inline-flex items-center gap-1 whitespace-nowrap font-bold">
      <LaneShape lane={lane} size={size} />
      {lane}
    </span>
  );
}
