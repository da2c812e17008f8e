/** How a candidate's curve is known. */
export const ORIGINS = ["curve", "condition", "prediction", "typed", "panels"] as const;
export type Origin = (typeof ORIGINS)[number];
