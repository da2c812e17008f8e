import type { Metadata } from "next";
import { listMaterials } from "@/data/variant/variants";
import { Materials } from "@/features/materials/Materials";
import { database } from "@/services/connection";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Materials" };

export default async function MaterialsPage() {
  return <Materials own={await listMaterials(database())} />;
}
