import { nodeCapacities, fallTime, timeConstant } from "./capacity";
import { ABSORBER_FORMS } from "./form/list";
import { isBought } from "./design";
import { buildNetwork } from "./network";
import { presetDesign } from "./presets";
import { solveNetwork } from "./solve";
import { standardPressure } from "../fluids/moistAir";
import { usualFlow } from "../rig/liveRig";

/** Time constants of every form at three flows, and the same fall followed in steps a tenth as long and less. */
const drawn = ABSORBER_FORMS.filter((f) => !isBought(presetDesign(f)));

test.each(drawn)("of %s: within 3 %% of steps a tenth as long, at little and much flow", (form) => {
  const design = presetDesign(form);
  const net = buildNetwork(design);
  for (const share of [0.3, 1, 2.5]) {
    const c = {
      irradianceWm2: 900,
      ambientC: 10,
      inletC: 12,
      windMs: 1.5,
      massFlowKgPerS: share * usualFlow(design),
      tilt: 55,
      pressurePa: standardPressure(1120),
    };
    const steady = solveNetwork(net, c);
    const dark = solveNetwork(net, { ...c, irradianceWm2: 0 }, steady);
    const tau = timeConstant(net, c, steady)!;
    const fine = fallTime(net, c, { steady, dark, capacities: nodeCapacities(net) }, tau / 200)!;
    expect(Math.abs(tau / fine - 1)).toBeLessThan(0.03);
  }
});
