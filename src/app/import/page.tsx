import type { Metadata } from "next";
import { findExperiment, listExperiments } from "@/data/experiment/experiments";
import { type StoredRun } from "@/core/experiment/types";
import { listSites } from "@/data/site/sites";
import { ImportPage } from "@/features/import/ImportPage";
import { database } from "@/services/connection";

export const metadata: Metadata = { title: "Import" };
export const dynamic = "force-dynamic";

export default async function Page({ searchParams }: { searchParams: Promise<{ experiment?: string }> }) {
  const knex = database();
  const [heads, sites, { experiment }] = await Promise.all([listExperiments(knex), listSites(knex), searchParams]);
  const lastRuns: Record<number, StoredRun | undefined> = {};
  for (const head of heads) lastRuns[head.id] = (await findExperiment(knex, head.id))?.runs.at(-1);
  return (
    <ImportPage
      heads={heads}
      sites={sites}
      lastRuns={lastRuns}
      target={experiment && /^\d+$/.test(experiment) ? Number(experiment) : null}
    />
  );
}
