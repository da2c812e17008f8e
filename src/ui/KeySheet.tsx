"use client";

import { Dialog } from "radix-ui";

const KEYS: [string, string][] = [
  ["Ctrl K", "Go to any experiment, step, variant, material or action"],
  ["b", "Bench"],
  ["i", "Import a log"],
  ["m", "Materials"],
  ["s", "Site: sun, skyline, climate"],
  ["← → ↓ Delete", "Plan: move the chosen entry, leave its day out, put it back"],
  ["t", "Bench tools: quick reading, units"],
  ["Ctrl Z, Ctrl Y", "Build: undo, redo"],
  ["Alt ↑, Alt ↓", "Build: move the chosen layer of the section"],
  ["?", "This sheet"],
  ["Tab, Enter", "Go to a figure and open its working"],
  ["Esc", "Close the working or a dialog"],
  ["← → + −  0", "In a chart: move, zoom in, zoom out, show all"],
];

/** The keyboard sheet. */
export function KeySheet({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ground/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-1/4 z-50 w-[min(440px,92vw)] -translate-x-1/2 border-[1.5px] border-ink bg-sheet p-5"
        >
          <Dialog.Title className="text-[15px] font-[650]">Keys</Dialog.Title>
          <dl className="mt-3 grid grid-cols-[120px_1fr] gap-y-1.5">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="rounded-sm border border-rule px-1.5 font-sans">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="btn mt-4">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
