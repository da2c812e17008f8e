import { redirect } from "next/navigation";
import { database } from "@/services/web/connection";
import { sitesPage } from "@/services/page/pages";
import { NewSite } from "@/features/site/NewSite";

export const dynamic = "force-dynamic";
export const metadata = { title: "Site" };

export default async function SitesPage({ searchParams }: { searchParams: Promise<{ add?: string }> }) {
  const sites = await sitesPage(database());
  const { add } = await searchParams;
  if (sites[0] && add === undefined) redirect(`/site/${sites[0].id}`);
  return <NewSite zones={Intl.supportedValuesOf("timeZone")} />;
}
