import type { Metadata } from "next";
import { ImportPage } from "@/features/import/ImportPage";
import { DraftGuard } from "@/ui/DraftGuard";
import { IMPORT_STORE } from "@/ui/stores";
import { database } from "@/services/web/connection";
import { importPage } from "@/services/page/pages";

export const metadata: Metadata = { title: "Import" };
export const dynamic = "force-dynamic";

export default async function Page({
  searchParams,
}: {
  searchParams: Promise<{ experiment?: string; device?: string; again?: string }>;
}) {
  const number = (text: string | undefined) => (text && /^\d{1,9}$/.test(text) ? Number(text) : null);
  const { experiment, device, again } = await searchParams;
  const data = await importPage(database(), number(again));
  return (
    <DraftGuard store={IMPORT_STORE}>
      <ImportPage {...data} target={number(experiment)} device={number(device)} />
    </DraftGuard>
  );
}
