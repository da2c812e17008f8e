import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { Frame } from "@/features/experiment/Frame";
import { Upcoming } from "@/features/experiment/Upcoming";
import { STEPS, type StepName } from "@/features/experiment/steps";
import { Judge } from "@/features/judge/Judge";
import { Read } from "@/features/read/Read";
import { Runs } from "@/features/run/Runs";
import { AskStep } from "@/features/ask/AskStep";
import { BuildStep } from "@/features/build/BuildStep";
import { Plan } from "@/features/plan/Plan";
import { Prove } from "@/features/prove/Prove";
import { database } from "@/services/connection";
import { stepPage } from "@/services/pages";
import { SunStrip } from "@/ui/SunStrip";

export const dynamic = "force-dynamic";

type Params = { params: Promise<{ id: string; step: string }> };

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const { step } = await params;
  return { title: step[0].toUpperCase() + step.slice(1) };
}

export default async function StepPage({ params }: Params) {
  const { id, step } = await params;
  if (!STEPS.includes(step as StepName) || !/^\d+$/.test(id)) notFound();
  const data = await stepPage(database(), Number(id), step, new Date().getTime());
  if (!data) notFound();
  const { view, variants, prove, plan, predicted } = data;
  const { site } = view.head;
  const last = view.runs.at(-1);
  const windows = view.runs.flatMap((r) => r.windows);
  const strip = (
    <SunStrip
      site={site}
      plane={{ tilt: last?.tilt ?? 55, azimuth: last?.azimuth ?? 180 }}
      atMs={view.strip?.atMs ?? new Date().getTime()}
      now={!view.strip}
      recorded={view.strip?.recorded}
      windows={windows}
      thin
    />
  );
  return (
    <Frame view={view} step={step} strip={strip}>
      {step === "run" ? (
        <Runs view={view} />
      ) : step === "read" ? (
        <Read view={view} predicted={predicted} />
      ) : step === "judge" ? (
        <Judge view={view} />
      ) : step === "prove" && prove ? (
        <Prove view={view} prove={prove} />
      ) : step === "plan" && plan ? (
        <Plan plan={plan} />
      ) : step === "ask" && variants ? (
        <AskStep view={view} variants={variants} />
      ) : step === "build" && variants ? (
        <BuildStep view={variants} />
      ) : (
        <Upcoming step={step as StepName} view={view} />
      )}
    </Frame>
  );
}
