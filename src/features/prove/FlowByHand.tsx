"use client";

import { useState, type Dispatch, type SetStateAction } from "react";
import { bagFillFlow, bucketFlow, leakShare, smokeTransitFlow } from "@/core/flow/timedFlow";
import { exact } from "@/core/uncertainty/uncertain";
import { formatNumber, quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import type { ProveView } from "@/services/prove/prove";
import { QuantityField } from "@/ui/QuantityField";
import { UseFactor } from "./UseFactor";
import { QuantityFields } from "@/ui/form/QuantityFields";
import type { UnitSystem } from "@/core/quantity/quantities";

/** Bag, bucket, smoke: a known amount and a stopwatch. */
export function Timed({ experimentId, prove }: { experimentId: number; prove: ProveView }) {
  const { system } = usePreferences();
  const [bag, setBag] = useState({ m3: 0.1, s: 3 });
  const [bucket, setBucket] = useState({ kg: 10, s: 120 });
  const [smoke, setSmoke] = useState({ m3: 0.03, s: 1 });
  const [rated, setRated] = useState(0.07);
  const transit = smokeTransitFlow(smoke.m3, smoke.s);
  // A stopwatch by hand is good to about ± 0.3 s, a bag's volume to 5 %, a kitchen balance to 0.5 %: typical values, as limits.
  const timing = (s: number) => 0.3 / s;
  return (
    <details className="no-print">
      <summary className="cursor-pointer py-1 font-semibold text-action">Bag, bucket and smoke</summary>
      <div className="grid gap-3 md:grid-cols-2 xl:grid-cols-4">
        <fieldset>
          <legend className="font-semibold">Bag fill, air</legend>
          <QuantityFields
            of={[
              { key: "m3", label: "Bag holds, m³", quantity: "number", min: 0.001, max: 10 },
              { key: "s", label: "Full after", quantity: "duration", min: 0.2, max: 3600 },
            ]}
            value={bag}
            set={(part) => setBag({ ...bag, ...part })}
          />
          <p className="pt-1">
            {quantityText(bagFillFlow(bag.m3, bag.s), "volumeFlow", {
              system,
              expanded: bagFillFlow(bag.m3, bag.s) * Math.hypot(0.05, timing(bag.s)) * 1.15,
            })}
          </p>
          <UseFactor
            {...{ experimentId, prove }}
            found={{
              method: "bag",
              flow: bagFillFlow(bag.m3, bag.s),
              weighed: false,
              limitShare: Math.hypot(0.05, timing(bag.s)),
              reason: "bag fill",
            }}
          />
        </fieldset>
        <fieldset>
          <legend className="font-semibold">Bucket and balance, water</legend>
          <QuantityFields
            of={[
              { key: "kg", label: "Caught", quantity: "mass", min: 0.01, max: 1000 },
              { key: "s", label: "In", quantity: "duration", min: 1, max: 7200 },
            ]}
            value={bucket}
            set={(part) => setBucket({ ...bucket, ...part })}
          />
          <p className="pt-1">
            {quantityText(bucketFlow(bucket.kg, bucket.s), "massFlow", {
              system,
              expanded: bucketFlow(bucket.kg, bucket.s) * Math.hypot(0.005, timing(bucket.s)) * 1.15,
            })}
            .
          </p>
          <UseFactor
            {...{ experimentId, prove }}
            found={{
              method: "bucket",
              flow: bucketFlow(bucket.kg, bucket.s),
              weighed: true,
              limitShare: Math.hypot(0.005, timing(bucket.s)),
              reason: "bucket and balance",
            }}
          />
        </fieldset>
        <Smoke {...{ smoke, setSmoke, transit, system, experimentId, prove }} />
        <Rated {...{ rated, setRated, system, experimentId, prove }} />
      </div>
    </details>
  );
}

function Smoke({
  smoke,
  setSmoke,
  transit,
  system,
  experimentId,
  prove,
}: {
  smoke: { m3: number; s: number };
  setSmoke: Dispatch<SetStateAction<{ m3: number; s: number }>>;
  transit: { ceilingM3PerS: number; floorM3PerS: number };
  system: UnitSystem;
  experimentId: number;
  prove: ProveView;
}) {
  return (
    <fieldset>
      <legend className="font-semibold">Smoke transit</legend>
      <QuantityFields
        of={[
          { key: "m3", label: "Path holds, m³", quantity: "number", min: 0.001, max: 10 },
          { key: "s", label: "Smoke takes", quantity: "duration", min: 0.2, max: 600 },
        ]}
        value={smoke}
        set={(part) => setSmoke({ ...smoke, ...part })}
      />
      <p className="pt-1">
        between {quantityText(transit.floorM3PerS, "volumeFlow", { system, figures: 2 })} and{" "}
        {quantityText(transit.ceilingM3PerS, "volumeFlow", { system, figures: 2 })}: smoke shows the fastest thread
        only.
      </p>
      <UseFactor
        {...{ experimentId, prove }}
        found={{
          method: "smoke",
          flow: (transit.floorM3PerS + transit.ceilingM3PerS) / 2,
          weighed: false,
          limitShare: 1 / 3,
          reason: "smoke transit",
        }}
      />
    </fieldset>
  );
}

function Rated({
  rated,
  setRated,
  system,
  experimentId,
  prove,
}: {
  rated: number;
  setRated: Dispatch<SetStateAction<number>>;
  system: UnitSystem;
  experimentId: number;
  prove: ProveView;
}) {
  return (
    <fieldset>
      <legend className="font-semibold">Fan’s rating, the last resort</legend>
      <QuantityField
        label="Free delivery, from its label"
        quantity="volumeFlow"
        si={rated}
        min={1e-5}
        max={10}
        onChange={setRated}
      />
      <p className="pt-1">
        between {quantityText(0.3 * rated, "volumeFlow", { system, figures: 2 })} and{" "}
        {quantityText(0.9 * rated, "volumeFlow", { system, figures: 2 })} in a box with ducts: too wide to compare lanes
        with. Build shows where its curve meets your path.
      </p>
      <UseFactor
        {...{ experimentId, prove }}
        found={{ method: "fanRating", flow: 0.6 * rated, weighed: false, limitShare: 0.5, reason: "fan’s rating" }}
      />
    </fieldset>
  );
}

/** In against out, and lane against lane, before a run. */
export function Balance({ meters }: { meters: readonly string[] }) {
  const [flow, setFlow] = useState<Record<string, number>>({});
  const [leak, setLeak] = useState<{ inKg: number | null; outKg: number | null }>({ inKg: null, outKg: null });
  const [tolerance, setTolerance] = useState(0.03);
  const values = meters.flatMap((m) => flow[m] ?? []);
  return (
    <details className="no-print">
      <summary className="cursor-pointer py-1 font-semibold text-action">Leaks, and lanes balanced</summary>
      <div className="grid gap-3 md:grid-cols-2">
        <fieldset>
          <legend className="font-semibold">Leak: in against out</legend>
          <div className="grid grid-cols-2 gap-3">
            <QuantityFields
              of={[
                { key: "inKg", label: "At the inlet", quantity: "massFlow", min: 1e-5, max: 10 },
                { key: "outKg", label: "At the outlet", quantity: "massFlow", min: 1e-5, max: 10 },
              ]}
              value={leak}
              set={(part) => setLeak({ ...leak, ...part })}
            />
          </div>
          <LeakWords inKg={leak.inKg} outKg={leak.outKg} />
        </fieldset>
        {meters.length > 1 && (
          <fieldset>
            <legend className="font-semibold">Lanes, before a run</legend>
            <div className="grid grid-cols-2 gap-3">
              {meters.map((m) => (
                <QuantityField
                  key={m}
                  label={`Lane ${m}`}
                  quantity="massFlow"
                  si={flow[m] ?? null}
                  min={1e-5}
                  max={10}
                  onChange={(v) => setFlow({ ...flow, [m]: v })}
                />
              ))}
              <QuantityField
                label="Balanced within"
                quantity="fraction"
                si={tolerance}
                min={0.001}
                max={0.5}
                onChange={setTolerance}
              />
            </div>
            {values.length < meters.length ? (
              <p className="side pt-1">
                {values.length} of {meters.length} lanes read.
              </p>
            ) : (
              <BalanceWords values={values} tolerance={tolerance} />
            )}
          </fieldset>
        )}
      </div>
    </details>
  );
}

function LeakWords({ inKg, outKg }: { inKg: number | null; outKg: number | null }) {
  if (inKg === null || outKg === null) return <p className="side pt-1">Read both ends, with the fan running.</p>;
  const share = leakShare(exact(inKg), exact(outKg)).value;
  const leaks = Math.abs(share) > 0.03;
  return (
    <p className={`pt-1 ${leaks ? "font-semibold text-doubt" : ""}`}>
      {formatNumber(Math.abs(share) * 100, 1)} % {share < 0 ? "leaks out" : "leaks in"}
      {leaks ? ": seal the box before you test; over 3 % the difference of lanes is the leak’s." : ": tight enough."}
    </p>
  );
}

function BalanceWords({ values, tolerance }: { values: readonly number[]; tolerance: number }) {
  const { system } = usePreferences();
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  const spread = (Math.max(...values) - Math.min(...values)) / mean;
  const apart = spread > tolerance;
  return (
    <p className={`pt-1 ${apart ? "font-semibold text-doubt" : ""}`}>
      Apart by {formatNumber(spread * 100, 1)} %
      {apart
        ? `: bring them within ${formatNumber(tolerance * 100, 1)} % of ${quantityText(mean, "massFlow", { system, figures: 3 })} with the dampers.`
        : ": balanced."}
    </p>
  );
}
