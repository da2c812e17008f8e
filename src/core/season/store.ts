const { expm1, max, min } = Math;

/** What keeps heat: nodes of one temperature each, the first where the hot stream enters. */
export interface Store {
  /** °C, by node. */
  temperatures: Float64Array;
  /** J/K of each node; of a latent store beside its melting. */
  nodeCapacity: number;
  /** UA between stream and each node, W/K; Infinity for a mixed tank fed directly. */
  exchange: number;
  /** Whole store to its surroundings, W/K. */
  lossWK: number;
  /** Where it loses to: 0 outside, 1 the room. */
  inRoom: boolean;
  /** Heat taken up while melting, J, and at which temperature; null for none. */
  melting: { heatJ: number; atC: number } | null;
  /** J taken up in melting so far, by node. */
  melted: Float64Array;
  /** J each node would take up of the stream last looked at. */
  taken: Float64Array;
}

export type StoreSpec =
  | { kind: "none" }
  /** Mixed water: a tank or containers joined. @see exchangeWK between the collector's stream and it; null: fed directly */
  | { kind: "water"; kg: number; lossWK: number; exchangeWK: number | null; inRoom: boolean }
  /** Closed water containers in the air stream. */
  | { kind: "bottles"; count: number; litresEach: number; diameterM: number; lossWK: number; inRoom: boolean }
  | {
      kind: "rock";
      volumeM3: number;
      lengthM: number;
      /** Equivalent diameter of a stone. */
      stoneM: number;
      voidShare: number;
      lossWK: number;
      inRoom: boolean;
    }
  /** A concrete or earth slab with pipes or ducts in it, which always gives heat to the room above. */
  | { kind: "slab"; areaM2: number; thicknessM: number; exchangeWK: number; lossWK: number }
  | {
      kind: "latent";
      kg: number;
      meltC: number;
      heatJPerKg: number;
      exchangeWK: number;
      lossWK: number;
      inRoom: boolean;
    };

const ROCK_NODES = 20;
/** Density × specific heat: rock 2,650 kg/m³ × 840 J/(kg·K) (DB table E.3.1), concrete 2,200 × 880. */
export const ROCK_HEAT = 2650 * 840;
/** Granite and the like, W/(m·K) (DB table E.3.1). */
const ROCK_CONDUCTIVITY = 2.5;
export const CONCRETE_HEAT = 2200 * 880;
export const WATER_HEAT = 4186;
/** Specific heat of a latent store either side of melting, J/(kg·K): salt hydrates and paraffins, typical value. */
const LATENT_HEAT = 2000;
/** Still surface to air in a slow stream, W/(m²·K): typical of containers in a duct. */
const BOTTLE_TRANSFER = 12;
/** Slab to room, W/(m²·K): floor upward, radiation and convection together (EN 1264). */
export const SLAB_TRANSFER = 10.8;

const mixed = (capacity: number, exchange: number, lossWK: number, inRoom: boolean, startC: number): Store => ({
  temperatures: new Float64Array(1).fill(startC),
  nodeCapacity: capacity,
  exchange,
  lossWK,
  inRoom,
  melting: null,
  melted: new Float64Array(1),
  taken: new Float64Array(1),
});

/**
 * A store at one temperature. @param flowKgS of the stream that charges it; a rock bin's exchange follows from it
 * (Löf & Hawley 1948: h_v = 650 (G/D)^0.7 W/(m³·K); DB 8.5.1).
 */
export function storeOf(spec: StoreSpec, startC: number, flowKgS: number): Store | null {
  switch (spec.kind) {
    case "none":
      return null;
    case "water":
      return mixed(spec.kg * WATER_HEAT, spec.exchangeWK ?? Infinity, spec.lossWK, spec.inRoom, startC);
    case "bottles": {
      const litres = spec.count * spec.litresEach;
      // A container's side: 4·V/d.
      const area = (4 * litres) / 1000 / spec.diameterM;
      return mixed(litres * WATER_HEAT, BOTTLE_TRANSFER * area, spec.lossWK, spec.inRoom, startC);
    }
    case "rock": {
      const flux = (flowKgS * spec.lengthM) / spec.volumeM3;
      const surface = 650 * (flux / spec.stoneM) ** 0.7;
      // Coarse stones hold heat back inside: 1 + Bi/5, the surface of spheres being 6(1 − e)/D (Jefferson 1972).
      const biot = (surface * spec.stoneM ** 2) / (12 * (1 - spec.voidShare) * ROCK_CONDUCTIVITY);
      const volumetric = surface / (1 + biot / 5);
      return {
        temperatures: new Float64Array(ROCK_NODES).fill(startC),
        nodeCapacity: (spec.volumeM3 * (1 - spec.voidShare) * ROCK_HEAT) / ROCK_NODES,
        exchange: (volumetric * spec.volumeM3) / ROCK_NODES,
        lossWK: spec.lossWK,
        inRoom: spec.inRoom,
        melting: null,
        melted: new Float64Array(ROCK_NODES),
        taken: new Float64Array(ROCK_NODES),
      };
    }
    case "slab":
      return mixed(spec.areaM2 * spec.thicknessM * CONCRETE_HEAT, spec.exchangeWK, spec.lossWK, false, startC);
    case "latent":
      return {
        ...mixed(spec.kg * LATENT_HEAT, spec.exchangeWK, spec.lossWK, spec.inRoom, startC),
        melting: { heatJ: spec.kg * spec.heatJPerKg, atC: spec.meltC },
        // Warmer than it melts, it has melted.
        melted: new Float64Array(1).fill(startC > spec.meltC ? spec.kg * spec.heatJPerKg : 0),
      };
  }
}

