"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "@/ui/toast";
import { sendPackage, type PackageAnswer } from "./sendPackage";

/** What opening came to, in one sentence. */
function said(answer: PackageAnswer): string {
  const { name, packed = name } = answer;
  const opened = openedWords(answer);
  return packed === name ? opened : `“${packed}” is on the bench already. This one is named “${name}”. ${opened}`;
}

function openedWords({ name, same }: PackageAnswer): string {
  if (same === null) return `“${name}” is opened. No results came along to compare with.`;
  return same
    ? `“${name}” is opened: the same results as where it comes from, to the last digit.`
    : `“${name}” is opened, and its results differ from those that came along: its files were changed on the way, or another version reckoned them.`;
}

/** Opens a packed experiment and goes to its answer; what is wrong with it stays to be read. */
export function usePackage() {
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
  return { busy, problem, open };
}
