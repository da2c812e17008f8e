"use client";

import { useState } from "react";
import { toast } from "@/ui/toast";
import { boilingPoint } from "@/core/calibration/twoPoint";
import { standardPressure } from "@/core/fluids/moistAir";
import { quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import { holdEnter } from "@/ui/holdEnter";
import { QuantityField } from "@/ui/QuantityField";
import { useAct } from "@/ui/useAct";
import { keepTwoPoint } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";

/** One probe in ice water and in boiling water, whose temperature here follows from the pressure. */
export function TwoPoint({ altitudeM }: { altitudeM: number }) {
  const { system } = usePreferences();
  const [label, setLabel] = useState("");
  const [iceC, setIce] = useState<number | null>(null);
  const [pressurePa, setPressure] = useState(() => Math.round(standardPressure(altitudeM) / 100) * 100);
  const boiling = boilingPoint(pressurePa);
  const [boilC, setBoil] = useState<number | null>(null);
  const { busy, act } = useAct();
  const ready = label.trim() !== "" && iceC !== null && boilC !== null;
  const keep = () => {
    if (iceC === null || boilC === null) return;
    act(
      () => keepTwoPoint({ label, iceC, boilC, pressurePa, standardK: 0.1 }),
      () => {
        toast.success(`${label} is calibrated at two points. Apply it above.`);
        setLabel("");
        setIce(null);
        setBoil(null);
      },
    );
  };
  return (
    <details className="no-print">
      <summary className="cursor-pointer font-semibold text-action">Two fixed points: ice and boiling water</summary>
      <p className="pt-1 text-[13.5px]">
        Water boils at <b className="font-[650]">{quantityText(boiling, "temperature", { system, figures: 4 })}</b>{" "}
        here. Crushed ice in water, stirred; a rolling boil, the probe clear of the bottom. Each point counts ± 0.2 K.
      </p>
      <form
        className="grid grid-cols-2 gap-3 pt-1 md:grid-cols-5"
        onKeyDown={holdEnter}
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <TextField label="Probe" maxLength={60} value={label} placeholder="1-in" onChange={setLabel} />
        <QuantityField label="Shows in ice" quantity="temperature" si={iceC} min={-10} max={10} onChange={setIce} />
        <QuantityField
          label="Shows in boiling water"
          quantity="temperature"
          si={boilC}
          min={60}
          max={120}
          onChange={setBoil}
        />
        <QuantityField
          label="Air pressure here"
          quantity="pressure"
          si={pressurePa}
          min={50000}
          max={110000}
          hint="not reduced to sea level"
          onChange={setPressure}
        />
        <span className="self-end pb-1">
          <Button type="submit" disabled={busy || !ready}>
            Keep
          </Button>
        </span>
      </form>
    </details>
  );
}
