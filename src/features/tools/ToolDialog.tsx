"use client";

import { X } from "lucide-react";
import { usePathname } from "next/navigation";
import { Dialog } from "radix-ui";
import { useState, type Dispatch, type SetStateAction } from "react";
import { toast } from "@/ui/toast";
import { quickEfficiency, quickHeat, type QuickReading } from "@/core/analysis/quickReading";
import { boilingPoint } from "@/core/calibration/twoPoint";
import { airDensity, cfmConstant, dewPoint, standardPressure } from "@/core/fluids/moistAir";
import { ductArea } from "@/core/flow/duct";
import { quantityText } from "@/core/quantity/format";
import { parseQuantity } from "@/core/quantity/parseQuantity";
import { QUANTITIES, fromSi, type QuantityId, type UnitSystem } from "@/core/quantity/quantities";
import type { MonteCarloResult } from "@/core/uncertainty/monteCarlo";
import { budget, measured, type Uncertain } from "@/core/uncertainty/uncertain";
import { expanded } from "@/core/uncertainty/coverage";
import { usePreferences } from "@/ui/preferences";
import { keepQuickRow, type QuickRow } from "@/ui/quickRow";
import { QuantityField } from "@/ui/QuantityField";
import { useAct } from "@/ui/useAct";
import { parsedProblem } from "@/words/quantity";
import { percent, sourceGroupWords } from "@/words/sources";
import { collectorWorker } from "@/workers/collector";
import { keepSpot, loadSpots } from "./actions";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** A quick reading, units of the trade, duct, air and boiling point here. */
export default function ToolDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          className="fixed inset-x-0 top-0 z-50 max-h-dvh overflow-y-auto border-b-4 border-ink bg-sheet px-4 py-3 sm:inset-x-auto sm:right-0 sm:w-[min(640px,100vw)]"
          aria-describedby={undefined}
        >
          <div className="flex items-center">
            <Dialog.Title className="flex-1 text-[17px] font-[650]">Bench tools</Dialog.Title>
            <Dialog.Close className="btn btn-plain">
              <X size={15} aria-hidden /> Close
            </Dialog.Close>
          </div>
          <Quick />
          <Converter />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Quick() {
  const { system } = usePreferences();
  const path = usePathname();
  const experiment = Number(/\/experiments\/(\d+)/.exec(path)?.[1] ?? 0);
  const [altitudeM, setAltitude] = useState(1120);
  const [r, setR] = useState<QuickReading>({
    inletC: 18,
    outletC: 40,
    speedMs: 3.5,
    diameterM: 0.125,
    pressurePa: standardPressure(1120),
    relativeHumidity: 0.4,
    probeLimitK: 0.5,
    speedLimitShare: 0.05,
    profileFactor: 0.86,
    profileLimit: 0.04,
  });
  const [lit, setLit] = useState<{ areaM2: number | null; irradianceWm2: number | null }>({
    areaM2: null,
    irradianceWm2: null,
  });
  const { busy, act, ask } = useAct();
  // With the reading they were drawn for: draws that come late never stand beside another reading.
  const [draws, setDraws] = useState<{ of: QuickReading; result: MonteCarloResult } | null>(null);
  const drawn = draws?.of === r ? draws.result : null;
  const [saved, setSaved] = useState<{ at: number; text: string; run: number | null }[] | null>(null);
  const set = (change: Partial<QuickReading>) => setR({ ...r, ...change });
  const { heat, massFlow } = quickHeat(r);
  const half = expanded(measured(heat));
  const text = `${quantityText(r.inletC, "temperature", { system, figures: 3 })} in, ${quantityText(r.outletC, "temperature", { system, figures: 3 })} out, ${r.volumeM3S == null ? quantityText(r.speedMs, "speed", { system, figures: 3 }) : quantityText(r.volumeM3S, "volumeFlow", { system, figures: 3 })}: ${quantityText(heat.value, "power", { system, expanded: half })}`;
  const keep = () => {
    const { inletC, outletC, speedMs, diameterM } = r;
    const flow: Record<string, number> = r.volumeM3S == null ? { speedMs, diameterM } : { volumeM3S: r.volumeM3S };
    const values = { inletC, outletC, ...flow, heatW: heat.value, expandedW: half };
    act(
      () => keepSpot(experiment, { text, values }),
      () => ask(() => loadSpots(experiment), setSaved),
    );
  };
  const draw = () =>
    void collectorWorker()
      .drawQuick(r)
      .then(
        (result) => setDraws({ of: r, result }),
        () => toast.error("The draws could not be made: this page’s worker stopped. Reload the page."),
      );
  return (
    <section aria-labelledby="quick">
      <Head id="quick" title="Quick reading" side="two temperatures and a speed" small />
      <QuickFields {...{ r, set, lit, setLit, altitudeM, setAltitude }} />
      <QuickHeat {...{ heat, system, half, massFlow }} />
      <PerArea heat={heat} lit={lit} />
      <p className="flex flex-wrap items-center gap-2">
        <Button onClick={draw}>Check the ± by drawing</Button>
        {experiment > 0 && (
          <Button disabled={busy} onClick={keep}>
            Save into this experiment
          </Button>
        )}
        <Button onClick={() => toSheet(experiment, rowOf(r, lit.irradianceWm2))}>To the sheet as a row</Button>
        {drawn && (
          <span className="text-[13px]">
            20 000 draws: ± {quantityText((drawn.interval[1] - drawn.interval[0]) / 2, "power", { system, figures: 2 })}
            , shortest 95 %
          </span>
        )}
      </p>
      {saved && (
        <ul className="side">
          {saved.slice(0, 5).map((s) => (
            <li key={s.at}>
              {new Date(s.at).toISOString().slice(0, 16).replace("T", " ")}, {s.run === null ? "" : `run ${s.run}: `}
              {s.text}
            </li>
          ))}
        </ul>
      )}
      <p className="pt-1 text-[13.5px]">
        Duct {quantityText(ductArea({ kind: "round", diameterM: r.diameterM }), "area", { system, figures: 4 })}; air at
        the outlet{" "}
        {quantityText(
          airDensity({ temperatureC: r.outletC, pressurePa: r.pressurePa, relativeHumidity: r.relativeHumidity }),
          "density",
          { system, figures: 3 },
        )}
        , where {thumbWords(r)}; its dew point{" "}
        {quantityText(dewPoint(r.outletC, r.relativeHumidity), "temperature", { system, figures: 2 })}; water boils at{" "}
        {quantityText(boilingPoint(Math.min(110000, Math.max(50000, r.pressurePa))), "temperature", {
          system,
          figures: 4,
        })}{" "}
        here.
      </p>
    </section>
  );
}

