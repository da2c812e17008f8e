import { redirect } from "next/navigation";
import { listSites } from "@/data/site/sites";
import { database } from "@/services/connection";
import { NewSite } from "@/features/site/NewSite";

export const dynamic = "force-dynamic";
export const metadata = { title: "Site" };

export default async function SitesPage({ searchParams }: { searchParams: Promise<{ add?: string }> }) {
  const sites = await listSites(database());
  const { add } = await searchParams;
  if (sites[0] && add === undefined) redirect(`/site/${sites[0].id}`);
  return <NewSite zones={Intl.supportedValuesOf("timeZone")} />;
}
