import type { QuantityId } from "../quantity/quantities";

/** What a logged column can stand for, and all that follows from it. */
export interface Channel {
  /** A lane's own, or shared by all lanes. */
  scope: "lane" | "shared";
  quantity: QuantityId;
  /** Physically possible readings, SI; outside them a reading is a fault. */
  range: readonly [low: number, high: number];
  /** Words in a header that mean it, and how early they are tried: `wind speed` is wind. */
  header: RegExp;
  precedence: number;
  /** A unit that means it even where no word does. */
  knownByUnit?: boolean;
  /** Unit proposed where the file names none. */
  usualUnit: string;
  /** Steps below this are noise and never a lone spike, SI; without it spikes are not looked for: the sun really jumps. */
  spikeFloor?: number;
  /** Coarse or calm: may honestly hold one value for an hour. */
  mayStandStill?: boolean;
  /** Rests at zero all night. */
  restsAtZero?: boolean;
  /** Counts up: what is wanted is how fast. */
  counts?: boolean;
  /** Several probes may stand for one: their mean is taken, and their spread enters its ±. */
  several?: boolean;
  /** One probe may serve every lane: boxes that draw the same air. */
  servesAll?: boolean;
  /** Kept with the run and shown; nothing is reckoned from it. */
  onlyKept?: boolean;
  /** How its trace is drawn. */
  trace: { dashed?: boolean; area?: boolean };
}

