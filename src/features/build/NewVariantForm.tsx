"use client";

import { useState } from "react";
import type { Design } from "@/core/collector/design";
import { ABSORBER_FORMS, type AbsorberForm } from "@/core/collector/form/list";
import { presetDesign } from "@/core/collector/presets";
import type { Variant } from "@/core/experiment/records";
import { FORM_WORDS } from "@/words/forms";

/** What a new variant begins with: a copy of the one in sight, or a usual build. */
export function NewVariantForm({
  variants,
  current,
  onCreate,
}: {
  variants: readonly Variant[];
  current: Variant;
  onCreate: (name: string, design: Design, note: string) => void;
}) {
  const [from, setFrom] = useState<"copy" | AbsorberForm>("copy");
  const [name, setName] = useState("");
  const usual =
    from === "copy" ? `${current.name}, changed` : `${FORM_WORDS[from][0].toUpperCase()}${FORM_WORDS[from].slice(1)}`;
  const submit = () => {
    let free = name.trim() || usual;
    for (let k = 2; variants.some((v) => v.name === free); k++) free = `${name.trim() || usual} ${k}`;
    onCreate(
      free,
      from === "copy" ? current.design : presetDesign(from),
      from === "copy" ? `copy of ${current.letter}, revision ${current.revision}` : "",
    );
  };
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <label className="text-[13px] font-semibold">
        Begin with
        <select
          className="field mt-0.5"
          value={from}
          onChange={(e) => setFrom(e.target.value as "copy" | AbsorberForm)}
        >
          <option value="copy">
            a copy of {current.letter}, {current.name}
          </option>
          {ABSORBER_FORMS.map((f) => (
            <option key={f} value={f}>
              a usual build: {FORM_WORDS[f]}
            </option>
          ))}
        </select>
      </label>
      <label className="text-[13px] font-semibold">
        Name
        <input
          className="field mt-0.5"
          maxLength={120}
          value={name}
          placeholder={usual}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-main">
        Make the variant
      </button>
    </form>
  );
}
