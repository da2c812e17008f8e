"use client";

import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { usePathname, useRouter } from "next/navigation";
import { Dialog } from "radix-ui";
import { useMemo } from "react";
import { LIBRARY } from "@/core/materials/library";
import type { Places } from "@/services/page/pages";
import { ask, Fetching } from "@/ui/Fetching";
import { entries, score, type Entry } from "./entries";
import { saidOf } from "@/ui/said";

const GROUPS = ["Experiments", "Actions", "Pages", "Variants", "Materials"] as const;
const NOWHERE: Places = { experiments: [], materials: [] };

/** Go anywhere, do anything, by typing a part of its name. */
export default function Palette({ onClose }: { onClose: () => void }) {
  return (
    <Fetching>
      <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-ground/70" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed left-1/2 top-[12vh] z-50 w-[min(560px,94vw)] -translate-x-1/2 border-[1.5px] border-ink bg-sheet"
          >
            <Dialog.Title className="sr-only">Go to</Dialog.Title>
            <List onClose={onClose} />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </Fetching>
  );
}

function List({ onClose }: { onClose: () => void }) {
  const router = useRouter();
  const path = usePathname();
  const { data, error } = useQuery({
    queryKey: ["places"],
    queryFn: ({ signal }) => ask("/api/places", signal, (r) => r.json() as Promise<Places>),
  });
  const experimentId = Number(/\/experiments\/(\d+)/.exec(path)?.[1]) || null;
  const all = useMemo(() => entries(data ?? NOWHERE, LIBRARY, experimentId), [data, experimentId]);
  const go = ({ to }: Entry) => {
    onClose();
    if ("href" in to) router.push(to.href);
    else window.dispatchEvent(new Event(to.event));
  };
  return (
    <Command label="Go to" filter={score}>
      <Command.Input
        autoFocus
        placeholder="Experiment, step, variant, material, action"
        className="w-full border-b-[1.5px] border-ink bg-sheet px-4 py-3 text-[17px]"
      />
      <Command.List className="max-h-[55vh] overflow-y-auto py-1" label="Places and actions">
        <Command.Empty className="px-4 py-3 text-ink-2">
          {error
            ? saidOf(error, "The list of places did not come. Close this and try again.")
            : "Nothing is called that. Try a shorter part of its name."}
        </Command.Empty>
        {GROUPS.map((group) => (
          <Command.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-[12.5px] [&_[cmdk-group-heading]]:text-ink-2"
          >
            {all.map(
              (e, i) =>
                e.group === group && (
                  <Command.Item
                    key={i}
                    value={`${e.name} ${e.about} ${i}`}
                    onSelect={() => go(e)}
                    className="flex cursor-pointer items-baseline gap-2 border-l-[3px] border-transparent px-4 py-1 data-[selected=true]:border-action data-[selected=true]:bg-action-wash"
                  >
                    {e.name} <span className="side ml-auto text-right">{e.about}</span>
                  </Command.Item>
                ),
            )}
          </Command.Group>
        ))}
      </Command.List>
    </Command>
  );
}
