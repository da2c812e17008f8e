import type { Metadata } from "next";
import { ImportPage } from "@/features/import/ImportPage";
import { database } from "@/services/connection";
import { importPage } from "@/services/pages";

export const metadata: Metadata = { title: "Import" };
export const dynamic = "force-dynamic";

export default async function Page({ searchParams }: { searchParams: Promise<{ experiment?: string }> }) {
  const [data, { experiment }] = await Promise.all([importPage(database()), searchParams]);
  return <ImportPage {...data} target={experiment && /^\d+$/.test(experiment) ? Number(experiment) : null} />;
}
