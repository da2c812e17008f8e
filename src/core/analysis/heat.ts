/**
 * The four figures of a collector in use. All SI; each is one line, because each is the
 * line a person will read in the working panel.
 */

export type TemperatureBasis = "mean" | "inlet";
