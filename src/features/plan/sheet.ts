import type { PlanDay } from "@/core/plan/dayPlan";
import { methodOf } from "@/core/method/list";
import { quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import type { PlanView } from "@/services/plan/plan";
import { entryWords, NEED_WORDS, RISK_WORDS } from "@/words/plan";

export interface SheetLine {
  id: string;
  text: string;
  /** Said where it matters, beside the line. */
  safety?: string;
}

export interface SheetBlock {
  id: string;
  /** null: before leaving. */
  at: { fromMs: number; toMs: number } | null;
  title: string;
  lines: SheetLine[];
  /** Clear sky at its middle, for comparison with the sensor; null without sun. */
  sky: string | null;
}

/** Everything to do on one day, in its order: pack, check, swap, settle, measure, close; safety at the line it belongs to. */
export function sheetBlocks(plan: PlanView, day: PlanDay, system: UnitSystem): SheetBlock[] {
  const protocol = methodOf(plan.settings.protocol);
  const risk = (r: (typeof protocol.risks)[number]) => (protocol.risks.includes(r) ? RISK_WORDS[r] : undefined);
  let period = 0;
  const blocks: SheetBlock[] = [
    {
      id: "pack",
      at: null,
      title: "Pack",
      sky: null,
      lines: protocol.needs.map((n) => ({ id: `pack/${n}`, text: NEED_WORDS[n] })),
    },
  ];
  for (const e of day.entries) {
    const lines: SheetLine[] = [];
    const add = (id: string, text: string, safety?: string) => lines.push({ id: `${e.id}/${id}`, text, safety });
    switch (e.kind) {
      case "check":
        add(
          "shade",
          `Look along every box: no shade from ${day.sky.shade.length ? day.sky.shade.map((s) => s.owner).join(", ") : "anything"} at the hours below`,
        );
        add("clean", "Covers clean and dry, all alike; no snow, dew or condensate", risk("glassLifting"));
        add("clocks", "Loggers run, their clocks agree within 2 s");
        add("columns", "Warm each outlet probe in turn with a hand: the column of its own lane rises, and no other");
        add("dark", "With the covers on, inlet and outlet of each lane agree within their ±");
        for (const s of plan.specimens)
          add(
            `flow-${s.letter}`,
            `${s.letter}: flow ${quantityText(plan.flowPerArea * s.box.widthM * s.box.lengthM, "massFlow", { system, figures: 3 })}, all lanes within ${Math.round(plan.rules.flowBand * 100)} %`,
            s === plan.specimens[0] ? risk("mainsDamp") : undefined,
          );
        if (protocol.risks.includes("smoke"))
          add("smoke", "Smoke at each joint; mark where it comes out", risk("smoke"));
        break;
      case "swap": {
        if (e !== day.entries[0] && day.entries.findIndex((o) => o === e) > 1)
          period = Math.min(period + 1, day.order.length - 1);
        add("cover", "Fans on, glass covered, boxes below 40 °C before you touch them", RISK_WORDS.hotSurfaces);
        day.order[period].forEach((s, i) =>
          add(
            `to-${i + 1}`,
            `${plan.specimens[s].letter} to station ${i + 1}; ducts, probes and meter of the station on it`,
            i === 0 ? RISK_WORDS.glassLifting : undefined,
          ),
        );
        add("note", "Note the time and who stood where: the log keeps the station");
        break;
      }
      case "settle":
        if (e.levelK !== null)
          add(
            "inlet",
            e.levelK === 0 ? "Inlet heater off" : `Inlet heater to ${e.levelK} K above outside`,
            e.levelK ? risk("mainsDamp") : undefined,
          );
        if (e.state === "mirrorOn" || e.state === "mirrorOff")
          add("mirror", e.state === "mirrorOn" ? "Uncover the mirror" : "Cover the mirror", risk("concentratedLight"));
        if (e.state === "flowOff") add("off", "Fans off, ports closed as in use", risk("stagnation"));
        if (e.state === "coverOff") add("uncover", "Take the opaque cover off", risk("glassLifting"));
        add("wait", "Hands off until the time is over");
        break;
      case "step":
        add("cover", "Put the opaque cover on at once, off the glass, and leave the flow alone", risk("glassLifting"));
        break;
      case "measure":
        add(
          "note",
          `Nobody in front of the glass${e.windows > 1 ? `; ${e.windows} windows fit` : ""}; note clouds, doors, birds with their time`,
          risk("longDay") ?? (e.state === "flowOff" ? RISK_WORDS.stagnation : undefined),
        );
        if (e.state === "cooling") add("cool", "Pump as in the day, glass covered: the tank’s own loss", risk("scald"));
        break;
      case "close":
        add("cool", "Fans on until the boxes are cool, then covers on", RISK_WORDS.hotSurfaces);
        add("flow", "Read every meter again against the first");
        add("log", "Stop the loggers, copy the files, import them in Read");
        if (protocol.risks.includes("freezing")) add("frost", "Drain or protect the loop", RISK_WORDS.freezing);
        break;
      case "bath":
        add("bath", "All probes tied together, stirred, logged while the pot cools", RISK_WORDS.scald);
        break;
    }
    blocks.push({
      id: e.id,
      at: { fromMs: e.fromMs, toMs: e.toMs },
      title: entryWords(e),
      lines,
      sky: (e.kind === "measure" || e.kind === "step") && e.sky ? skyWords(e.sky, system) : null,
    });
  }
  return saidOnce(blocks);
}

/** What the sky gives while a window is measured; null in the dark. */
function skyWords(sky: NonNullable<PlanDay["entries"][number]["sky"]>, system: UnitSystem): string | null {
  if (sky.irradiance <= 1) return null;
  const shaded = Math.round(100 * (1 - sky.beamShare));
  const shade = sky.beamShare < 0.98 ? `${shaded} % of the beam shaded` : "no shade";
  const light = quantityText(sky.irradiance, "irradiance", { system, figures: 3 });
  return `clear sky ${light}, sun ${Math.round(sky.incidence)}° off the normal, ${shade}`;
}

/** A warning stands once, where it first matters; that of hot metal each time it is touched. */
function saidOnce(blocks: SheetBlock[]): SheetBlock[] {
  const said = new Set<string>();
  for (const line of blocks.flatMap((b) => b.lines)) {
    if (!line.safety || line.safety === RISK_WORDS.hotSurfaces) continue;
    if (said.has(line.safety)) line.safety = undefined;
    else said.add(line.safety);
  }
  return blocks;
}
