import type { SeasonJob } from "@/core/season/job";
import { waysOf, type Plant } from "@/core/season/scenario";
import { ductChoices, type DuctChoice } from "@/core/season/study";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import type { ApplyView } from "@/services/apply/applyView";
import { usePreferences } from "@/ui/preferences";
import { Wide } from "./Wide";
import { Head } from "@/ui/Head";

type Say = (v: number, quantity: "smallLength" | "speed" | "pressureLoss" | "power" | "massFlow") => string;

/** What moving the stream takes, and what each size of duct or pipe would. */
export function Ducts({ view, job, shown, plant }: { view: ApplyView; job: SeasonJob; shown: Season; plant: Plant }) {
  const { system } = usePreferences();
  const { settings, fluid } = job;
  const c = shown.candidate;
  const rows = ductChoices(settings, view.site, fluid, c);
  const q: Say = (v, quantity) => quantityText(v, quantity, { system, figures: 2 });
  return (
    <section aria-labelledby="ducts">
      <Head
        id="ducts"
        title={fluid.kind === "air" ? "Duct and fan" : "Pipe and pump"}
        side={
          <>
            {q(plant.path.massFlow, "massFlow")} through {formatNumber(settings.pipes?.lengthM ?? 0, 1)} m
            {waysOf(settings.use) === 2 ? " there and back" : ""}
          </>
        }
      />
      <p className="text-[13.5px]" data-testid="watts">
        {wattsWords(shown, plant, q, settings.control?.kind === "sun")}
      </p>
      {rows.length > 0 && (
        <Sizes rows={rows} here={settings.pipes?.diameterM ?? 0} slow={fluid.kind === "air" ? 4 : 1} q={q} />
      )}
    </section>
  );
}

/** What the fan takes while it runs, and over the year: the figures Season and Money count with. */
function wattsWords({ months }: Season, plant: Plant, q: Say, ownPanel: boolean): string {
  const parts = [
    `boxes ${q(plant.boxesW, "power")}`,
    ...(plant.path.ductW > 0 ? [`the run ${q(plant.path.ductW, "power")}`] : []),
  ];
  const bin =
    plant.bedW > 0
      ? `; blowing through the bin ${q(plant.bedW, "power")} more (${q(plant.path.bedPa, "pressureLoss")})`
      : "";
  if (ownPanel) return `Running it takes ${q(plant.powerW, "power")} (${parts.join(", ")})${bin}, from its own panel.`;
  const sum = months.reduce((s, m) => s + m.fan, 0);
  return `Running it takes ${q(plant.powerW, "power")} (${parts.join(", ")})${bin}: ${formatNumber(sum, 0)} kWh a year.`;
}

/** @param slow speed, m/s, at which a duct is quiet and a pipe does not wear */
function Sizes({ rows, here, slow, q }: { rows: readonly DuctChoice[]; here: number; slow: number; q: Say }) {
  const advised = rows.find((r) => r.speedMs <= slow);
  return (
    <Wide label="Duct or pipe sizes">
      <table className="grid-table text-[13.5px]">
        <thead>
          <tr>
            <th scope="col">inside</th>
            <th scope="col" className="num">
              speed
            </th>
            <th scope="col" className="num">
              pressure
            </th>
            <th scope="col" className="num">
              power
            </th>
            <th scope="col">why</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.diameterM} className={r === advised ? "font-[650]" : undefined}>
              <th scope="row">{q(r.diameterM, "smallLength")}</th>
              <td className="num">{q(r.speedMs, "speed")}</td>
              <td className="num">{q(r.lossPa, "pressureLoss")}</td>
              <td className="num">{q(r.fanW, "power")}</td>
              <td>
                {[
                  ...(r.diameterM === here ? ["this plant"] : []),
                  ...(r === advised ? [`smallest at ${slow} m/s or less`] : []),
                ].join("; ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}
