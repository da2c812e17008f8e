import Link from "next/link";

export type StepState = "done" | "doubt" | "open";

export interface PathStep {
  name: string;
  href: string;
  state: StepState;
  status: string;
}

const STATES: Record<StepState, { fill: string; words: string }> = {
  done: { fill: "bg-ink", words: "done" },
  doubt: { fill: "hatch-doubt", words: "in doubt" },
  open: { fill: "bg-ground", words: "not begun" },
};

/** The eight steps as one duct in sections: filled is done, hatched in doubt, empty not begun. */
export function Path({ steps, current }: { steps: readonly PathStep[]; current: string }) {
  return (
    <nav aria-label="Steps of the experiment">
      <ol className="grid grid-cols-8">
        {steps.map((s) => {
          const on = s.name.toLowerCase() === current;
          return (
            <li key={s.name} className="border-l-[1.5px] border-ink last:border-r-[1.5px]">
              <Link
                href={s.href}
                aria-current={on ? "step" : undefined}
                className={`block h-full min-h-6 pb-1 ${on ? "bg-action-wash" : "hover:bg-well"}`}
              >
                <span aria-hidden className={`block h-2 border-y-[1.5px] border-ink ${STATES[s.state].fill}`} />
                <span className="block truncate pt-0.5 max-sm:text-center sm:pl-1.5">
                  <span
                    className={`text-[14px] max-sm:text-[12px] ${on ? "font-bold underline decoration-action decoration-[3px] underline-offset-4" : "font-semibold"}`}
                  >
                    {s.name}
                  </span>{" "}
                  <span
                    className={`text-[12.5px] max-sm:sr-only ${s.state === "doubt" ? "font-semibold text-doubt" : "text-ink-3"}`}
                  >
                    {s.status}
                  </span>
                  <span className="sr-only">, {STATES[s.state].words}</span>
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
