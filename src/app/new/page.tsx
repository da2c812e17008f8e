import type { Metadata } from "next";
import { NewExperiment } from "@/features/ask/NewExperiment";
import { database } from "@/services/web/connection";
import { sitesPage } from "@/services/page/pages";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "A new question" };

export default async function NewPage() {
  return <NewExperiment sites={await sitesPage(database())} zones={Intl.supportedValuesOf("timeZone")} />;
}
