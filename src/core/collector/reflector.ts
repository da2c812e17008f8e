import type { Design } from "./design";
import { apertureArea, opening } from "./design";

const RAD = Math.PI / 180;

/**
 * Largest irradiance a flat mirror along one edge can add, as a multiple of the sun straight on, over the part of the
 * collector it lights: mirror and sun in the plane across the edge, sun within 60° of the normal (law of reflection, all light
 * beam). For the stagnation check, where the worst hour counts; months of mirror gain are another matter.
 *
 * @returns gain 1 or more (1 without a mirror) and the share of the collector's length it lights then
 */
export function worstMirrorGain(d: Design): { gain: number; share: number } {
  let best = { gain: 1, share: 0 };
  for (let deg = -60; deg <= 60; deg++) {
    const { added, share } = mirrorLight(d, deg);
    const gain = Math.cos(deg * RAD) + (share > 0.02 ? added : 0);
    if (added > 0 && gain > best.gain) best = { gain, share };
  }
  return best;
}

/**
 * What the mirror adds where it lights the collector, as a share of the beam straight on, and the share of the length it lights.
 * @param deg angle of the sun off the normal in the plane across the mirror's edge, degrees; positive leans toward the mirror
 */
export function mirrorLight(d: Design, deg: number): { added: number; share: number } {
  const { reflector } = d;
  if (!reflector) return { added: 0, share: 0 };
  const reflectance = 1 - d.materials[reflector.material].absorptance;
  const lengthM = opening(d).lengthM;
  const psi = reflector.angle * RAD;
  const [mx, mz] = [Math.cos(psi), Math.sin(psi)];
  // Sun direction of travel; the mirror stands at x = 0 while the collector runs to +x.
  const [dx, dz] = [-Math.sin(deg * RAD), -Math.cos(deg * RAD)];
  // The mirror's lit face is the one toward the collector: normal (mz, −mx) turned to +x.
  const facing = -(dx * mz - dz * mx);
  const along = dx * mx + dz * mz;
  const [rx, rz] = [2 * along * mx - dx, 2 * along * mz - dz];
  if (facing <= 0 || rz >= 0) return { added: 0, share: 0 };
  const far = Math.min(lengthM, Math.max(0, reflector.lengthM * mx + (reflector.lengthM * mz * rx) / -rz));
  return { added: reflectance * -rz, share: far / lengthM };
}

/** Irradiance gain used for temperatures of one design: mirror and concentrator, 1 for neither. */
export const worstGain = (d: Design): number => worstMirrorGain(d).gain * Math.max(1, d.concentration);

/** Mirror area, m²: as wide as the box. */
export const mirrorArea = (d: Design): number =>
  d.reflector ? (d.reflector.lengthM * apertureArea(d)) / opening(d).lengthM : 0;
