"use client";

import { Download, Printer } from "lucide-react";
import { ASPECTS } from "@/core/collector/compare";
import { designAreas } from "@/core/collector/content";
import { quantityText } from "@/core/quantity/format";
import { aspectText } from "@/features/experiment/aspectText";
import { CurveChart } from "@/features/experiment/CurveChart";
import { VerdictNext, VerdictSentence } from "@/features/experiment/Verdict";
import { withView } from "@/features/experiment/withView";
import type { InstrumentRow, ReportView } from "@/services/judge/reportView";
import type { ExperimentView } from "@/services/page/views";
import type { WorthView } from "@/services/judge/worthView";
import { Badge } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { usePreferences } from "@/ui/preferences";
import { LAYER_WORDS, layerText } from "@/words/layers";
import { clock, dayOf } from "@/words/times";
import { Bases } from "./Bases";
import { CostAndHeat } from "./CostAndHeat";
import { Doubts } from "./Doubts";
import { Effects } from "./Effects";
import { Pairs } from "./Pairs";
import { Ranking } from "./Ranking";
import { Tested } from "./Tested";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

/** One document for a sceptic: the answer on the first page, then everything it rests on. */
export function Report({ view, report, worth }: { view: ExperimentView; report: ReportView; worth: WorthView | null }) {
  const { head, verdict } = view;
  return (
    <article className="report mx-auto max-w-[980px]">
      <p className="no-print mb-2 flex flex-wrap gap-x-4">
        <Button kind="main" onClick={() => window.print()}>
          <Printer size={14} aria-hidden /> Print, or save as PDF
        </Button>
        <a className="btn btn-plain" href={`/api/experiments/${head.id}/package`} download>
          <Download size={14} aria-hidden /> Package (zip)
        </a>
        <a className="btn btn-plain" href={`/api/experiments/${head.id}/results`} download="results.json">
          <Download size={14} aria-hidden /> Results (JSON)
        </a>
      </p>
      <section aria-label="Summary">
        <p className="side">
          {head.name}, {head.site.name}. Report of {dayOf(head.changedAt, head.site.zone)}, results{" "}
          <code>{report.fingerprint.slice(0, 16)}</code>
        </p>
        {head.question && <p className="mt-1 text-[17px] font-[650]">{head.question}</p>}
        <h1 className="sentence mt-2">
          <VerdictSentence verdict={verdict} head={head} opens />
        </h1>
        <p className="mt-1 text-ink-2">
          <VerdictNext verdict={verdict} head={head} />
        </p>
        <Conditions view={view} report={report} />
        <Ranking view={view} />
      </section>
      <div className="mt-4 grid grid-cols-1 gap-6">
        <Doubts view={view} />
        <Specimens view={view} />
        <Instruments rows={report.instruments} />
        {view.curves.length > 0 && (
          <section aria-label="Curves">
            <Head title="Curves" side="efficiency over reduced temperature difference, with bands at 95 %" />
            <CurveChart view={view} height={300} markPoint />
            <Coefficients view={view} report={report} />
          </section>
        )}
        <Pairs view={view} />
        {worth && <Effects worth={worth} head={head} />}
        {worth && <CostAndHeat worth={worth} experimentId={head.id} />}
        {(view.way === "tested" || view.way === "point") && <Tested view={view} />}
        <Bases view={view} />
        <Runs view={view} />
        <Methods report={report} />
      </div>
    </article>
  );
}

function Conditions({ view, report: { conditions: c } }: { view: ExperimentView; report: ReportView }) {
  const { system } = usePreferences();
  const q = (si: number | null, quantity: Parameters<typeof quantityText>[1]) =>
    si === null || !Number.isFinite(si) ? "not measured" : quantityText(si, quantity, { system, figures: 3 });
  return (
    <p className="mt-2">
      {c.spans} {view.points.length ? "steady windows" : "shared spans"} on {c.days} day{c.days === 1 ? "" : "s"}. On
      average: sun {q(c.irradianceWm2, "irradiance")}, outside {q(c.ambientC, "temperature")}, inlet{" "}
      {q(c.inletC, "temperature")}, wind {q(c.windMs, "speed")}. Rules “{view.head.settings.rules.name}”, per{" "}
      {view.head.settings.areaBasis} area.
    </p>
  );
}

