"use client";

import type { Aspect } from "@/core/collector/compare";
import type { ExperimentHead } from "@/core/experiment/types";
import type { EffectView, WorthView } from "@/services/judge/worthView";
import { aspectText } from "@/features/experiment/aspectText";
import { usePreferences } from "@/ui/preferences";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/Working";
import { ASPECT_WORDS } from "@/words/build";
import { Head } from "@/ui/Head";

const DECISIONS: Record<EffectView["decision"], string> = {
  more: "more heat",
  less: "less heat",
  equal: "no difference that matters",
  cannotTell: "cannot tell",
};

/** What each change did, where variants differ in several things; and whether one change depends on another. */
export function Effects({ worth, head }: { worth: WorthView; head: ExperimentHead }) {
  const { system } = usePreferences();
  const { effects, confounded } = worth;
  if (effects.length === 0 && confounded.length < 2) return null;
  const nameOf = (aspects: readonly Aspect[]) =>
    head.settings.ask.factors.find((f) => f.aspects.includes(aspects[0]))?.name ?? ASPECT_WORDS[aspects[0]];
  const levelOf = (letter: string, aspects: readonly Aspect[]) => {
    const { design } = head.lanes.find((l) => l.letter === letter)!;
    return aspects.map((a) => aspectText(design, a, system)).join(", ");
  };
  const what = ({ aspects, from, to, over }: EffectView) => {
    const change = `${nameOf(aspects)}: ${levelOf(to, aspects)} for ${levelOf(from, aspects)}`;
    return over
      ? `${nameOf(aspects)} × ${nameOf(over.aspects)}: how much more ${levelOf(to, aspects)} gives with ${levelOf(over.to, over.aspects)} than with ${levelOf(over.from, over.aspects)}`
      : change;
  };
  return (
    <section aria-labelledby="effects">
      <Head
        id="effects"
        title="What each change did"
        side={effects.length > 0 && "adjusted for all that is shown here"}
      />
      {effects.length > 0 && (
        <DataTable
          label="Effects of the changes"
          file="effects"
          columns={columnsOf(what)}
          rows={effects}
          minWidth={480}
        />
      )}
      {effects.some((e) => e.others === "balanced") && (
        <p className="side">
          Sides: no two boxes differ in this alone; means of both sides, where the other changes are as often on either.
          That they work together in no special way is taken for granted.
        </p>
      )}
      {effects.length > 0 && !effects.some((e) => e.over) && (
        <p className="side">
          One change at a time: whether two of them together give more or less than their sum is not known.
        </p>
      )}
      {confounded.length > 1 && (
        <p className="mt-1 text-doubt">
          {confounded.map((a) => nameOf([a])).join(" and ")} never change one without another: which of them helped
          cannot be told. Ask proposes the box that would tell.
        </p>
      )}
    </section>
  );
}

const columnsOf = (what: (e: EffectView) => string): TableColumn<EffectView>[] => [
  { id: "what", title: "change", rowHeader: true, value: what },
  {
    id: "effect",
    title: "effect (95 %)",
    number: true,
    value: (e) => e.difference.si,
    cell: (e) => <Figure figure={e.difference} signed />,
  },
  {
    id: "between",
    title: "between",
    value: (e) => e.between.map((p) => p.join("–")).join(", "),
    cell: (e) => (
      <span className="side whitespace-nowrap">
        {e.between.map((p) => p.join("–")).join(", ")}
        {e.others === "balanced" && ", sides"}
      </span>
    ),
  },
  { id: "decision", title: "told", value: (e) => DECISIONS[e.decision] },
];
