"use client";

import { useEffect, type Dispatch, type SetStateAction } from "react";
import { type Design, type LayerKind } from "@/core/collector/design";
import type { Material } from "@/core/materials/material";
import { addLayer, moveLayer, removeLayer, withMaterials } from "./draft";
import type { Edit } from "@/features/build/draft";

/** What can be done to a drawing, by buttons and by keys. */
export function useEdits({
  edit,
  library,
  design,
  selected,
  setSelected,
}: {
  edit: (e: Edit) => void;
  library: ReadonlyMap<string, Material>;
  design: Design;
  selected: string | null;
  setSelected: Dispatch<SetStateAction<string | null>>;
}) {
  const set = (next: Design) => edit({ type: "set", design: withMaterials(next, library) });
  const move = (from: number, to: number) => set(moveLayer(design, from, to));
  const remove = (id: string) => set(removeLayer(design, id));
  const add = (kind: LayerKind) => {
    const added = addLayer(design, kind, selected);
    set(added.design);
    setSelected(added.id);
  };
  const undo = () => edit({ type: "undo" });
  const redo = () => edit({ type: "redo" });

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || (e.target as HTMLElement).closest("input, textarea")) return;
      const key = e.key.toLowerCase();
      if (key !== "z" && key !== "y") return;
      e.preventDefault();
      edit({ type: key === "y" || e.shiftKey ? "redo" : "undo" });
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [edit]);
  return { undo, redo, set, move, remove, add };
}
