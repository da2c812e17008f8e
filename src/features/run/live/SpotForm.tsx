"use client";

import { useState } from "react";
import type { EventInput } from "@/core/experiment/schema/event";
import { quantityText } from "@/core/quantity/format";
import type { LiveView } from "@/services/live/view";
import { QuantityField } from "@/ui/QuantityField";
import type { FigureData } from "@/ui/FigureText";
import { usePreferences } from "@/ui/preferences";
import { Select } from "@/ui/form/Select";
import { Button } from "@/ui/Button";

type Spot = NonNullable<EventInput["spot"]>;
const WHATS: readonly [Spot["what"], string][] = [
  ["outlet", "outlet"],
  ["inlet", "inlet"],
  ["plate", "plate"],
  ["tank", "tank"],
  ["ambient", "outside"],
];
/** A hand-held thermometer, ± K (typical). */
const HAND_K = 0.5;

/** The probe that stands for what was read by hand; null where none does. */
function probeFor(what: Spot["what"], lane: string, view: LiveView): FigureData | null {
  const own = view.lanes.find((l) => l.letter === lane);
  if (what === "ambient") return view.shared.ambient;
  if (what === "outlet") return own?.outlet ?? null;
  return what === "inlet" ? (own?.inlet ?? null) : null;
}

/** A thermometer held beside a probe: kept as an event, and held against what the probe says. */
export function SpotForm({
  view,
  lane,
  onKeep,
}: {
  view: LiveView;
  lane: string;
  onKeep: (spot: Spot, lane: string | null) => void;
}) {
  const [what, setWhat] = useState<Spot["what"]>("outlet");
  const [valueC, setValueC] = useState<number | null>(null);
  const shown = probeFor(what, lane, view);
  const keep = () => {
    onKeep({ what, valueC: valueC! }, what === "ambient" ? null : lane);
    setValueC(null);
  };
  return (
    <div className="mt-3 flex flex-wrap items-end gap-2" role="group" aria-label="Spot reading">
      <Select
        label={`Spot reading${what === "ambient" ? "" : ` of ${lane}`}`}
        width="min-h-11"
        value={what}
        options={WHATS.map(([key, name]) => [key, name] as const)}
        onChange={setWhat}
      />
      <div className="w-36 [&_input]:min-h-11 [&_input]:text-[19px]">
        <QuantityField
          label="Reads"
          quantity="temperature"
          si={valueC}
          min={-60}
          max={400}
          onChange={setValueC}
          onClear={() => setValueC(null)}
        />
      </div>
      <Button kind="main" className="min-h-11 px-6" disabled={valueC === null} onClick={keep}>
        Keep
      </Button>
      {shown && valueC !== null && <Agreement shown={shown} valueC={valueC} />}
    </div>
  );
}

function Agreement({ shown, valueC }: { shown: FigureData; valueC: number }) {
  const { system } = usePreferences();
  const apart = Math.abs(valueC - shown.si);
  const differ = apart > Math.hypot(shown.expanded ?? 0, HAND_K);
  const kelvin = (k: number) => quantityText(k, "temperatureDifference", { system });
  return (
    <p className={`basis-full text-[13.5px] ${differ ? "font-semibold text-doubt" : ""}`}>
      The probe says {quantityText(shown.si, "temperature", { expanded: shown.expanded ?? undefined, system })}, yours
      is ± {kelvin(HAND_K)} at best:{" "}
      {differ ? `they differ by ${kelvin(apart)}. Look at the probe’s place.` : "they agree."}
    </p>
  );
}
