"use client";

import dynamic from "next/dynamic";
import { useState } from "react";
import { Fetching } from "@/ui/Fetching";
import type { ExperimentView } from "@/services/page/views";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const AskedMethods = dynamic(() => import("./AskedMethods").then((m) => m.AskedMethods), {
  loading: () => <p role="status">Reading by every method …</p>,
});

/** The same readings by every method that can be read out of them. Asked for: a week of eight lanes takes seconds. */
export function ByMethods({ view, only }: { view: ExperimentView; only?: "schools" }) {
  const [open, setOpen] = useState(false);
  return (
    <section aria-labelledby="methods" className="min-w-0">
      <Head
        id="methods"
        title={only ? "Another school: all daylight" : "By other methods"}
        side={
          only
            ? "changing light through the box’s own lag, cloudy hours too"
            : "what each test method finds in these very readings"
        }
      />
      {open ? (
        <Fetching>
          <AskedMethods view={view} only={only} />
        </Fetching>
      ) : (
        <Button kind="plain" onClick={() => setOpen(true)}>
          {only ? "Compare by all daylight" : "Read by every method"}
        </Button>
      )}
    </section>
  );
}
