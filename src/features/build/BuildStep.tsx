"use client";

import dynamic from "next/dynamic";
import { useSearchParams } from "next/navigation";
import { useSyncExternalStore } from "react";
import type { Study } from "@/core/collector/study";
import type { VariantsView } from "@/services/variants";
import { Sentence } from "./Sentence";

const Build = dynamic(() => import("./Build"), { ssr: false });

const never = () => () => {};

/**
 * Drafts live in the browser, and the model in its worker: the drawing board itself cannot be drawn on the server. Its answer can,
 * for the design as last kept, and stands there until the board does.
 */
export function BuildStep({ view, study }: { view: VariantsView; study: Study | null }) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  const shown = useSearchParams().get("v");
  const variant = view.variants.find((v) => v.letter === shown) ?? view.variants[0];
  if (inBrowser || !variant) return <Build view={view} />;
  return (
    <Sentence
      study={study}
      design={variant.design}
      variant={variant}
      reference={null}
      referenceStudy={null}
      operating={view.operating}
    />
  );
}
