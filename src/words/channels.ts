import type { ChannelKind } from "../core/log/channel";

export const CHANNEL_WORDS: Record<ChannelKind, string> = {
  inlet: "inlet temperature",
  outlet: "outlet temperature",
  plate: "absorber temperature",
  speed: "duct speed",
  volumeFlow: "volume flow",
  massFlow: "mass flow",
  fanPower: "fan or pump power",
  irradiance: "irradiance",
  ambient: "outside temperature",
  wind: "wind",
  humidity: "relative humidity",
  pressure: "air pressure",
};
