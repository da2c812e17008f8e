"use client";

import { Choice } from "@/ui/Choice";
import type { ImportDraft } from "./draft";

type From = NonNullable<ImportDraft["liveFrom"]>;

/** Where a live run begins: readings from before are there and may count. */
export const Begins = ({ from, onFrom }: { from: From | undefined; onFrom: (from: From) => void }) => (
  <Choice
    label="The run begins"
    value={from ?? "now"}
    options={[
      ["now", "now"],
      ["first", "with the first reading shown"],
    ]}
    onChange={onFrom}
  />
);
