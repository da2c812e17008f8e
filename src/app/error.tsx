"use client";

import { useEffect } from "react";
import { useHealth } from "@/ui/useHealth";
import { failureText } from "@/words/failure";

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  const health = useHealth();
  useEffect(() => console.error(error), [error]);
  return (
    <div className="px-6 py-8" role="alert">
      <h1 className="sentence">Bravel could not show this page.</h1>
      <p className="mt-2">{failureText(health, error.digest ?? null)}</p>
      <p className="mt-4">
        <button type="button" className="btn btn-main" onClick={reset}>
          Try again
        </button>
      </p>
    </div>
  );
}
