"use client";

import { useEffect } from "react";

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  useEffect(() => console.error(error), [error]);
  return (
    <div className="px-6 py-8" role="alert">
      <h1 className="sentence">Bravel could not show this page.</h1>
      <p className="mt-2">
        Most often the database has stopped. Nothing you stored is lost. The terminal in which Bravel runs shows the
        reason{error.digest ? ` under ${error.digest}` : ""}.
      </p>
      <p className="mt-4">
        <button type="button" className="btn btn-main" onClick={reset}>
          Try again
        </button>
      </p>
    </div>
  );
}
