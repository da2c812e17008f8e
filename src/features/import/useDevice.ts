import { useEffect, useRef } from "react";
import type { Inspection } from "@/services/import/imports";
import { offerDevice } from "./actions";
import type { LiveSource } from "./draft";
import { inspectAgain } from "./transfer";

/** Looks once a visit at what a device has sent; what it sends meanwhile is looked at by the run. */
export function useDevice(
  device: number | null,
  told: { onFile: (inspection: Inspection, live: LiveSource) => void; onProblem: (problem: string) => void },
): void {
  const latest = useRef(told);
  useEffect(() => {
    latest.current = told;
  });
  useEffect(() => {
    if (device === null) return;
    // A reload must not look anew and forget what was typed.
    const here = new URL(window.location.href);
    here.searchParams.delete("device");
    window.history.replaceState(null, "", here);
    void offerDevice(device)
      .then(async (offered) => {
        if (!offered.ok) return latest.current.onProblem(offered.error);
        const { ok: _, fileId, ...live } = offered;
        latest.current.onFile(await inspectAgain(fileId), live);
      })
      .catch(() => latest.current.onProblem("The device's readings did not come. Choose it again under Devices."));
  }, [device]);
}
