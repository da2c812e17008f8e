import { mirrorBeam, type Vector } from "../mirror/geometry";
import { mirrorPlace, reflectanceOf } from "../mirror/mirror";
import { type Design, opening } from "./design";
import { ofObject } from "../numeric/table";

const RAD = Math.PI / 180;
/** Of a plane whose own tilt is not known: only mirrors that stand free ask for it. */
const TILT = 60;
/** Less of the opening than this is a glint at its edge. */
const GLINT = 0.02;

/**
 * Largest irradiance that flat mirrors can bring, as a multiple of the sun straight on, over the part of the collector they light: sun
 * within 60° of the normal, all light beam, mirrors added up as if they lit one spot. For the stagnation check, where the worst hour
 * counts; months of mirror gain are another matter. Asked for by every moved model of a prediction: a design is never changed in place.
 *
 * @returns gain 1 or more (1 without a mirror) and the share of the collector that the mirror that lights most lights then
 */
export const worstMirrorGain = ofObject((d: Design): { gain: number; share: number } => {
  const box = opening(d);
  const mirrors = d.mirrors.map((m) => ({
    place: mirrorPlace(box, { tilt: TILT, azimuth: 180 }, m),
    reflectance: reflectanceOf(m, d.materials),
  }));
  let best = { gain: 1, share: 0 };
  for (let off = 0; off <= 60 && mirrors.length; off += 2)
    for (let turn = 0; turn < 360; turn += 15) {
      const side = Math.sin(off * RAD);
      const sun: Vector = [side * Math.cos(turn * RAD), side * Math.sin(turn * RAD), Math.cos(off * RAD)];
      let [gain, share] = [sun[2], 0];
      for (const { place, reflectance } of mirrors) {
        const { lit, cosine } = mirrorBeam(box, place, sun);
        if (lit <= GLINT) continue;
        gain += reflectance * cosine;
        share = Math.max(share, lit);
      }
      if (share > 0 && gain > best.gain) best = { gain, share };
    }
  return best;
});

/** Irradiance gain used for temperatures of one design: mirrors and concentrator, 1 for neither. */
export const worstGain = (d: Design): number => worstMirrorGain(d).gain * Math.max(1, d.concentration);
