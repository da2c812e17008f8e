"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useTransition } from "react";
import { toast } from "@/ui/toast";
import { withFactor, type Aspect } from "@/core/collector/compare";
import { factorialSet, type Fairness } from "@/core/collector/fairness";
import type { Design } from "@/core/collector/design";
import { designProblems } from "@/core/collector/validate";
import { aspectText } from "@/features/experiment/aspectText";
import { createVariant } from "@/features/experiment/variantActions";
import type { VariantsView } from "@/services/variant/variants";
import { Badge } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { listWords } from "@/words/build";
import { answered } from "@/ui/useAct";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import type { Variant } from "@/core/experiment/records";
import type { UnitSystem } from "@/core/quantity/quantities";

const SHOWN_SENTENCES = 5;

/** What differs between the variants, read from their designs; what is confounded by it; and the variants that would settle it. */
export function Differences({
  view,
  fair,
  factors,
  nameOf,
}: {
  view: VariantsView;
  fair: Fairness;
  factors: readonly (readonly Aspect[])[];
  nameOf: (a: Aspect) => string;
}) {
  const { system } = usePreferences();
  const router = useRouter();
  const [busy, start] = useTransition();
  const byLetter = (letter: string) => view.variants.find((v) => v.letter === letter)!;
  const named = useMemo(() => view.variants.map((v) => ({ letter: v.letter, design: v.design })), [view.variants]);
  const proposals = useMemo(() => {
    const designOf = (letter: string) => named.find((v) => v.letter === letter)!.design;
    return fair.missing
      .map((m) => ({ ...m, design: withFactor(designOf(m.base), designOf(m.from), m.aspect, factors) }))
      .filter((m) => designProblems(m.design).length === 0);
  }, [fair, named, factors]);
  const set = useMemo(
    () =>
      fair.confounded.length && fair.factorial.all <= 16 && view.variants.length <= 6
        ? factorialSet(named, fair, factors).filter((m) => designProblems(m.design).length === 0)
        : [],
    [fair, named, factors, view.variants.length],
  );
  const draw = (list: { name: string; design: Design }[]) =>
    start(async () => {
      for (const { name, design } of list) {
        const result = await answered(createVariant(view.experimentId, name.slice(0, 120), design, "proposed by Ask"));
        if (!result.ok) return void toast.error(result.error);
      }
      toast.success(list.length === 1 ? `${list[0].name} is drawn.` : `${list.length} variants are drawn.`);
      router.refresh();
    });
  if (view.variants.length === 0)
    return (
      <p>
        <Link className="btn btn-main" href={`/experiments/${view.experimentId}/build`}>
          Draw the first variant
        </Link>
      </p>
    );
  const confusing = byAspects(fair.pairs.filter((p) => p.aspects.some((a) => fair.confounded.includes(a))));
  return (
    <section aria-labelledby="differs">
      <Head id="differs" title="What differs" side="read from the designs; all else is the same" />
      {fair.varying.length > 0 && <Varying {...{ fair, nameOf, byLetter, system }} />}
      {fair.identical.length > 0 && (
        <p className="mt-1 text-[13.5px]">
          {listWords(fair.identical.map(([a, b]) => `${a} and ${b}`))} are the same build.
        </p>
      )}
      {fair.heldBroken.length > 0 && (
        <p className="mt-1 border-l-4 border-doubt-line pl-2 text-[13.5px]">
          <b className="font-[650] text-doubt">
            {listWords(fair.heldBroken.map(nameOf))} should be held equal and{" "}
            {fair.heldBroken.length > 1 ? "are" : "is"} not.
          </b>{" "}
          Make the variants alike in it, or take it off the list.
        </p>
      )}
      {confusing.length > 0 && view.variants.length <= 6 && (
        <Confounded {...{ confusing, nameOf, proposals, byLetter, system, busy, draw, set, fair }} />
      )}
    </section>
  );
}

