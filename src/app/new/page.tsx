import type { Metadata } from "next";
import { listSites } from "@/data/site/sites";
import { NewExperiment } from "@/features/ask/NewExperiment";
import { database } from "@/services/connection";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "A new question" };

export default async function NewPage() {
  return <NewExperiment sites={await listSites(database())} zones={Intl.supportedValuesOf("timeZone")} />;
}
