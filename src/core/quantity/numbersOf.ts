import { z } from "zod";
import type { SettingFields } from "./settingField";

/** The numbers of a settings table, each within its bounds, as the shape of an object. */
export function numbersOf<K extends string>(fields: SettingFields<K>): Record<K, z.ZodNumber> {
  const shape = {} as Record<K, z.ZodNumber>;
  for (const key in fields) {
    const { min, max, whole } = fields[key];
    const number = z.number().min(min).max(max);
    shape[key] = whole ? number.int() : number;
  }
  return shape;
}