function Confounded({
  confusing,
  nameOf,
  proposals,
  byLetter,
  system,
  busy,
  draw,
  set,
  fair,
}: {
  confusing: { pairs: string[]; aspects: Aspect[] }[];
  nameOf: (a: Aspect) => string;
  proposals: { design: Design; base: string; aspect: Aspect; from: string }[];
  byLetter: (letter: string) => Variant;
  system: UnitSystem;
  busy: boolean;
  draw: (list: { name: string; design: Design }[]) => void;
  set: { design: Design; from: { aspect: Aspect; letter: string }[] }[];
  fair: Fairness;
}) {
  return (
    <div className="mt-2 border-l-4 border-doubt-line pl-2.5" data-testid="confounded">
      {confusing.slice(0, SHOWN_SENTENCES).map(({ pairs, aspects }) => (
        <p key={pairs.join()} className="text-[13.5px]">
          <b className="font-[650] text-doubt">
            {listWords(pairs)} differ in {listWords(aspects.map(nameOf))}; you cannot say which helped.
          </b>
        </p>
      ))}
      {confusing.length > SHOWN_SENTENCES && (
        <p className="side">and {confusing.length - SHOWN_SENTENCES} more ways in which pairs differ</p>
      )}
      {proposals.length > 0 && (
        <>
          <p className="mt-1 text-[13.5px]">
            {proposals.length === 1 ? "One more variant settles it:" : `${proposals.length} more variants settle it:`}
          </p>
          <ul>
            {proposals.map((m) => {
              const name = `${byLetter(m.base).name} with ${nameOf(m.aspect)} of ${m.from}`;
              return (
                <li key={m.base + m.aspect + m.from} className="flex flex-wrap items-center gap-2 py-0.5">
                  <Badge design={m.design} lane={m.base} scale={0.8} />
                  <span className="text-[13.5px]">
                    {m.base} with {m.from}’s {nameOf(m.aspect)}: {aspectText(m.design, m.aspect, system)}
                  </span>
                  <Button disabled={busy} onClick={() => draw([{ name, design: m.design }])}>
                    Draw it
                  </Button>
                </li>
              );
            })}
          </ul>
        </>
      )}
      {set.length > 1 && (
        <p className="mt-1 flex flex-wrap items-center gap-2 text-[13.5px]">
          A full factorial set has {fair.factorial.all} variants; {fair.factorial.have} exist. It also shows whether one
          factor’s effect depends on another.{" "}
          <Button
            disabled={busy}
            onClick={() =>
              draw(
                set.map((m) => ({
                  name: m.from.map((f) => `${nameOf(f.aspect)} of ${f.letter}`).join(", "),
                  design: m.design,
                })),
              )
            }
          >
            Draw the {set.length} missing
          </Button>
        </p>
      )}
    </div>
  );
}

function Varying({
  fair,
  nameOf,
  byLetter,
  system,
}: {
  fair: Fairness;
  nameOf: (a: Aspect) => string;
  byLetter: (letter: string) => Variant;
  system: UnitSystem;
}) {
  return (
    <div className="relative overflow-x-auto" role="group" tabIndex={0} aria-label="How the variants differ">
      <table className="grid-table min-w-[480px]">
        <thead>
          <tr>
            <th>Aspect</th>
            <th>Levels</th>
            <th>Its effect</th>
          </tr>
        </thead>
        <tbody>
          {fair.varying.map(({ aspect, levels }) => (
            <tr key={aspect}>
              <th scope="row" className="font-semibold">
                {nameOf(aspect)}
              </th>
              <td>
                <ul>
                  {levels.slice(0, 6).map((l) => (
                    <li key={l.letters.join("")} className="flex flex-wrap items-baseline gap-x-2">
                      {l.letters.map((x) => (
                        <LaneMark key={x} lane={x} size={11} />
                      ))}
                      <span>{aspectText(byLetter(l.letters[0]).design, aspect, system)}</span>
                    </li>
                  ))}
                  {levels.length > 6 && <li className="side">and {levels.length - 6} more</li>}
                </ul>
              </td>
              <td className={fair.confounded.includes(aspect) ? "font-semibold text-doubt" : ""}>
                {fair.confounded.includes(aspect) ? "confounded" : "can be told"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Pairs that differ in the same, said once. */
function byAspects(pairs: Fairness["pairs"]): { pairs: string[]; aspects: Aspect[] }[] {
  const joined = new Map<string, { pairs: string[]; aspects: Aspect[] }>();
  for (const { a, b, aspects } of pairs) {
    const key = [...aspects].sort().join();
    const one = joined.get(key) ?? { pairs: [], aspects };
    one.pairs.push(`${a} and ${b}`);
    joined.set(key, one);
  }
  return [...joined.values()];
}
