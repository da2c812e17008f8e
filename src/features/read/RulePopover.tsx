"use client";

import { Popover } from "radix-ui";
import { SlidersHorizontal } from "lucide-react";
import type { SteadyRules } from "@/core/log/windows";
import { useSettings } from "@/features/experiment/useSettings";
import type { ExperimentView } from "@/services/page/views";
import { QuantityField } from "@/ui/QuantityField";
import { LIMITS } from "./limits";

/** The limits themselves. The standard set is shown for reading; the backyard set is yours. */
export default function RuleEditor({ view }: { view: ExperimentView }) {
  const { settings, change: changeSettings, busy } = useSettings(view.head);
  const { rules } = settings;
  const change = (key: keyof SteadyRules, value: number) =>
    changeSettings((s) => ({ rules: { ...s.rules, name: "backyard", [key]: value } }));
  return (
    <Popover.Root defaultOpen>
      <Popover.Trigger className="btn btn-plain">
        <SlidersHorizontal size={14} aria-hidden /> Limits
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          className="z-40 w-[min(420px,94vw)] border-[1.5px] border-ink bg-sheet p-4"
        >
          <p className="font-[650]">Limits of a steady window</p>
          <p className="side mb-2">
            Near ISO 9806:2017 for “standard”. Changing one makes the set “backyard”. {busy ? "Reading anew …" : ""}
          </p>
          <div className="grid grid-cols-2 gap-3">
            {LIMITS.map(({ key, label, quantity, min, max }) => (
              <QuantityField
                key={`${key}${rules[key]}`}
                label={label}
                quantity={quantity}
                si={rules[key]}
                min={min}
                max={max}
                onChange={(v) => change(key, v)}
              />
            ))}
          </div>
          <p className="side mt-2">
            Also at least {rules.settleTimeConstants} time constants settled and {rules.averageTimeConstants} averaged.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
