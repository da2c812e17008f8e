"use client";

import { Download, Printer } from "lucide-react";
import { useState } from "react";
import { billOf, type BillEdit, type BillEdits, type BillLine, type Scrounged, type Bill } from "@/core/collector/bill";
import { MATERIAL_UNITS } from "@/core/materials/material";
import { formatNumber } from "@/core/quantity/format";
import type { Variant } from "@/core/experiment/records";
import { downloadCsv } from "@/ui/download";
import { NotKept } from "@/ui/NotKept";
import { useChanged } from "@/ui/useChanged";
import { QuantityField } from "@/ui/QuantityField";
import { UNIT_WORDS } from "@/words/material";
import { keepBill } from "@/features/experiment/variantActions";
import { QuantityFields } from "@/ui/form/QuantityFields";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const SCROUNGE_WORDS: Record<Scrounged, string> = { no: "bought", once: "found, once", always: "found, always" };
const money = (v: number) => formatNumber(v, v < 100 ? 2 : 0);
function amount(v: number): string {
  const whole = v >= 100 || Math.abs(v - Math.round(v)) < 1e-6;
  if (whole) return formatNumber(v, 0);
  return formatNumber(v, v < 10 ? 2 : 1);
}

/** Bill of materials and time of one box; counted from the drawing, corrected by hand, printed for the shop. */
export function BillPanel({ experimentId, variant }: { experimentId: number; variant: Variant }) {
  const {
    shown: edits,
    error,
    busy,
    change,
  } = useChanged<BillEdits>(variant.bill, (next, before) => keepBill(experimentId, variant.id, next, before));
  const bill = billOf(variant.design, edits);
  const set = (part: Partial<BillEdits>) => change((now) => ({ ...now, ...part }));
  const line = (key: string, edit: BillEdit) => {
    if (key.startsWith("extra-")) {
      const at = Number(key.slice(6));
      return change((now) => ({ ...now, extra: now.extra.map((x, i) => (i === at ? { ...x, ...edit } : x)) }));
    }
    change((now) => ({ ...now, lines: { ...now.lines, [key]: { ...now.lines[key], ...edit } } }));
  };
  const reset = (key: string) =>
    change((now) => ({ ...now, lines: Object.fromEntries(Object.entries(now.lines).filter(([k]) => k !== key)) }));
  const csv = () =>
    void downloadCsv(`materials-${variant.letter}.csv`, [
      [
        "material",
        "quantity",
        "unit",
        `price per unit, ${bill.currency}`,
        "pack",
        "packs",
        "leftover",
        "source",
        `first unit, ${bill.currency}`,
        `each more, ${bill.currency}`,
      ],
      ...bill.lines.map((l) => [
        l.name,
        Number(l.quantity.toFixed(3)),
        UNIT_WORDS[l.unit],
        l.price,
        l.pack,
        l.packs,
        Number(l.leftover.toFixed(3)),
        SCROUNGE_WORDS[l.scrounged],
        Number(l.firstCost.toFixed(2)),
        Number(l.repeatCost.toFixed(2)),
      ]),
    ]);
  return (
    <div>
      <h1 className="sentence">
        {variant.name}: the first unit costs {money(bill.first)} {bill.currency} and {bill.hoursFirst} h; each more{" "}
        {money(bill.repeat)} {bill.currency} and {bill.hoursRepeat} h, {money(bill.repeatPerGrossM2)} {bill.currency}{" "}
        per m² of gross area.
      </h1>
      <NotKept error={error} busy={busy} />
      <Head
        title="Bill of materials"
        side={
          <>
            {variant.letter}, revision {variant.revision}; prices are round figures of the library until you type yours
          </>
        }
        className="mt-2"
      >
        <span className="more no-print flex gap-1">
          <Button kind="plain" onClick={csv}>
            <Download size={14} aria-hidden /> CSV
          </Button>
          <Button onClick={() => window.print()}>
            <Printer size={14} aria-hidden /> Print the list
          </Button>
        </span>
      </Head>
      <BillTable {...{ bill, line, change, reset, edits }} />
      <Work edits={edits} set={set} bill={bill} />
      <ExtraLine onAdd={(extra) => change((now) => ({ ...now, extra: [...now.extra, extra] }))} />
      <p className="side mt-2">
        The first unit buys whole packs; the next uses what they leave. Found once is bought for the next unit. 8 %
        offcuts are counted in.
      </p>
    </div>
  );
}

