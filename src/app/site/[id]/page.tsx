import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { SitePage } from "@/features/site/SitePage";
import { database } from "@/services/web/connection";
import { sitePage } from "@/services/page/pages";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Site" };

export default async function OneSitePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const data = /^\d+$/.test(id) ? await sitePage(database(), Number(id)) : null;
  if (!data) notFound();
  return (
    <SitePage
      key={data.site.id}
      site={data.site}
      sites={data.sites}
      climates={data.climates}
      zones={Intl.supportedValuesOf("timeZone")}
      nowMs={new Date().getTime()}
    />
  );
}
