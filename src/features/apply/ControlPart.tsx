"use client";

import { useEffect, useMemo, useState } from "react";
import type { ApplySettings } from "@/core/experiment/schema/apply";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import { MOST_STARTS, runSwitch, type PairChoice, type SwitchedRun } from "@/core/season/thermostat";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { QuantityField } from "@/ui/QuantityField";
import { HOLDING_WORDS } from "@/words/apply";
import { percent } from "@/words/sources";
import { seasonWorker } from "@/workers/season";

/** Suns at which a pair is tried, W/m²: haze, a usual hour, full sun. */
const SUNS = [250, 500, 850];

/** Does the box hold its temperature with the fan on, hunt, or overheat: three hours second by second, at a sun of one's choice. */
export function ControlPart({
  settings,
  shown,
  change,
}: {
  settings: ApplySettings;
  shown: Season | null;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { system } = usePreferences();
  const [light, setLight] = useState(500);
  const [outsideC, setOutside] = useState(5);
  const [inletC, setInlet] = useState(16);
  const [lagS, setLag] = useState(60);
  const [purgeS, setPurge] = useState(0);
  const { control } = settings;
  const c = shown?.candidate ?? null;
  const pair =
    control?.kind === "thermostat"
      ? { onC: control.onC, offC: control.offC }
      : control?.kind === "difference"
        ? { onC: inletC + control.onK, offC: inletC + control.offK }
        : null;
  const box = useMemo(
    () =>
      c && {
        areaM2: c.areaM2,
        curve: c.curve,
        capacityJK: c.capacityJM2K * c.areaM2,
        flowWK: c.flowWK,
        limitC: c.limitC,
        outsideC,
        inletC,
        sensorLagS: lagS,
        purgeS,
      },
    [c, outsideC, inletC, lagS, purgeS],
  );
  const runs = useMemo(
    () =>
      box && pair
        ? [...new Set([light, ...SUNS])].map((g) => ({ light: g, run: runSwitch({ ...box, ...pair, light: g }) }))
        : [],
    [box, pair?.onC, pair?.offC, light], // eslint-disable-line react-hooks/exhaustive-deps
  );
  if (!c || !box) return <p>Say what the heat is for first: the year’s winner is what is switched here.</p>;
  const t = (v: number) => quantityText(v, "temperature", { system, figures: 3 });
  const now = runs.find((r) => r.light === light);
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      {now && pair ? (
        <p className="sentence" data-testid="holding">
          At {Math.round(light)} W/m² {c.name} {HOLDING_WORDS[now.run.holding]}
          {now.run.holding === "hunts" ? `, ${now.run.startsPerHour} times an hour` : ""}: on above {t(pair.onC)}, off
          below {t(pair.offC)}, {Math.round(now.run.heat)} W a box.
        </p>
      ) : (
        <p>
          {control?.kind === "sun"
            ? `A fan on its panel follows the sun: it runs ${formatNumber(shown!.year.running, 0)} h a year, and stands still for ${formatNumber(shown!.year.stuck, 0)} h while the box is 15 K warmer than what it heats, in haze and at the day’s ends.`
            : "Choose at the right what starts and stops the fan."}
        </p>
      )}
      {now && pair && <Trace run={now.run} pair={pair} system={system} />}
      <div className="grid grid-cols-2 gap-3 md:grid-cols-5">
        <QuantityField
          label="Sun in the plane"
          quantity="irradiance"
          si={light}
          min={20}
          max={1500}
          onChange={setLight}
        />
        <QuantityField label="Outside" quantity="temperature" si={outsideC} min={-40} max={45} onChange={setOutside} />
        <QuantityField
          label="Comes back at"
          quantity="temperature"
          si={inletC}
          min={-20}
          max={90}
          onChange={setInlet}
        />
        <QuantityField
          label="Sensor’s lag"
          quantity="duration"
          si={lagS}
          min={1}
          max={1800}
          hint="a disc on metal 30 s, in air some minutes"
          onChange={setLag}
        />
        <QuantityField
          label="Fan runs on after stop"
          quantity="duration"
          si={purgeS}
          min={0}
          max={1800}
          hint="purge timer: the box’s last warmth"
          onChange={setPurge}
        />
      </div>
      {pair && (
        <table className="grid-table text-[13.5px]" aria-label="The pair at several suns">
          <thead>
            <tr>
              <th scope="col">sun</th>
              <th scope="col">what it does</th>
              <th scope="col" className="num">
                starts an hour
              </th>
              <th scope="col" className="num">
                fan runs
              </th>
              <th scope="col" className="num">
                heat of a box
              </th>
              <th scope="col" className="num">
                hottest
              </th>
            </tr>
          </thead>
          <tbody>
            {runs
              .slice()
              .sort((a, b) => a.light - b.light)
              .map(({ light: g, run }) => (
                <tr key={g}>
                  <th scope="row">{Math.round(g)} W/m²</th>
                  <td>{HOLDING_WORDS[run.holding]}</td>
                  <td className="num">{run.startsPerHour}</td>
                  <td className="num">{percent(run.duty)}</td>
                  <td className="num">{Math.round(run.heat)} W</td>
                  <td className="num">{t(run.hottestC)}</td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
      <Best box={box} fanW={c.powerW} change={change} control={control} />
      <p className="side">
        A snap disc comes with its two temperatures, each within its maker’s tolerance of some 3 to 5 K: try the pair at
        both ends. A stopped fan leaves the box to its stagnation temperature: see Build for its layers’ limits. Mains
        switching: licensed electrician.
      </p>
    </div>
  );
}

function Trace({
  run,
  pair,
  system,
}: {
  run: SwitchedRun;
  pair: { onC: number; offC: number };
  system: "metric" | "us";
}) {
  const spec = useMemo((): ChartSpec => {
    const degrees = (v: number) => (system === "us" ? v * 1.8 + 32 : v);
    const unit = system === "us" ? "°F" : "°C";
    const points = run.trace.map((p) => ({ x: p.minute, y: degrees(p.sensorC) }));
    return {
      title: "Three hours from cold",
      summary: `Sensor from ${Math.round(Math.min(...points.map((p) => p.y)))} to ${Math.round(Math.max(...points.map((p) => p.y)))} ${unit}; ${run.startsPerHour} starts in the last hour.`,
      x: { title: "minutes", min: 0, max: 180 },
      y: { title: `at the sensor, ${unit}` },
      series: [{ label: "sensor", color: "--lane-b", kind: "line", points }],
      lines: [
        { y: degrees(pair.onC), label: "on" },
        { y: degrees(pair.offC), label: "off" },
      ],
      spans: spansOf(run),
      table: {
        columns: ["minute", `sensor, ${unit}`, "fan"],
        rows: run.trace.map((p) => [p.minute, Number(degrees(p.sensorC).toFixed(1)), p.on ? 1 : 0]),
      },
    };
  }, [run, pair.onC, pair.offC, system]);
  return <Chart spec={spec} height={190} legend={false} />;
}

/** While the fan ran. */
function spansOf({ trace }: SwitchedRun): NonNullable<ChartSpec["spans"]> {
  const spans: { from: number; to: number; kind: "window" }[] = [];
  trace.forEach((p, i) => {
    if (!p.on) return;
    const last = spans.at(-1);
    if (last && trace[i - 1]?.on) last.to = p.minute + 1;
    else spans.push({ from: p.minute, to: p.minute + 1, kind: "window" });
  });
  return spans;
}

function Best({
  box,
  fanW,
  control,
  change,
}: {
  box: Parameters<typeof runSwitch>[0] extends infer S ? Omit<S & object, "onC" | "offC" | "light"> : never;
  fanW: number;
  control: ApplySettings["control"];
  change: (part: Partial<ApplySettings>) => void;
}) {
  const [best, setBest] = useState<PairChoice | null>(null);
  const key = JSON.stringify([box, fanW]);
  useEffect(() => {
    let live = true;
    seasonWorker("study")
      .pair({ ...box, light: 0 } as Parameters<typeof runSwitch>[0], SUNS, fanW)
      .then(
        (found) => live && setBest(found),
        () => undefined,
      );
    return () => {
      live = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  if (!best) return <p role="status">Looking for the best pair …</p>;
  const inletC = (box as { inletC: number }).inletC;
  return (
    <p className="flex flex-wrap items-center gap-2">
      Best pair at {SUNS.join(", ")} W/m² with at most {MOST_STARTS} starts an hour:{" "}
      <b>
        on above {Math.round(best.onC)} °C, off below {Math.round(best.offC)} °C
      </b>
      , {Math.round(best.heat)} W a box net of the fan.
      <button
        type="button"
        className="btn"
        onClick={() =>
          change({
            control:
              control?.kind === "difference"
                ? { kind: "difference", onK: best.onC - inletC, offK: best.offC - inletC }
                : { kind: "thermostat", onC: best.onC, offC: best.offC },
          })
        }
      >
        Take this pair
      </button>
    </p>
  );
}
