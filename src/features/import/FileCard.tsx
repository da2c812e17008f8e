"use client";

import { X } from "lucide-react";
import { formatNumber } from "@/core/quantity/format";
import type { ColumnUse, LogSettings } from "@/core/log/logData";
import { CHANNEL_KINDS } from "@/core/log/channel";
import { fromWall } from "@/core/log/zone";
import { Choice } from "@/ui/Choice";
import { ColumnTable } from "./ColumnTable";
import type { Around } from "./useEvidence";
import { useRouter } from "next/navigation";
import { useAct } from "@/ui/useAct";
import { continueRun } from "./actions";
import { settingsFrom, withColumn, withDegrees, type FileDraft } from "./draft";
import type { LaneDraft } from "./laneDraft";
import { offsetWords } from "@/words/layers";
import { inspectProblemWords } from "./words";
import { TextField } from "@/ui/form/fields";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";
import type { Inspection } from "@/services/import/inspectFile";

const DELIMITERS = [
  [",", "comma"],
  [";", "semicolon"],
  ["\t", "tab"],
  ["|", "bar"],
  [" ", "space"],
] as const;

/** One file: how it is written, its first rows, and what each column stands for. Everything can be corrected. */
export function FileCard({
  file,
  zones,
  onChange,
  onDelimiter,
  onRemove,
  siblings,
  lanes,
  around,
}: {
  file: FileDraft;
  zones: readonly string[];
  onChange: (file: FileDraft) => void;
  onDelimiter: (delimiter: LogSettings["delimiter"], word: string) => void;
  onRemove: () => void;
  /** Files with the same columns, which follow this one's mapping. */
  siblings: number;
  /** What is said of the lanes so far: what a unit leads to hangs on it. */
  lanes: Readonly<Record<string, LaneDraft>>;
  around: Around;
}) {
  const { inspection, settings } = file;
  const { problem } = inspection;
  const set = (change: Partial<LogSettings>) => settings && onChange({ ...file, settings: { ...settings, ...change } });
  const setColumn = (column: ColumnUse) => settings && set({ columns: withColumn(settings.columns, column) });
  return (
    <section aria-label={inspection.file.name} className="border-b border-ink py-3">
      <FileHead {...{ inspection, siblings, file, onChange, onRemove }} />
      {inspection.alreadyIn.map((a) => (
        <p key={`${a.experimentId}-${a.run}`} className="font-semibold text-doubt">
          These very readings are already in “{a.experiment}”, run {a.run}.
        </p>
      ))}
      {file.remembered && inspection.before && inspection.layout && (
        <p className="text-ink-2">
          Mapped as in “{inspection.before.experiment}”, run {inspection.before.run}.{" "}
          <Button
            kind="plain"
            onClick={() =>
              onChange({
                ...file,
                remembered: false,
                settings: settingsFrom(inspection.layout!, settings!.zone),
                dateOrderAsked: inspection.layout!.timeAmbiguous,
              })
            }
          >
            Guess anew
          </Button>
        </p>
      )}
      {inspection.grown && <Grown file={file} onRemove={onRemove} />}
      {problem && <Problem>{inspectProblemWords(problem)}</Problem>}
      {(settings || problem?.kind === "noColumns" || problem?.kind === "headerOnly" || problem?.kind === "noTime") && (
        <div className="mt-1 flex flex-wrap items-end gap-x-5 gap-y-2">
          <Choice
            label="Delimiter"
            value={file.delimiter ?? ("" as ",")}
            options={DELIMITERS}
            onChange={(v) => onDelimiter(v, DELIMITERS.find(([d]) => d === v)![1])}
          />
          {settings && (
            <Choice
              label="Decimal mark"
              value={settings.decimal}
              options={[
                [".", "point"],
                [",", "comma"],
              ]}
              onChange={(decimal) => set({ decimal })}
            />
          )}
        </div>
      )}
      {settings && <TimeRow file={file} settings={settings} zones={zones} onChange={onChange} />}
      {settings && <Degrees settings={settings} onChange={(next) => onChange({ ...file, settings: next })} />}
      {settings ? (
        <ColumnTable
          lanes={lanes}
          around={around}
          inspection={inspection}
          settings={settings}
          onColumn={setColumn}
          onTimeColumns={(timeColumns) => set({ timeColumns })}
        />
      ) : (
        <RawRows rows={inspection.rows} />
      )}
    </section>
  );
}

