"use client";

import type { ExperimentView } from "@/services/page/views";
import { LaneMark } from "@/ui/LaneMark";
import { Figure } from "@/ui/Working";

/** Where the order flips: one collector for mild use, the other for hot water or cold days. */
export function Crossings({ view }: { view: ExperimentView }) {
  // Copies of a variant cross at the same place; one of each pair of variants is enough.
  const seen = new Set<string>();
  const crossings = view.crossings.filter(({ a, b }) => {
    const key = [a, b]
      .map((l) => view.head.lanes.find((x) => x.letter === l)?.variantId)
      .sort()
      .join();
    return seen.has(key) ? false : seen.add(key);
  });
  const eta0 = (lane: string) => view.curves.find((c) => c.lane === lane)?.eta0.si ?? 0;
  return crossings.map(({ a, b, x }) => {
    const [mild, hot] = eta0(a) > eta0(b) ? [a, b] : [b, a];
    return (
      <p key={a + b} className="mt-1">
        <LaneMark lane={a} size={12} /> and <LaneMark lane={b} size={12} /> cross at{" "}
        <Figure figure={x} opens={{ figure: "crossing", a, b }} />: below it (mild use, strong sun) {mild} gives more,
        above it (hot use, cold or weak sun) {hot}.
      </p>
    );
  });
}
