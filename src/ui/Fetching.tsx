"use client";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { SaidError } from "./said";

/** What is fetched from within a page goes through one client: kept while shown, asked for once, given up when left. */
export function Fetching({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        // Readings do not change behind a person's back, and a refusal is an answer.
        defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, staleTime: 30000 } },
      }),
  );
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}

/** The JSON or the bytes at an address of ours. @throws SaidError with the sentence the server gives */
export async function ask<T>(url: string, signal: AbortSignal, read: (r: Response) => Promise<T>): Promise<T> {
  const response = await fetch(url, { signal });
  if (response.ok) return read(response);
  const { error } = (await response.json().catch(() => ({}))) as { error?: string };
  throw new SaidError(error ?? "Bravel did not answer as it should. Reload the page; if it stays, start Bravel again.");
}
