import type { Metadata } from "next";
import { Bench } from "@/features/bench/Bench";
import { Broken } from "@/features/experiment/Broken";
import { RunningNow } from "@/features/bench/RunningNow";
import { Deleted } from "@/features/bench/Deleted";
import { Today } from "@/features/bench/Today";
import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { SunStrip } from "@/ui/SunStrip";

export const metadata: Metadata = { title: "Bench" };
export const dynamic = "force-dynamic";

const MOST_FOLLOWED = 3;

export default async function BenchPage() {
  const now = new Date().getTime();
  const { experiments, today, broken, deleted, running } = await heavy(database()).benchPage(now);
  return (
    <>
      {today && <SunStrip site={today.site} plane={today.plane} atMs={now} now />}
      <div className="px-4 py-4 sm:px-6">
        <h1 className="sr-only">Bench</h1>
        {/* Each follows a feed of its own, and a browser opens few connections to one server. */}
        {running.slice(0, MOST_FOLLOWED).map((head) => (
          <RunningNow key={head.id} head={head} />
        ))}
        {today && <Today today={today} />}
        <Broken parts={broken} />
        <Bench experiments={experiments} />
        <Deleted things={deleted} />
      </div>
    </>
  );
}