function QuickHeat({
  heat,
  system,
  half,
  massFlow,
}: {
  heat: Uncertain;
  system: UnitSystem;
  half: number;
  massFlow: Uncertain;
}) {
  return (
    <p className="pt-1 text-[17px]" aria-live="polite" data-testid="quick-heat">
      Heat <b className="font-[650]">{quantityText(heat.value, "power", { system, expanded: half })}</b>{" "}
      <span className="side">
        in {quantityText(massFlow.value, "massFlow", { system, figures: 3 })};{" "}
        {budget(heat)
          .slice(0, 2)
          .map((b) => `${percent(b.share)} ${sourceGroupWords([b.source]).label.toLowerCase()}`)
          .join(", ")}
      </span>
    </p>
  );
}

interface Lit {
  areaM2: number | null;
  irradianceWm2: number | null;
}
const LIT: Asked<Lit>[] = [
  { key: "areaM2", label: "Area", quantity: "area", min: 0.01, max: 200, hint: "for heat per area", empty: true },
  {
    key: "irradianceWm2",
    label: "Sun on it",
    quantity: "irradiance",
    min: 50,
    max: 1450,
    hint: "± 5 %, for efficiency",
    empty: true,
  },
];

function QuickFields({
  r,
  set,
  lit,
  setLit,
  altitudeM,
  setAltitude,
}: {
  r: QuickReading;
  set: (change: Partial<QuickReading>) => void;
  lit: { areaM2: number | null; irradianceWm2: number | null };
  setLit: Dispatch<SetStateAction<{ areaM2: number | null; irradianceWm2: number | null }>>;
  altitudeM: number;
  setAltitude: Dispatch<SetStateAction<number>>;
}) {
  return (
    <div className="grid grid-cols-2 gap-2 pt-1 sm:grid-cols-4">
      <QuantityFields
        of={[
          { key: "inletC", label: "In", quantity: "temperature", min: -40, max: 200 },
          { key: "outletC", label: "Out", quantity: "temperature", min: -40, max: 200 },
        ]}
        value={r}
        set={set}
      />
      <QuantityField
        label="Speed"
        quantity="speed"
        si={r.volumeM3S == null ? r.speedMs : null}
        min={0}
        max={60}
        onChange={(speedMs) => set({ speedMs, volumeM3S: null })}
      />
      <QuantityField
        label="or flow"
        quantity="volumeFlow"
        si={r.volumeM3S ?? null}
        min={1e-6}
        max={10}
        hint="150 CFM, instead of a speed"
        onChange={(volumeM3S) => set({ volumeM3S, speedMs: r.speedMs || 1 })}
        onClear={() => set({ volumeM3S: null })}
      />
      <QuantityFields<Lit> of={LIT} value={lit} set={(part) => setLit({ ...lit, ...part })} />
      <QuantityFields
        of={[
          { key: "diameterM", label: "Duct diameter", quantity: "smallLength", min: 0.01, max: 2 },
          { key: "probeLimitK", label: "Probes ±", quantity: "temperatureDifference", min: 0, max: 10 },
          { key: "speedLimitShare", label: "Speed ±", quantity: "fraction", min: 0, max: 1 },
          { key: "profileFactor", label: "Mean ÷ read speed", quantity: "number", min: 0.3, max: 1.3 },
          { key: "relativeHumidity", label: "Humidity at the outlet", quantity: "fraction", min: 0.01, max: 1 },
        ]}
        value={r}
        set={set}
      />
      <QuantityField
        label="Altitude here"
        quantity="length"
        si={altitudeM}
        min={-400}
        max={5000}
        onChange={(a) => {
          setAltitude(a);
          set({ pressurePa: standardPressure(a) });
        }}
      />
    </div>
  );
}

