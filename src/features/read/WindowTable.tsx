"use client";

import type { ExperimentView, RunView } from "@/services/views";
import { LaneMark } from "@/ui/LaneMark";
import { Figure } from "@/ui/Working";

/** Each window with the lanes steady in it, their figures, and the limits it met. */
export function WindowTable({ view, run }: { view: ExperimentView; run: RunView }) {
  const clock = (ms: number, day: boolean) =>
    new Intl.DateTimeFormat("en-GB", {
      timeZone: view.head.site.zone,
      ...(day ? { day: "numeric", month: "short" } : {}),
      hour: "2-digit",
      minute: "2-digit",
    }).format(ms);
  if (run.windows.length === 0) return null;
  return (
    <section aria-labelledby="windows" className="min-w-0 xl:col-span-2">
      <div className="head">
        <h2 id="windows">Windows of run {run.number}</h2>
        <span className="side">efficiency at normal incidence, heat; worst deviation as share of its limit</span>
      </div>
      <div className="relative overflow-x-auto">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">#</th>
              <th scope="col">when</th>
              <th scope="col" className="num">
                sun
              </th>
              {view.head.lanes.map((l) => (
                <th key={l.letter} scope="col">
                  <LaneMark lane={l.letter} size={11} />
                </th>
              ))}
              <th scope="col">tightest limit</th>
              <th scope="col">standard</th>
            </tr>
          </thead>
          <tbody>
            {run.windows.map((w, i) => {
              const own = view.points.filter((p) => p.run === String(run.number) && p.window === i);
              const tight = w.checks
                .filter((c) => c.name !== "irradiance" && c.name !== "modifier")
                .reduce((a, b) => (b.worst / b.limit > a.worst / a.limit ? b : a));
              return (
                <tr key={w.startMs}>
                  <th scope="row">{i + 1}</th>
                  <td className="whitespace-nowrap">
                    {clock(w.startMs, true)}–{clock(w.endMs, false)}
                  </td>
                  <td className="num">{own[0] && <Figure figure={own[0].irradiance} />}</td>
                  {view.head.lanes.map((l) => {
                    const p = own.find((q) => q.lane === l.letter);
                    const ref = (name: string) => ({
                      figure: "point",
                      run: String(run.number),
                      window: i,
                      lane: l.letter,
                      name,
                    });
                    return (
                      <td key={l.letter} className="whitespace-nowrap">
                        {p ? (
                          <>
                            <Figure figure={p.efficiency} opens={ref("efficiency")} />{" "}
                            <span className="side">
                              <Figure figure={p.heat} opens={ref("heat")} />
                            </span>
                          </>
                        ) : (
                          <span className="text-ink-3">not steady</span>
                        )}
                      </td>
                    );
                  })}
                  <td className="whitespace-nowrap">
                    {LIMIT_NAMES[tight.name]}
                    {tight.lane ? ` ${tight.lane}` : ""} {Math.round((tight.worst / tight.limit) * 100)} %
                  </td>
                  <td>
                    {w.standardUnmet.length === 0 ? (
                      "met"
                    ) : (
                      <span className="text-doubt">
                        {[...new Set(w.standardUnmet)]
                          .map((n) => LIMIT_NAMES[n as keyof typeof LIMIT_NAMES])
                          .join(", ")}{" "}
                        not met
                      </span>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

const LIMIT_NAMES = {
  irradiance: "sun",
  irradianceBand: "sun ±",
  ambient: "outside ±",
  modifier: "incidence",
  inlet: "inlet ±",
  flow: "flow ±",
} as const;
