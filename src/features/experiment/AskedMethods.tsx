"use client";

import { useQuery } from "@tanstack/react-query";
import { grouped } from "@/core/method/find/finding";
import type { BothSchools, FindingView, MethodsView } from "@/services/page/methodsView";
import { ask } from "@/ui/Fetching";
import { FigureText } from "@/ui/FigureText";
import { LaneMark } from "@/ui/LaneMark";
import { QuantityField } from "@/ui/QuantityField";
import { CHANGE_WORDS, FINDING_WORDS, GAP_WORDS } from "@/words/findings";
import { PROTOCOL_WORDS } from "@/words/plan";
import { timeOfDay } from "@/words/times";
import type { ExperimentView } from "@/services/page/views";
import { useSettings } from "./useSettings";
import { saidOf } from "@/ui/said";

/** What the methods found, once somebody asks for it. */
export function AskedMethods({ view, only }: { view: ExperimentView; only?: "schools" }) {
  const { id, changedAt } = view.head;
  const { data, error } = useQuery({
    queryKey: ["methods", id, changedAt, JSON.stringify(view.head.settings)],
    queryFn: ({ signal }) => ask(`/api/experiments/${id}/methods`, signal, (r) => r.json() as Promise<MethodsView>),
  });
  if (error)
    return (
      <p className="font-semibold text-doubt">
        {saidOf(error, "The other methods could not be computed. Reload the page.")}
      </p>
    );
  if (!data) return <p role="status">Reading by every method …</p>;
  return (
    <>
      <Schools schools={data.schools} />
      <WithoutDays days={data.withoutDays} />
      {!only && <Methods view={view} methods={data.methods} />}
    </>
  );
}

