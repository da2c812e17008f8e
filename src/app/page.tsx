import type { Metadata } from "next";
import { Bench } from "@/features/bench/Bench";
import { Today } from "@/features/bench/Today";
import { database } from "@/services/connection";
import { todayView } from "@/services/plan";
import { benchView } from "@/services/views";
import { listSites } from "@/data/site/sites";
import { SunStrip } from "@/ui/SunStrip";

export const metadata: Metadata = { title: "Bench" };
export const dynamic = "force-dynamic";

export default async function BenchPage() {
  const knex = database();
  const now = new Date().getTime();
  const [experiments, sites] = await Promise.all([benchView(knex), listSites(knex)]);
  const today = await todayView(knex, sites, experiments[0]?.head.site ?? null, now);
  return (
    <>
      {today && <SunStrip site={today.site} plane={today.plane} atMs={now} now />}
      <div className="px-4 py-4 sm:px-6">
        <h1 className="sr-only">Bench</h1>
        {today && <Today today={today} />}
        <Bench experiments={experiments} />
      </div>
    </>
  );
}
