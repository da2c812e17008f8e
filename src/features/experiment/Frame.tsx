"use client";

import Link from "next/link";
import type { ReactNode } from "react";
import type { BrokenPart } from "@/core/experiment/records";
import type { ExperimentHead } from "@/core/experiment/types";
import type { FigureRef } from "@/services/page/views";
import { Badge } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import { Path, type PathStep } from "@/ui/Path";
import { WorkingProvider } from "@/ui/Working";
import { loadWorking } from "./loadWorking";
import { Broken } from "./Broken";

/** Question, lanes and path: always in sight, whatever the step. */
export function Frame({
  head,
  path,
  step,
  strip,
  broken = [],
  history = false,
  next = null,
  children,
}: {
  head: ExperimentHead;
  path: PathStep[];
  step: string;
  strip: ReactNode;
  broken?: readonly BrokenPart[];
  /** Offers the way to who changed what. */
  history?: boolean;
  /** What comes next, drawn on the server: it needs no script. */
  next?: ReactNode;
  children: ReactNode;
}) {
  const seen = new Map<number, string>();
  return (
    <WorkingProvider load={(ref: FigureRef) => loadWorking(head.id, ref)}>
      <div className="max-sm:hidden">{strip}</div>
      <div className="px-4 pb-8 max-sm:pb-20 sm:px-6">
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2 max-sm:py-0">
          <p
            className="text-[17px] font-[650] max-sm:w-full max-sm:truncate max-sm:text-[14px] max-sm:leading-6"
            style={{ fontStretch: "96%" }}
          >
            <span className="mr-2 text-[13.5px] font-normal text-ink-2">
              <bdi>{head.name}</bdi>
            </span>
            <bdi>{head.question}</bdi>
            {history && <HistoryLink experimentId={head.id} />}
          </p>
          <ul className="ml-auto flex flex-wrap gap-x-3 gap-y-1 max-sm:hidden" style={{ fontStretch: "86%" }}>
            {head.lanes.map((l) => {
              const twin = seen.get(l.variantId);
              if (!twin) seen.set(l.variantId, l.letter);
              return (
                <li key={l.letter} className="flex items-center gap-1.5 text-[13px]">
                  <LaneMark lane={l.letter} /> <Badge design={l.design} lane={l.letter} scale={0.75} />{" "}
                  {twin ? <span className="text-ink-2">pair of {twin}</span> : <bdi>{l.variant}</bdi>}
                </li>
              );
            })}
          </ul>
        </div>
        <Path steps={path} current={step} />
        {next}
        <div className="pt-3">
          <Broken parts={broken} />
          {children}
        </div>
      </div>
    </WorkingProvider>
  );
}

const HistoryLink = ({ experimentId }: { experimentId: number }) => (
  <Link
    href={`/experiments/${experimentId}/history`}
    prefetch={false}
    className="no-print ml-3 text-[12.5px] font-normal text-ink-2 max-sm:hidden"
  >
    History
  </Link>
);
