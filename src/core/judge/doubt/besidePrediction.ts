import { atNormal } from "../../analysis/alongCurve";
import { onlyParts } from "../../analysis/points";
import { combine, type Uncertain } from "../../uncertainty/uncertain";
import type { DoubtInput } from "./doubt";

/** A lane's mean efficiency straight on and what its drawing predicts there; null where no drawing says it. @param parts `systematic` leaves the windows' scatter out */
export function besidePrediction(
  { points, lanes, expected }: Pick<DoubtInput, "points" | "lanes" | "expected">,
  lane: string,
  parts: "systematic" | "all",
): { measured: Uncertain; predicted: Uncertain } | null {
  const predicted = expected.get(lane)?.efficiency;
  const eta0 = lanes.find((l) => l.lane === lane)?.curve.eta0;
  const own = points.filter((p) => p.lane === lane).map((p) => atNormal(p, eta0));
  if (!predicted || !(predicted.value > 0) || own.length === 0) return null;
  const part = (e: Uncertain) => (parts === "all" ? e : onlyParts(e, "systematic"));
  const mean = own.reduce((s, e) => s + e.value, 0) / own.length;
  return {
    measured: combine(
      mean,
      own.map((e) => [1 / own.length, part(e)] as const),
    ),
    predicted,
  };
}
