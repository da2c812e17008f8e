"use client";

import { PackageOpen } from "lucide-react";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { sendPackage, type PackageAnswer } from "./sendPackage";

/** What opening came to, in one sentence. */
function said({ name, same }: PackageAnswer): string {
  if (same === null) return `“${name}” is opened. No results came along to compare with.`;
  return same
    ? `“${name}” is opened: the same results as where it comes from, to the last digit.`
    : `“${name}” is opened, and its results differ from those that came along: its files were changed on the way, or another version reckoned them.`;
}

/** An experiment from elsewhere, packed as one file. */
export function OpenPackage() {
  const input = useRef<HTMLInputElement>(null);
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const open = async (file: File) => {
    setBusy(true);
    setProblem(null);
    try {
      const answer = await sendPackage(file);
      if (!answer.ok) setProblem(answer.error ?? "The package could not be opened. Try it again.");
      else {
        (answer.same === false ? toast.warning : toast.success)(said(answer), { duration: 12_000 });
        router.push(`/experiments/${answer.experimentId}/judge`);
      }
    } catch {
      setProblem("Bravel did not answer. Nothing was opened; try it again.");
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <button type="button" className="btn btn-plain" disabled={busy} onClick={() => input.current?.click()}>
        <PackageOpen size={14} aria-hidden /> {busy ? "Opening …" : "Open a package"}
      </button>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        className="sr-only"
        aria-label="Package of an experiment (zip)"
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void open(file);
        }}
      />
      {problem && (
        <p role="alert" className="basis-full font-semibold text-doubt">
          {problem}
        </p>
      )}
    </>
  );
}
