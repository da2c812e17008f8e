import { of, type SettingField } from "../quantity/settingField";

/** What starts and stops a fan or pump, by its kind. */
export const CONTROL_FIELDS = {
  difference: {
    onK: of("temperatureDifference", 0.5, 60),
    offK: of("temperatureDifference", 0.5, 60),
  },
  thermostat: { onC: of("temperature", -60, 150), offC: of("temperature", -60, 150) },
  sun: { panelW: of("power", 0.01, 10_000), fanW: of("power", 0.01, 10_000) },
};

/** What starts and stops a fan or pump, as it is kept. */
export type StoredControl =
  | ControlOf<"difference">
  | ControlOf<"thermostat">
  /** Straight on its panel, or behind a converter that keeps the panel at its best. */
  | (ControlOf<"sun"> & { tracked?: boolean });
type ControlOf<K extends keyof typeof CONTROL_FIELDS> = { kind: K } & Record<keyof (typeof CONTROL_FIELDS)[K], number>;

/** A control as far as it is said; what is missing is undefined. */
export type ControlDraft = { kind: StoredControl["kind"] } & {
  [figure: string]: number | string | boolean | undefined;
};

/** What is wrong with two set points that are each within their limits; null where nothing is. */
export function crossedIn(control: StoredControl): string | null {
  if (control.kind === "difference" && !(control.offK < control.onK))
    return "stops at a smaller difference than it starts at";
  if (control.kind === "thermostat" && !(control.offC < control.onC)) return "off lies below on";
  return null;
}

/** A control that is wholly said; null where a value is missing or beyond its limits. Crossed set points are told by `crossedIn`. */
export function saidControl(draft: ControlDraft): StoredControl | null {
  const fields = Object.entries<SettingField>(CONTROL_FIELDS[draft.kind]);
  const said = fields.every(([key, { min, max }]) => {
    const value = draft[key];
    return typeof value === "number" && value >= min && value <= max;
  });
  if (!said) return null;
  const more = draft.kind === "sun" && draft.tracked ? { tracked: true } : {};
  return {
    kind: draft.kind,
    ...more,
    ...Object.fromEntries(fields.map(([key]) => [key, draft[key]])),
  } as StoredControl;
}