/** One figure, two ways of finding it; where they part, it is said. */
function Schools({ schools }: { schools: readonly BothSchools[] }) {
  const shown = schools.filter((s) => s.steady || s.name === "heatAtPoint" || s.name === "difference");
  if (shown.length === 0) return <p className="side">All daylight does not tell light and loss apart here.</p>;
  const apart = shown.filter((s) => s.apart).length;
  return (
    <>
      <div className="overflow-x-auto" role="region" aria-label="Figures by two schools" tabIndex={0}>
        <table className="mt-1 w-full min-w-[560px] border-collapse text-[14px]" aria-label="Two schools">
          <thead>
            <tr className="border-b border-rule text-left text-[13px] text-ink-2">
              <th scope="col">figure</th>
              <th scope="col">lane</th>
              <th scope="col" className="text-right">
                steady windows
              </th>
              <th scope="col" className="text-right">
                all daylight
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((s) => (
              <tr key={`${s.name}${s.lane}${s.other}`} className="border-b border-hair">
                <th scope="row" className="py-1 text-left font-normal">
                  {FINDING_WORDS[s.name]}
                </th>
                <td>
                  <Lanes lane={s.lane} other={s.other} />
                </td>
                <td className="text-right">{s.steady ? <FigureText figure={s.steady} /> : "–"}</td>
                <td className="text-right">
                  {s.dynamic ? <FigureText figure={s.dynamic} /> : "–"}
                  {s.bend && <span className="side block">slope at outside’s warmth, with a bend</span>}
                  {s.apart && <span className="block text-[12.5px] font-semibold text-doubt">apart</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="side mt-1">
        {apart === 0
          ? "Both schools agree within their ±. "
          : `In ${apart} ${apart === 1 ? "figure" : "figures"} the schools differ by more than both ± allow: look for a fault that only one of them sees. `}
        All daylight stands at the flow that was tested; the verdict is by steady windows where there are enough.
      </p>
    </>
  );
}

/** An answer that one day alone makes is no answer. */
function WithoutDays({ days }: { days: MethodsView["withoutDays"] }) {
  if (days.length === 0) return null;
  const turned = days.filter((d) => d.turned);
  return (
    <div className="mt-2">
      <p className="text-[14px] font-semibold">
        {turned.length === 0
          ? "No other collector has the highest value when one day is left out."
          : `Without ${turned.map((d) => d.day).join(" or ")} another lane has the highest value.`}
      </p>
      <ul aria-label="With one day left out" className="text-[13.5px]">
        {days.map((d) => (
          <li key={d.day} className="flex flex-wrap gap-x-3 border-b border-hair py-0.5">
            <span className="whitespace-nowrap">without {d.day}</span>
            <span className={d.turned ? "font-semibold text-doubt" : ""}>
              {WITHOUT_WORDS[d.kind]} {d.kind === "none" || d.kind === "stopped" ? "" : d.best.join(", ")}
            </span>
            {d.difference && <FigureText figure={d.difference} signed />}
          </li>
        ))}
      </ul>
    </div>
  );
}

const WITHOUT_WORDS: Record<MethodsView["withoutDays"][number]["kind"], string> = {
  winner: "first:",
  cannotTell: "cannot tell; ahead:",
  turned: "by turns:",
  daylight: "by all daylight:",
  tie: "no difference that matters:",
  none: "no verdict",
  stopped: "no verdict",
};

const Lanes = ({ lane, other }: { lane: string; other: string | null }) => (
  <span className="inline-flex items-center gap-1 whitespace-nowrap">
    <LaneMark lane={lane} size={11} />
    {other && (
      <>
        {" less "}
        <LaneMark lane={other} size={11} />
      </>
    )}
  </span>
);

function Methods({ view, methods }: { view: ExperimentView; methods: MethodsView["methods"] }) {
  return (
    <div className="mt-3 grid gap-x-8 gap-y-3 lg:grid-cols-2">
      {methods.map((m) => (
        <div key={m.name} data-method={m.name}>
          <h3 className="border-b border-rule text-[14px] font-semibold first-letter:uppercase">
            {PROTOCOL_WORDS[m.name].name}
          </h3>
          <ByName view={view} findings={m.findings.filter((f) => f.name !== "difference")} />
          {m.gaps.map((g) => (
            <div key={`${g.lane}${g.why}`} className="side">
              {g.lane ? `${g.lane}: ` : ""}
              {GAP_WORDS[g.why]}.{g.why === "noTankMass" && g.lane && <TankMass view={view} lane={g.lane} />}
            </div>
          ))}
          {m.name === "batch" && <TankIce view={view} />}
        </div>
      ))}
    </div>
  );
}

/** An ice bank is counted by what melted: how much ice there was, of tanks whose water is known. */
function TankIce({ view }: { view: ExperimentView }) {
  const { settings, change } = useSettings(view.head);
  const { tanks } = settings;
  const lanes = Object.keys(tanks).sort();
  if (lanes.length === 0) return null;
  return (
    <details>
      <summary className="cursor-pointer text-[13.5px] font-semibold text-action">A tank began with ice</summary>
      <div className="flex flex-wrap gap-3">
        {lanes.map((lane) => (
          <QuantityField
            key={lane}
            label={`Ice in ${lane} at the start`}
            quantity="mass"
            si={tanks[lane].iceKg ?? 0}
            min={0}
            max={tanks[lane].massKg}
            onChange={(iceKg) => change(({ tanks }) => ({ tanks: { ...tanks, [lane]: { ...tanks[lane], iceKg } } }))}
          />
        ))}
      </div>
    </details>
  );
}

function ByName({ view, findings }: { view: ExperimentView; findings: readonly FindingView[] }) {
  const rows = [...grouped(findings, (f) => `${f.name} ${f.event?.kind ?? ""}`)];
  return (
    <dl className="text-[14px]">
      {rows.map(([key, all]) => (
        <div key={key} className="flex flex-wrap items-baseline gap-x-4 border-b border-hair py-0.5">
          <dt className="min-w-[15em] flex-1">
            {all[0].event
              ? `${CHANGE_WORDS[all[0].event.kind] ?? all[0].event.kind}: ${FINDING_WORDS[all[0].name]}`
              : FINDING_WORDS[all[0].name]}
          </dt>
          {all.map((f) => (
            <dd key={f.lane} className="inline-flex items-baseline gap-1">
              <LaneMark lane={f.lane} size={11} />
              <FigureText figure={f.figure.expanded === 0 ? { ...f.figure, expanded: null } : f.figure} />
              {f.name === "laterShare" && <span className="side">after {f.other}</span>}
              {f.event && (
                <span className="side">
                  {timeOfDay(f.event.atMs, view.head.site.zone)}
                  {f.event.times > 1 && `, ${f.event.times} times`}
                </span>
              )}
            </dd>
          ))}
        </div>
      ))}
    </dl>
  );
}

/** What a batch test cannot do without, asked where it is missing. */
function TankMass({ view, lane }: { view: ExperimentView; lane: string }) {
  const { change } = useSettings(view.head);
  return (
    <span className="mt-1 block max-w-[16em]">
      <QuantityField
        label={`Water in the tank of ${lane}`}
        quantity="mass"
        si={null}
        min={0.1}
        max={100_000}
        onChange={(massKg) => change(({ tanks }) => ({ tanks: { ...tanks, [lane]: { massKg, limitShare: 0.02 } } }))}
        hint="Weighed or by its litres, ice and all; taken within 2 %."
      />
    </span>
  );
}
