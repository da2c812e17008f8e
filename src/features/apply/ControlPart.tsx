"use client";

import { useMemo, useState } from "react";
import { boxesOf, type Plant } from "@/core/season/scenario";
import type { ApplySettings } from "@/core/season/schema";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { Season } from "@/core/season/season";
import { MOST_STARTS, runSwitch, type PairChoice, type SwitchedRun } from "@/core/season/thermostat";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { usePreferences } from "@/ui/preferences";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { HOLDING_WORDS } from "@/words/apply";
import { percent } from "@/words/sources";
import { useWorkerAnswer } from "@/ui/useWorkerAnswer";
import { seasonWorker } from "@/workers/season";
import { DESKS, RESTS } from "./useSeason";
import { Wide } from "./Wide";
import { computationFailed } from "@/words/failure";
import { Button } from "@/ui/Button";

/** Suns at which a pair is tried, W/m²: haze, a usual hour, full sun. */
const SUNS = [250, 500, 850];

interface Tried {
  light: number;
  outsideC: number;
  inletC: number;
  sensorLagS: number;
  purgeS: number;
}
const BEGIN: Tried = { light: 500, outsideC: 5, inletC: 16, sensorLagS: 60, purgeS: 0 };
const TRIED: Asked<Tried>[] = [
  { key: "light", label: "Sun in the plane", quantity: "irradiance", min: 20, max: 1500 },
  { key: "outsideC", label: "Outside", quantity: "temperature", min: -40, max: 45 },
  { key: "inletC", label: "Comes back at", quantity: "temperature", min: -20, max: 90 },
  {
    key: "sensorLagS",
    label: "Sensor’s lag",
    quantity: "duration",
    min: 1,
    max: 1800,
    hint: "a disc on metal 30 s, in air some minutes",
  },
  {
    key: "purgeS",
    label: "Fan runs on after stop",
    quantity: "duration",
    min: 0,
    max: 1800,
    hint: "purge timer: the box’s last warmth",
  },
];

interface Pair {
  onC: number;
  offC: number;
}

/** The temperatures at which the fan starts and stops; null where its panel decides, or nothing yet. */
function pairOf(control: ApplySettings["control"], inletC: number): Pair | null {
  if (control?.kind === "thermostat") return { onC: control.onC, offC: control.offC };
  if (control?.kind === "difference") return { onC: inletC + control.onK, offC: inletC + control.offK };
  return null;
}

type Box = Omit<Parameters<typeof runSwitch>[0], "onC" | "offC">;

const boxOf = ({ candidate: c }: Season, tried: Tried): Box => ({
  areaM2: c.areaM2,
  curve: c.curve,
  capacityJK: c.capacityJM2K * c.areaM2,
  flowWK: c.flowWK,
  limitC: c.limitC,
  ...tried,
});