function FileHead({
  inspection,
  siblings,
  file,
  onChange,
  onRemove,
}: {
  inspection: Inspection;
  siblings: number;
  file: FileDraft;
  onChange: (file: FileDraft) => void;
  onRemove: () => void;
}) {
  return (
    <div className="flex flex-wrap items-baseline gap-x-3">
      <h3 className="text-[15px] font-[650]">{inspection.file.name}</h3>
      <span className="side">
        {size(inspection.file.bytes)}
        {inspection.encoding ? `, ${inspection.encoding.toUpperCase()}` : ""}
        {siblings > 0
          ? `; ${siblings} more file${siblings > 1 ? "s" : ""} with the same columns follow${siblings > 1 ? "" : "s"} this mapping`
          : ""}
      </span>
      {file.clock && (
        <span className="text-doubt">
          clock taken as {offsetWords(file.clock.offsetMs)}{" "}
          <Button kind="plain" onClick={() => onChange({ ...file, clock: undefined })}>
            as logged
          </Button>
        </span>
      )}
      <Button kind="plain" className="ml-auto" onClick={onRemove}>
        <X size={14} aria-hidden /> Take off the list
      </Button>
    </div>
  );
}

/** A file seldom mixes degrees: one press for all of them. */
function Degrees({ settings, onChange }: { settings: LogSettings; onChange: (settings: LogSettings) => void }) {
  const units = new Set(
    settings.columns.flatMap((c) =>
      c.kind && CHANNEL_KINDS[c.kind].quantity === "temperature" ? [c.unit ?? "unsaid"] : [],
    ),
  );
  if (units.size === 0) return null;
  const [only] = units;
  const one = units.size === 1 && only !== "unsaid" ? (only as "°C") : ("" as "°C");
  return (
    <div className={one ? "mt-1" : "mt-1 border-l-4 border-doubt-line bg-doubt-fill/40 px-2"}>
      {units.has("unsaid") && <p className="font-semibold text-doubt">The file does not say its degrees.</p>}
      <Choice
        label="All temperatures in"
        value={one}
        options={[
          ["°C", "°C"],
          ["°F", "°F"],
        ]}
        onChange={(unit) => onChange(withDegrees(settings, unit))}
      />
    </div>
  );
}

/** The logger wrote on: the new rows belong to the run that has the old ones. */
function Grown({ file, onRemove }: { file: FileDraft; onRemove: () => void }) {
  const router = useRouter();
  const { busy, act } = useAct();
  const { grown } = file.inspection;
  if (!grown) return null;
  const append = () =>
    act(
      () => continueRun(file.inspection.file.id),
      (made) => {
        onRemove();
        router.push(`/experiments/${made.experimentId}/read`);
        router.refresh();
      },
    );
  return (
    <p className="border-l-[3px] border-doubt pl-3">
      This file begins with the one that is run {grown.run} of “{grown.experiment}”, and has {size(grown.newBytes)}{" "}
      more.{" "}
      <Button disabled={busy} onClick={append}>
        Add the new rows to that run
      </Button>
    </p>
  );
}

