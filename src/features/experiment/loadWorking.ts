import type { FigureRef } from "@/services/page/views";
import type { Working } from "@/services/working/workingParts";

/** Asks the server for a figure's working; null where the figure is gone. */
export async function loadWorking(experimentId: number, ref: FigureRef): Promise<Working | null> {
  const response = await fetch(
    `/api/experiments/${experimentId}/working?figure=${encodeURIComponent(JSON.stringify(ref))}`,
  );
  if (!response.ok) throw new Error(`no working (${response.status})`);
  return (await response.json()) as Working | null;
}
