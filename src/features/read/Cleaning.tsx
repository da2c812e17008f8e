"use client";

import type { ExperimentView } from "@/services/page/views";
import { formatNumber } from "@/core/quantity/format";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { clock } from "@/words/times";
import { cleanWords } from "@/words/judge";
import { Head } from "@/ui/Head";

/** What was left out before anything was computed, channel by channel. */
export function Cleaning({ view }: { view: ExperimentView }) {
  const when = (ms: number) => clock(ms, view.head.site.zone);
  const rows = view.runs.flatMap((r) =>
    r.cleaning.flatMap((c) => c.findings.map((f) => ({ run: r.number, ...c, ...f }))),
  );
  const columns: TableColumn<(typeof rows)[number]>[] = [
    { id: "run", title: "run", value: (r) => r.run },
    {
      id: "channel",
      title: "channel",
      value: (r) => r.channel,
      cell: (r) => (
        <>
          {r.lane && <LaneMark lane={r.lane} size={11} />} {r.channel}
        </>
      ),
    },
    { id: "why", title: "why", place: "", value: (r) => cleanWords(r.reason) },
    {
      id: "count",
      title: "readings",
      number: true,
      value: (r) => r.count,
      cell: (r) => formatNumber(r.count, 0),
    },
    // Sorted by the instant, shown on the site's clock.
    {
      id: "from",
      title: "from, to",
      value: (r) => new Date(r.firstMs).toISOString(),
      cell: (r) => `${when(r.firstMs)}, ${when(r.lastMs)}`,
    },
  ];
  return (
    <section aria-labelledby="cleaning" className="mt-4">
      <Head id="cleaning" title="Left out" side="raw readings are kept unchanged" />
      {rows.length === 0 ? (
        <p className="py-1">Nothing: no gaps, error codes, stuck probes or spikes found.</p>
      ) : (
        <DataTable label="Readings left out" file="left-out" columns={columns} rows={rows} />
      )}
    </section>
  );
}
