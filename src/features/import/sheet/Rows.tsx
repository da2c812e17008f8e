"use client";

import { Clock, Plus, X } from "lucide-react";
import { useState } from "react";
import type { HandReading } from "@/core/analysis/handReading";
import { quantityText } from "@/core/quantity/format";
import { LaneShape } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { SHEET } from "@/words/sheet";
import {
  emptyRow,
  isBlank,
  isTable,
  pastedRows,
  showsMore,
  type ReadRow,
  type SheetCell,
  type SheetDraft,
  type SheetRow,
} from "./sheetDraft";
import { halfWidth } from "./sheetResult";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

interface RowsProps {
  draft: SheetDraft;
  read: readonly ReadRow[];
  readings: readonly HandReading[];
  /** The clock at the bench, `13:05`; null where nobody has said where it stands. */
  now: () => string | null;
  onRows: (rows: SheetRow[]) => void;
}

/** What was read, row by row: a table at the desk, cards for a thumb on the phone. Each row shows its heat at once. */
export function Rows({ draft, read, readings, now, onRows }: RowsProps) {
  const { rows } = draft;
  const set = (id: number, change: Partial<SheetRow>) =>
    onRows(rows.map((r) => (r.id === id ? { ...r, ...change } : r)));
  const paste = (text: string) => onRows([...rows.filter((r) => !isBlank(r)), ...pastedRows(text, nextId(rows))]);
  const add = () => onRows([...rows, nextRow(draft, now())]);
  return (
    <section aria-labelledby="rows" className="mt-5">
      <Head id="rows" title="Readings" side={SHEET.how} />
      <ol
        className="mt-1"
        onPaste={(e) => {
          const text = e.clipboardData.getData("text/plain");
          if (!isTable(text)) return;
          e.preventDefault();
          paste(text);
        }}
      >
        {rows.map((row, i) => {
          const found = read.find((r) => r.id === row.id);
          return (
            <Row
              key={row.id}
              number={i + 1}
              row={row}
              draft={draft}
              problems={isBlank(row) ? {} : (found?.problems ?? {})}
              reading={found?.values ? readings.find((r) => same(r, found)) : undefined}
              now={now}
              onChange={(change) => set(row.id, change)}
              onRemove={() => onRows(rows.filter((r) => r.id !== row.id))}
            />
          );
        })}
      </ol>
      <div className="mt-2 flex flex-wrap items-start gap-3">
        <Button className="min-h-11" onClick={add}>
          <Plus size={15} aria-hidden /> Next reading
        </Button>
        <Paste onPaste={paste} />
      </div>
      <p className="side mt-1">{SHEET.safe}</p>
    </section>
  );
}

/** Two rows of one box may stand in one minute: they are told apart by what was read. */
const same = (r: HandReading, { values: v }: ReadRow) =>
  r.startMs === v!.atMs && r.lane === v!.lane && r.inlet.value === v!.inletC && r.outlet.value === v!.outletC;

const nextId = (rows: readonly SheetRow[]): number => Math.max(0, ...rows.map((r) => r.id)) + 1;

/** Goes from box to box and back: A B, B A. */
export function nextRow({ rows, lanes }: SheetDraft, time: string | null): SheetRow {
  const there = rows.length % (2 * lanes.length);
  const lane = lanes[there < lanes.length ? there : 2 * lanes.length - 1 - there] ?? "A";
  return emptyRow(nextId(rows), lane, time ?? "");
}

interface RowProps {
  number: number;
  row: SheetRow;
  draft: SheetDraft;
  problems: ReadRow["problems"];
  reading: HandReading | undefined;
  now: RowsProps["now"];
  onChange: (change: Partial<SheetRow>) => void;
  onRemove: () => void;
}

