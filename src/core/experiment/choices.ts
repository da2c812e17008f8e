/** What people choose from: plain lists, for forms and schemas alike. */
export const MOUNTINGS = ["wall", "roof", "ground", "window"] as const;
export const SEASONS = ["winter", "between", "summer", "year"] as const;
/** Units in which a person states the smallest difference that matters. */
export const DIFFERENCE_UNITS = ["heatPerArea", "heat", "efficiency", "share"] as const;

export const INSTRUMENT_KINDS = [
  "probe",
  "logger",
  "anemometer",
  "flowMeter",
  "sunSensor",
  "balance",
  "wattMeter",
  "hygrometer",
  "barometer",
] as const;
