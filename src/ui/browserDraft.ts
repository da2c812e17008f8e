"use client";

import { useCallback, useState } from "react";

/** What this browser keeps under a name. @param read takes what was kept, of whatever version; null: cannot be used @returns null where nothing is, or nothing that can be read */
export function readKept<T>(store: string, read: (value: unknown) => T | null): T | null {
  try {
    const text = localStorage.getItem(store);
    return text === null ? null : read(JSON.parse(text));
  } catch {
    return null;
  }
}

/** @returns false where the browser is full or may keep nothing: then it lives on in the page alone */
export function keepHere(store: string, value: unknown): boolean {
  try {
    localStorage.setItem(store, JSON.stringify(value));
    return true;
  } catch {
    return false;
  }
}

/** Whether something is kept under a name. */
export function isKept(store: string): boolean {
  try {
    return localStorage.getItem(store) !== null;
  } catch {
    return false;
  }
}

/** Takes what cannot be used out of the way, without throwing it away. @returns false where nothing lies there */
export function setAside(store: string): boolean {
  try {
    const kept = localStorage.getItem(store);
    if (kept === null) return false;
    localStorage.setItem(`${store}-unreadable`, kept);
    localStorage.removeItem(store);
  } catch {
    forgetHere(store);
  }
  return true;
}

export function forgetHere(store: string): void {
  try {
    localStorage.removeItem(store);
  } catch {
    // Nothing was kept then.
  }
}

/**
 * Something being typed, kept in the browser with every key, so that a reload in the middle loses nothing.
 * @returns the draft, how to change it, and whether it is kept
 */
export function useBrowserDraft<T>(
  store: string,
  begin: () => T,
): [draft: T, update: (change: (now: T) => T) => void, kept: boolean] {
  const [draft, set] = useState(begin);
  const [kept, setKept] = useState(true);
  const update = useCallback(
    (change: (now: T) => T) =>
      set((now) => {
        const next = change(now);
        const fits = keepHere(store, next);
        queueMicrotask(() => setKept(fits));
        return next;
      }),
    [store],
  );
  return [draft, update, kept];
}
