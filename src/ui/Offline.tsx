"use client";

import { useEffect } from "react";

/** Lets the pages seen last open without a link, where the browser allows it: over this computer's own address, or by certificate. */
export function Offline() {
  useEffect(() => {
    if (process.env.NODE_ENV === "production" && "serviceWorker" in navigator)
      void navigator.serviceWorker.register("/sw.js", { updateViaCache: "none" }).catch(() => undefined);
  }, []);
  return null;
}
