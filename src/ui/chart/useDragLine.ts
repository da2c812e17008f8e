"use client";

import { Chart as ChartJs } from "chart.js";
import { useRef, type PointerEvent as Pressed, type RefObject } from "react";
import type { ChartSpec } from "./model";

/** How near a line is grasped, px: a fingertip is wider than a mouse. */
const GRASP = { mouse: 6, touch: 16 };

interface Held {
  index: number;
  axis: "x" | "y";
  value: number;
}

/** Lines of a chart that are moved by hand: told while they move, and once more where they are let go. */
export function useDragLine(
  canvas: RefObject<HTMLCanvasElement | null>,
  spec: ChartSpec,
  onDragLine: ((index: number, value: number, done: boolean) => void) | undefined,
) {
  const held = useRef<Held | null>(null);
  const chartOf = () => (canvas.current ? ChartJs.getChart(canvas.current) : undefined);
  const under = (e: Pressed): Held | null => {
    const chart = chartOf();
    return chart && onDragLine ? lineUnder(chart, spec, e) : null;
  };

  const move = (e: PointerEvent) => {
    const chart = chartOf();
    const own = held.current;
    if (!chart || !own) return;
    const box = chart.canvas.getBoundingClientRect();
    const scale = chart.scales[own.axis];
    const px = own.axis === "x" ? e.clientX - box.left : e.clientY - box.top;
    own.value = Math.max(scale.min, Math.min(scale.max, scale.getValueForPixel(px) ?? own.value));
    shift(chart, own);
    onDragLine?.(own.index, own.value, false);
  };
  const release = () => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", release);
    window.removeEventListener("pointercancel", release);
    const own = held.current;
    held.current = null;
    if (own) onDragLine?.(own.index, own.value, true);
  };

  return {
    onPointerDownCapture(e: Pressed) {
      held.current = under(e);
      if (!held.current) return;
      // Else the browser scrolls, and the chart zooms.
      e.preventDefault();
      e.stopPropagation();
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", release);
      window.addEventListener("pointercancel", release);
    },
    onMouseDownCapture(e: React.MouseEvent) {
      if (held.current) e.stopPropagation();
    },
    onPointerMove(e: Pressed<HTMLDivElement>) {
      const over = held.current ?? under(e);
      const cursors = { x: "ew-resize", y: "ns-resize" };
      e.currentTarget.style.cursor = over ? cursors[over.axis] : "";
    },
  };
}

/** The line a pointer could grasp. */
function lineUnder(chart: ChartJs, spec: ChartSpec, e: Pressed): Held | null {
  const box = chart.canvas.getBoundingClientRect();
  const at = { x: e.clientX - box.left, y: e.clientY - box.top };
  const { left, right, top, bottom } = chart.chartArea;
  if (at.x < left || at.x > right || at.y < top || at.y > bottom) return null;
  const near = e.pointerType === "touch" ? GRASP.touch : GRASP.mouse;
  for (const [index, line] of (spec.lines ?? []).entries()) {
    const axis = line.y === undefined ? "x" : "y";
    const value = line[axis];
    if (!line.drag || value === undefined) continue;
    if (Math.abs(chart.scales[axis].getPixelForValue(value) - at[axis]) <= near) return { index, axis, value };
  }
  return null;
}

/** Draws the held line where it is held. */
function shift(chart: ChartJs, { index, axis, value }: Held): void {
  const plugin = chart.options.plugins as { annotation?: { annotations?: Record<string, object> } } | undefined;
  const drawn = plugin?.annotation?.annotations?.[`line${index}`];
  if (!drawn) return;
  Object.assign(drawn, axis === "x" ? { xMin: value, xMax: value } : { yMin: value, yMax: value });
  chart.update("none");
}
