import type { QuantityId } from "./quantities";

/** A figure that a person sets: what is measured by it, and between what it may lie, in SI units. */
export interface SettingField {
  quantity: QuantityId;
  min: number;
  max: number;
  /** Things are counted. */
  whole?: boolean;
}
export type SettingFields<K extends string = string> = Record<K, SettingField>;

/** @param min, max in SI units */
export const of = (quantity: QuantityId, min: number, max: number): SettingField => ({ quantity, min, max });
export const counted = (min: number, max: number): SettingField => ({ quantity: "number", min, max, whole: true });