/** One row a kind of channel. Lane kinds belong to one lane, shared kinds to all. */
export const CHANNEL_KINDS = {
  inlet: {
    scope: "lane",
    quantity: "temperature",
    range: [-40, 150],
    header:
      /\b(in|inlet|return|intake|cold|tin|ti|einlass|eintritt|eingang|rücklauf|ruecklauf|rucklauf|entrée|entree|retour|froid|ingresso|entrata|ritorno|entrada|retorno|inlaat|ingang|intrede)\b|eintritt|einlass/,
    precedence: 11,
    usualUnit: "°C",
    spikeFloor: 1.5,
    several: true,
    servesAll: true,
    trace: { dashed: true },
  },
  outlet: {
    scope: "lane",
    quantity: "temperature",
    range: [-40, 250],
    header:
      /\b(out|outlet|supply|exit|hot|tout|to|auslass|austritt|ausgang|vorlauf|sortie|départ|depart|chaud|uscita|mandata|salida|impulsión|impulsion|uitlaat|uitgang|uittrede|aanvoer)\b|austritt|auslass/,
    precedence: 10,
    usualUnit: "°C",
    spikeFloor: 2,
    several: true,
    trace: {},
  },
  plate: {
    scope: "lane",
    quantity: "temperature",
    range: [-40, 350],
    header:
      /\b(plate|absorber|abs|stag|stagnation|platte|absorberplatte|plaque|absorbeur|piastra|assorbitore|placa|absorbedor|plaat)\b/,
    precedence: 9,
    usualUnit: "°C",
    onlyKept: true,
    trace: {},
  },
  speed: {
    scope: "lane",
    quantity: "speed",
    range: [-30, 60],
    header:
      /\b(speed|vel|velocity|anemo|anemometer|airspeed|vane|v|vitesse|velocità|velocita|velocidad|snelheid|luchtsnelheid)(?![\wà-ÿ])|geschwindigkeit/,
    precedence: 8,
    knownByUnit: true,
    usualUnit: "m/s",
    spikeFloor: 1.5,
    restsAtZero: true,
    trace: {},
  },
  volumeFlow: {
    scope: "lane",
    quantity: "volumeFlow",
    range: [-2, 5],
    header:
      /\b(flow|volume|cfm|vdot|durchfluss|volumenstrom|luftmenge|lpm|débit|debit|portata|caudal|debiet|luchtdebiet|volumestroom)\b/,
    precedence: 7,
    knownByUnit: true,
    usualUnit: "L/min",
    restsAtZero: true,
    trace: {},
  },
  massFlow: {
    scope: "lane",
    quantity: "massFlow",
    range: [-2, 5],
    header: /\b(mass ?flow|mdot|kg ?s|massenstrom|débit massique|debit massique|portata massica|caudal másico)/,
    precedence: 6,
    knownByUnit: true,
    usualUnit: "kg/s",
    restsAtZero: true,
    trace: {},
  },
  fanPower: {
    scope: "lane",
    quantity: "power",
    range: [-1, 5000],
    header: /\b(fan|pump|el|electric|power|leistung|puissance|potenza|potencia)\b/,
    precedence: 5,
    usualUnit: "W",
    mayStandStill: true,
    trace: {},
  },
  volumeCounter: {
    scope: "lane",
    quantity: "volume",
    range: [0, 1e7],
    header:
      /\b(counter|totaliser|totalizer|meter reading|flow total|total flow|pulse|pulses|zähler|zählerstand|impulse|compteur|impulsions|contatore|impulsi|contador|pulsos)\b/,
    precedence: 6.5,
    usualUnit: "L",
    counts: true,
    mayStandStill: true,
    trace: {},
  },
  fanState: {
    scope: "lane",
    quantity: "number",
    range: [-0.5, 1.5],
    header: /\b((fan|pump|blower) ?(state|on|status|running)|relay|lüfter an|pumpe an)\b/,
    precedence: 4.5,
    usualUnit: "1",
    mayStandStill: true,
    trace: {},
  },
  fanVoltage: {
    scope: "lane",
    quantity: "voltage",
    range: [-1, 500],
    header: /\b(voltage|volts?|spannung|tension|tensione|tensión)\b/,
    precedence: 4.6,
    usualUnit: "V",
    mayStandStill: true,
    trace: {},
  },
  fanCurrent: {
    scope: "lane",
    quantity: "current",
    range: [-1, 60],
    header: /\b(amps?|ampere|stromstärke|courant|corrente|corriente)\b/,
    precedence: 4.7,
    usualUnit: "A",
    mayStandStill: true,
    trace: {},
  },
  fanEnergy: {
    scope: "lane",
    quantity: "energy",
    range: [0, 3.6e12],
    header: /\b((fan|pump|blower|electric) (energy|kwh|wh)|energy counter|stromzähler)\b/,
    precedence: 4.8,
    usualUnit: "kWh",
    counts: true,
    mayStandStill: true,
    trace: {},
  },
  tank: {
    scope: "lane",
    quantity: "temperature",
    range: [-20, 150],
    header: /\b(tank|store|cylinder|bucket|speicher|ballon|cuve|serbatoio|accumulo|depósito|acumulador|vat)\b/,
    precedence: 8.5,
    usualUnit: "°C",
    several: true,
    onlyKept: true,
    // A cold tank stands for a night.
    mayStandStill: true,
    trace: { dashed: true },
  },
  room: {
    scope: "shared",
    quantity: "temperature",
    range: [-30, 60],
    header: /\b(room|indoors?|inside|raum|zimmer|pièce|intérieur|stanza|interna|habitación|interior|kamer|binnen)\b/,
    precedence: 13,
    usualUnit: "°C",
    several: true,
    onlyKept: true,
    trace: { dashed: true },
  },
  swap: {
    scope: "shared",
    quantity: "number",
    range: [-1e6, 1e6],
    header: /\b(swap|swapped|swaps|arrangement|exchanged|vertauscht|tausch|échangé|scambio|intercambio)\b/,
    precedence: 0.5,
    usualUnit: "1",
    mayStandStill: true,
    trace: {},
  },
  irradiance: {
    scope: "shared",
    quantity: "irradiance",
    range: [-20, 1800],
    header:
      /\b(sun|solar|irr|irrad|irradiance|pyr|pyrano|pyranometer|poa|ghi|insolation|strahlung|einstrahlung|globalstrahlung|sonne|soleil|rayonnement|ensoleillement|sole|irraggiamento|radiazione|radiación|radiacion|irradiancia|zon|zonnestraling|instraling|straling|g|gt|gpoa)(?![\wà-ÿ])/,
    precedence: 4,
    knownByUnit: true,
    usualUnit: "W/m²",
    restsAtZero: true,
    trace: { area: true },
  },
  horizontalSun: {
    scope: "shared",
    quantity: "irradiance",
    range: [-20, 1800],
    // A lone horizontal sensor is the sun; beside another one the reader tells them apart.
    header: /\bsecond (sun|pyranometer)\b/,
    precedence: 3.9,
    usualUnit: "W/m²",
    restsAtZero: true,
    trace: { dashed: true },
  },
  ambient: {
    scope: "shared",
    quantity: "temperature",
    range: [-50, 60],
    header:
      /\b(amb|ambient|outside|outdoor|outdoors|air temp|ta|tamb|aussen|außen|aussenluft|außenluft|aussentemperatur|außentemperatur|umgebung|shade|extérieur|exterieur|extérieure|exterieure|ambiante|esterna|esterno|exterior|ambiente|buiten|buitenlucht|buitentemperatuur|omgeving|omgevingstemperatuur)\b/,
    precedence: 12,
    usualUnit: "°C",
    spikeFloor: 1,
    trace: { dashed: true },
  },
  wind: {
    scope: "shared",
    quantity: "speed",
    range: [0, 60],
    // A speed in German ends in "windigkeit".
    header: /\bwind|wind\b|\bvent\b|\bvento\b|\bviento\b/,
    precedence: 1,
    usualUnit: "m/s",
    mayStandStill: true,
    trace: {},
  },
  humidity: {
    scope: "shared",
    quantity: "fraction",
    range: [0, 1.05],
    header: /\b(rh|hum|humid|humidity|feucht\w*|luftfeuchte|humidité|humidite|umidità|umidita|humedad)/,
    precedence: 2,
    usualUnit: "%",
    spikeFloor: 0.1,
    mayStandStill: true,
    trace: {},
  },
  pressure: {
    scope: "shared",
    quantity: "pressure",
    range: [50000, 110000],
    header: /\b(press|pressure|baro|barometer|luftdruck|pression|pressione|presión|presion)(?![\wà-ÿ])/,
    precedence: 3,
    usualUnit: "hPa",
    spikeFloor: 500,
    mayStandStill: true,
    trace: {},
  },
} as const satisfies Record<string, Channel>;

/** In place of a lane's letter: the column serves all of them. */
export const EVERY_LANE = "*";

export type ChannelKind = keyof typeof CHANNEL_KINDS;
export const CHANNEL_NAMES = Object.keys(CHANNEL_KINDS) as [ChannelKind, ...ChannelKind[]];

/** Kinds that belong to one lane. */
export const LANE_KINDS: readonly ChannelKind[] = CHANNEL_NAMES.filter((k) => CHANNEL_KINDS[k].scope === "lane");

export const channelOf = (kind: ChannelKind): Channel => CHANNEL_KINDS[kind];

/** Kinds in the order in which header words are tried. */
export const BY_PRECEDENCE: readonly ChannelKind[] = [...CHANNEL_NAMES].sort(
  (a, b) => CHANNEL_KINDS[a].precedence - CHANNEL_KINDS[b].precedence,
);
