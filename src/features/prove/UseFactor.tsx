"use client";

import { useState } from "react";
import { toast } from "@/ui/toast";
import type { FlowLayerDetail } from "@/core/experiment/schema/layer";
import { formatNumber } from "@/core/quantity/format";
import type { QuantityId } from "@/core/quantity/quantities";
import type { ProveView } from "@/services/prove/prove";
import { QuantityField } from "@/ui/QuantityField";
import { useAct } from "@/ui/useAct";
import { applyFlowFactor } from "./actions";
import { Select } from "@/ui/form/Select";
import { Button } from "@/ui/Button";

type Meter = ProveView["meters"][number];

/** What was found with bag, bucket, smoke or a rating. */
export interface Found {
  method: FlowLayerDetail["method"];
  /** m³/s, or kg/s where it was weighed. */
  flow: number;
  weighed: boolean;
  /** ± share, as a limit. */
  limitShare: number;
  reason: string;
}

const SHOWN: Record<Meter["kind"], QuantityId> = {
  speed: "speed",
  volume: "volumeFlow",
  mass: "massFlow",
  constant: "massFlow",
  // The figure of a tank is its water.
  tank: "mass",
};
/** Water between 5 and 45 °C, kg/m³: a bucket's mass as the volume a meter counts. */
const WATER = 996;

/** What a meter should have shown for the flow that was found; null where one says nothing of the other. */
function expected({ kind, ductAreaM2 }: Meter, { flow, weighed }: Found): number | null {
  const volume = weighed ? flow / WATER : flow;
  if (kind === "speed") return ductAreaM2 && !weighed ? volume / ductAreaM2 : null;
  if (kind === "volume") return volume;
  return weighed ? flow : null;
}

/** Why nothing here can be corrected by what was found. */
function whyNot({ runs }: ProveView, { weighed }: Found): string {
  if (runs.length === 0) return "With a run imported, this can correct its meter.";
  return weighed
    ? "No meter here shows a mass or a volume: a bucket says nothing of a speed."
    : "No meter here shows a speed in a duct or a volume.";
}

/** Lays a found flow over a meter: true ÷ shown, dated and with its reason, for any kind of meter. */
export function UseFactor({ experimentId, prove, found }: { experimentId: number; prove: ProveView; found: Found }) {
  const { busy, act } = useAct();
  const meters = prove.meters.filter((m) => expected(m, found) !== null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<number | null>(null);
  const meter = meters.find((m) => m.key === chosen) ?? meters[0];
  if (prove.runs.length === 0 || !meter) return <p className="side pt-1">{whyNot(prove, found)}</p>;
  const factor = shown ? expected(meter, found)! / shown : null;
  const wild = factor !== null && (factor < 0.2 || factor > 5);
  const apply = () =>
    act(
      () =>
        applyFlowFactor(experimentId, {
          runIds: prove.runs.map((r) => r.id),
          detail: { meter: meter.key, method: found.method, factor: factor!, limit: factor! * found.limitShare },
          reason: found.reason,
        }),
      () => void toast.success("Laid over the runs; results are recomputed."),
    );
  return (
    <div className="pt-1">
      <Select
        label="Meanwhile meter"
        place="block"
        value={meter.key}
        options={meters.map((m) => [m.key, `${m.key} (lane ${m.where})`] as const)}
        onChange={setChosen}
      />
      <QuantityField
        key={meter.kind}
        label="showed"
        quantity={SHOWN[meter.kind]}
        si={shown}
        min={1e-7}
        max={100}
        onChange={setShown}
        onClear={() => setShown(null)}
      />
      {factor !== null && (
        <p className={`pt-1 ${wild ? "font-semibold text-danger" : ""}`}>
          True ÷ shown {formatNumber(factor, 3)} ± {formatNumber(factor * found.limitShare, 3)}
          {wild ? ": a unit is wrong somewhere." : "."}
        </p>
      )}
      <Button className="mt-1" disabled={busy || factor === null || wild} onClick={apply}>
        Use it for meter {meter.key}
      </Button>
      {factor === null && <p className="side">Say what the meter showed while you measured.</p>}
    </div>
  );
}
