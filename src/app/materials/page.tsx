import type { Metadata } from "next";
import { Materials } from "@/features/materials/Materials";
import { database } from "@/services/connection";
import { materialsPage } from "@/services/pages";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Materials" };

export default async function MaterialsPage() {
  return <Materials own={await materialsPage(database())} />;
}
