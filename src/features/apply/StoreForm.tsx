"use client";

import type { ApplySettings, StoredStore } from "@/core/season/schema";
import { INDOORS } from "@/core/season/uses";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";
import { UNCHECKED, useWhole } from "@/ui/form/useWhole";
import { Problem } from "@/ui/Problem";
import { STORE_WORDS } from "@/words/apply";

const schema = () => import("@/core/season/schema").then((m) => m.storeSchema);

type Kind = StoredStore["kind"];
type Draft = Record<string, unknown> & { kind: Kind };

const LOSS: Asked<Draft> = { key: "lossWK", label: "Its loss", quantity: "conductance" };
const EXCHANGE: Asked<Draft> = { key: "exchangeWK", label: "From the stream into it", quantity: "conductance" };
const FIELDS: Record<Kind, Asked<Draft>[]> = {
  none: [],
  water: [
    { key: "kg", label: "Water", quantity: "mass" },
    LOSS,
    { ...EXCHANGE, label: "Coil or exchanger", hint: "empty: fed directly", empty: true },
  ],
  bottles: [
    { key: "count", label: "Containers", quantity: "number", whole: true },
    { key: "litresEach", label: "litres each", quantity: "number" },
    { key: "diameterM", label: "as wide as", quantity: "length" },
    LOSS,
  ],
  rock: [
    { key: "volumeM3", label: "Bin, m³", quantity: "number", hint: "0.25 m³ per m² of air boxes is usual" },
    { key: "lengthM", label: "Air’s way through", quantity: "length" },
    { key: "stoneM", label: "Stones", quantity: "smallLength", hint: "20 to 40 mm, washed" },
    { key: "voidShare", label: "Air between them", quantity: "fraction", hint: "40 to 45 % of round stones" },
    LOSS,
  ],
  slab: [
    { key: "areaM2", label: "Slab", quantity: "area" },
    { key: "thicknessM", label: "Thickness", quantity: "length" },
    EXCHANGE,
    LOSS,
  ],
  latent: [
    { key: "kg", label: "Mass", quantity: "mass" },
    { key: "meltC", label: "Melts at", quantity: "temperature" },
    { key: "heatJPerKg", label: "Heat of melting, kJ/kg", quantity: "number", hint: "150 to 220", scale: 1000 },
    EXCHANGE,
    LOSS,
  ],
};

const begun = (kind: Kind): Draft => ({
  kind,
  ...(kind === "none" || kind === "slab" ? {} : { inRoom: false }),
  ...(kind === "water" ? { exchangeWK: null } : {}),
});

/** What keeps heat for the evening and for cloudy days. */
export function StoreForm({
  use,
  store,
  onChange,
}: {
  use: ApplySettings["use"];
  store: StoredStore;
  onChange: (store: StoredStore) => void;
}) {
  const { draft, take, issues, unchecked } = useWhole<StoredStore, Draft>(schema, store, onChange);
  const change = (part: Record<string, unknown>) => take({ ...draft, ...part });
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Store</legend>
      <Select
        label="Store"
        hideLabel
        value={draft.kind}
        options={optionsOf(STORE_WORDS)}
        onChange={(kind) => take(store.kind === kind ? store : begun(kind))}
      />
      {draft.kind !== "none" && (
        <div key={draft.kind} className="mt-2 grid grid-cols-2 gap-x-3 gap-y-2">
          <QuantityFields of={FIELDS[draft.kind]} value={draft} set={change} />
          {"inRoom" in draft && (
            <Tick
              label={use?.kind === "hotWater" ? `stands indoors, at ${INDOORS} °C` : "stands in the room"}
              checked={draft.inRoom as boolean}
              onChange={(inRoom) => change({ inRoom })}
            />
          )}
        </div>
      )}
      <Lacking {...{ draft, issues, unchecked }} />
      {draft.kind === "rock" && (
        <p className="side mt-1">Damp stones grow mould that people breathe: keep the bin dry, and filter its air.</p>
      )}
    </fieldset>
  );
}

function Lacking({
  draft,
  issues,
  unchecked,
}: Pick<ReturnType<typeof useWhole<StoredStore, Draft>>, "draft" | "issues" | "unchecked">) {
  if (unchecked) return <Problem>{UNCHECKED}</Problem>;
  const missing = FIELDS[draft.kind].filter((f) => draft[f.key] === undefined);
  if (missing.length > 0)
    return (
      <p className="side mt-1" role="status">
        Still asked: {missing.map((f) => f.label.toLowerCase()).join(", ")}. Until then the year is shown without this
        store.
      </p>
    );
  if (issues.length === 0) return null;
  const wrong = FIELDS[draft.kind].find((f) => issues.some((i) => i.path.includes(f.key)));
  return (
    <p role="alert" className="mt-1 text-[12.5px] font-semibold text-danger">
      {wrong?.label ?? "A value"} cannot be that. A store of nothing keeps nothing: choose “none”.
    </p>
  );
}
