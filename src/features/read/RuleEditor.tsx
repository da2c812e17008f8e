"use client";

import { SlidersHorizontal } from "lucide-react";
import dynamic from "next/dynamic";
import { useState } from "react";
import type { ExperimentView } from "@/services/page/views";
import { Button } from "@/ui/Button";

const button = (onClick?: () => void) => (
  <Button kind="plain" aria-haspopup="dialog" onClick={onClick}>
    <SlidersHorizontal size={14} aria-hidden /> Limits
  </Button>
);

// The editor brings its library when first opened, and opens at once then.
const RulePopover = dynamic(() => import("./RulePopover"), { ssr: false, loading: () => button() });

export function RuleEditor({ view }: { view: ExperimentView }) {
  const [asked, setAsked] = useState(false);
  return asked ? <RulePopover view={view} /> : button(() => setAsked(true));
}
