"use client";

import { Upload } from "lucide-react";
import { useState, useTransition } from "react";
import { toast } from "@/ui/toast";
import { BATH_DEFAULTS, type BathOptions } from "@/core/calibration/bathOptions";
import type { BathColumn, BathFile } from "@/services/prove/calibrations";
import { Choice } from "@/ui/Choice";
import { QuantityField } from "@/ui/QuantityField";
import { bathProblemWords } from "@/words/prove";
import { saidOf } from "@/ui/said";
import { uploadFile } from "@/ui/uploadFile";
import { useAct } from "@/ui/useAct";
import { Result } from "./BathResult";
import { keepCalibration, lookAtBath, tryBath, type BathAnswer } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";

const label = (header: string) => header.replace(/\s*[([][^)\]]*[)\]]\s*$/, "").trim() || header;

/** A bath: drop its log or paste a table, see offsets, slopes, lags and what is left, and keep it. */
export function Bath({ zone }: { zone: string }) {
  const bath = useBath(zone);

  return (
    <section aria-labelledby="bath" className="no-print">
      <Head
        id="bath"
        title="A new bath"
        status={bath.busy ? "working …" : "all probes in one stirred pot, logged together while it warms and cools"}
      />
      <Choose bath={bath} />
      <Typed bath={bath} />
      <Problem className="mt-1">{bath.error}</Problem>
      {bath.file && (
        <div className="mt-2 grid gap-3">
          <Columns bath={bath} />
          {bath.unsaid.length > 0 && (
            <div className="border-l-4 border-doubt-line pl-2" data-testid="bath-unit">
              <p className="text-[13.5px] font-semibold text-doubt">
                {bath.unsaid.map((c) => label(c.header)).join(", ")}: the header names no unit. Shown as °C until you
                say.
              </p>
              <Choice
                label="Readings without a unit are in"
                value={"" as BathColumn["unit"] | ""}
                options={[
                  ["°C", "°C"],
                  ["°F", "°F"],
                  ["K", "K"],
                ]}
                onChange={(unit) => unit && bath.sayUnit(unit)}
              />
            </div>
          )}
          <Options bath={bath} />
          {bath.answer && !bath.answer.ok && (
            <Problem className="border-l-4 border-danger pl-2">{bathProblemWords(bath.answer.problem)}</Problem>
          )}
          {bath.answer?.ok && (
            <Result
              answer={bath.answer}
              options={bath.options}
              onLeaveOut={(key, out) =>
                bath.setOption({
                  leftOut: out ? [...bath.options.leftOut, key] : bath.options.leftOut.filter((k) => k !== key),
                })
              }
            />
          )}
          {bath.answer?.ok && <Keep bath={bath} />}
        </div>
      )}
    </section>
  );
}

type BathWork = ReturnType<typeof useBath>;

/** A bath in work: its log, columns and options, and what they give. */
function useBath(zone: string) {
  const [file, setFile] = useState<Extract<BathFile, { ok: true }> | null>(null);
  const [columns, setColumns] = useState<BathColumn[]>([]);
  const [options, setOptions] = useState<BathOptions>(BATH_DEFAULTS);
  const [answer, setAnswer] = useState<BathAnswer | null>(null);
  const [name, setName] = useState("");
  const [error, setError] = useState<string | null>(null);
  const [table, setTable] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const { act } = useAct();

  const work = (next: { file: Extract<BathFile, { ok: true }>; columns: BathColumn[]; options: BathOptions }) =>
    start(async () => {
      setAnswer(await tryBath({ fileId: next.file.fileId, zone, columns: next.columns, options: next.options }));
    });
  const send = (file: File) =>
    start(async () => {
      setError(null);
      const fileName = file.name;
      const stored = await uploadFile(file).catch((e: unknown) => {
        setError(saidOf(e, `${fileName} did not arrive. Try again.`));
        return null;
      });
      if (!stored) return;
      const looked = await lookAtBath(stored.file.id);
      if (!looked?.ok)
        return setError(
          `${fileName} was not understood as a log: it needs a time column and one column for each probe. Mend its header and drop it again.`,
        );
      setFile(looked);
      setColumns(looked.columns);
      setName(fileName.replace(/\.[^.]+$/, ""));
      setTable(null);
      setAnswer(await tryBath({ fileId: looked.fileId, zone, columns: looked.columns, options }));
    });
  const typed = () => {
    const rows = (table ?? "")
      .trim()
      .split(/\r?\n/)
      .map((r) => r.split(/[\t;]|,(?=\s|\D)|\s{2,}/).map((c) => c.trim()))
      .filter((r) => r.length > 1);
    if (rows.length < 3)
      return setError(
        "A typed table needs a first row with the probes’ labels and at least two rows of readings, cells apart by tabs or semicolons.",
      );
    const csv = [
      ["elapsed (s)", ...rows[0]].join(";"),
      ...rows.slice(1).map((r, i) => [i * 60, ...r.map((c) => c.replace(",", "."))].join(";")),
    ].join("\n");
    send(new File([`${csv}\n`], "typed table.csv"));
  };
  const setColumn = (index: number, change: Partial<BathColumn>) => {
    const said = change.unit ? { said: true } : {};
    const next = columns.map((c) => (c.index === index ? { ...c, ...change, ...said } : c));
    setColumns(next);
    if (file) work({ file, columns: next, options });
  };
  const setOption = (change: Partial<BathOptions>) => {
    const next = { ...options, ...change };
    setOptions(next);
    if (file) work({ file, columns, options: next });
  };
  /** Columns whose unit nobody has said: a bath in °F taken for °C corrects by nearly twice too much. */
  const unsaid = columns.filter((c) => c.used && c.said === false);
  const sayUnit = (unit: BathColumn["unit"]) => {
    const next = columns.map((c) => (c.said === false ? { ...c, unit, said: true } : c));
    setColumns(next);
    if (file) work({ file, columns: next, options });
  };
  const keep = () =>
    act(
      () => keepCalibration(name, { fileId: file!.fileId, zone, columns, options }),
      () => {
        toast.success(`${name} is kept. Apply it above.`);
        setFile(null);
        setAnswer(null);
      },
    );
  return {
    busy,
    send,
    setTable,
    table,
    typed,
    error,
    file,
    columns,
    setColumn,
    unsaid,
    sayUnit,
    options,
    setOption,
    answer,
    keep,
    name,
    setName,
  };
}

