const { abs, exp, max, min } = Math;

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

const ROCK_NODES = 10;
/** Density × specific heat: rock 2,650 kg/m³ × 840 J/(kg·K) (DB table E.3.1), concrete 2,200 × 880. */
export const ROCK_HEAT = 2650 * 840;
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
      const volumetric = 650 * (flux / spec.stoneM) ** 0.7;
      return {
        temperatures: new Float64Array(ROCK_NODES).fill(startC),
        nodeCapacity: (spec.volumeM3 * (1 - spec.voidShare) * ROCK_HEAT) / ROCK_NODES,
        exchange: (volumetric * spec.volumeM3) / ROCK_NODES,
        lossWK: spec.lossWK,
        inRoom: spec.inRoom,
        melting: null,
        melted: new Float64Array(ROCK_NODES),
      };
    }
    case "slab":
      return mixed(spec.areaM2 * spec.thicknessM * CONCRETE_HEAT, spec.exchangeWK, spec.lossWK, false, startC);
    case "latent":
      return {
        ...mixed(spec.kg * LATENT_HEAT, spec.exchangeWK, spec.lossWK, spec.inRoom, startC),
        melting: { heatJ: spec.kg * spec.heatJPerKg, atC: spec.meltC },
      };
  }
}

/** Temperature at which a stream leaves the store. @param mcp W/K of the stream @param reverse entering at the cold end */
export function outletOf(store: Store, inletC: number, mcp: number, reverse = false): number {
  if (mcp <= 0) return inletC;
  const kept = store.exchange === Infinity ? 0 : exp(-store.exchange / mcp);
  const { temperatures: t } = store;
  let stream = inletC;
  for (let k = 0; k < t.length; k++) {
    const node = t[reverse ? t.length - 1 - k : k];
    stream = node + (stream - node) * kept;
  }
  return stream;
}

/** Puts heat, J, into the nodes as the stream leaves it there; negative takes it out. Exactly this heat is kept. */
export function addHeat(store: Store, heatJ: number, inletC: number, mcp: number, reverse = false): void {
  const { temperatures: t } = store;
  const n = t.length;
  if (n === 1) return warm(store, 0, heatJ);
  const kept = exp(-store.exchange / max(1e-9, mcp));
  const shares = new Float64Array(n);
  let [stream, sum] = [inletC, 0];
  for (let k = 0; k < n; k++) {
    const i = reverse ? n - 1 - k : k;
    const left = t[i] + (stream - t[i]) * kept;
    shares[i] = stream - left;
    sum += shares[i];
    stream = left;
  }
  for (let i = 0; i < n; i++) warm(store, i, abs(sum) > 1e-9 ? (heatJ * shares[i]) / sum : heatJ / n);
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
  const share = 1 - exp((-per * seconds) / store.nodeCapacity);
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

export const meanOf = (store: Store): number =>
  store.temperatures.reduce((s, t) => s + t, 0) / store.temperatures.length;

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
