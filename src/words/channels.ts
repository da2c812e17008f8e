import type { ChannelKind } from "../core/log/channel";

export const CHANNEL_WORDS: Record<ChannelKind, string> = {
  inlet: "inlet temperature",
  outlet: "outlet temperature",
  plate: "absorber temperature",
  speed: "duct speed",
  volumeFlow: "volume flow",
  massFlow: "mass flow",
  fanPower: "fan or pump power",
  volumeCounter: "volume counter or pulses",
  fanState: "fan or pump on (1) or off (0)",
  fanVoltage: "fan or pump voltage",
  fanCurrent: "fan or pump current",
  fanEnergy: "fan or pump energy counter",
  tank: "tank temperature",
  room: "room temperature",
  swap: "boxes swapped (changes at each swap)",
  irradiance: "irradiance",
  ambient: "outside temperature",
  wind: "wind",
  humidity: "relative humidity",
  pressure: "air pressure",
};
