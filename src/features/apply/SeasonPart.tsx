"use client";

import { useMemo } from "react";
import { seasonDoubts } from "@/core/season/doubts";
import { formatNumber } from "@/core/quantity/format";
import type { SeasonAnswer } from "@/core/season/job";
import type { Season } from "@/core/season/season";
import type { ApplySettings } from "@/core/season/schema";
import { Chart } from "@/ui/chart/Chart";
import type { ChartSpec } from "@/ui/chart/model";
import { LaneMark } from "@/ui/LaneMark";
import { FigureText } from "@/ui/FigureText";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { ORIGIN_WORDS, seasonDoubtWords, whatIfWords } from "@/words/apply";
import { MONTH_NAMES } from "@/words/plan";
import { percent } from "@/words/sources";
import { DayTrace } from "./DayTrace";
import { MonthBars } from "./MonthBars";
import { Wide } from "./Wide";
import { Head } from "@/ui/Head";

/** What the year came to: months of the chosen variant, all variants beside, and what a few changes would do. */
export function SeasonPart({
  answer,
  shown,
  settings,
  zone,
  latitude,
  onShow,
}: {
  answer: SeasonAnswer;
  shown: Season;
  settings: ApplySettings;
  zone: string;
  latitude: number;
  onShow: (key: string) => void;
}) {
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      <MonthBars
        title={`Heat by month, ${shown.candidate.name}`}
        months={shown.months}
        monthSd={shown.monthSd}
        need={answer.need}
      />
      <SeasonDoubts {...{ answer, settings, latitude }} />
      <SeasonTable {...{ answer, shown, onShow }} />
      <Details answer={answer} shown={shown} settings={settings} />
      {answer.seasons.length > 1 && <SideBySide seasons={answer.seasons} />}
      <WhatIfs answer={answer} shown={shown} />
      {shown.year.trace ? (
        <DayTrace trace={shown.year.trace} zone={zone} />
      ) : (
        <p className="side" role="status">
          The hours of the year are being worked out …
        </p>
      )}
    </div>
  );
}

/** What may make the year other than it looks, beside the answer it weakens. */
export function SeasonDoubts({
  answer,
  settings,
  latitude,
}: {
  answer: SeasonAnswer;
  settings: ApplySettings;
  latitude: number;
}) {
  const doubts = seasonDoubts(settings, latitude, answer);
  if (doubts.length === 0) return null;
  return (
    <ul aria-label="Doubts of the year" className="border-l-4 border-doubt-line pl-3 text-[13.5px]">
      {doubts.map((d) => {
        const text = seasonDoubtWords(d);
        return <li key={text}>{text}</li>;
      })}
    </ul>
  );
}

const laneOf = (key: string) => key[0];

const FIGURES: TableColumn<Season>[] = [
  { id: "origin", title: "curve", value: (s) => ORIGIN_WORDS[s.candidate.origin] },
  {
    id: "useful",
    title: "useful, kWh",
    number: true,
    value: (s) => Number(s.useful.toFixed(1)),
    cell: (s) => <Kwh value={s.useful} sd={s.usefulSd} />,
  },
  { id: "share", title: "of the need", number: true, value: (s) => s.share, cell: (s) => percent(s.share) },
  {
    id: "vented",
    title: "let out, kWh",
    number: true,
    value: (s) => Number(s.vented.toFixed(1)),
    cell: (s) => formatNumber(s.vented, 0),
  },
  {
    id: "fan",
    title: "fan, kWh",
    number: true,
    value: (s) => Number(s.fan.toFixed(1)),
    cell: (s) => (s.candidate.origin === "panels" ? "–" : formatNumber(s.fan, 0)),
  },
  {
    id: "hours",
    title: "runs, h",
    number: true,
    value: (s) => Math.round(s.year.running),
    cell: (s) => (s.candidate.origin === "panels" ? "–" : formatNumber(s.year.running, 0)),
  },
];

/** All variants and panels over the year. @param onShow where one may be chosen to be shown whole */
export function SeasonTable({
  answer,
  shown,
  onShow,
}: {
  answer: SeasonAnswer;
  shown: Season;
  onShow?: (key: string) => void;
}) {
  const columns = useMemo(
    (): TableColumn<Season>[] => [
      {
        id: "variant",
        title: "variant",
        rowHeader: true,
        value: (s) => s.candidate.name,
        cell: (s) => (
          <Variant season={s} shown={s === shown} onShow={s.candidate.origin === "panels" ? undefined : onShow} />
        ),
      },
      ...FIGURES,
    ],
    [shown, onShow],
  );
  return (
    <DataTable
      label="Variants over the year"
      file="season"
      columns={columns}
      rows={[...answer.seasons, ...answer.panels]}
      minWidth={560}
    />
  );
}

function Variant({ season, shown, onShow }: { season: Season; shown: boolean; onShow?: (key: string) => void }) {
  const { key, name } = season.candidate;
  const inside = (
    <>
      {/^[A-H]/.test(key) && <LaneMark lane={laneOf(key)} size={12} />}
      <span className={shown ? "font-[650]" : undefined}>{name}</span>
    </>
  );
  if (!onShow) return <span className="inline-flex items-center gap-1.5">{inside}</span>;
  return (
    <button
      type="button"
      className="opens inline-flex items-center gap-1.5"
      aria-pressed={shown}
      onClick={() => onShow(key)}
    >
      {inside}
    </button>
  );
}

