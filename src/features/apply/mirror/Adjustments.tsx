"use client";

import { CalendarPlus, Download } from "lucide-react";
import Link from "next/link";
import type { Adjustment } from "@/core/mirror/angles";
import { downloadCsv } from "@/ui/download";
import { percent } from "@/words/sources";
import { Wide } from "../Wide";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const csvOf = (list: readonly Adjustment[]) => [
  ["from", "until", "angle °", "off by at most °", "share of turning it daily"],
  ...list.map((l) => [l.from, l.until, l.angle ?? "down", Number(l.offDeg.toFixed(1)), Number(l.share.toFixed(3))]),
];

/** When to turn the mirror to what, through the year. @param tried the angle shown is not the drawing's */
export function Adjustments({
  experimentId,
  list,
  tried,
}: {
  experimentId: number;
  list: readonly Adjustment[];
  tried: boolean;
}) {
  return (
    <section aria-labelledby="adjustments">
      <Head id="adjustments" title="When to turn it" side="by clear days, mirrored about the solstice">
        <span className="more no-print flex gap-2">
          {/* A file from a route handler: a plain link, so that the browser saves it. */}
          <a className="btn" href={`/api/experiments/${experimentId}/apply.ics`} download>
            <CalendarPlus size={14} aria-hidden /> Calendar file
          </a>
          <Button onClick={() => void downloadCsv("mirror-angles.csv", csvOf(list))}>
            <Download size={14} aria-hidden /> CSV
          </Button>
          <Link className="btn" href={`/experiments/${experimentId}/apply/today`}>
            Today’s sheet
          </Link>
        </span>
      </Head>
      <List list={list} />
      {tried && (
        <p className="side">The angle tried above is not in the drawing: change it in Build to keep it there.</p>
      )}
    </section>
  );
}

function List({ list }: { list: readonly Adjustment[] }) {
  return (
    <Wide label="Turns of the mirror">
      <table className="grid-table text-[13.5px]" aria-label="Adjustment list">
        <thead>
          <tr>
            <th scope="col">from</th>
            <th scope="col">until</th>
            <th scope="col" className="num">
              angle
            </th>
            <th scope="col" className="num">
              off by at most
            </th>
            <th scope="col" className="num">
              of turning it daily
            </th>
          </tr>
        </thead>
        <tbody>
          {list.map((l) => (
            <tr key={l.from}>
              <td>{dayMonth(l.from)}</td>
              <td>{dayMonth(l.until)}</td>
              <td className="num font-[650]">{l.angle === null ? "lay it down" : `${l.angle}°`}</td>
              <td className="num">{l.angle === null ? "" : `${l.offDeg.toFixed(1)}°`}</td>
              <td className="num">{percent(l.share)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}

const dayMonth = (date: string): string =>
  new Date(`${date}T12:00:00Z`).toLocaleDateString("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });
