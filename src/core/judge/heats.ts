import { groupBy, spanScatter, type Claim } from "../analysis/scatter";
import { RANDOM_KINDS, type HeatPoint } from "../analysis/points";
import { Ledger, Sums, type Entry } from "../uncertainty/ledger";
import { combine, withSource, type Uncertain } from "../uncertainty/uncertain";
import type { SourceKind } from "../uncertainty/source";
import type { LaneHeat } from "./laneHeat";

export const windowKey = (p: HeatPoint) => `${p.run}/${p.window}`;

/**
 * Weights over windows: each arrangement of the two lanes on the bench counts alike, so that after a swap whatever
 * belongs to the places (meter, probes, draught, shade) cancels; within one, windows count alike.
 */
export function arrangementWeights(arrangements: readonly string[]): number[] {
  const groups = groupBy(arrangements);
  return arrangements.map((key) => 1 / (groups.size * groups.get(key)!.length));
}

/** Effective number of independent windows behind a weighted mean, Kish (1965). */
const kish = (weights: readonly number[]) => 1 / weights.reduce((s, w) => s + w * w, 0);

/** A span's heat as an entry of the comparison's ledger, brought to its level by `factor`. */
export interface Ledgered {
  point: HeatPoint;
  entry: Entry;
  factor: number;
}

/** The heats whose sum a span's figure is, with their signs. */
type SpanTerms = readonly (readonly [sign: 1 | -1, heat: Ledgered])[];

/** Noise of a single span, a curve's fit, and all that spans share. */
const [NOISE, FIT, SHARED] = [0, 1, 2];
function natureOf(kind: SourceKind): number {
  if (RANDOM_KINDS.has(kind)) return NOISE;
  return kind === "curveFit" ? FIT : SHARED;
}

/** The sources of all heats of a comparison, and which of them are noise of single spans or of a curve's fit. */
export class Heats {
  readonly ledger = new Ledger(natureOf);
  private readonly span = new Sums();
  private readonly mean = new Sums();
  readonly byLane: ReadonlyMap<string, ReadonlyMap<string, Ledgered>>;

  constructor(heats: ReadonlyMap<string, readonly LaneHeat[]>) {
    this.byLane = new Map(
      [...heats].map(([lane, own]) => [
        lane,
        new Map(own.map(({ point, heat }) => [windowKey(point), { point, entry: this.ledger.entry(heat), factor: 1 }])),
      ]),
    );
  }

  /** Heats of one lane, and what its curve's fit claims for them. */
  fitted(heats: readonly Pick<Ledgered, "entry" | "factor">[]): Fitted {
    let fitVariance = 0;
    for (const { entry, factor } of heats) {
      let own = 0;
      for (let i = 0; i < entry.ids.length; i++)
        if (this.ledger.natures[entry.ids[i]] === FIT) own += (factor * entry.standards[i]) ** 2;
      fitVariance += own;
    }
    return { values: heats.map(({ entry, factor }) => entry.value * factor), fitVariance };
  }

  /**
   * Mean of spans with the scatter that remains within arrangements. Days enter as in the curve fit: pooled where they do not differ,
   * else the days themselves are the sample.
   * @param fitShare what is left of the curves' fit errors, 0 to 1
   */
  meanWithScatter(
    spans: readonly SpanTerms[],
    arrangements: readonly string[],
    { lanes, slopes, fitShare }: { lanes: string; slopes: number; fitShare: number },
  ): Uncertain {
    const { mean } = this;
    const weights = arrangementWeights(arrangements);
    mean.clear();
    const figures = spans.map((terms, i) => this.spanFigure(terms, fitShare, weights[i]));
    const values = figures.map((f) => f.value);
    const value = values.reduce((s, v, i) => s + weights[i] * v, 0);
    const days = spans.map(([[, heat]]) => heat.point.day);
    const claims = figures.map((f) => f.claim);
    const scatter = spanScatter(values, claims, days, arrangements, slopes);
    const dayWeights = [...groupBy(days).values()].map((members) => members.reduce((s, i) => s + weights[i], 0));
    const scattered =
      weights.reduce((s, w, i) => s + w ** 2 * scatter.variances[i], 0) + scatter.dayVariance / kish(dayWeights);
    const random = withSource(0, Math.sqrt(scattered), { kind: "dayScatter", lanes, owner: "", dof: scatter.dof });
    return combine(value, [
      [1, this.ledger.figure(value, mean)],
      [1, random],
    ]);
  }

  /** A weighted sum of heats without the noise of single spans: what they share and what their curves' fits claim. */
  weighted(heats: readonly (readonly [weight: number, heat: Ledgered])[]): Uncertain {
    const { mean, ledger } = this;
    mean.clear();
    let value = 0;
    for (const [weight, { entry, factor }] of heats) {
      value += weight * (entry.value * factor);
      for (let i = 0; i < entry.ids.length; i++)
        if (ledger.natures[entry.ids[i]] !== NOISE) mean.add(entry.ids[i], weight * factor * entry.standards[i]);
    }
    return ledger.figure(value, mean);
  }

  /** One span's figure and the noise it claims; its systematic contributions are added to the mean's, times its weight. */
  private spanFigure(terms: SpanTerms, fitShare: number, weight: number): { value: number; claim: Claim } {
    const { span, mean, ledger } = this;
    span.clear();
    let value = 0;
    for (const [sign, { entry, factor }] of terms) {
      value += sign * (entry.value * factor);
      span.addEntry(sign * factor, entry);
    }
    let [variance, perDof, made] = [0, 0, false];
    for (const id of span.ids) {
      const standard = span.of(id);
      const nature = ledger.natures[id];
      if (nature === NOISE) {
        made = true;
        variance += standard * standard;
        if (Number.isFinite(ledger.dofs[id])) perDof += standard ** 4 / ledger.dofs[id];
      } else mean.add(id, weight * (nature === FIT ? standard * fitShare : standard));
    }
    return { value, claim: { variance, dof: perDof > 0 ? variance ** 2 / perDof : Infinity, made } };
  }
}

export const valueOf = ({ entry, factor }: Ledgered): number => entry.value * factor;

/** Heats of one lane, and the variance that its curve's fit claims for them together. */
export interface Fitted {
  values: readonly number[];
  fitVariance: number;
}