const Kwh = ({ value, sd }: { value: number; sd: number }) => (
  <FigureText
    figure={{ si: value * 3.6e6, expanded: sd > 0 ? 1.96 * sd * 3.6e6 : null, quantity: "energy" }}
    figures={3}
  />
);

function Details({ answer, shown, settings }: { answer: SeasonAnswer; shown: Season; settings: ApplySettings }) {
  const { year } = shown;
  const free = answer.free.find((f) => f.key === shown.candidate.key);
  const bare = answer.free.find((f) => f.key === null);
  const lines = [
    free && bare
      ? `Nothing else heats it: below the wanted temperature ${formatNumber(free.coldHours, 0)} h a year, coldest ${free.lowestC.toFixed(1)} °C; without boxes ${formatNumber(bare.coldHours, 0)} h, ${bare.lowestC.toFixed(1)} °C.`
      : null,
    shown.dark.days > 0
      ? `${shown.dark.days} days with need bring next to nothing; ${shown.dark.bridged} of them are got over with less than half of the need.`
      : null,
    settings.use?.kind === "drying"
      ? `${formatNumber(
          year.driedKg.reduce((a, b) => a + b, 0),
          0,
        )} kg of water dried off in the year; the same air unheated, in the same hours, would dry ${formatNumber(
          year.driedPlainKg.reduce((a, b) => a + b, 0),
          0,
        )} kg. Useful is the difference.`
      : null,
    year.hunting > 5
      ? `The control starts and stops by turns for ${formatNumber(year.hunting, 0)} h a year: see Controls.`
      : null,
    year.stuck > 0
      ? `The fan on its panel stands still for ${formatNumber(year.stuck, 0)} h while the box is 15 K warmer than what it heats.`
      : null,
    year.overLimit > 0
      ? `The box stands above the limit of its weakest layer (${shown.candidate.limitC?.toFixed(0)} °C) for ${formatNumber(year.overLimit, 0)} h, hottest ${year.hottestBoxC.toFixed(0)} °C: cover it while nothing is heated.`
      : `Hottest box ${year.hottestBoxC.toFixed(0)} °C.`,
    bedLine(answer.plants[shown.candidate.key]?.path.bedPa ?? 0),
    `The account of the year closes to ${(Math.abs(year.imbalance) * 100).toFixed(4)} %.`,
  ].filter((l) => l !== null);
  return (
    <ul className="text-[13.5px] text-ink-2" aria-label="More of this year">
      {lines.map((l) => (
        <li key={l}>{l}</li>
      ))}
    </ul>
  );
}

/** A bed of stones no small fan blows through is said, before anybody fills a bin. */
function bedLine(pa: number): string | null {
  return pa > 60
    ? `The bin of stones takes ${formatNumber(pa, 0)} Pa: small duct fans do not bring that. Make its way shorter or wider.`
    : null;
}

function SideBySide({ seasons }: { seasons: readonly Season[] }) {
  const spec = useMemo((): ChartSpec => {
    const lanes = seasons.filter((s) => /^[A-H]/.test(s.candidate.key));
    return {
      title: "Useful heat side by side",
      summary: lanes
        .map((s) => `${s.candidate.name}: ${Math.round(s.useful)} ± ${Math.round(1.96 * s.usefulSd)} kWh a year`)
        .join("; "),
      x: { title: "month", min: 0.5, max: 12.5 },
      y: { title: "useful, kWh", min: 0 },
      series: lanes.map((s, k) => ({
        label: s.candidate.name,
        lane: laneOf(s.candidate.key),
        kind: "points" as const,
        points: s.months.map((m, i) => ({
          x: i + 1 + (k - (lanes.length - 1) / 2) * 0.16,
          y: m.useful,
          plusMinus: 1.96 * s.monthSd[i],
        })),
      })),
      table: {
        columns: ["month", ...lanes.flatMap((s) => [`${s.candidate.name}, kWh`, "± (95 %)"])],
        rows: MONTH_NAMES.map((name, i) => [
          name,
          ...lanes.flatMap((s) => [Number(s.months[i].useful.toFixed(1)), Number((1.96 * s.monthSd[i]).toFixed(1))]),
        ]),
      },
    };
  }, [seasons]);
  return <Chart spec={spec} height={200} legend={false} />;
}

function WhatIfs({ answer, shown }: { answer: SeasonAnswer; shown: Season }) {
  const own = answer.whatIfs;
  if (own.length === 0) return null;
  const first = answer.seasons.find((s) => s.candidate.key === own[0].key)!;
  return (
    <section aria-labelledby="what-if">
      <Head
        id="what-if"
        title="What if"
        side={<>{first === shown ? "" : `of ${first.candidate.name}; `}one thing changed, the rest as it is</>}
      />
      <Wide label="Each change and its heat">
        <table className="grid-table text-[13.5px]">
          <tbody>
            {own.map((w) => (
              <tr key={whatIfWords(w.change)}>
                <th scope="row">{whatIfWords(w.change)}</th>
                <td className="num">{formatNumber(w.useful, 0)} kWh</td>
                <td className="num">
                  {w.useful >= first.useful ? "+" : "−"}
                  {formatNumber(Math.abs(w.useful - first.useful), 0)} kWh
                </td>
                <td className="num">{percent(w.share)} of the need</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}
