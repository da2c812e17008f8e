export interface BathOptions {
  /** A probe trusted more than the others, or the mean of all good ones. */
  reference: string | "mean";
  /** What the reference is good to, ± K. */
  referenceLimitK: number;
  model: "auto" | "offset" | "line";
  /** Temperature differences within the bath, standard, K: 0.02 stirred, 0.1 still (typical values). */
  gradientK: number;
  /** Probes left out by the person. */
  leftOut: readonly string[];
  /** Part of the log used, ms; null for all. */
  span: [number, number] | null;
}

export const BATH_DEFAULTS: BathOptions = {
  reference: "mean",
  referenceLimitK: 0.5,
  model: "auto",
  gradientK: 0.02,
  leftOut: [],
  span: null,
};
