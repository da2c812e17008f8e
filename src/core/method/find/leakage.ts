import { SECOND_METERS } from "../../analysis/secondReadings";
import { density } from "../../fluids/fluid";
import { correlatedShare } from "./share";
import { eachLane, type Finder, type FinderInput, type Finding, type GapReason } from "./finding";
import { laneIn } from "./span";

const BLOCK = 10;
/**
 * What a box lets out or draws in between two flow meters, one at either end: 1 − ṁ(second)/ṁ(first). The first is the one heat is
 * counted by; the second, of another kind, stands at the other end, and its volume is that of the stream there.
 */
export const leakage: Finder = (input) => eachLane(input, ({ lane }) => leakOf(input, lane));

function leakOf({ spans }: FinderInput, lane: string): Finding[] | GapReason {
  const ratios: { day: number; value: number }[] = [];
  let limit = 0;
  for (const span of spans) {
    const own = laneIn(span, lane);
    if (!own) continue;
    const { flow } = own.lane;
    limit = flow.meter.limitShare;
    for (const kind of SECOND_METERS[flow.kind]) {
      const second = span.other(kind, lane);
      if (!second) continue;
      const there = flow.meter.at === "outlet" ? own.inlet : own.outlet;
      for (let i = 0; i + BLOCK <= span.minutes.count; i += BLOCK) {
        let [first, other] = [0, 0];
        for (let k = i; k < i + BLOCK; k++) {
          const state = {
            temperatureC: there[k],
            pressurePa: span.setup.pressurePa,
            relativeHumidity: span.setup.relativeHumidity,
          };
          first += Math.abs(own.mass[k]);
          other += Math.abs(second[k]) * (kind === "volumeFlow" ? density(own.lane.fluid, state) : 1);
        }
        if (!(first > 0 && other > 0)) continue;
        ratios.push({
          day: Math.floor((span.minutes.startMs + i * span.minutes.stepMs) / 86_400_000),
          value: other / first,
        });
      }
      break;
    }
  }
  if (ratios.length === 0) return "oneMeter";
  if (ratios.length < 6) return "fewHours";
  // Both meters may be off by what they are stated to; the second is taken to be no better than the first.
  const found = correlatedShare(ratios, { lane, method: "leakage", meterShare: Math.SQRT2 * limit });
  return [
    {
      name: "leakShare",
      lane,
      figure: { value: 1 - found.value, parts: found.parts },
      quantity: "fraction",
      hours: (ratios.length * BLOCK) / 60,
      days: new Set(ratios.map((r) => r.day)).size,
    },
  ];
}
