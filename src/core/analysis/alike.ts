import type { AssembledRun } from "./assemble";
import type { RunSetup } from "./setup";

export interface LanesAlike {
  kind: "lanesAlike";
  lanes: [string, string];
  channel: "outlet" | "plate";
  readings: number;
}

/** Two places whose probes say the same to the last digit: one column taken twice. A shared inlet may be one probe. */
export function alike({ lanes }: RunSetup, { cleaning }: AssembledRun): LanesAlike[] {
  const out: LanesAlike[] = [];
  const own = cleaning
    .map(({ channel }) => channel)
    .filter(({ kind }) => kind === "outlet" || kind === "plate")
    .map((channel) => ({ ...channel, values: channel.values }));
  own.forEach((a, i) => {
    for (const b of own.slice(i + 1)) {
      if (a.kind !== b.kind || a.station === b.station || a.id === b.id) continue;
      const letters = [a.station, b.station].map((s) => lanes.find((l) => l.station === s)?.lane);
      const readings = same(a.values, b.values);
      if (letters[0] && letters[1] && readings > 0)
        out.push({ kind: "lanesAlike", lanes: [letters[0], letters[1]], channel: a.kind as "outlet", readings });
    }
  });
  return out;
}

/** How many readings two columns share, when nearly all agree to the last digit while they change; else 0. */
function same(a: Float64Array, b: Float64Array): number {
  const n = Math.min(a.length, b.length);
  let changes = 0;
  let equal = 0;
  for (let i = 1; i < n; i++) {
    if (Number.isNaN(a[i] + b[i]) || a[i] === a[i - 1]) continue;
    changes++;
    if (a[i] === b[i]) equal++;
    // So many differ that the rest cannot make up for it.
    else if (changes - equal > 0.02 * n) return 0;
  }
  return changes >= 30 && equal > 0.98 * changes ? equal : 0;
}
