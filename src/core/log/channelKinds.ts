import type { QuantityId } from "../quantity/quantities";

/** What a logged column can stand for. Lane kinds belong to one lane, shared kinds to all. */
export const CHANNEL_KINDS = {
  inlet: { scope: "lane", quantity: "temperature", range: [-40, 150] },
  outlet: { scope: "lane", quantity: "temperature", range: [-40, 250] },
  plate: { scope: "lane", quantity: "temperature", range: [-40, 350] },
  speed: { scope: "lane", quantity: "speed", range: [-30, 60] },
  volumeFlow: { scope: "lane", quantity: "volumeFlow", range: [-2, 5] },
  massFlow: { scope: "lane", quantity: "massFlow", range: [-2, 5] },
  fanPower: { scope: "lane", quantity: "power", range: [-1, 5000] },
  irradiance: { scope: "shared", quantity: "irradiance", range: [-20, 1800] },
  ambient: { scope: "shared", quantity: "temperature", range: [-50, 60] },
  wind: { scope: "shared", quantity: "speed", range: [0, 60] },
  humidity: { scope: "shared", quantity: "fraction", range: [0, 1.05] },
  pressure: { scope: "shared", quantity: "pressure", range: [50000, 110000] },
} as const satisfies Record<
  string,
  { scope: "lane" | "shared"; quantity: QuantityId; range: readonly [number, number] }
>;

export type ChannelKind = keyof typeof CHANNEL_KINDS;
