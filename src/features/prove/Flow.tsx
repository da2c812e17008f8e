"use client";

import { formatNumber } from "@/core/quantity/format";
import type { ProveView } from "@/services/prove/prove";
import { removeLayers } from "@/features/experiment/actions";
import { useAct } from "@/ui/useAct";

import { Balance, Timed } from "./FlowByHand";
import { Traverse } from "./Traverse";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
/** Ways to know the flow: a traverse of the duct, a bag, a bucket, smoke, and how far lanes and leaks are apart. */
export function Flow({ experimentId, prove }: { experimentId: number; prove: ProveView }) {
  return (
    <section aria-labelledby="flow">
      <Head id="flow" title="Flow" side="one reading in the middle is not the mean; a traverse says by how much" />
      {prove.flowLayers.map((l) => (
        <FlowLayer key={l.meter} experimentId={experimentId} layer={l} />
      ))}
      <Traverse experimentId={experimentId} prove={prove} />
      <Timed experimentId={experimentId} prove={prove} />
      <Balance meters={prove.meters.map((m) => m.where)} />
    </section>
  );
}

function FlowLayer({ experimentId, layer: l }: { experimentId: number; layer: ProveView["flowLayers"][number] }) {
  const { busy, undoable } = useAct();
  return (
    <p className="flex flex-wrap items-center gap-2 border-b border-hair py-1 text-[13.5px]" data-flow-layer={l.meter}>
      <span>
        Meter {l.meter}: true ÷ shown {formatNumber(l.factor, 3)} ± {formatNumber(l.limit, 3)}, {l.reason}, over run{" "}
        {l.runs.join(", ")}
      </span>
      <Button
        className="min-h-[26px]"
        disabled={busy}
        onClick={() =>
          undoable(
            () => removeLayers(experimentId, l.ids, true),
            () => removeLayers(experimentId, l.ids, false),
            "Taken off; what was said at import counts again.",
          )
        }
      >
        Take it off
      </Button>
    </p>
  );
}
