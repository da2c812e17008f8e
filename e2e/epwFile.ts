import { inventedEpw, writeEpw } from "../scripts/testing/inventedEpw";

/** A whole invented typical-weather file, as text. */
export const epwText = (): string => writeEpw(inventedEpw());
