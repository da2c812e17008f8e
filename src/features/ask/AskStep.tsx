"use client";

import dynamic from "next/dynamic";
import type { ExperimentView } from "@/services/views";
import type { VariantsView } from "@/services/variants";

const Ask = dynamic(() => import("./Ask"), {
  ssr: false,
  loading: () => (
    <p className="sentence" role="status">
      Reading the designs …
    </p>
  ),
});

export const AskStep = ({ view, variants }: { view: ExperimentView; variants: VariantsView }) => (
  <Ask view={view} variants={variants} />
);
