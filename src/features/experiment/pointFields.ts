import { POINT_FIELDS } from "@/core/experiment/settingFields";
import { askedOf } from "@/ui/form/QuantityFields";

/** The operating point, as Ask and Judge ask for it. */
export const POINT_ASKED = askedOf(POINT_FIELDS, {
  inletC: "Inlet",
  ambientC: "Outside",
  irradianceWm2: "Sun in plane",
  flowPerArea: "Flow per area",
});
