"use client";

import dynamic from "next/dynamic";
import type { VariantsView } from "@/services/variants";

// Drafts live in the browser, and the model in its worker: nothing of this can be drawn on the server.
const Build = dynamic(() => import("./Build"), {
  ssr: false,
  loading: () => (
    <p className="sentence" role="status">
      Opening the drawing board …
    </p>
  ),
});

export const BuildStep = ({ view }: { view: VariantsView }) => <Build view={view} />;
