"use client";

import { useEffect, useState } from "react";
import { quantityText } from "@/core/quantity/format";
import { loadWorking } from "@/features/experiment/actions";
import type { ProveView } from "@/services/prove";
import { FigureText } from "@/ui/FigureText";
import { usePreferences } from "@/ui/preferences";
import type { WorkingData } from "@/ui/Working";
import { percent, sourceGroupWords } from "@/ui/words/words";

/** Where the ± of a chosen figure comes from, as bars: the instrument worth improving is the longest. */
export function Budget({ experimentId, figures, layerKey }: { experimentId: number; figures: ProveView["figures"]; layerKey: string }) {
  const { system } = usePreferences();
  const [at, setAt] = useState(0);
  const [data, setData] = useState<WorkingData | null>(null);
  const ref = figures[Math.min(at, figures.length - 1)]?.ref;
  const key = JSON.stringify([ref, layerKey]);
  useEffect(() => {
    let here = true;
    if (ref) void loadWorking(experimentId, ref).then((w) => { if (here) setData(w); });
    return () => {
      here = false;
    };
    // The key names figure and layers in force.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [experimentId, key]);
  if (!ref) return <p className="side">Before a run there is no budget yet: import one, or see the predicted figures in Build.</p>;
  return (
    <section aria-labelledby="budget" data-testid="budget">
      <div className="head"><h2 id="budget">Where the ± comes from</h2></div>
      <label className="mt-1 block text-[13px] font-semibold">Figure<select aria-label="Figure" className="field mt-0.5" value={at} onChange={(e) => setAt(Number(e.target.value))}>{figures.map((f, i) => <option key={i} value={i}>{f.label}</option>)}</select></label>
      {!data && <p className="side py-2" role="status">Working it out …</p>}
      {data && (
        <>
          <p className="py-1 text-[18px]"><FigureText figure={data.figure} signed={data.lanes.length > 1} /></p>
          <ul>
            {data.budget.map(({ sources, share, contribution }) => {
              const { label, detail } = sourceGroupWords(sources);
              return (
                <li key={sources[0].key} className="grid grid-cols-[minmax(0,1fr)_110px_44px] items-center gap-2 border-b border-hair py-1 text-[13.5px]">
                  <span className="leading-tight">{label}<small className="side block">{detail}</small></span>
                  <span aria-hidden><i className="block h-[10px] bg-ink" style={{ width: Math.max(1.5, share * 110) }} /></span>
                  <b className="text-right font-[650]" title={quantityText(Math.abs(contribution), data.figure.quantity, { system, figures: 2 })}>{percent(share)}</b>
                </li>
              );
            })}
          </ul>
          <p className="side pt-1">Shares of the variance; errors the lanes share have cancelled in a difference.</p>
        </>
      )}
    </section>
  );
}
