"use client";

import Link from "next/link";
import { CircleHelp, FileUp } from "lucide-react";
import { useState } from "react";
import type { ExperimentHead } from "@/core/experiment/types";
import type { BenchEntry } from "@/services/page/benchView";
import { Head } from "@/ui/Head";
import { DemoExperiments } from "./DemoExperiments";
import { Entries } from "./Entries";
import { OpenPackage } from "./OpenPackage";

/** More than this many are searched rather than looked through. */
const SEARCHED_FROM = 20;

/** One's own experiments first, each with its answer; those of the demo world stand under a heading of their own. */
export function Bench({ experiments }: { experiments: BenchEntry[] }) {
  const [wanted, setWanted] = useState("");
  if (experiments.length === 0) return <EmptyBench />;
  const found = experiments.filter((e) => isWanted(e.head, wanted));
  const own = found.filter((e) => e.head.demoKey === null);
  const demo = found.filter((e) => e.head.demoKey !== null);
  const anyOwn = experiments.some((e) => e.head.demoKey === null);
  return (
    <section aria-labelledby="experiments">
      {!anyOwn && (
        <p className="sentence mb-2">
          Bravel compares solar heating collectors on one bench. It measures which gives more heat, how sure that is,
          and what it is worth in a year.
        </p>
      )}
      <Head
        id="experiments"
        title="Experiments"
        side={anyOwn ? <>{own.length}, each with its answer so far</> : <>none of your own yet</>}
      >
        {experiments.length > SEARCHED_FROM && (
          <label>
            <span className="sr-only">Search experiments</span>
            <input
              type="search"
              className="field min-h-8"
              placeholder="Search"
              value={wanted}
              onChange={(e) => setWanted(e.target.value)}
            />
          </label>
        )}
        <Link href="/new" className="more btn">
          <CircleHelp size={14} aria-hidden /> New experiment
        </Link>
        <Link href="/import" className="btn btn-plain">
          <FileUp size={14} aria-hidden /> Import a log
        </Link>
        <OpenPackage />
      </Head>
      {found.length === 0 && <p className="py-3">No experiment has “{wanted}” in its name, question or variants.</p>}
      <Entries entries={own} />
      {demo.length > 0 && <DemoExperiments entries={demo} open={!anyOwn || wanted !== ""} />}
    </section>
  );
}

function isWanted({ name, question, lanes, drawn }: ExperimentHead, wanted: string): boolean {
  const words = [name, question, ...[...lanes, ...drawn].map((l) => l.variant)].join(" ").toLocaleLowerCase();
  return wanted
    .toLocaleLowerCase()
    .split(/\s+/)
    .every((part) => words.includes(part));
}

function EmptyBench() {
  return (
    <section className="max-w-[640px] py-6">
      <p className="sentence">The bench is empty.</p>
      <p className="mt-2">
        Drop a log file with at least two collectors’ inlet and outlet temperatures, a flow and the sun, and Bravel
        finds the steady windows, fits the curves and ranks the lanes.
      </p>
      <p className="mt-2">
        Without a log yet: ask a question, draw two builds, and Bravel says what each should do before you cut a sheet.
      </p>
      <p className="mt-4 flex flex-wrap gap-3">
        <Link href="/new" className="btn">
          <CircleHelp size={14} aria-hidden /> New experiment
        </Link>
        <Link href="/import" className="btn btn-main">
          <FileUp size={14} aria-hidden /> Import a log
        </Link>
        <OpenPackage />
      </p>
      <p className="side mt-3">
        To look round with finished experiments first, stop Bravel and start it with <code>./bravel demo</code>.
      </p>
    </section>
  );
}
