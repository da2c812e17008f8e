import { onlyFit } from "@/core/analysis/evidence";
import { CHANNEL_KINDS, channelOf, type ChannelKind } from "@/core/log/channel";
import { columnUnit, type ColumnUse } from "@/core/log/logData";
import { quantityText } from "@/core/quantity/format";
import { toSi } from "@/core/quantity/quantities";
import { usePreferences } from "@/ui/preferences";
import { flowEvidenceWords } from "@/words/importing";
import type { Evidence } from "./useEvidence";

const FLOWS: ReadonlySet<string> = new Set(["speed", "volumeFlow", "massFlow"]);

/** What some methods read; the verdict rests on none of what is only kept. */
const KEPT_WORDS: Partial<Record<ChannelKind, string>> = {
  plate: "kept and shown; read by other methods in Read",
  tank: "its warming tells the heat where no flow is logged",
};
const keptWords = (kind: ChannelKind): string => KEPT_WORDS[kind] ?? "kept and shown; nothing is reckoned from it yet";

/** What a column's meaning and unit lead to in the sunniest rows: a wrong one is seen before anything is imported. */
export function LeadsTo({ column, evidence }: { column: ColumnUse; evidence: Evidence }) {
  const { system } = usePreferences();
  if (!column.kind) return null;
  if (FLOWS.has(column.kind) && column.lane) return <FlowLeadsTo column={column} evidence={evidence} />;
  const read = evidence.middle(column.index);
  const unit = columnUnit(column.kind, column);
  const { quantity } = CHANNEL_KINDS[column.kind];
  const kept = channelOf(column.kind).onlyKept ? keptWords(column.kind) : null;
  if (!unit || Number.isNaN(read)) return kept;
  return (
    <>
      {quantityText(toSi(read, unit), quantity, { system, figures: 3 })}
      {kept && <span className="text-ink-2">; {kept}</span>}
    </>
  );
}

function FlowLeadsTo({ column, evidence }: { column: ColumnUse; evidence: Evidence }) {
  const { system } = usePreferences();
  const all = evidence.flow(column.lane!);
  const own = all.find((e) => e.unit === column.unit);
  if (!all.length)
    return <span className="text-ink-3">needs in, out{column.kind === "speed" ? ", the duct" : ""} and the site</span>;
  const fit = onlyFit(all);
  const others = all.filter((e) => e.fits && e.unit !== column.unit).slice(0, 3);
  return (
    <>
      {own ? (
        <b className={own.fits ? "font-semibold" : "font-semibold text-danger"}>
          {flowEvidenceWords(own, system)}
          {own.fits ? "" : ": cannot be"}
        </b>
      ) : (
        <b className="font-semibold text-doubt">which unit?</b>
      )}
      {others.length > 0 && (
        <span className="text-ink-2">
          {" "}
          {others.map((e) => `in ${e.unit}: ${flowEvidenceWords(e, system)}`).join("; ")}
          {fit && fit !== column.unit ? ", the only one that fits" : ""}
        </span>
      )}
    </>
  );
}
