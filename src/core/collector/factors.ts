/** What the model does not know well: one factor each, 1 (or 0 to add) for the best guess. Their spread makes the ± of a prediction. */
export interface ModelFactors {
  transmittance: number;
  /** Added to the absorber's absorptance and emittance. */
  absorptance: number;
  emittance: number;
  gapConvection: number;
  streamTransfer: number;
  windLoss: number;
  insulation: number;
  edge: number;
  friction: number;
}

export const CERTAIN: ModelFactors = {
  transmittance: 1,
  absorptance: 0,
  emittance: 0,
  gapConvection: 1,
  streamTransfer: 1,
  windLoss: 1,
  insulation: 1,
  edge: 1,
  friction: 1,
};

export type FactorName = keyof ModelFactors;

/**
 * Standard uncertainties: correlations of natural convection and duct flow are stated within 10 to 20 % on plain channels and do worse in home-made
 * ones; wind at the bench differs from wind at the mast; joints and corners carry more heat than boards. Typical values, ours.
 */
export const FACTOR_SPREAD: ModelFactors = {
  transmittance: 0.012,
  absorptance: 0.012,
  emittance: 0.025,
  gapConvection: 0.1,
  streamTransfer: 0.15,
  windLoss: 0.25,
  insulation: 0.12,
  edge: 0.3,
  friction: 0.2,
};
