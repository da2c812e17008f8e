"use client";

import { FLUID_KINDS, fluidOf, glycolIn, type Fluid, type FluidKind } from "@/core/fluids/fluid";
import { QuantityField } from "./QuantityField";
import { GLYCOL_WORDS } from "@/words/fluid";
import { optionsOf, Select } from "./form/Select";

const WORDS: Record<FluidKind, string> = { air: "air", water: "water", glycol: "water and glycol" };

/** What carries the heat, with glycol's share where there is some. @param kinds those that make sense here */
export function FluidField({
  fluid,
  kinds = FLUID_KINDS,
  onChange,
}: {
  fluid: Fluid;
  kinds?: readonly FluidKind[];
  onChange: (fluid: Fluid) => void;
}) {
  return (
    <>
      <Select
        label="Fluid"
        value={fluid.kind}
        options={kinds.map((kind) => [kind, WORDS[kind]] as const)}
        onChange={(v) => onChange(fluidOf(v))}
      />
      {fluid.kind === "glycol" && (
        <>
          <Select
            label="Glycol"
            value={glycolIn(fluid)}
            options={optionsOf(GLYCOL_WORDS)}
            onChange={(glycol) => onChange({ ...fluid, glycol })}
          />
          <QuantityField
            label="Share of glycol, by mass"
            quantity="fraction"
            si={fluid.massFraction}
            min={0}
            max={0.6}
            onChange={(massFraction) => onChange({ ...fluid, massFraction })}
          />
          {glycolIn(fluid) === "ethylene" && (
            <p className="side self-end">Poisonous: never where it can reach drinking water.</p>
          )}
        </>
      )}
    </>
  );
}
