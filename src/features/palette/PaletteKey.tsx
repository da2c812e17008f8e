"use client";

import dynamic from "next/dynamic";
import { useEffect, useState } from "react";

const Palette = dynamic(() => import("./Palette"), { ssr: false });

/** Opens the palette on Ctrl K, also from within a field, and on the event of its button. */
export function PaletteKey() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key.toLowerCase() !== "k" || !(e.ctrlKey || e.metaKey) || e.altKey || e.shiftKey) return;
      e.preventDefault();
      setOpen((o) => !o);
    };
    const onAsk = () => setOpen(true);
    document.addEventListener("keydown", onKey);
    window.addEventListener("bravel-palette", onAsk);
    return () => {
      document.removeEventListener("keydown", onKey);
      window.removeEventListener("bravel-palette", onAsk);
    };
  }, []);
  return open && <Palette onClose={() => setOpen(false)} />;
}
