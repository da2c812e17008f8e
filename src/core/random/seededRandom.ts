/** Seeded random numbers (mulberry32 for uniforms, polar Box–Muller for normals): the same seed gives the same bench everywhere. */
export interface Random {
  /** In [0, 1). */
  uniform(): number;
  /** Mean 0, standard deviation 1. */
  normal(): number;
  /** Within ±limit, rectangular. */
  within(limit: number): number;
}

export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  let spare: number | null = null;
  const uniform = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const normal = () => {
    if (spare !== null) {
      const kept = spare;
      spare = null;
      return kept;
    }
    let u: number, v: number, s: number;
    do {
      u = 2 * uniform() - 1;
      v = 2 * uniform() - 1;
      s = u * u + v * v;
    } while (s >= 1 || s === 0);
    const factor = Math.sqrt((-2 * Math.log(s)) / s);
    spare = v * factor;
    return u * factor;
  };
  return { uniform, normal, within: (limit) => (2 * uniform() - 1) * limit };
}
