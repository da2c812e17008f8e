import { counted, of } from "../quantity/settingField";

/** Where the winner will run: Ask's use and Judge's operating point. */
export const POINT_FIELDS = {
  inletC: of("temperature", -60, 120),
  ambientC: of("temperature", -60, 60),
  irradianceWm2: of("irradiance", 50, 1500),
  flowPerArea: of("massFlowPerArea", 1e-4, 1),
};

/** How the winner will stand, and its coldest and hottest hours: for frost and stagnation. */
export const USE_FIELDS = {
  windMs: of("speed", 0, 20),
  tilt: of("angle", 0, 90),
  lowestC: of("temperature", -70, 40),
  hottestC: of("temperature", 0, 60),
  strongestWm2: of("irradiance", 300, 1500),
};

export const JUDGE_FIELDS = {
  smallestDifference: of("heatFlux", 0, 500),
  electricityWeight: of("number", 0, 5),
  stationShare: of("fraction", 0, 0.2),
};

/** The bench as it stands outside. */
export const BENCH_FIELDS = {
  tilt: of("angle", 0, 90),
  azimuth: of("angle", 0, 360),
  rows: counted(1, 8),
  gapM: of("length", 0, 20),
  rowPitchM: of("length", 0, 50),
  bottomM: of("length", 0, 10),
};

export const PLAN_FIELDS = {
  days: counted(1, 60),
  seed: counted(1, 999999),
  swapMin: of("number", 0, 240),
  checkMin: of("number", 0, 120),
};

/** What is said of a bench before it has measured anything. */
export const STATED_FIELDS = {
  heatWm2: of("heatFlux", 10, 1500),
  riseK: of("temperatureDifference", 0.5, 150),
  probeLimitK: of("temperatureDifference", 0, 10),
  meterLimitShare: of("fraction", 0, 1),
  profileLimitShare: of("fraction", 0, 1),
  stationShare: of("fraction", 0, 0.2),
  windowShare: of("fraction", 0.0005, 0.5),
  dayShare: of("fraction", 0, 0.5),
};

/** An instrument as its maker states it; in the unit of what it measures. */
export const INSTRUMENT_FIELDS = {
  limitFixed: of("number", 0, 1e6),
  limitShare: of("fraction", 0, 1),
  resolution: of("number", 0, 1e6),
  lagS: of("number", 0, 36000),
  calibrateEveryDays: of("number", 0, 3650),
};

export const BATH_FIELDS = { referenceLimitK: of("temperatureDifference", 0.001, 5) };
