"use client";

import { useState } from "react";
import type { Design } from "@/core/collector/design";
import { ABSORBER_FORMS, type AbsorberForm } from "@/core/collector/form/list";
import { presetDesign } from "@/core/collector/presets";
import type { Variant } from "@/core/experiment/records";
import { FORM_WORDS } from "@/words/forms";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";

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
      <Select
        label="Begin with"
        value={from}
        options={[
          ["copy", `a copy of ${current.letter}, ${current.name}`],
          ...ABSORBER_FORMS.map((f) => [f, `a usual build: ${FORM_WORDS[f]}`] as const),
        ]}
        onChange={setFrom}
      />
      <TextField label="Name" maxLength={120} value={name} placeholder={usual} onChange={setName} />
      <Button kind="main" type="submit">
        Make the variant
      </Button>
    </form>
  );
}