function TimeRow({
  file,
  settings,
  zones,
  onChange,
}: {
  file: FileDraft;
  settings: LogSettings;
  zones: readonly string[];
  onChange: (file: FileDraft) => void;
}) {
  const { timeFormat } = settings;
  const set = (change: Partial<LogSettings>, asked = file.dateOrderAsked) =>
    onChange({ ...file, dateOrderAsked: asked, settings: { ...settings, ...change } });
  const sample = file.inspection.layout?.columns[settings.timeColumns[0]]?.samples[0] ?? "";
  const startFrom = (text: string) => {
    const wall = Date.parse(`${text}Z`);
    if (Number.isNaN(wall)) return;
    const local = fromWall(wall, settings.zone);
    set({
      timeFormat: {
        kind: "elapsed",
        unit: timeFormat.kind === "elapsed" ? timeFormat.unit : "s",
        startMs: local.kind === "skipped" ? wall : [local.utcMs].flat()[0],
      },
    });
  };
  return (
    <div className="mt-1 flex flex-wrap items-end gap-x-5 gap-y-2">
      {timeFormat.kind === "calendar" && (
        <div className={file.dateOrderAsked ? "border-l-4 border-doubt-line bg-doubt-fill/40 px-2" : ""}>
          {file.dateOrderAsked && (
            <p className="font-semibold text-doubt" role="alert">
              “{sample}” can be read two ways. Which comes first?
            </p>
          )}
          <Choice
            label="Date"
            value={file.dateOrderAsked ? ("" as "dmy") : timeFormat.order}
            options={[
              ["ymd", "year first"],
              ["dmy", "day first"],
              ["mdy", "month first"],
            ]}
            onChange={(order) => set({ timeFormat: { kind: "calendar", order } }, false)}
          />
        </div>
      )}
      {timeFormat.kind === "unix" && (
        <Choice
          label="Unix time in"
          value={timeFormat.unit}
          options={[
            ["s", "seconds"],
            ["ms", "milliseconds"],
          ]}
          onChange={(unit) => set({ timeFormat: { kind: "unix", unit } })}
        />
      )}
      {timeFormat.kind === "elapsed" && (
        <>
          <Choice
            label="Elapsed time in"
            value={timeFormat.unit}
            options={[
              ["s", "seconds"],
              ["min", "minutes"],
              ["h", "hours"],
            ]}
            onChange={(unit) => set({ timeFormat: { ...timeFormat, unit } })}
          />
          <TextField label="Time 0 was at" type="datetime-local" step={1} onChange={startFrom} />
        </>
      )}
      {file.timeHasZone && timeFormat.kind !== "elapsed" ? (
        <span className="side pb-2">Times carry their own zone.</span>
      ) : (
        <TextField
          label="Logger’s clock"
          place="block"
          width="w-52"
          list="zones"
          value={settings.zone}
          aria-describedby="zone-note"
          onChange={(v) => onChange({ ...file, zoneSet: true, settings: { ...settings, zone: v.trim() } })}
        />
      )}
      <datalist id="zones">
        {zones.map((z) => (
          <option key={z} value={z} />
        ))}
      </datalist>
      <span id="zone-note" className="side max-w-80 pb-1">
        {file.timeHasZone
          ? ""
          : "A zone name follows summer time. A logger that never changes its clock has a fixed offset such as UTC+01:00."}
      </span>
    </div>
  );
}

function RawRows({ rows }: { rows: string[][] }) {
  if (rows.length === 0) return null;
  return (
    <div className="mt-2 overflow-x-auto" role="group" tabIndex={0} aria-label="First rows of the file">
      <table className="grid-table text-[12.5px]">
        <caption className="side text-left">First rows as they stand</caption>
        <tbody>
          {rows.slice(0, 5).map((r, i) => (
            <tr key={i}>
              {r.slice(0, 12).map((c, k) => (
                <td key={k} className="max-w-60 truncate">
                  {c}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function size(bytes: number): string {
  if (bytes < 1024) return `${bytes} bytes`;
  return bytes < 1048576 ? `${formatNumber(bytes / 1024, 0)} kB` : `${formatNumber(bytes / 1048576, 1)} MB`;
}
