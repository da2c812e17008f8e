import { ArrowRight } from "lucide-react";
import Link from "next/link";
import type { PathStep } from "@/ui/Path";
import { doneWords, GO_WORDS } from "@/words/steps";
import { nextOf } from "./nextOf";

/** What is done and what comes next, in one line with one button; on a phone a bar at the thumb. */
export function NextStep({ steps, current }: { steps: readonly PathStep[]; current: string }) {
  const next = nextOf(steps, current);
  return (
    <section
      aria-label="Next step"
      className="no-print flex items-center gap-x-3 pt-1.5 text-[13.5px] max-sm:fixed max-sm:inset-x-0 max-sm:bottom-0 max-sm:z-30 max-sm:justify-between max-sm:border-t-[1.5px] max-sm:border-ink max-sm:bg-ground max-sm:px-4 max-sm:py-2"
    >
      <p>
        {doneWords(steps)}{" "}
        {next && (
          <>
            Next: <b className="font-[650]">{next.name}</b>, {next.status}.
          </>
        )}
      </p>
      {next && (
        <Link href={next.href} className="btn btn-main max-sm:min-h-11">
          {GO_WORDS[next.step]} <ArrowRight size={14} aria-hidden />
        </Link>
      )}
    </section>
  );
}