/** The sheet is loaded anew, also from the sheet itself, so that the row is never left behind. */
function toSheet(experiment: number, row: QuickRow): void {
  if (!keepQuickRow(row)) {
    toast.error("This browser has no room to hand the reading to the sheet. Write it down, or make room.");
    return;
  }
  window.location.assign(experiment > 0 ? `/sheet?experiment=${experiment}` : "/sheet");
}

/** As it would be typed into the sheet. */
const rowOf = (r: QuickReading, irradianceWm2: number | null): QuickRow => ({
  inlet: `${r.inletC} °C`,
  outlet: `${r.outletC} °C`,
  flow: r.volumeM3S == null ? `${r.speedMs} m/s` : `${r.volumeM3S} m³/s`,
  sun: irradianceWm2 === null ? "" : `${irradianceWm2} W/m²`,
});

/** How far the trade's constant is off for the air at the meter. */
function thumbWords({ outletC, pressurePa, relativeHumidity }: QuickReading): string {
  const share = 1.08 / cfmConstant({ temperatureC: outletC, pressurePa, relativeHumidity }) - 1;
  return `1.08 × CFM × °F would say ${Math.abs(Math.round(100 * share))}\u2009% ${share > 0 ? "more" : "less"}`;
}

/** Heat per area, and with the sun an efficiency; beside it what the rule of thumb would say. */
function PerArea({
  heat,
  lit: { areaM2, irradianceWm2 },
}: {
  heat: Uncertain;
  lit: { areaM2: number | null; irradianceWm2: number | null };
}) {
  const { system } = usePreferences();
  if (areaM2 === null) return null;
  const half = expanded(measured(heat)) / areaM2;
  const efficiency = irradianceWm2 && quickEfficiency(heat, { areaM2, irradianceWm2, sunLimitShare: 0.05 });
  return (
    <p data-testid="quick-per-area">
      {quantityText(heat.value / areaM2, "heatFlux", { system, expanded: half })}
      {efficiency ? (
        <>
          , efficiency{" "}
          <b className="font-[650]">
            {quantityText(efficiency.value, "fraction", { system, expanded: expanded(measured(efficiency)) })}
          </b>
        </>
      ) : null}
    </p>
  );
}

const SHOWN: QuantityId[] = [
  "speed",
  "volumeFlow",
  "massFlow",
  "temperature",
  "temperatureDifference",
  "irradiance",
  "power",
  "energy",
  "heatFlux",
  "lossCoefficient",
  "pressure",
  "pressureLoss",
  "length",
  "smallLength",
  "area",
  "mass",
];

/** Any figure of the trade in all its units at once. */
function Converter() {
  const [quantity, setQuantity] = useState<QuantityId>("speed");
  const [text, setText] = useState("845 fpm");
  const { system } = usePreferences();
  const parsed = parseQuantity(text, quantity, { defaultUnit: system });
  return (
    <section aria-labelledby="convert" className="mt-3">
      <Head id="convert" title="Units" small />
      <div className="grid grid-cols-2 gap-2 pt-1">
        <Select
          label="Quantity"
          value={quantity}
          options={SHOWN.map((q) => [q, QUANTITIES[q].name] as const)}
          onChange={setQuantity}
        />
        <TextField label="Figure with its unit" value={text} onChange={setText} />
      </div>
      {parsed.ok ? (
        <p className="flex flex-wrap gap-x-4 pt-1 text-[15px]" data-testid="converted">
          {QUANTITIES[quantity].units.map((u) => (
            <span key={u.symbol}>
              <b className="font-[650]">{Number(fromSi(parsed.si, u).toPrecision(5))}</b> {u.symbol}
            </span>
          ))}
        </p>
      ) : (
        <p role="alert" className="pt-1 font-semibold text-danger">
          {parsedProblem(parsed)}
        </p>
      )}
    </section>
  );
}
