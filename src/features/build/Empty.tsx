"use client";

import type { Design } from "@/core/collector/design";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import { presetDesign } from "@/core/collector/presets";
import { Badge } from "@/ui/Badge";
import { FORM_WORDS } from "@/words/forms";

/** A drawing board without a variant: begin with a usual build. */
export function Empty({ onCreate }: { onCreate: (name: string, design: Design, note: string) => void }) {
  return (
    <div>
      <h1 className="sentence">
        Nothing is drawn yet. Choose an absorber to begin with; everything about it can be changed.
      </h1>
      <ul className="mt-3 grid grid-cols-2 gap-2 md:grid-cols-5">
        {ABSORBER_FORMS.map((f) => (
          <li key={f}>
            <button
              type="button"
              className="flex w-full flex-col items-start gap-1 border-b-2 border-rule p-2 text-left hover:border-action hover:bg-action-wash"
              onClick={() =>
                onCreate(`${FORM_WORDS[f][0].toUpperCase()}${FORM_WORDS[f].slice(1)}`, presetDesign(f), "")
              }
            >
              <Badge design={presetDesign(f)} lane="A" scale={1.6} />
              <span className="font-semibold">{FORM_WORDS[f]}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
