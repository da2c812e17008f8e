"use client";

import { Cable } from "lucide-react";
import { useState } from "react";
import { readSerialLine, type LineFormat } from "@/core/ingest/serialLine";
import { Choice } from "@/ui/Choice";
import { useSerial, type Serial } from "./useSerial";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const BAUDS = [9600, 19200, 38400, 57600, 115200];
const MARKS = [
  [",", "comma"],
  [";", "semicolon"],
  ["\t", "tab"],
  [" ", "blank"],
] as const;
const KINDS = [
  ["values", "values in order"],
  ["pairs", "name=value"],
  ["json", "JSON"],
] as const;

/** A device on this computer's serial line: connected here, its lines mapped here, sent like any other's. */
export function SerialLine() {
  const serial = useSerial();
  const [baud, setBaud] = useState(115200);
  return (
    <section aria-labelledby="serial" className="mt-6 max-w-4xl">
      <Head
        id="serial"
        title="A device on this computer’s serial line"
        side="stamped as its lines arrive; this page must stay open"
      />
      {serial.supported ? (
        <div className="mt-2 flex flex-wrap items-end gap-3">
          <Select label="Baud" value={baud} options={BAUDS.map((b) => [b, String(b)] as const)} onChange={setBaud} />
          {serial.open ? (
            <Button onClick={serial.disconnect}>Disconnect</Button>
          ) : (
            <Button kind="main" onClick={() => void serial.connect(baud)}>
              <Cable size={14} aria-hidden /> Connect
            </Button>
          )}
          <span role="status">
            {serial.waiting > 0 ? `${serial.waiting} frames wait to be sent` : serial.open && "all sent"}
          </span>
        </div>
      ) : (
        <p className="mt-1">
          This browser cannot read serial lines, or the page does not come over this computer’s own address. Use a
          Chromium browser on the computer the device is plugged into, or let a small script send the lines.
        </p>
      )}
      {serial.fault && (
        <p role="alert" className="font-semibold text-doubt">
          Left out: {serial.fault}
        </p>
      )}
      {serial.format && serial.lines.length > 0 && <Mapper serial={serial} format={serial.format} />}
    </section>
  );
}

/** How its lines are read, tried on the newest ones. */
function Mapper({ serial, format }: { serial: Serial; format: LineFormat }) {
  const newest = serial.lines.at(-1)!;
  const fields = format.mark === " " ? newest.trim().split(/\s+/) : newest.split(format.mark);
  const names = fields.map((_, i) => format.names[i] ?? "");
  const set = (part: Partial<LineFormat>) => serial.setFormat({ ...format, names, ...part });
  return (
    <div className="mt-2">
      <Choice label="Its lines are" value={format.kind} options={KINDS} onChange={(kind) => set({ kind })} />
      {format.kind !== "json" && (
        <Choice
          label="Fields apart by"
          value={format.mark}
          options={MARKS}
          onChange={(mark) => set({ mark, names: [] })}
        />
      )}
      {format.kind === "values" && (
        <div className="flex flex-wrap gap-2">
          {fields.map((field, i) => (
            <TextField
              key={i}
              label={`“${field.trim().slice(0, 12)}” is`}
              width="w-32"
              value={names[i]}
              placeholder="A in (°C)"
              onChange={(v) => set({ names: names.map((n, k) => (k === i ? v : n)) })}
            />
          ))}
        </div>
      )}
      <ul aria-label="Newest lines" className="mt-2 bg-well p-2 text-[12.5px]">
        {serial.lines.map((line, i) => (
          <Line key={i} line={line} format={{ ...format, names: format.kind === "values" ? names : format.names }} />
        ))}
      </ul>
    </div>
  );
}

function Line({ line, format }: { line: string; format: LineFormat }) {
  const read = readSerialLine(line, format);
  return (
    <li className="flex flex-wrap gap-x-4">
      <code>{line.slice(0, 80)}</code>
      <span className={read.ok ? "text-ink-2" : "font-semibold text-doubt"}>
        {read.ok ? read.values.map(([n, v]) => `${n} ${v}`).join(", ") : read.why}
      </span>
    </li>
  );
}
