export interface Stage {
  left: number;
  right: number;
  /** Stroke of outlines, px. */
  line: number;
  pxPerM: number;
  size: "badge" | "large";
}

/** Hundredths of a pixel are enough. */
export const r = (v: number): number => Math.round(v * 100) / 100;

/** Centres of what repeats across the box at its true pitch, or as close as can be told apart. */
export function across(stage: Stage, pitchM: number, least: number): number[] {
  const { left, right } = stage;
  const pitch = Math.min((right - left) / 2, Math.max(least, (Number.isFinite(pitchM) ? pitchM : 0.05) * stage.pxPerM));
  const count = Math.max(1, Math.floor((right - left) / pitch + 1e-6));
  const start = left + (right - left - count * pitch) / 2;
  return Array.from({ length: Math.min(200, count) }, (_, i) => start + pitch * (i + 0.5));
}
