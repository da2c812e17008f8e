import type { FindingName, GapReason } from "../core/method/find/finding";

/** What a figure is, as the table of methods names it. */
export const FINDING_WORDS: Record<FindingName, string> = {
  eta0: "zero-loss efficiency η0",
  a1: "loss coefficient a1",
  a2: "curvature of the loss a2",
  a3: "loss more for each m/s of wind",
  a5: "heat the box holds",
  tau: "time constant",
  heatAtPoint: "heat at your point",
  difference: "difference at your point",
  b0: "b0 of the incidence factor",
  b0Across: "b0 across the tubes",
  stagnationC: "plate without flow, at 1,000 W/m² and 30 °C",
  warmUp: "delay in the morning, from 200 W/m² to a third of the day’s rise",
  tankLoss: "the tank’s own loss",
  eventRatio: "heat after ÷ before",
  flowExponent: "flow follows the sun to the power",
  flowAtSun: "flow at 800 W/m²",
  startSun: "weakest sun with flow",
  onShare: "share of the sunny time with flow",
  startsPerHour: "starts in a sunny hour",
  dayEfficiency: "efficiency of all daylight",
  slope: "share of a day’s light kept (input-output line)",
  dailyLoss: "less a day’s loss of",
  perMetre: "heat per metre of pipe, daylight mean",
  leakShare: "share of the stream lost between the two meters",
  laterShare: "heat of the later box of a row ÷ the earlier’s",
  meltHeat: "heat that melted the ice and warmed its water",
  meltEfficiency: "share of the light that did so",
};

/** Why a method says nothing, and what would change that. */
export const GAP_WORDS: Record<GapReason, string> = {
  noSun: "no sun sensor in the collector plane was logged",
  noAmbient: "no outside temperature was logged",
  fewHours: "too few hours with sun and flow",
  fewDays: "no whole day was logged from morning to evening",
  alike: "inlet and sun went together: vary the inlet so that light and loss can be told apart",
  noPlate: "no plate temperature was logged",
  neverStill: "the fan never stood still long enough in strong sun for the plate to come to rest",
  noStep: "no cover was laid on or taken off under a steady sun",
  noTank: "no tank temperature was logged",
  noTankMass: "nobody said how much water the tank holds",
  noEvent: "nothing that changes one lane was marked at the bench, or too little time lies before or after it",
  flowSteady: "flow was steady: it follows no sun and no thermostat",
  angleNarrow: "the sun stood within a narrow range of angles: log clear mornings and evenings",
  oneMeter: "one flow meter alone was logged: put one of another kind at the other end",
  notFed: "no box’s inlet is another’s outlet: nothing stands in series",
  notMelted: "the tank did not begin at the ice and end above it",
  oneDay: "one day alone could be the morning’s warming as well: log a second one",
};

/** Events that change a lane for longer than the moment. */
export const CHANGE_WORDS: Record<string, string> = {
  coverCleaned: "cover cleaned",
  snow: "snow or dew",
  mirror: "mirror turned",
  fanChanged: "fan changed",
  probeMoved: "probe moved",
};