function Specimens({ view: { head } }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const m2 = (v: number) => quantityText(v, "area", { system, figures: 3 });
  return (
    <section aria-labelledby="specimens">
      <Head id="specimens" title="Specimens" side="as drawn and built; sections from glass to back" />
      <ul className="grid gap-x-6 gap-y-3 sm:grid-cols-2">
        {head.lanes.map((l) => {
          const areas = designAreas(l.design);
          return (
            <li key={l.letter} className="break-inside-avoid border-b border-hair pb-2">
              <p className="flex items-center gap-2 font-semibold">
                <LaneMark lane={l.letter} size={13} /> <Badge design={l.design} lane={l.letter} scale={1.8} />{" "}
                {l.variant}
                <span className="side">
                  specimen {l.specimenNumber}, revision {l.revision}
                </span>
              </p>
              <p className="text-[13.5px]">
                Area gross {m2(l.asBuilt.grossAreaM2 ?? areas.gross)}, aperture {m2(areas.aperture)}, absorber{" "}
                {m2(areas.absorber)}.
              </p>
              <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 text-[13px]">
                {ASPECTS.map((a) => (
                  <div key={a} className="contents">
                    <dt className="text-ink-2">{ASPECT_NAMES[a]}</dt>
                    <dd>{aspectText(l.design, a, system)}</dd>
                  </div>
                ))}
              </dl>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

const ASPECT_NAMES: Record<(typeof ASPECTS)[number], string> = {
  fluid: "fluid",
  absorber: "absorber",
  absorberMaterial: "material",
  absorberSize: "size of it",
  coating: "coating",
  glazing: "glazing",
  coverGap: "gap under it",
  airPath: "air path",
  backing: "behind it",
  size: "box",
  ports: "ports",
  drive: "drive",
  reflector: "mirror",
  arrangement: "arrangement",
};

const WHAT: Record<InstrumentRow["what"], string> = {
  inlet: "inlet probe",
  outlet: "outlet probe",
  flow: "flow meter",
  sun: "sun sensor",
  outside: "outside probe",
};
const HOW: Record<InstrumentRow["how"], string> = {
  calibrated: "calibrated in a bath",
  stated: "as stated",
  assumed: "nobody stated it: taken widely",
  modelled: "no sensor: clear sky modelled",
};

function Instruments({ rows }: { rows: readonly InstrumentRow[] }) {
  const { system } = usePreferences();
  const columns: TableColumn<InstrumentRow>[] = [
    {
      id: "lane",
      title: "lane",
      value: (r) => r.lane ?? "all",
      cell: (r) => (r.lane ? <LaneMark lane={r.lane} size={11} /> : "all"),
    },
    { id: "what", title: "what", rowHeader: true, value: (r) => WHAT[r.what] },
    { id: "label", title: "label", value: (r) => r.label },
    {
      id: "limit",
      title: "± limit",
      number: true,
      value: (r) => r.limit.si,
      cell: (r) => quantityText(r.limit.si, r.limit.quantity, { system, figures: 2 }),
    },
    { id: "how", title: "known how", value: (r) => HOW[r.how] },
    { id: "runs", title: "runs", value: (r) => r.runs },
  ];
  return (
    <section aria-labelledby="instruments">
      <Head id="instruments" title="Instruments" />
      <DataTable label="Instruments as taken" file="instruments" columns={columns} rows={[...rows]} minWidth={520} />
    </section>
  );
}

function Coefficients({ view, report }: { view: ExperimentView; report: ReportView }) {
  const { system } = usePreferences();
  return (
    <table className="mt-2 w-full border-collapse text-[13.5px]" aria-label="Coefficients and covariance">
      <thead>
        <tr className="border-b border-rule text-left text-ink-2">
          <th scope="col">lane</th>
          <th scope="col">η0</th>
          <th scope="col">a1</th>
          <th scope="col">windows, days</th>
          <th scope="col">covariance, SI (rows and columns as named)</th>
        </tr>
      </thead>
      <tbody>
        {view.curves.map((c) => {
          const own = report.curves.find((r) => r.lane === c.lane);
          const text = (f: typeof c.eta0) =>
            quantityText(f.si, f.quantity, { system, expanded: f.expanded ?? undefined });
          return (
            <tr key={c.lane} className="border-b border-hair align-top">
              <th scope="row" className="text-left">
                <LaneMark lane={c.lane} size={11} />
              </th>
              <td>{text(c.eta0)}</td>
              <td>{text(c.a1)}</td>
              <td>
                {c.points}, {c.days}
              </td>
              <td className="font-mono text-[11.5px]">
                {own?.names.join(" ")}:{" "}
                {own?.covariance.map((row) => row.map((v) => v.toExponential(2)).join(" ")).join(" | ")}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Runs({ view: { head, runs } }: { view: ExperimentView }) {
  const { zone } = head.site;
  return (
    <section aria-labelledby="runs">
      <Head id="runs" title="Runs, and what lies over their readings" />
      {runs.map((r) => (
        <div key={r.id} className="break-inside-avoid border-b border-hair py-1.5">
          <p>
            <b>Run {r.number}</b>, {clock(r.startMs, zone)} to {clock(r.endMs, zone)}, {r.windows.length} windows, plane{" "}
            {r.tilt}° to {r.azimuth}°. {r.note}
          </p>
          <p className="side">
            {r.streams
              .map((s) => `${s.name} (${s.frames} rows${s.rejected ? `, ${s.rejected} left out` : ""})`)
              .join("; ")}
          </p>
          <ul className="text-[13px]">
            {r.layers.map((l) => (
              <li key={l.id} className={l.on ? "" : "text-ink-2 line-through"}>
                {LAYER_WORDS[l.kind]}: {layerText(l, zone, new Map(r.streams.map((s) => [s.id, s.name])))}.{" "}
                <q>{l.reason}</q>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

const Methods = ({ report }: { report: ReportView }) => (
  <section aria-labelledby="how" className="break-inside-avoid">
    <Head id="how" title="How it was reckoned" />
    <p className="text-[13.5px]">
      Heat ṁ·c_p·ΔT and efficiency after ISO 9806:2017; steady windows by its limits; curves by weighted least squares
      with the storage term; uncertainty source by source (GUM, JCGM 100:2008), degrees of freedom by Welch and
      Satterthwaite; comparisons over shared windows, adjusted by Holm (1979), equal by two one-sided tests; incidence
      and sky after Duffie and Beckman. The package holds the raw bytes, every table and every setting: opened in
      another Bravel it gives these results to the last digit.
    </p>
    <p className="mt-1 text-[12.5px] break-all">
      Fingerprint of the results: <code>{report.fingerprint}</code>
    </p>
  </section>
);

/** The same from the page's packed data. */
export const ReportStep = withView(Report);
