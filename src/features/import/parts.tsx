"use client";

import { FileUp } from "lucide-react";
import { useState } from "react";
import { formatNumber } from "@/core/quantity/format";
import type { ImportProgress } from "@/services/import/importRequest";

export function progressWords(p: ImportProgress): string {
  if (p.phase === "done") return "Imported";
  return `${p.phase === "reading" ? "Reading" : "Storing"} file ${p.file + 1} of ${p.files}, ${formatNumber(p.rows, 0)} rows`;
}

/** How far something is, in words and as a bar. */
export function Bar({ label, share }: { label: string; share: number }) {
  const percent = Math.round(share * 100);
  return (
    <div className="mt-2 max-w-xl">
      <p className="text-[13.5px]" role="status">
        {label}
      </p>
      <div
        role="progressbar"
        aria-label={label}
        aria-valuenow={percent}
        aria-valuemin={0}
        aria-valuemax={100}
        className="h-2.5 border-[1.5px] border-ink"
      >
        <div className="h-full bg-ink" style={{ width: `${percent}%` }} />
      </div>
    </div>
  );
}

/** Where files are dropped or chosen. */
export function DropZone({ onFiles, compact }: { onFiles: (files: File[]) => void; compact: boolean }) {
  const [over, setOver] = useState(false);
  return (
    <label
      className={`mt-3 flex cursor-pointer flex-wrap items-center justify-center gap-x-3 border-[1.5px] border-dashed px-4 text-center focus-within:outline-3 focus-within:outline-action ${compact ? "py-2" : "py-10"} ${over ? "border-action bg-action-wash" : "border-rule bg-sheet"}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        onFiles([...e.dataTransfer.files]);
      }}
    >
      <FileUp size={18} aria-hidden className="text-action" />
      <span>
        <b className="font-semibold text-action underline underline-offset-4">Choose files</b> or drop them here
      </span>
      <span className="side">CSV or text from any logger, several at once; up to 512 MB each</span>
      <input
        type="file"
        multiple
        accept=".csv,.txt,.tsv,.dat,.log,text/*"
        className="sr-only"
        aria-label="Choose log files"
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
    </label>
  );
}
