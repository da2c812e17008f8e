import type { Aspect } from "../core/collector/compare";
import type { Fairness } from "../core/collector/fairness";
import { listWords } from "./build";

/** Whether the variants of an experiment can answer its question. @param nameOf what an aspect is called there */
export function fairnessWords(f: Fairness, count: number, nameOf: (a: Aspect) => string): string {
  if (count === 0) return "Nothing is drawn yet: a comparison needs two variants. Draw them in Build.";
  if (count === 1) return "One variant is drawn: a comparison needs two. Copy it in Build and change one thing.";
  if (f.varying.length === 0)
    return "All variants are the same build: they can show how well the bench repeats, and nothing else.";
  if (f.confounded.length === 0)
    return `These variants can answer: they differ in ${few(f.varying.map((v) => nameOf(v.aspect)))}${f.varying.length > 1 ? ", and each can be told apart" : " alone"}.`;
  if (count > 6)
    return `These are ${count} whole builds that differ in ${f.varying.length} ways: the test can say which build is better, not which part of it helped.`;
  const [pair] = f.pairs.filter((p) => p.aspects.some((a) => f.confounded.includes(a)));
  return pair
    ? `${pair.a} and ${pair.b} differ in ${few(pair.aspects.map(nameOf))}; you cannot say which helped.`
    : `${few(f.confounded.map(nameOf))} always change together; you cannot say which helped.`;
}

/** A sentence stays two lines long whatever differs. */
const few = (names: string[]): string =>
  listWords(names.length > 4 ? [...names.slice(0, 3), `${names.length - 3} more`] : names);
