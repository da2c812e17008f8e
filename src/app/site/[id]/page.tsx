import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { SitePage } from "@/features/site/SitePage";
import { findSite, listClimates, listSites } from "@/data/site/sites";
import { database } from "@/services/connection";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Site" };

export default async function OneSitePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const site = /^\d+$/.test(id) ? await findSite(database(), Number(id)) : null;
  if (!site) notFound();
  const [sites, climates] = await Promise.all([listSites(database()), listClimates(database())]);
  return (
    <SitePage
      key={site.id}
      site={site}
      sites={sites.map((s) => ({ id: s.id, name: s.name }))}
      climates={climates}
      zones={Intl.supportedValuesOf("timeZone")}
      nowMs={new Date().getTime()}
    />
  );
}
