import type { Metadata } from "next";
import { Materials } from "@/features/materials/Materials";
import { database } from "@/services/web/connection";
import { materialsPage } from "@/services/page/pages";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Materials" };

export default async function MaterialsPage({ searchParams }: { searchParams: Promise<{ find?: string | string[] }> }) {
  const { find } = await searchParams;
  const text = typeof find === "string" ? find : "";
  // Led here anew, the search begins anew.
  return <Materials key={text} own={await materialsPage(database())} find={text} />;
}
