"use client";

import { useSearchParams } from "next/navigation";
import { lazy, Suspense, useSyncExternalStore } from "react";
import type { ShownStudy, VariantsView } from "@/services/variant/variants";
import { Sentence } from "./Sentence";

const Build = lazy(() => import("./Build"));

const never = () => () => {};

/**
 * Drafts live in the browser, and the model in its worker: the drawing board itself cannot be drawn on the server. Its answer can,
 * for the design as last kept, and stands there until the board does; the board begins with it.
 */
export function BuildStep({ view, study }: { view: VariantsView; study: ShownStudy | null }) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  const shown = useSearchParams().get("v");
  const variant = view.variants.find((v) => v.letter === shown) ?? view.variants[0];
  const answer = !variant ? (
    <h1 className="sentence">Nothing is drawn yet.</h1>
  ) : (
    <Sentence
      study={study?.variantId === variant.id ? study.study : null}
      design={variant.design}
      variant={variant}
      reference={null}
      referenceStudy={null}
      operating={view.operating}
    />
  );
  if (!inBrowser) return answer;
  return (
    <Suspense fallback={answer}>
      <Build view={view} shown={study} />
    </Suspense>
  );
}
