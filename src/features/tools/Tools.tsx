"use client";

import dynamic from "next/dynamic";
import { useEffect, useState } from "react";

// Few visits open the tools: their physics and their dialog come when asked for.
const ToolDialog = dynamic(() => import("./ToolDialog"), { ssr: false });

/** Bench tools, a key away (t): a quick reading, units of the trade, duct, air and boiling point here. */
export function Tools() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (
        e.key !== "t" ||
        e.altKey ||
        e.ctrlKey ||
        e.metaKey ||
        (e.target as HTMLElement).closest("input, textarea, select, [contenteditable]")
      )
        return;
      setOpen(true);
    };
    const onAsk = () => setOpen(true);
    document.addEventListener("keydown", onKey);
    window.addEventListener("bravel-tools", onAsk);
    return () => {
      document.removeEventListener("keydown", onKey);
      window.removeEventListener("bravel-tools", onAsk);
    };
  }, []);
  return open && <ToolDialog onClose={() => setOpen(false)} />;
}
