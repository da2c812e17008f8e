import { useRouter } from "next/navigation";
import { useState } from "react";
import type { ExperimentHead } from "@/core/experiment/types";
import type { ImportAsks } from "@/services/import/importRequest";
import { SHEET } from "@/words/sheet";
import { ImportAsking, runImport } from "../transfer";
import { sheetFile, sheetRequest, type SheetDraft } from "./sheetDraft";
import { SHEET_STORE } from "@/ui/stores";
import { forgetHere } from "@/ui/browserDraft";
import { saidOf } from "@/ui/said";
import { uploadFile } from "@/ui/uploadFile";

/** Keeps a sheet as a run: its file first, then the import of it. What is in doubt is asked; what fails leaves the sheet as it is. */
export function useKeep(draft: SheetDraft, heads: readonly ExperimentHead[], zone: string) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const [asks, setAsks] = useState<ImportAsks | null>(null);
  const keep = async () => {
    setFailure(null);
    setAsks(null);
    setBusy(true);
    const { signal } = new AbortController();
    try {
      const file = new File([sheetFile(draft, zone)], SHEET.file(draft.date), { type: "text/csv" });
      const { file: stored } = await uploadFile(file);
      const made = await runImport(sheetRequest(draft, heads, zone, stored.id), () => undefined, signal);
      forgetHere(SHEET_STORE);
      router.push(`/experiments/${made.experimentId}/judge`);
      router.refresh();
    } catch (error) {
      if (error instanceof ImportAsking) setAsks(error.asks);
      else setFailure(`${saidOf(error, "The sheet could not be saved.")} The sheet is still here.`);
      setBusy(false);
    }
  };
  return { busy, failure, asks, keep: () => void keep(), forget: () => setAsks(null) };
}
