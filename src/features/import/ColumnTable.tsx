"use client";

import { CHANNEL_KINDS, channelOf, EVERY_LANE, type ChannelKind } from "@/core/log/channel";
import type { ColumnUse, LogSettings } from "@/core/log/logData";
import { QUANTITIES, type QuantityId, type Unit } from "@/core/quantity/quantities";
import type { Inspection } from "@/services/import/imports";
import { LaneShape } from "@/ui/LaneMark";
import { QuantityField } from "@/ui/QuantityField";
import { CHANNEL_WORDS } from "@/words/channels";
import { changedColumn } from "./draft";
import type { LaneDraft } from "./laneDraft";
import { LeadsTo } from "./LeadsTo";
import { useEvidence, type Around } from "./useEvidence";

const KINDS = Object.keys(CHANNEL_KINDS) as ChannelKind[];
const LETTERS = ["A", "B", "C", "D", "E", "F", "G", "H"];

/** Columns as rows: header, first readings, meaning, lane, unit. Twenty columns fit where they would not side by side. */
export function ColumnTable({
  inspection,
  settings,
  onColumn,
  onTimeColumns,
  lanes,
  around,
}: {
  lanes: Readonly<Record<string, LaneDraft>>;
  around: Around;
  inspection: Inspection;
  settings: LogSettings;
  onColumn: (column: ColumnUse) => void;
  onTimeColumns: (columns: number[]) => void;
}) {
  const evidence = useEvidence(inspection, settings, lanes, around);
  const samples = (index: number) =>
    evidence.rows.length
      ? evidence.rows.map((r) => r[index] ?? "")
      : (inspection.layout?.columns[index]?.samples.slice(0, 3) ?? []);
  return (
    <div className="mt-2 overflow-x-auto" role="group" tabIndex={0} aria-label="Columns of the file">
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">column</th>
            <th scope="col">{evidence.rows.length ? "sunniest rows" : "first rows"}</th>
            <th scope="col">stands for</th>
            <th scope="col">lane</th>
            <th scope="col">unit</th>
            <th scope="col">leads to</th>
          </tr>
        </thead>
        <tbody>
          {settings.columns.map((c) => {
            const time = settings.timeColumns.includes(c.index);
            const quantity = c.kind ? CHANNEL_KINDS[c.kind].quantity : null;
            const lane = c.kind && CHANNEL_KINDS[c.kind].scope === "lane";
            return (
              <tr key={c.index}>
                <th scope="row" className="max-w-56 truncate font-semibold" title={c.header}>
                  {c.header}
                </th>
                <td className="max-w-72 truncate text-[12.5px] text-ink-2">{samples(c.index).join(" · ")}</td>
                <td>
                  <select
                    className="field !min-h-7 !w-auto py-0"
                    aria-label={`${c.header} stands for`}
                    value={time ? "time" : (c.kind ?? "")}
                    onChange={(e) => {
                      if (e.target.value === "time") onTimeColumns([...settings.timeColumns.slice(-1), c.index]);
                      else if (!time)
                        onColumn(changedColumn(c, { kind: (e.target.value || null) as ChannelKind | null }));
                      else if (settings.timeColumns.length > 1)
                        onTimeColumns(settings.timeColumns.filter((t) => t !== c.index));
                    }}
                  >
                    <option value="">kept, not used</option>
                    <option value="time">time</option>
                    {KINDS.map((k) => (
                      <option key={k} value={k}>
                        {CHANNEL_WORDS[k]}
                      </option>
                    ))}
                  </select>
                </td>
                <td>
                  {lane && !time && (
                    <span className="inline-flex items-center gap-1">
                      {c.lane && c.lane !== EVERY_LANE && <LaneShape lane={c.lane} size={12} />}
                      <select
                        className="field !min-h-7 !w-auto py-0"
                        aria-label={`${c.header}, lane`}
                        value={c.lane ?? ""}
                        onChange={(e) => onColumn(changedColumn(c, { lane: e.target.value || null }))}
                      >
                        <option value="">which?</option>
                        {LETTERS.map((l) => (
                          <option key={l}>{l}</option>
                        ))}
                        {channelOf(c.kind!).servesAll && <option value={EVERY_LANE}>every lane</option>}
                      </select>
                    </span>
                  )}
                </td>
                <td>{quantity && !time && <UnitCell column={c} quantity={quantity} onColumn={onColumn} />}</td>
                <td className="max-w-96 text-[13px]">
                  <LeadsTo column={c} evidence={evidence} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

const OWN = "own factor";

/** In what the column is written: a unit, or what one in the log is. */
function UnitCell({
  column: c,
  quantity,
  onColumn,
}: {
  column: ColumnUse;
  quantity: QuantityId;
  onColumn: (column: ColumnUse) => void;
}) {
  const own = c.factor !== null && c.factor !== undefined;
  return (
    <>
      <select
        className="field !min-h-7 !w-auto py-0"
        aria-label={`${c.header}, unit`}
        value={own ? OWN : (c.unit ?? "")}
        onChange={(e) =>
          onColumn(
            e.target.value === OWN
              ? { ...c, unit: null, factor: 0 }
              : changedColumn(c, { unit: e.target.value, factor: null }),
          )
        }
      >
        {!c.unit && !own && <option value="">which?</option>}
        {(QUANTITIES[quantity].units as readonly Unit[]).map((u) => (
          <option key={u.symbol}>{u.symbol}</option>
        ))}
        {quantity !== "temperature" && <option>{OWN}</option>}
      </select>
      {own && (
        <QuantityField
          label="1 in the log is"
          quantity={quantity}
          si={c.factor || null}
          hint="pulse, Hz, mV, rpm"
          onChange={(factor) => onColumn({ ...c, factor })}
        />
      )}
    </>
  );
}
