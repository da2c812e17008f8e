"use client";

import { useEffect, useRef, useState } from "react";
import { onToast } from "./toast";

type Sonner = typeof import("sonner");

/** What is said for a moment at the foot of the page; its script comes with the first of it. */
export function Toasts() {
  const [sonner, setSonner] = useState<Sonner | null>(null);
  const [heard, setHeard] = useState(0);
  const waiting = useRef<((by: Sonner) => void)[]>([]);
  useEffect(
    () =>
      onToast((kind, text, options) => {
        waiting.current.push(({ toast }) => void (kind === "message" ? toast : toast[kind])(text, options));
        setHeard((n) => n + 1);
        void import("sonner").then((loaded) => setSonner(loaded));
      }),
    [],
  );
  // The drawing part hears from its own effect on, which runs before this one.
  useEffect(() => {
    if (sonner) for (const say of waiting.current.splice(0)) say(sonner);
  }, [sonner, heard]);
  if (!sonner) return null;
  return (
    <sonner.Toaster
      position="bottom-center"
      toastOptions={{
        style: {
          borderRadius: 2,
          border: "1.5px solid var(--ink)",
          background: "var(--sheet)",
          color: "var(--ink)",
          boxShadow: "none",
          fontFamily: "inherit",
        },
      }}
    />
  );
}
