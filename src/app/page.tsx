import type { Metadata } from "next";
import { Bench } from "@/features/bench/Bench";
import { database } from "@/services/connection";
import { benchView } from "@/services/views";
import { listSites } from "@/data/experiments";
import { SunStrip } from "@/ui/SunStrip";

export const metadata: Metadata = { title: "Bench" };
export const dynamic = "force-dynamic";

export default async function BenchPage() {
  const knex = database();
  const [experiments, sites] = await Promise.all([benchView(knex), listSites(knex)]);
  const site = experiments[0]?.head.site ?? sites[0];
  const now = new Date().getTime();
  return (
    <>
      {site && <SunStrip place={site} zone={site.zone} plane={{ tilt: 55, azimuth: site.latitude < 0 ? 0 : 180 }} atMs={now} now />}
      <div className="px-4 py-4 sm:px-6">
        {site && <p className="mb-3 text-[13.5px]"><b className="font-semibold">{site.name}</b> <span className="text-ink-3">{Math.abs(site.latitude).toFixed(2)}° {site.latitude < 0 ? "S" : "N"} {Math.abs(site.longitude).toFixed(2)}° {site.longitude < 0 ? "W" : "E"}, {Math.round(site.altitudeM).toLocaleString("en").replace(",", "\u2009")} m, plane 55° {site.latitude < 0 ? "north" : "south"}; clear sky by model</span></p>}
        <h1 className="sr-only">Bench</h1>
        <Bench experiments={experiments} />
      </div>
    </>
  );
}
