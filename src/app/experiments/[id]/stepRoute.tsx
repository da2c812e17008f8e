import { notFound } from "next/navigation";
import type { ReactNode } from "react";
import { Frame } from "@/features/experiment/Frame";
import type { StepName } from "@/features/experiment/steps";
import { database } from "@/services/connection";
import { heavy } from "@/services/heavy/heavy";
import type { StepPage } from "@/services/pages";
import { SunStrip } from "@/ui/SunStrip";

interface Asked {
  params: Promise<{ id: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

/** The page of one step. Each step has a route of its own, so that a browser loads the script of that step and no other. */
export const stepRoute = (step: StepName, draw: (data: StepPage) => ReactNode) =>
  async function StepRoute({ params, searchParams }: Asked) {
    const { id } = await params;
    if (!/^\d+$/.test(id)) notFound();
    const { v } = await searchParams;
    const shown = typeof v === "string" ? v : null;
    const data = await heavy(database()).stepPage(Number(id), step, new Date().getTime(), shown);
    if (!data) notFound();
    return (
      <Frame view={data.view} step={step} strip={<Strip data={data} />}>
        {draw(data)}
      </Frame>
    );
  };

function Strip({ data: { view } }: { data: StepPage }) {
  const last = view.runs.at(-1);
  return (
    <SunStrip
      site={view.head.site}
      plane={{ tilt: last?.tilt ?? 55, azimuth: last?.azimuth ?? 180 }}
      atMs={view.strip?.atMs ?? new Date().getTime()}
      now={!view.strip}
      recorded={view.strip?.recorded}
      windows={view.runs.flatMap((r) => r.windows)}
      thin
    />
  );
}
