import { useEffect, useSyncExternalStore, type RefObject } from "react";

// One answer for all charts: once one is in sight their library is there, and the others cost nothing more.
let wanted = false;
const heard = new Set<() => void>();
const want = () => {
  wanted = true;
  for (const hear of heard) hear();
};
const subscribe = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/** Whether to draw charts: as soon as any stands in sight, or the page is to be printed. */
export function useWanted(place: RefObject<Element | null>): boolean {
  const now = useSyncExternalStore(
    subscribe,
    () => wanted,
    () => false,
  );
  useEffect(() => {
    if (now || !place.current) return;
    const near = new IntersectionObserver((seen) => seen.some((s) => s.isIntersecting) && want(), {
      threshold: 0.2,
    });
    near.observe(place.current);
    window.addEventListener("beforeprint", want);
    return () => {
      near.disconnect();
      window.removeEventListener("beforeprint", want);
    };
  }, [now, place]);
  return now;
}
