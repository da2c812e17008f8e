"use client";

import { useCallback, useState } from "react";

/** Width of an element, px, kept up to date; the first guess before it is measured. */
export function useWidth(first: number): [(element: HTMLElement | null) => void, number] {
  const [width, setWidth] = useState(first);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(Math.max(200, Math.round(entry.contentRect.width))));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
