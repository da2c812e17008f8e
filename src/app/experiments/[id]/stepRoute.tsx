import { headers } from "next/headers";
import { notFound } from "next/navigation";
import type { ReactNode } from "react";
import { Broken } from "@/features/experiment/Broken";
import { DeleteExperiment } from "@/features/experiment/DeleteExperiment";
import { Frame } from "@/features/experiment/Frame";
import { NextStep } from "@/features/experiment/NextStep";
import type { StepName } from "@/features/experiment/nextOf";
import { pathSteps } from "@/features/experiment/steps";
import { database } from "@/services/web/connection";
import { askerOf } from "@/services/web/requestGuard";
import { heavy } from "@/services/heavy/heavy";
import type { LostExperiment, StepPage } from "@/services/page/pages";
import type { ExperimentView } from "@/services/page/views";
import { pack, type Packed } from "@/ui/packed";
import { SunStrip } from "@/ui/SunStrip";

interface Asked {
  params: Promise<{ id: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

/** The page of one step. Each step has a route of its own, so that a browser loads the script of that step and no other. */
export const stepRoute = (
  step: StepName | "report",
  draw: (data: StepPage & { packed: Packed<ExperimentView> }) => ReactNode,
) =>
  async function StepRoute({ params, searchParams }: Asked) {
    const { id } = await params;
    if (!/^\d+$/.test(id)) notFound();
    const { v } = await searchParams;
    const shown = typeof v === "string" ? v : null;
    const opened = !(await headers()).has("next-action");
    const asker = await askerOf(await headers());
    const data = await heavy(database()).stepPage(Number(id), step, new Date().getTime(), shown, opened);
    if (!data) notFound();
    if ("lost" in data) return <Lost lost={data} />;
    const path = pathSteps(data.view);
    const current = step === "report" ? "judge" : step;
    return (
      <Frame
        head={data.view.head}
        path={path}
        step={current}
        next={<NextStep steps={path} current={current} />}
        strip={<Strip data={data} />}
        broken={data.broken}
        history={asker?.role !== "viewer"}
      >
        {data.failed === null ? draw({ ...data, packed: pack(data.view) }) : <Failed why={data.failed} />}
      </Frame>
    );
  };

/** A step whose own part could not be made. */
const Failed = ({ why }: { why: string }) => (
  <p role="alert" className="font-semibold text-danger">
    This step could not be computed: {why}. The other steps are there; what was changed last may be the reason.
  </p>
);

/** An experiment that cannot be shown as a whole can be mended or put away here. */
function Lost({ lost: { lost, broken } }: { lost: LostExperiment }) {
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">{lost.name} cannot be shown.</h1>
      <p className="mt-2 mb-4">Why: {lost.why}. Nothing stored is lost; take away what is at fault.</p>
      <Broken parts={broken} />
      <DeleteExperiment id={lost.id} name={lost.name} />
    </div>
  );
}

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