/**
 * A stream of steady temperature through the store for a while: where it leaves on average. What each node would take up, J, stands in
 * `taken` until the next call; `take` puts it there.
 *
 * Each node follows its own exponential towards the stream that reaches it, so none overshoots however long the step and however small
 * the node; what melts holds its temperature (implicitly). The account closes exactly: stream and nodes exchange the same heat.
 *
 * @param mcp W/K of the stream @param reverse entering at the cold end
 */
export function passThrough(store: Store, inletC: number, mcp: number, seconds: number, reverse = false): number {
  const { temperatures: t, nodeCapacity: C, taken } = store;
  taken.fill(0);
  if (!(mcp > 0) || !(seconds > 0)) return inletC;
  const reach = mcp * (store.exchange === Infinity ? 1 : -expm1(-store.exchange / mcp));
  const taking = -expm1((-reach * seconds) / C) * C;
  const cooling = 1 / (mcp * seconds);
  let stream = inletC;
  for (let k = 0; k < t.length; k++) {
    const i = reverse ? t.length - 1 - k : k;
    const heat = store.melting ? meltingHeat(store, i, stream, reach * seconds) : (stream - t[i]) * taking;
    taken[i] = heat;
    stream -= heat * cooling;
  }
  return stream;
}

/** Puts a share of what the last `passThrough` found into the nodes. */
export function take(store: Store, share = 1): void {
  for (let i = 0; i < store.taken.length; i++) warm(store, i, share * store.taken[i]);
}

/** Heat, J, that a node takes from a stream at s through k J/K, ending at its own new temperature: below, at or above its melting. */
function meltingHeat(store: Store, i: number, s: number, k: number): number {
  const { melting, melted, temperatures: t, nodeCapacity: C } = store;
  const { atC, heatJ } = melting!;
  const h = (t[i] - atC) * C + melted[i];
  const solid = (k * (s - atC - h / C)) / (1 + k / C);
  if (h + solid <= 0) return solid;
  const liquid = (k * (s - atC - (h - heatJ) / C)) / (1 + k / C);
  return h + liquid >= heatJ ? liquid : k * (s - atC);
}

/** Puts heat, J, into a store of one temperature; negative takes it out. */
export const addHeat = (store: Store, heatJ: number): void => warm(store, 0, heatJ);

/** Temperature of a store of one temperature after so much more heat, J. */
export function warmedTo(store: Store, heatJ: number): number {
  const { temperatures: t, melting, melted, nodeCapacity: C } = store;
  if (!melting) return t[0] + heatJ / C;
  const h = (t[0] - melting.atC) * C + melted[0] + heatJ;
  return melting.atC + (h - max(0, min(melting.heatJ, h))) / C;
}

/** Heat into one node, melting and freezing on the way. */
function warm(store: Store, i: number, heatJ: number): void {
  const { temperatures: t, melting, melted } = store;
  if (!melting) {
    t[i] += heatJ / store.nodeCapacity;
    return;
  }
  // By enthalpy counted from solid at the melting point.
  const before = (t[i] - melting.atC) * store.nodeCapacity + melted[i];
  const h = before + heatJ;
  melted[i] = max(0, min(melting.heatJ, h));
  t[i] = melting.atC + (h - melted[i]) / store.nodeCapacity;
}

/** Lets the store lose heat to its surroundings for a while and returns what was lost, J. */
export function loseHeat(store: Store, aroundC: number, seconds: number): number {
  const n = store.temperatures.length;
  const per = store.lossWK / n;
  if (per <= 0) return 0;
  const share = -expm1((-per * seconds) / store.nodeCapacity);
  let lost = 0;
  for (let i = 0; i < n; i++) {
    // What melts holds its temperature: there the loss is steady.
    const steady = store.melting && store.melted[i] > 0 && store.melted[i] < store.melting.heatJ;
    const heat = steady
      ? per * (store.temperatures[i] - aroundC) * seconds
      : store.nodeCapacity * (store.temperatures[i] - aroundC) * share;
    warm(store, i, -heat);
    lost += heat;
  }
  return lost;
}

/** Heat held above 0 °C, J; differences of it are exact. */
export const heldHeat = (store: Store): number =>
  store.temperatures.reduce((s, t, i) => s + t * store.nodeCapacity + store.melted[i], 0);

export function meanOf({ temperatures: t }: Store): number {
  let sum = 0;
  for (let i = 0; i < t.length; i++) sum += t[i];
  return sum / t.length;
}

/** °C of the hottest node. */
export function hottestOf({ temperatures: t }: Store): number {
  let most = t[0];
  for (let i = 1; i < t.length; i++) if (t[i] > most) most = t[i];
  return most;
}

/**
 * Pressure loss of air through a bed of stones, Pa (Ergun 1952). @param flowKgS air
 * @param air density kg/m³ and viscosity Pa·s
 */
export function rockPressure(
  spec: Extract<StoreSpec, { kind: "rock" }>,
  flowKgS: number,
  air: { density: number; viscosity: number },
): number {
  const speed = (flowKgS * spec.lengthM) / (spec.volumeM3 * air.density);
  const e = spec.voidShare;
  const laminar = (150 * air.viscosity * speed * (1 - e) ** 2) / (e ** 3 * spec.stoneM ** 2);
  const inertial = (1.75 * air.density * speed ** 2 * (1 - e)) / (e ** 3 * spec.stoneM);
  return spec.lengthM * (laminar + inertial);
}
