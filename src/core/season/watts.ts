/** What boxes, duct, bin of stones and a pump behind the exchanger take while the stream flows: the one sum for the year, Sizing and Controls. */
export const stageWatts = (
  boxesW: number,
  path: { ductW: number; bedW: number },
  pumpW: number,
): { powerW: number; bedW: number } => ({ powerW: boxesW + path.ductW + pumpW, bedW: path.bedW });
