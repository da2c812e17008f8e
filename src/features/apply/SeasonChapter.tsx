"use client";

import type { ApplySettings } from "@/core/season/schema";
import { boxesOf } from "@/core/season/scenario";
import { quantityText } from "@/core/quantity/format";
import type { ApplyView } from "@/services/apply/applyView";
import { Fetching } from "@/ui/Fetching";
import { usePreferences } from "@/ui/preferences";
import { MODE_WORDS, STORE_WORDS, USE_WORDS } from "@/words/apply";
import { SeasonSentence } from "./Apply";
import { MoneyTable, moneySentence, pricedAll } from "./MoneyPart";
import { MonthBars } from "./MonthBars";
import { SeasonDoubts, SeasonTable } from "./SeasonPart";
import { useWorked } from "./useWorked";
import { Head } from "@/ui/Head";

/** The report's chapter on what the winner is worth; nothing where no use was said. */
export function SeasonChapter({ apply }: { apply: ApplyView }) {
  if (!apply.settings.use) return null;
  return (
    <Fetching>
      <Chapter apply={apply} />
    </Fetching>
  );
}

function Chapter({ apply }: { apply: ApplyView }) {
  const { settings } = apply;
  const { answer } = useWorked(apply, settings);
  const [first] = answer?.seasons ?? [];
  const priced = answer ? pricedAll(apply, settings, answer) : [];
  return (
    <section aria-labelledby="season-chapter" className="report mx-auto mt-6 max-w-[980px]">
      <Head
        id="season-chapter"
        title="What it is worth through the year"
        side={<>worked out hour by hour from the climate of {apply.site.name}</>}
      />
      {!answer && <p role="status">Working out the year …</p>}
      {answer && first && (
        <>
          <p className="sentence mt-2">
            <SeasonSentence shown={first} settings={settings} apply={apply} />
          </p>
          <MonthBars
            title={`Heat by month, ${first.candidate.name}`}
            months={first.months}
            monthSd={first.monthSd}
            need={answer.need}
          />
          <SeasonDoubts answer={answer} settings={settings} latitude={apply.site.latitude} />
          <SeasonTable answer={answer} shown={first} />
          {priced[0] && settings.money && (
            <>
              <p className="mt-2 font-[650]">{moneySentence(priced[0], settings.money)}</p>
              <MoneyTable priced={priced} currency={settings.money.currency} />
            </>
          )}
          <Assumed settings={settings} apply={apply} />
        </>
      )}
    </section>
  );
}

/** What the year was worked out from, so that another can be. */
function Assumed({ settings, apply }: { settings: ApplySettings; apply: ApplyView }) {
  const { system } = usePreferences();
  const { use, store, rows, control, pipes, modes, weather } = settings;
  const t = (v: number) => quantityText(v, "temperature", { system, figures: 3 });
  const w = (v: number) => quantityText(v, "conductance", { system, figures: 3 });
  const runs = () => {
    if (control?.kind === "difference")
      return `Fan on ${control.onK} K above what it heats, off ${control.offK} K above.`;
    if (control?.kind === "thermostat") return `Fan on above ${t(control.onC)}, off below ${t(control.offC)}.`;
    return "Fan on its own panel.";
  };
  const heats = () => {
    if (use?.kind === "room")
      return `A room that loses ${w(use.lossWK)}, kept at ${t(use.setC)} and let out above ${t(use.capC)}.`;
    return use ? `Heats ${USE_WORDS[use.kind]}.` : "";
  };
  const of =
    weather.kind === "monthly"
      ? `made of the monthly means of ${apply.climate?.name}, seed ${settings.seed}`
      : "the hours of a typical-weather file";
  const lines = [
    heats(),
    `${boxesOf(settings)} boxes: ${rows.map((r) => `${r.sideBySide} side by side, ${r.inSeries} in series, ${Math.round(r.tilt)}° facing ${Math.round(r.azimuth)}°`).join("; ")}.`,
    `Store: ${STORE_WORDS[store.kind]}. Run of ${quantityText(pipes?.lengthM ?? 0, "length", { system, figures: 2 })} one way.`,
    runs(),
    `Months: ${[...new Set(modes)].map((m) => MODE_WORDS[m]).join(", ")}. Weather: ${of}.`,
    "The band is the measured curve’s alone: another winter, another room and other prices come on top.",
  ].filter(Boolean);
  return (
    <ul className="ml-4 mt-2 list-disc text-[13.5px]">
      {lines.map((l) => (
        <li key={l}>{l}</li>
      ))}
    </ul>
  );
}
