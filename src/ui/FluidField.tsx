"use client";

import { FLUID_KINDS, fluidOf, type Fluid, type FluidKind } from "@/core/fluids/fluid";
import { QuantityField } from "./QuantityField";
import { Select } from "./form/Select";

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
        <QuantityField
          label="Share of glycol, by mass"
          quantity="fraction"
          si={fluid.massFraction}
          min={0}
          max={0.6}
          onChange={(massFraction) => onChange({ kind: "glycol", massFraction })}
        />
      )}
    </>
  );
}
