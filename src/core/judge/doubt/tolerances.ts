// Apart from the finders: sentences name these figures, and a page must not load the finders' statistics for a number.

/** Unequal flow beyond this share is named. */
export const FLOW_TOLERANCE = 0.05;
/** dη/η per dṁ/ṁ from F′ alone: (1 − F′)·0.8 with F′ near 0.8 (turbulent duct, h ∝ ṁ^0.8 as in the Dittus–Boelter form): an estimate of size, not a correction. */
export const FLOW_SENSITIVITY = 0.16;
/** Days from which on wind and haze of single days no longer decide. */
export const ENOUGH_DAYS = 3;
