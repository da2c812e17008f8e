import type { QuantityId } from "../../core/quantity/quantities";
import { figureBudget } from "../../core/uncertainty/coverage";
import type { Uncertain } from "../../core/uncertainty/uncertain";

/** What the pages get: plain data, ready to cross to the browser. */
export interface FigureView {
  si: number;
  /** Half-width at 95 %, or null when the figure is set, not measured. */
  expanded: number | null;
  quantity: QuantityId;
}

export const figure = (u: Uncertain, quantity: QuantityId): FigureView => ({
  si: u.value,
  expanded: figureBudget(u).expanded,
  quantity,
});
