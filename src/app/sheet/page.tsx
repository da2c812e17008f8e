import type { Metadata } from "next";
import { SheetPage } from "@/features/import/sheet/SheetPage";
import { DraftGuard } from "@/ui/DraftGuard";
import { SHEET_STORE } from "@/ui/stores";
import { database } from "@/services/web/connection";
import { importPage } from "@/services/page/pages";
import { SHEET } from "@/words/sheet";

export const metadata: Metadata = { title: SHEET.title };
export const dynamic = "force-dynamic";

export default async function Page({ searchParams }: { searchParams: Promise<{ experiment?: string }> }) {
  const [data, { experiment }] = await Promise.all([importPage(database(), null), searchParams]);
  return (
    <DraftGuard store={SHEET_STORE}>
      <SheetPage {...data} target={experiment && /^\d+$/.test(experiment) ? Number(experiment) : null} />
    </DraftGuard>
  );
}
