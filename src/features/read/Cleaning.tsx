import type { ExperimentView } from "@/services/views";
import { formatNumber } from "@/core/quantity/format";
import { LaneMark } from "@/ui/LaneMark";
import { clock } from "@/words/times";
import { cleanWords } from "@/words/judge";

/** What was left out before anything was computed, channel by channel. */
export function Cleaning({ view }: { view: ExperimentView }) {
  const when = (ms: number) => clock(ms, view.head.site.zone);
  const rows = view.runs.flatMap((r) =>
    r.cleaning.flatMap((c) => c.findings.map((f) => ({ run: r.number, ...c, ...f }))),
  );
  return (
    <section aria-labelledby="cleaning" className="mt-4">
      <div className="head">
        <h2 id="cleaning">Left out</h2>
        <span className="side">raw readings are kept unchanged</span>
      </div>
      {rows.length === 0 ? (
        <p className="py-1">Nothing: no gaps, error codes, stuck probes or spikes found.</p>
      ) : (
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">run</th>
              <th scope="col">channel</th>
              <th scope="col">why</th>
              <th scope="col" className="num">
                readings
              </th>
              <th scope="col">from, to</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r, i) => (
              <tr key={i}>
                <td>{r.run}</td>
                <td>
                  {r.lane && <LaneMark lane={r.lane} size={11} />} {r.channel}
                </td>
                <td>{cleanWords(r.reason)}</td>
                <td className="num">{formatNumber(r.count, 0)}</td>
                <td>
                  {when(r.firstMs)}, {when(r.lastMs)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