/** Does the box hold its temperature with the fan on, hunt, or overheat: three hours second by second, at a sun of one's choice. */
export function ControlPart({
  settings,
  shown,
  plant,
  change,
}: {
  settings: ApplySettings;
  shown: Season | null;
  /** Of what is shown; panels have none. */
  plant: Plant | null;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { system } = usePreferences();
  const [tried, setTried] = useState(BEGIN);
  const { control } = settings;
  const pair = useMemo(() => pairOf(control, tried.inletC), [control, tried.inletC]);
  const box = useMemo(() => shown && boxOf(shown, tried), [shown, tried]);
  const runs = useMemo(
    () =>
      box && pair
        ? [...new Set([box.light, ...SUNS])].map((light) => ({ light, run: runSwitch({ ...box, ...pair, light }) }))
        : [],
    [box, pair],
  );
  if (!shown || !box) return <p>Say what the heat is for first: the year’s winner is what is switched here.</p>;
  const t = (v: number) => quantityText(v, "temperature", { system, figures: 3 });
  const now = runs.find((r) => r.light === tried.light)?.run;
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      {now && pair ? (
        <p className="sentence" data-testid="holding">
          At {Math.round(tried.light)} W/m² {shown.candidate.name} {HOLDING_WORDS[now.holding]}
          {now.holding === "hunts" ? `, ${now.startsPerHour} times an hour` : ""}: on above {t(pair.onC)}, off below{" "}
          {t(pair.offC)}, {Math.round(now.heat)} W a box.
        </p>
      ) : (
        <p>{control?.kind === "sun" ? bySun(shown) : "Choose at the right what starts and stops the fan."}</p>
      )}
      {now && pair && <Trace run={now} pair={pair} system={system} />}
      <div className="grid grid-cols-2 gap-3 md:grid-cols-5">
        <QuantityFields of={TRIED} value={tried} set={(part) => setTried({ ...tried, ...part })} />
      </div>
      {runs.length > 0 && <AtSuns runs={runs} t={t} />}
      <Best box={box} fanW={(plant?.powerW ?? 0) / boxesOf(settings)} change={change} control={control} />
      <p className="side">
        A snap disc comes with its two temperatures, each within its maker’s tolerance of some 3 to 5 K: try the pair at
        both ends. A stopped fan leaves the box to its stagnation temperature: see Build for its layers’ limits. Mains
        switching: licensed electrician.
      </p>
    </div>
  );
}

const bySun = ({ year }: Season): string =>
  `A fan on its panel follows the sun: it runs ${formatNumber(year.running, 0)} h a year, and stands still for ${formatNumber(year.stuck, 0)} h while the box is 15 K warmer than what it heats, in haze and at the day’s ends.`;

function AtSuns({ runs, t }: { runs: readonly { light: number; run: SwitchedRun }[]; t: (v: number) => string }) {
  return (
    <Wide label="The pair at several suns">
      <table className="grid-table text-[13.5px]" aria-label="The pair at several suns">
        <thead>
          <tr>
            <th scope="col">sun</th>
            <th scope="col">what it does</th>
            {["starts an hour", "fan runs", "heat of a box", "hottest"].map((title) => (
              <th key={title} scope="col" className="num">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...runs]
            .sort((a, b) => a.light - b.light)
            .map(({ light, run }) => (
              <tr key={light}>
                <th scope="row">{Math.round(light)} W/m²</th>
                <td>{HOLDING_WORDS[run.holding]}</td>
                <td className="num">{run.startsPerHour}</td>
                <td className="num">{percent(run.duty)}</td>
                <td className="num">{Math.round(run.heat)} W</td>
                <td className="num">{t(run.hottestC)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </Wide>
  );
}

function Trace({ run, pair, system }: { run: SwitchedRun; pair: Pair; system: "metric" | "us" }) {
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

/** The pair that brings most with few starts, looked for in the worker. */
function Best({
  box,
  fanW,
  control,
  change,
}: {
  box: Box;
  fanW: number;
  control: ApplySettings["control"];
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { last, busy, failed } = useWorkerAnswer<Box, PairChoice | null>({
    desk: DESKS.pair,
    asked: box,
    key: JSON.stringify([box, fanW]),
    answer: (asked) => seasonWorker("pair").pair(asked, SUNS, fanW),
    failure: computationFailed("The best pair"),
    restMs: RESTS,
  });
  const best = busy ? null : (last?.value ?? null);
  if (failed) return <p role="alert">{failed}</p>;
  if (!best) return <p role="status">Looking for the best pair …</p>;
  const { inletC } = box;
  return (
    <p className="flex flex-wrap items-center gap-2">
      Best pair at {SUNS.join(", ")} W/m² with at most {MOST_STARTS} starts an hour:{" "}
      <b>
        on above {Math.round(best.onC)} °C, off below {Math.round(best.offC)} °C
      </b>
      , {Math.round(best.heat)} W a box net of the fan.
      <Button
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
      </Button>
    </p>
  );
}
