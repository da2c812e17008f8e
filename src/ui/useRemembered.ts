"use client";

import { useCallback, useSyncExternalStore } from "react";

const CHANGED = "bravel-remembered";

function subscribe(tell: () => void): () => void {
  window.addEventListener(CHANGED, tell);
  window.addEventListener("storage", tell);
  return () => {
    window.removeEventListener(CHANGED, tell);
    window.removeEventListener("storage", tell);
  };
}

function stored(name: string): string | null {
  try {
    return localStorage.getItem(name);
  } catch {
    return null;
  }
}

/** A choice of how a page looks that this browser remembers; null where none was made, and on the server. */
export function useRemembered(name: string): [value: string | null, remember: (value: string) => void] {
  const value = useSyncExternalStore(
    subscribe,
    () => stored(name),
    () => null,
  );
  const remember = useCallback(
    (next: string) => {
      try {
        localStorage.setItem(name, next);
      } catch {
        // A browser that keeps nothing: the page stays as it opened.
      }
      window.dispatchEvent(new Event(CHANGED));
    },
    [name],
  );
  return [value, remember];
}
