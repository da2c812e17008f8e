"use client";

import { PackageOpen } from "lucide-react";
import { useRef } from "react";
import { usePackage } from "@/features/experiment/usePackage";
import { Button } from "@/ui/Button";

/** An experiment from elsewhere, packed as one file. */
export function OpenPackage() {
  const input = useRef<HTMLInputElement>(null);
  const { busy, problem, open } = usePackage();
  return (
    <>
      <Button kind="plain" disabled={busy} onClick={() => input.current?.click()}>
        <PackageOpen size={14} aria-hidden /> {busy ? "Opening …" : "Open a package"}
      </Button>
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
