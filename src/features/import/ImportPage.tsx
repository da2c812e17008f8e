"use client";

import dynamic from "next/dynamic";

/** The wizard lives on a draft kept in the browser, so it is drawn there only. */
export const ImportPage = dynamic(() => import("./Importer"), {
  ssr: false,
  loading: () => (
    <p role="status" className="p-6 text-ink-3">
      Opening …
    </p>
  ),
});