function Keep({ bath: { keep, name, setName, busy, unsaid } }: { bath: BathWork }) {
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      <TextField label="Name" maxLength={120} value={name} onChange={setName} />
      <Button kind="main" type="submit" disabled={busy || !name.trim() || unsaid.length > 0}>
        Keep this calibration
      </Button>
      {(unsaid.length > 0 || !name.trim()) && (
        <span className="side">
          {unsaid.length > 0 ? "Say first what unit the readings are in." : "Give it a name first."}
        </span>
      )}
    </form>
  );
}

function Options({ bath: { options, columns, setOption } }: { bath: BathWork }) {
  return (
    <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
      <Select
        label="Compared with"
        value={options.reference}
        options={[
          ["mean", "the mean of all good probes"],
          ...columns.filter((c) => c.used).map((c) => [label(c.header), label(c.header)] as const),
        ]}
        onChange={(v) => setOption({ reference: v })}
      />
      <QuantityField
        label="… which is good to ±"
        quantity="temperatureDifference"
        si={options.referenceLimitK}
        min={0.001}
        max={5}
        onChange={(referenceLimitK) => setOption({ referenceLimitK })}
      />
      <Select
        label="Correct by"
        value={options.model}
        options={[
          ["auto", "what the bath shows"],
          ["offset", "an offset"],
          ["line", "offset and slope"],
        ]}
        onChange={(v) => setOption({ model: v })}
      />
      <Select
        label="The bath was"
        value={options.gradientK}
        options={[
          [0.02, "stirred all the time"],
          [0.05, "stirred now and then"],
          [0.1, "still"],
        ]}
        onChange={(v) => setOption({ gradientK: v })}
      />
    </div>
  );
}

function Columns({ bath: { columns, setColumn } }: { bath: BathWork }) {
  return (
    <p className="flex flex-wrap gap-x-4 gap-y-1 text-[13px]" role="group" aria-label="Columns that are probes">
      {columns.map((c) => (
        <span key={c.index} className="flex items-center gap-1">
          <label className="flex items-center gap-1">
            <input type="checkbox" checked={c.used} onChange={(e) => setColumn(c.index, { used: e.target.checked })} />
            {label(c.header)}
          </label>
          <select
            aria-label={`Unit of ${label(c.header)}`}
            className="border border-rule bg-sheet text-[12.5px]"
            value={c.unit}
            onChange={(e) => setColumn(c.index, { unit: e.target.value as BathColumn["unit"] })}
          >
            <option>°C</option>
            <option>°F</option>
            <option>K</option>
          </select>
        </span>
      ))}
    </p>
  );
}

function Typed({ bath: { table, setTable, busy, typed } }: { bath: BathWork }) {
  if (table === null) return null;
  return (
    <div className="pt-1">
      <TextField
        label="First row the labels, then one row a minute (paste from a spreadsheet)"
        width="font-mono"
        rows={6}
        value={table}
        placeholder={"1-in\t1-out\t2-in\n41.2\t41.5\t41.0"}
        onChange={setTable}
      />
      <Button className="mt-1" disabled={busy || !table.trim()} onClick={typed}>
        Use this table
      </Button>
    </div>
  );
}

function Choose({ bath: { busy, send, setTable, table } }: { bath: BathWork }) {
  return (
    <div className="flex flex-wrap items-center gap-2 pt-1.5">
      <label className="btn cursor-pointer">
        <Upload size={14} aria-hidden /> Drop or choose the log
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/plain,text/csv"
          className="sr-only"
          disabled={busy}
          onChange={(e) => {
            const f = e.target.files?.[0];
            if (f) send(f);
            e.target.value = "";
          }}
        />
      </label>
      <Button kind="plain" onClick={() => setTable(table === null ? "" : null)}>
        or type a table
      </Button>
      <span className="side">Hot water scalds: mind cables, children and glass.</span>
    </div>
  );
}