function Row({ number, row, draft, problems, reading, now, onChange, onRemove }: RowProps) {
  const { system } = usePreferences();
  const cell = (name: SheetCell, label: string) => (
    <Cell
      label={label}
      row={number}
      value={row[name]}
      problem={problems[name] ?? null}
      onChange={(value) => onChange({ [name]: value })}
    />
  );
  const degrees = draft.degrees ?? "?";
  const time = now();
  return (
    <li className="grid grid-cols-3 items-start gap-x-2 gap-y-1 border-b border-hair py-2 md:grid-cols-[7rem_5rem_repeat(5,minmax(0,1fr))_11rem]">
      <div className="flex items-end gap-1">
        {cell("time", "time")}
        {!row.time && time && (
          <Button
            kind="plain"
            className="min-h-11 px-1"
            aria-label={`Row ${number}: now, ${time}`}
            onClick={() => onChange({ time })}
          >
            <Clock size={15} aria-hidden />
          </Button>
        )}
      </div>
      <BoxCell number={number} row={row} lanes={draft.lanes} problem={problems.lane} onChange={onChange} />
      {cell("inlet", `in, ${degrees}`)}
      {cell("outlet", `out, ${degrees}`)}
      {draft.flow !== "constant" &&
        cell("flow", `${draft.flow === "speed" ? "speed" : "flow"}, ${draft.flowUnit ?? "?"}`)}
      {showsMore(draft) && cell("sun", "sun, W/m²")}
      {showsMore(draft) && cell("outside", `outside, ${degrees}`)}
      <p className="col-span-full flex items-center justify-end gap-2 text-[15px] font-[650] whitespace-nowrap md:col-span-1 md:col-start-8 md:self-end">
        {reading ? (
          quantityText(reading.heat.value, "power", { system, expanded: halfWidth(reading.heat) })
        ) : (
          <span className="font-normal text-ink-3">–</span>
        )}
        <Button
          kind="plain"
          className="min-h-11 px-2 md:min-h-0"
          aria-label={`Take row ${number} out`}
          onClick={onRemove}
        >
          <X size={15} aria-hidden />
        </Button>
      </p>
    </li>
  );
}

function BoxCell({
  number,
  row,
  lanes,
  problem,
  onChange,
}: {
  number: number;
  row: SheetRow;
  lanes: readonly string[];
  problem: string | undefined;
  onChange: (change: Partial<SheetRow>) => void;
}) {
  return (
    <label className="text-[12.5px] font-semibold">
      box
      <span className="flex items-center gap-1">
        <LaneShape lane={row.lane} size={12} />
        <select
          className="field mt-0.5 min-h-11 md:min-h-0"
          aria-label={`Row ${number}: box`}
          value={lanes.includes(row.lane) ? row.lane : ""}
          onChange={(e) => onChange({ lane: e.target.value })}
        >
          {!lanes.includes(row.lane) && <option value="">{row.lane || "?"}</option>}
          {lanes.map((l) => (
            <option key={l}>{l}</option>
          ))}
        </select>
      </span>
      {problem && <span className="block text-danger">{problem}</span>}
    </label>
  );
}

function Cell({
  label,
  row,
  value,
  problem,
  onChange,
}: {
  label: string;
  row: number;
  value: string;
  problem: string | null;
  onChange: (value: string) => void;
}) {
  // What is not typed yet is no fault yet: said once the cell was left, or has something in it.
  const [left, setLeft] = useState(false);
  const shown = problem && (left || value.trim()) ? problem : null;
  return (
    <label className="block min-w-0 flex-1 text-[12.5px] font-semibold">
      {label}
      <input
        className="field mt-0.5 min-h-11 md:min-h-0"
        inputMode="text"
        autoComplete="off"
        aria-label={`Row ${row}: ${label}`}
        aria-invalid={shown !== null}
        value={value}
        onBlur={() => setLeft(true)}
        onChange={(e) => onChange(e.target.value)}
      />
      {shown && (
        <span role="alert" className="block text-danger">
          {shown}
        </span>
      )}
    </label>
  );
}

/** A table from a spreadsheet or a notebook, in the order of the columns. */
function Paste({ onPaste }: { onPaste: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <details className="min-w-0 flex-1">
      <summary className="flex min-h-11 cursor-pointer items-center text-[13.5px] font-semibold text-action">
        Paste a table
      </summary>
      <TextField
        label="Rows as time, box, in, out, flow, sun, outside"
        place="block"
        width="h-24 font-mono text-[13px]"
        value={text}
        placeholder={"13:05\tA\t18.2\t41.0\t3.4\n13:11\tB\t18.4\t37.2\t3.9"}
        rows={2}
        onChange={setText}
      />
      <Button
        className="mt-1"
        disabled={!text.trim()}
        onClick={() => {
          onPaste(text);
          setText("");
        }}
      >
        Add these rows
      </Button>
    </details>
  );
}
