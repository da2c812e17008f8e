import type { Source, SourceKind } from "@/core/uncertainty/source";

/** The thing whose error a source is, as people call it. */
function sourceName(source: Source): string {
  if ("probe" in source) return source.probe;
  if ("meter" in source) return source.meter;
  return source.owner;
}

/** What a kind of source is, and of what by name. */
export function sourceWords(kind: SourceKind, name: string): { label: string; detail: string } {
  switch (kind) {
    case "probe":
      return { label: `Temperature probe ${name}`, detail: "stated limit and display step" };
    case "ambient":
      return { label: "Outside probe, shared", detail: "stated limit; cancels in differences" };
    case "speedMeter":
      return { label: `Speed meter ${name}`, detail: "stated limit of reading" };
    case "volumeMeter":
      return { label: `Flow meter ${name}`, detail: "stated limit of reading" };
    case "massMeter":
      return { label: `Mass flow, ${name}`, detail: "stated limit" };
    case "tankWater":
      return { label: `Water of tank ${name}`, detail: "with what is in hoses and box, as stated" };
    case "tankLoss":
      return {
        label: `Own loss of ${name ? `tank ${name}` : "the tanks"}`,
        detail: "from nights, else what tanks usually lose",
      };
    case "profile":
      return { label: `Profile factor, duct ${name}`, detail: "one point instead of a traverse" };
    case "ductArea":
      return { label: `Duct size ${name}`, detail: "as measured" };
    case "sunSensor":
      return { label: "Sun sensor, shared", detail: "stated limit; all lanes alike" };
    case "transposition":
      return { label: "Sun moved to the plane, shared", detail: "splits, skies and ground differ" };
    case "pressure":
      return { label: "Air pressure, shared", detail: "from altitude or barometer" };
    case "humidity":
      return { label: "Humidity, shared", detail: "enters the air's density" };
    case "sky":
      return { label: "Cold of the sky, shared", detail: "modelled for bare absorbers, 30 %" };
    case "beamShare":
      return { label: "Sun through cloud, shared", detail: "how much of it is beam, of cloudy light" };
    case "specificHeat":
      return { label: "Specific heat, shared", detail: "fluid tables" };
    case "area":
      return { label: `Area of lane ${name}`, detail: "as measured" };
    case "curveFit":
      return { label: `Curve fit of ${name}`, detail: "scatter of windows about it" };
    case "unseenBend":
      return { label: `Curve of ${name} beyond its points`, detail: "a bend they did not show" };
    case "dayScatter":
      return { label: "Scatter of windows", detail: "window to window, day to day" };
    case "weather":
      return { label: "Weather from day to day", detail: "the lanes were tested one after another" };
    case "usualLoss":
      return { label: `Loss of ${name || "such boxes"}`, detail: "neither measured nor drawn: 6 ± 4 W/(m²·K)" };
    case "station":
      return { label: `Place ${name} on the bench`, detail: "draught, view, shade" };
    case "repeatability":
      return { label: "Bench repeatability", detail: "from the identical pair" };
    case "incidence":
      return { label: `Incidence modifier of ${name}`, detail: "b₀ assumed" };
    case "probeNoise":
      return { label: "Noise of probes", detail: "within the window" };
    case "speedNoise":
      return { label: "Noise of flow", detail: "within the window" };
    case "sunNoise":
      return { label: "Change of sun", detail: "within the window" };
    case "readApart":
      return { label: "Lanes read one after the other", detail: "the clear sky’s change between them" };
    case "methodScatter":
      return { label: `Scatter about the model, ${name}`, detail: "neighbouring readings remember each other" };
    case "otherNoise":
      return { label: "Other noise", detail: "" };
    case "drift":
      return { label: `Drift of probe ${name}`, detail: "between two calibrations" };
    case "reference":
      return { label: "Bath’s reference, shared", detail: "one for all probes of the bath; cancels in a rise" };
    case "transmittance":
      return { label: "Light through the covers", detail: "model, 1.2 %" };
    case "absorptance":
      return { label: "Absorptance of the surface", detail: "model, 0.012" };
    case "emittance":
      return { label: "Emittance of the surface", detail: "model, 0.025" };
    case "gapConvection":
      return { label: "Still air between the layers", detail: "model, 10 %" };
    case "streamTransfer":
      return { label: "Heat from wall to stream", detail: "model, 15 %" };
    case "windLoss":
      return { label: "Loss to the wind", detail: "model, 25 %" };
    case "insulation":
      return { label: "Insulation as built", detail: "model, 12 %" };
    case "edge":
      return { label: "Loss at the edges", detail: "model, 30 %" };
    case "friction":
      return { label: "Friction along the path", detail: "model, 20 %" };
    case "heatHeld":
      return { label: "Heat the materials hold", detail: "model, 10 %" };
  }
}

const PLURALS: Partial<Record<Source["kind"], string>> = {
  probe: "Temperature probes",
  speedMeter: "Speed meters",
  volumeMeter: "Flow meters",
  massMeter: "Mass flow meters",
  profile: "Profile factors, ducts",
  ductArea: "Duct sizes",
  area: "Areas of lanes",
  curveFit: "Curve fits of",
  station: "Places on the bench",
  incidence: "Incidence modifiers of",
  unseenBend: "Curves beyond their points of",
};

export const percent = (share: number): string => `${Math.round(share * 100)}\u2009%`.replace("-", "−");

/** A chance is never quite nothing or quite certain. */
export function chancePercent(p: number): string {
  if (p < 0.01) return "<\u20091\u2009%";
  return p > 0.99 ? ">\u200999\u2009%" : percent(p);
}

/** One line for all sources of a kind: `Speed meters 1, 2, 3, 4`. */
export function sourceGroupWords(sources: readonly Source[]): { label: string; detail: string } {
  const [{ kind }] = sources;
  const first = sourceWords(kind, sourceName(sources[0]));
  const plural = PLURALS[kind];
  if (sources.length === 1 || !plural) return first;
  const names = [...new Set(sources.map(sourceName))].sort();
  if (names.length > 4)
    return {
      label: `${names.length} ${plural.toLowerCase().replace(/(, ducts| of| of lanes)$/, "")}`,
      detail: first.detail,
    };
  return { label: `${plural} ${names.join(", ")}`, detail: first.detail };
}
