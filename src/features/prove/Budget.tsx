"use client";

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { quickHeat, type QuickReading } from "@/core/analysis/quickReading";
import { quantityText } from "@/core/quantity/format";
import { budget, measured } from "@/core/uncertainty/uncertain";
import { expandedStated } from "@/core/uncertainty/normal";
import { sourceKey, type Source } from "@/core/uncertainty/source";
import { QuantityField } from "@/ui/QuantityField";
import { loadWorking } from "@/features/experiment/loadWorking";
import type { ProveView } from "@/services/prove/prove";
import { Fetching } from "@/ui/Fetching";
import { FigureText } from "@/ui/FigureText";
import { usePreferences } from "@/ui/preferences";
import type { WorkingData } from "@/ui/Working";
import { percent, sourceGroupWords } from "@/words/sources";
import { QuantityFields } from "@/ui/form/QuantityFields";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";

function sourceName(source: Source): string {
  if (source.kind === "probe") return source.probe === "inlet" ? "Inlet probe" : "Outlet probe";
  return source.kind === "profile" ? "Profile factor" : "Speed meter";
}

/** Before a test: what these instruments would make of it, so that the weak one is known before a day is spent. */
function Planned() {
  const { system } = usePreferences();
  const [r, setR] = useState<QuickReading>({
    inletC: 20,
    outletC: 40,
    speedMs: 3.4,
    diameterM: 0.125,
    pressurePa: 90000,
    relativeHumidity: 0.4,
    probeLimitK: 0.5,
    speedLimitShare: 0.05,
    profileFactor: 0.86,
    profileLimit: 0.05,
  });
  const set = (change: Partial<QuickReading>) => setR({ ...r, ...change });
  const { heat } = quickHeat(r);
  const half = expandedStated(measured(heat));
  return (
    <section aria-labelledby="budget" data-testid="planned">
      <Head id="budget" title="Before the test" side="one lane of air, instruments as stated" />
      <div className="grid grid-cols-2 gap-2 pt-1">
        <QuantityField
          label="Expected rise"
          quantity="temperatureDifference"
          si={r.outletC - r.inletC}
          min={0.5}
          max={100}
          onChange={(rise) => set({ outletC: r.inletC + rise })}
        />
        <QuantityFields
          of={[
            { key: "speedMs", label: "Speed in the duct", quantity: "speed", min: 0.1, max: 40 },
            { key: "probeLimitK", label: "Probes ±", quantity: "temperatureDifference", min: 0, max: 10 },
            { key: "speedLimitShare", label: "Speed ±", quantity: "fraction", min: 0, max: 1 },
            { key: "profileLimit", label: "Profile factor ±", quantity: "number", min: 0, max: 0.5 },
          ]}
          value={r}
          set={set}
        />
      </div>
      <p className="pt-1">
        Heat {quantityText(heat.value, "power", { system, expanded: half })}; two such lanes differ reliably from{" "}
        <b className="font-[650]">{quantityText(half * Math.SQRT2, "power", { system, figures: 2 })}</b> on, before
        swaps.
      </p>
      <ul>
        {budget(heat).map((b) => (
          <li
            key={sourceKey(b.source)}
            className="grid grid-cols-[minmax(0,1fr)_110px_44px] items-center gap-2 border-b border-hair py-1 text-[13.5px]"
          >
            <span>{sourceName(b.source)}</span>
            <span aria-hidden>
              <i className="block h-[10px] bg-ink" style={{ width: Math.max(1.5, b.share * 110) }} />
            </span>
            <b className="text-right font-[650]">{percent(b.share)}</b>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface BudgetOf {
  experimentId: number;
  figures: ProveView["figures"];
  layerKey: string;
}

/** Where the ± of a chosen figure comes from, as bars: the instrument worth improving is the longest. */
export function Budget(props: BudgetOf) {
  return props.figures.length === 0 ? (
    <Planned />
  ) : (
    <Fetching>
      <OfFigure {...props} />
    </Fetching>
  );
}

function OfFigure({ experimentId, figures, layerKey }: BudgetOf) {
  const [at, setAt] = useState(0);
  const { ref } = figures[Math.min(at, figures.length - 1)];
  // Asked anew for another figure and other layers: the shares of one never stand under the name of another.
  const { data, error } = useQuery({
    queryKey: ["working", experimentId, ref, layerKey],
    queryFn: () => loadWorking(experimentId, ref),
  });
  return (
    <section aria-labelledby="budget" data-testid="budget">
      <Head id="budget" title="Where the ± comes from" />
      <Select
        label="Figure"
        place="mt-1 block"
        value={at}
        options={figures.map((f, i) => [i, f.label] as const)}
        onChange={setAt}
      />
      {data ? <Shares data={data} /> : <Missing failed={error !== null} gone={data === null} />}
    </section>
  );
}

function Missing({ failed, gone }: { failed: boolean; gone: boolean }) {
  if (failed)
    return (
      <p role="alert" className="py-2 text-danger">
        The server did not answer, so the shares of this figure are not known. Is Bravel still running? Then reload the
        page.
      </p>
    );
  return (
    <p className="side py-2" role="status">
      {gone ? "This figure is no longer there: what it rested on has changed. Reload the page." : "Working it out …"}
    </p>
  );
}

function Shares({ data }: { data: WorkingData }) {
  const { system } = usePreferences();
  return (
    <>
      <p className="py-1 text-[18px]">
        <FigureText figure={data.figure} signed={data.lanes.length > 1} />
      </p>
      <ul>
        {data.budget.map(({ sources, share, contribution }) => {
          const { label, detail } = sourceGroupWords(sources);
          return (
            <li
              key={sourceKey(sources[0])}
              className="grid grid-cols-[minmax(0,1fr)_110px_44px] items-center gap-2 border-b border-hair py-1 text-[13.5px]"
            >
              <span className="leading-tight">
                {label}
                <small className="side block">{detail}</small>
              </span>
              <span aria-hidden>
                <i className="block h-[10px] bg-ink" style={{ width: Math.max(1.5, share * 110) }} />
              </span>
              <b
                className="text-right font-[650]"
                title={quantityText(Math.abs(contribution), data.figure.quantity, { system, figures: 2 })}
              >
                {percent(share)}
              </b>
            </li>
          );
        })}
      </ul>
      <p className="side pt-1">Shares of the variance; errors the lanes share have cancelled in a difference.</p>
    </>
  );
}
