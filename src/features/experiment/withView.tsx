"use client";

import { useMemo, type ComponentType } from "react";
import type { ExperimentView } from "@/services/page/views";
import { unpack, type Packed } from "@/ui/packed";

/** A step that gets the experiment as one text and draws it as ever. */
export function withView<P extends { view: ExperimentView }>(Step: ComponentType<P>) {
  return function Unpacked({ packed, ...rest }: Omit<P, "view"> & { packed: Packed<ExperimentView> }) {
    const view = useMemo(() => unpack(packed), [packed]);
    return <Step {...({ ...rest, view } as unknown as P)} />;
  };
}
