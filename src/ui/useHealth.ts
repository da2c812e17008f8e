"use client";

import { useEffect, useState } from "react";
import type { ServerState } from "@/words/failure";

/** Asks the server once whether it and its database answer. */
export function useHealth(): ServerState {
  const [state, setState] = useState<ServerState>("asking");
  useEffect(() => {
    const abort = new AbortController();
    fetch("/api/health", { signal: abort.signal })
      .then(async (response) => (await response.json()) as { database: boolean })
      .then(({ database }) => setState(database ? "well" : "noDatabase"))
      .catch(() => !abort.signal.aborted && setState("silent"));
    return () => abort.abort();
  }, []);
  return state;
}
