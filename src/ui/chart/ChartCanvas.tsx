"use client";

import { Chart as ChartJs } from "chart.js";
import { useEffect, useRef, useState, type RefObject } from "react";
import { configuration, marked } from "./configuration";
import { chartLabel, type ChartSpec } from "./model";
import { picturesOf, type Pictures } from "./pictures";
import { useDragLine } from "./useDragLine";

const CURSOR_EVENT = "bravel-cursor";

let marksThere = false;

/** Whether what draws spans and lines has come; a chart with neither does not wait for it. */
function useMarks(wanted: boolean): boolean {
  const [there, setThere] = useState(marksThere);
  useEffect(() => {
    if (!wanted || there) return;
    let here = true;
    void import("./marks").then(() => {
      marksThere = true;
      if (here) setThere(true);
    });
    return () => {
      here = false;
    };
  }, [wanted, there]);
  return there || !wanted;
}

/** The canvas itself. Loaded in the browser only. */
export default function ChartCanvas({
  spec,
  range,
  onRange,
  height,
  link,
  onDragLine,
  register,
}: {
  spec: ChartSpec;
  range: [number, number] | null;
  onRange: (range: [number, number] | null) => void;
  height: number;
  link?: string;
  onDragLine?: (index: number, value: number, done: boolean) => void;
  register: (pictures: Pictures | null) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(onRange);
  useEffect(() => {
    latest.current = onRange;
  });

  const ready = useMarks(marked(spec));
  useEffect(() => {
    if (!ready) return;
    let chart: ChartJs<"line">;
    let stands = true;
    const build = () => {
      chart?.destroy();
      chart = new ChartJs(
        canvas.current!,
        configuration(spec, range, (r) => latest.current(r)),
      );
      register(picturesOf(chart, spec, range));
    };
    build();
    // Letters may come late, or after this chart has gone for another.
    void document.fonts.ready.then(() => stands && chart.update("none"));
    const element = canvas.current!;
    const setCursor = (value: number | null) => {
      (chart as { bravelCursor?: number | null }).bravelCursor = value;
      chart.draw();
    };
    const onMove = (e: MouseEvent) =>
      window.dispatchEvent(
        new CustomEvent(CURSOR_EVENT, {
          detail: { link, x: chart.scales.x.getValueForPixel(e.offsetX), from: element },
        }),
      );
    const onLeave = () =>
      window.dispatchEvent(new CustomEvent(CURSOR_EVENT, { detail: { link, x: null, from: element } }));
    const onCursor = (e: Event) => {
      const { detail } = e as CustomEvent<{ link?: string; x: number | null; from: HTMLCanvasElement }>;
      if (detail.link === link && detail.from !== element) setCursor(detail.x);
    };
    window.addEventListener("bravel-theme", build);
    if (link) {
      element.addEventListener("mousemove", onMove);
      element.addEventListener("mouseleave", onLeave);
      window.addEventListener(CURSOR_EVENT, onCursor);
    }
    return () => {
      window.removeEventListener("bravel-theme", build);
      element.removeEventListener("mousemove", onMove);
      element.removeEventListener("mouseleave", onLeave);
      window.removeEventListener(CURSOR_EVENT, onCursor);
      register(null);
      stands = false;
      chart.destroy();
    };
  }, [spec, range, link, register, ready]);

  const drag = useDragLine(canvas, spec, onDragLine);
  const onPointerEnter = () =>
    void import("./zoom").then(() => canvas.current && ChartJs.getChart(canvas.current)?.update("none"));

  const onKeyDown = useKeys({ canvas, onRange });

  return (
    <div
      style={{ height }}
      className={`relative w-full min-w-0 overflow-hidden ${onDragLine ? "touch-pan-y" : ""}`}
      {...drag}
    >
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={chartLabel(spec)}
        onKeyDown={onKeyDown}
        onPointerEnter={onPointerEnter}
      />
    </div>
  );
}

function useKeys({
  canvas,
  onRange,
}: {
  canvas: RefObject<HTMLCanvasElement | null>;
  onRange: (range: [number, number] | null) => void;
}) {
  const onKeyDown = (e: React.KeyboardEvent) => {
    const chart = ChartJs.getChart(canvas.current!);
    if (!chart) return;
    const { min, max } = chart.scales.x;
    const width = max - min;
    const moves: Record<string, [number, number] | null> = {
      ArrowLeft: [min - width * 0.2, max - width * 0.2],
      ArrowRight: [min + width * 0.2, max + width * 0.2],
      "+": [min + width * 0.2, max - width * 0.2],
      "-": [min - width * 0.3, max + width * 0.3],
      "0": null,
    };
    if (!(e.key in moves)) return;
    e.preventDefault();
    onRange(moves[e.key]);
  };
  return onKeyDown;
}
