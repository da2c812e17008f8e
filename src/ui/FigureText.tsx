"use client";

import { formatQuantity } from "@/core/quantity/format";
import type { QuantityId } from "@/core/quantity/quantities";
import { usePreferences } from "./preferences";

export interface FigureData {
  si: number;
  expanded: number | null;
  quantity: QuantityId;
}

/** A figure as people read it: value heavy, ± and unit lighter. */
export function FigureText({ figure, signed, figures }: { figure: FigureData; signed?: boolean; figures?: number }) {
  const { system } = usePreferences();
  const { value, plusMinus, unit } = formatQuantity(figure.si, figure.quantity, {
    expanded: figure.expanded ?? undefined,
    system,
    signed,
    figures,
  });
  return (
    <span className="whitespace-nowrap">
      <b className="font-[650]">{value}</b>
      {plusMinus !== undefined && (
        <span className="font-normal text-ink-2">
          {" ± "}
          {plusMinus}
        </span>
      )}
      {unit && (
        <span className="font-normal text-ink-2">
          {"\u2009"}
          {unit}
        </span>
      )}
    </span>
  );
}