function Work({ edits, set, bill }: { edits: BillEdits; set: (part: Partial<BillEdits>) => void; bill: Bill }) {
  return (
    <div className="no-print mt-3 grid max-w-3xl grid-cols-2 gap-3 md:grid-cols-4">
      <label className="text-[13px] font-semibold">
        Currency
        <input
          className="field mt-0.5"
          maxLength={8}
          defaultValue={edits.currency}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value.trim() !== edits.currency &&
            set({ currency: e.target.value.trim() })
          }
        />
      </label>
      <QuantityFields<Pick<BillEdits, "hoursFirst" | "hoursRepeat">>
        of={[
          { key: "hoursFirst", label: "Hours, first unit", quantity: "number", min: 0, max: 10000 },
          { key: "hoursRepeat", label: "Hours, each more", quantity: "number", min: 0, max: 10000 },
        ]}
        value={bill}
        set={set}
      />
      <QuantityField
        label="An hour is worth"
        quantity="number"
        si={edits.wage}
        min={0}
        max={10000}
        hint={`${edits.currency}; 0 leaves work out`}
        onChange={(wage) => set({ wage })}
      />
    </div>
  );
}

function BillTable({
  bill,
  line,
  change,
  reset,
  edits,
}: {
  bill: Bill;
  line: (key: string, edit: BillEdit) => void;
  change: (next: (now: BillEdits) => BillEdits, done?: (undo: () => void) => void) => void;
  reset: (key: string) => void;
  edits: BillEdits;
}) {
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="Bill of materials">
      <table className="grid-table min-w-[760px]" data-testid="bill">
        <thead>
          <tr>
            <th>Material</th>
            <th className="num">takes</th>
            <th className="num">price per unit</th>
            <th className="num">pack</th>
            <th className="num">buy</th>
            <th className="num">left over</th>
            <th>from</th>
            <th className="num">first unit</th>
            <th className="num">each more</th>
            <th className="no-print">
              <span className="sr-only">Reset</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {bill.lines.map((l) => (
            <Line
              key={l.key}
              line={l}
              onEdit={(e) => line(l.key, e)}
              onReset={() =>
                l.key.startsWith("extra-")
                  ? change((now) => ({ ...now, extra: now.extra.filter((_, i) => `extra-${i}` !== l.key) }))
                  : reset(l.key)
              }
            />
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row" colSpan={7}>
              Material
            </th>
            <td className="num font-[650]">{money(bill.materialsFirst)}</td>
            <td className="num font-[650]">{money(bill.materialsRepeat)}</td>
            <td className="no-print" />
          </tr>
          <tr>
            <th scope="row" colSpan={7}>
              Work, {bill.hoursFirst} h and {bill.hoursRepeat} h at {money(edits.wage)} {bill.currency}/h
            </th>
            <td className="num">{money(bill.hoursFirst * edits.wage)}</td>
            <td className="num">{money(bill.hoursRepeat * edits.wage)}</td>
            <td className="no-print" />
          </tr>
          <tr>
            <th scope="row" colSpan={7} className="font-[650]">
              Together, {bill.currency}
            </th>
            <td className="num font-[650]">{money(bill.first)}</td>
            <td className="num font-[650]">{money(bill.repeat)}</td>
            <td className="no-print" />
          </tr>
          <tr>
            <th scope="row" colSpan={7}>
              Each more, per m² gross and per m² aperture
            </th>
            <td className="num">{money(bill.repeatPerGrossM2)}</td>
            <td className="num">{money(bill.repeatPerApertureM2)}</td>
            <td className="no-print" />
          </tr>
        </tfoot>
      </table>
    </div>
  );
}

function Line({ line: l, onEdit, onReset }: { line: BillLine; onEdit: (e: BillEdit) => void; onReset: () => void }) {
  const extra = l.key.startsWith("extra-");
  return (
    <tr>
      <th scope="row" className="font-[600]">
        {l.name}
      </th>
      <td className="num">
        <Cell
          label={`Quantity of ${l.name}`}
          value={l.quantity}
          shown={`${amount(l.quantity)} ${UNIT_WORDS[l.unit]}`}
          onChange={(quantity) => onEdit({ quantity })}
        />
      </td>
      <td className="num">
        <Cell
          label={`Price of ${l.name}`}
          value={l.price}
          shown={`${money(l.price)}/${UNIT_WORDS[l.unit]}`}
          onChange={(price) => onEdit({ price })}
        />
      </td>
      <td className="num">
        <Cell
          label={`Pack of ${l.name}`}
          value={l.pack}
          shown={`${amount(l.pack)} ${UNIT_WORDS[l.unit]}`}
          positive
          onChange={(pack) => onEdit({ pack })}
        />
      </td>
      <td className="num">{l.packs}</td>
      <td className="num">
        {amount(l.leftover)} {UNIT_WORDS[l.unit]}
      </td>
      <td>
        <label>
          <span className="sr-only">Where {l.name} comes from</span>
          <select
            className="border-0 bg-transparent text-[13px]"
            value={l.scrounged}
            onChange={(e) => onEdit({ scrounged: e.target.value as Scrounged })}
          >
            {(Object.keys(SCROUNGE_WORDS) as Scrounged[]).map((s) => (
              <option key={s} value={s}>
                {SCROUNGE_WORDS[s]}
              </option>
            ))}
          </select>
        </label>
      </td>
      <td className="num">{money(l.firstCost)}</td>
      <td className="num">{money(l.repeatCost)}</td>
      <td className="no-print">
        {(l.edited || extra) && (
          <button
            type="button"
            className="text-[12.5px] text-action underline"
            onClick={onReset}
            aria-label={extra ? `Remove ${l.name}` : `Reset ${l.name} to the drawing`}
          >
            {extra ? "remove" : "reset"}
          </button>
        )}
      </td>
    </tr>
  );
}

/** A number in a table that turns into a field when pressed; decimal comma understood, what cannot be read stays with its reason. */
function Cell({
  label,
  value,
  shown,
  positive,
  onChange,
}: {
  label: string;
  value: number;
  shown: string;
  positive?: boolean;
  onChange: (v: number) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const commit = () => {
    if (text === null) return;
    const v = Number(text.trim().replace(",", "."));
    if (!text.trim() || !Number.isFinite(v) || v < 0 || (positive && v === 0) || v > 1e6) return setWrong(true);
    setWrong(false);
    setText(null);
    if (v !== value) onChange(v);
  };
  if (text === null)
    return (
      <button
        type="button"
        className="border-b border-dotted border-rule hover:bg-action-wash"
        aria-label={`${label}: ${shown}, change`}
        onClick={() => setText(String(Number(value.toFixed(4))))}
      >
        {shown}
      </button>
    );
  return (
    <span>
      <input
        autoFocus
        aria-label={label}
        aria-invalid={wrong}
        className="field inline-block min-h-6 w-20 py-0 text-right"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === "Enter") commit();
          if (e.key === "Escape") {
            setText(null);
            setWrong(false);
          }
        }}
      />
      {wrong && (
        <span role="alert" className="block text-[12px] font-semibold text-danger">
          a number {positive ? "above" : "from"} 0
        </span>
      )}
    </span>
  );
}

function ExtraLine({ onAdd }: { onAdd: (extra: BillEdits["extra"][number]) => void }) {
  const [name, setName] = useState("");
  const [unit, setUnit] = useState<BillEdits["extra"][number]["unit"]>("piece");
  return (
    <form
      className="no-print mt-3 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!name.trim()) return;
        onAdd({ name: name.trim(), unit, quantity: 1, price: 0, pack: 1, scrounged: "no" });
        setName("");
      }}
    >
      <TextField
        label="Something the drawing does not show"
        maxLength={120}
        value={name}
        placeholder="thermostat, handles"
        onChange={setName}
      />
      <Select
        label="counted in"
        value={unit}
        options={MATERIAL_UNITS.map((u) => [u, UNIT_WORDS[u]] as const)}
        onChange={setUnit}
      />
      <Button type="submit" disabled={!name.trim()}>
        Add the line
      </Button>
    </form>
  );
}
