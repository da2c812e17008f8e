import { saturationPressure } from "../fluids/moistAir";

const { max, min } = Math;

/** Heat of evaporation, J/kg, and specific heat of air, J/(kg·K), near 20 °C. */
const LATENT = 2.45e6;
const CP = 1010;

const ratio = (vapourPa: number, pressurePa: number) => (0.622 * vapourPa) / (pressurePa - vapourPa);

/**
 * Water that air could take up until it is saturated adiabatically, kg per kg of dry air: its humidity at the wet bulb less its own.
 * @param airC as it enters the goods @param outsideC and humidity (0 to 1) of the air that was warmed
 */
export function dryingRoom(airC: number, outsideC: number, humidity: number, pressurePa: number): number {
  const w = ratio(humidity * saturationPressure(outsideC), pressurePa);
  let [low, high] = [min(outsideC, airC) - 30, airC];
  for (let i = 0; i < 24; i++) {
    const bulb = (low + high) / 2;
    if (ratio(saturationPressure(bulb), pressurePa) - w > (CP * (airC - bulb)) / LATENT) high = bulb;
    else low = bulb;
  }
  return max(0, (CP * (airC - low)) / LATENT);
}

export const EVAPORATION = LATENT;
