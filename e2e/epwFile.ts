import { writeEpw } from "../src/core/site/epw";
import { inventedEpw } from "../src/core/site/inventedEpw";

/** A whole invented typical-weather file, as text. */
export const epwText = (): string => writeEpw(inventedEpw());
