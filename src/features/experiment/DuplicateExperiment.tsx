"use client";

import { Copy } from "lucide-react";
import { useRouter } from "next/navigation";
import { duplicateExperiment } from "./actions";
import { Button } from "@/ui/Button";
import { toast } from "@/ui/toast";
import { useAct } from "@/ui/useAct";

/** The same question, settings and drawings once more, without what was measured. */
export function DuplicateExperiment({ id, name }: { id: number; name: string }) {
  const router = useRouter();
  const { busy, act } = useAct();
  const duplicate = () =>
    act(
      () => duplicateExperiment(id),
      (made) => {
        toast.success(`“${made.name}” has the same question, settings and drawings, and no readings.`);
        router.push(`/experiments/${made.id}/ask`);
      },
    );
  return (
    <Button
      kind="plain"
      className="justify-end text-[12.5px] font-normal text-ink-2 no-underline hover:underline"
      disabled={busy}
      onClick={duplicate}
      aria-label={`Duplicate ${name}`}
    >
      <Copy size={12} aria-hidden /> Duplicate
    </Button>
  );
}
