"use client";

import { FlaskConical, PencilLine } from "lucide-react";
import Link from "next/link";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** What a log must hold for which answer, poorest bench first; each may stop where it is. */
const NEEDS: readonly [holds: string, answer: string, sample: { file: string; name: string } | null][] = [
  [
    "No log: two thermometers, one flow or a fan’s rating, a clock",
    "heat of each box with its wide ±; which gives more",
    null,
  ],
  [
    "In and out of each box, and its flow",
    "heat by the hour and the day; which box gives more, and by how much",
    { file: "two-boxes-no-sun.csv", name: "Two boxes, no sun sensor" },
  ],
  [
    "The same with the sun, and the air outside",
    "efficiency at the condition that was tested",
    { file: "two-boxes-with-sun.csv", name: "With sun, in °F and ft/min" },
  ],
  [
    "The same over several inlet temperatures",
    "curves with their bands; the winner at any temperature",
    { file: "proper-bench.csv", name: "A proper bench" },
  ],
];

/** The empty import page: what each log can answer, with small ones to try. */
export function Empty({ experiment, onSample }: { experiment: number | null; onSample: (file: string) => void }) {
  return (
    <section aria-labelledby="needs" className="mt-5 max-w-4xl">
      <Head id="needs" title="What a log needs" side="a sun sensor makes it better; none is needed" />
      <ul>
        {NEEDS.map(([holds, answer, sample]) => (
          <li
            key={holds}
            className="grid items-center gap-x-6 gap-y-1 border-b border-hair py-2 md:grid-cols-[1fr_1fr_16rem]"
          >
            <span className="font-semibold">{holds}</span>
            <span className="text-ink-2">{answer}</span>
            {sample ? (
              <Button className="justify-self-start" onClick={() => onSample(sample.file)}>
                <FlaskConical size={14} aria-hidden /> Try: {sample.name}
              </Button>
            ) : (
              <Link className="btn justify-self-start" href={experiment ? `/sheet?experiment=${experiment}` : "/sheet"}>
                <PencilLine size={14} aria-hidden /> Read by hand
              </Link>
            )}
          </li>
        ))}
      </ul>
      <p className="side mt-1">Wind, humidity, air pressure and the fan’s power are used where they are logged.</p>
    </section>
  );
}
