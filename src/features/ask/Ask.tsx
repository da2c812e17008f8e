"use client";

import { withView } from "@/features/experiment/withView";
import { useMemo, useState } from "react";
import { ASPECTS, type Aspect } from "@/core/collector/compare";
import { fairness } from "@/core/collector/fairness";
import { quantityText } from "@/core/quantity/format";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { changeQuestion } from "@/features/experiment/actions";
import { useSettings } from "@/features/experiment/useSettings";
import { useStudies } from "@/features/experiment/useStudy";
import type { ExperimentView } from "@/services/page/views";
import type { VariantsView } from "@/services/variant/variants";
import { usePreferences } from "@/ui/preferences";
import { ASPECT_WORDS } from "@/words/build";
import { fairnessWords } from "@/words/fairness";
import { useAct } from "@/ui/useAct";
import { Difference } from "./Difference";
import { Differences } from "./Differences";
import { PredictedRanking } from "./PredictedRanking";
import { Use } from "./Use";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { Problem } from "@/ui/Problem";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** The question, what is under test and what is held equal, where the winner will run, and whether these variants can answer. */
export function Ask({ view, variants: v }: { view: ExperimentView; variants: VariantsView }) {
  const { head } = view;
  const { settings, change, busy } = useSettings(head);
  const { ask } = settings;
  const { system } = usePreferences();
  const designs = useMemo(() => v.variants.map((x) => x.design), [v.variants]);
  const { studies, failed } = useStudies(designs, v.operating, v.lowestC);
  const named = useMemo(() => v.variants.map((x) => ({ letter: x.letter, design: x.design })), [v.variants]);
  const factors = useMemo(() => ask.factors.map((f) => f.aspects), [ask.factors]);
  const fair = useMemo(() => fairness(named, ask.heldEqual, factors), [named, ask.heldEqual, factors]);
  const changeAsk = (part: Partial<ExperimentSettings["ask"]>) => change(({ ask }) => ({ ask: { ...ask, ...part } }));
  /** Name of what an aspect belongs to: its factor, or itself. */
  const nameOf = (a: Aspect) => ask.factors.find((f) => f.aspects.includes(a))?.name.toLowerCase() ?? ASPECT_WORDS[a];

  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(300px,400px)]">
      <div className="grid min-w-0 grid-cols-1 content-start gap-4">
        <h1 className="sentence">{fairnessWords(fair, v.variants.length, nameOf)}</h1>
        <Problem>{failed}</Problem>
        {v.variants.length > 6 && <PredictedRanking view={v} studies={studies} areaBasis={settings.areaBasis} />}
        <Differences view={v} fair={fair} factors={factors} nameOf={nameOf} />
        {v.variants.length <= 6 && <PredictedRanking view={v} studies={studies} areaBasis={settings.areaBasis} />}
      </div>
      <aside
        className="grid min-w-0 grid-cols-1 content-start gap-4"
        aria-label="The question and where the winner will run"
      >
        <Question key={`${head.name}-${head.question}`} id={head.id} name={head.name} question={head.question} />
        <Factors
          factors={ask.factors}
          varying={fair.varying.map((x) => x.aspect)}
          onChange={(next) => changeAsk({ factors: next })}
        />
        <fieldset>
          <Head id="held" title="Held equal" status={busy ? "keeping …" : ""} />
          <p className="flex flex-wrap gap-x-3 gap-y-0.5 pt-1 text-[13px]" role="group" aria-labelledby="held">
            {ASPECTS.map((a) => (
              <label
                key={a}
                className={`flex items-center gap-1 ${fair.heldBroken.includes(a) ? "font-semibold text-doubt" : ""}`}
              >
                <input
                  type="checkbox"
                  checked={ask.heldEqual.includes(a)}
                  onChange={(e) =>
                    changeAsk({
                      heldEqual: e.target.checked ? [...ask.heldEqual, a] : ask.heldEqual.filter((x) => x !== a),
                    })
                  }
                />
                {ASPECT_WORDS[a]}
                {fair.heldBroken.includes(a) ? ", but differs" : ""}
              </label>
            ))}
          </p>
          <p className="side mt-1">
            Flow per area is held equal by the operating point:{" "}
            {quantityText(settings.operatingPoint.flowPerArea, "massFlowPerArea", { system, figures: 2 })} for all.
          </p>
        </fieldset>
        <Difference
          settings={settings}
          reference={studies.find((s) => s?.prediction)?.prediction ?? null}
          onChange={change}
        />
        <Use settings={settings} onChange={change} />
      </aside>
    </div>
  );
}

function Question({ id, name: name0, question: question0 }: { id: number; name: string; question: string }) {
  const [name, setName] = useState(name0);
  const [question, setQuestion] = useState(question0);
  const { busy, act } = useAct();
  const keep = () => {
    if (name !== name0 || question !== question0) act(() => changeQuestion(id, { name, question }));
  };
  return (
    <section>
      <Head title="Question" status={busy ? "keeping …" : ""} />
      <TextField
        label="What do you want to know?"
        place="mt-1 block"
        rows={2}
        maxLength={500}
        value={question}
        onBlur={keep}
        onChange={setQuestion}
      />
      <TextField
        label="Name of the experiment"
        place="mt-1 block"
        maxLength={120}
        value={name}
        onBlur={keep}
        onChange={setName}
      />
    </section>
  );
}

type FactorList = ExperimentSettings["ask"]["factors"];

/** What is under test: a name, and the aspects of the build that are moved with it on purpose. Levels are what the variants are. */
function Factors({
  factors,
  varying,
  onChange,
}: {
  factors: FactorList;
  varying: readonly Aspect[];
  onChange: (factors: FactorList) => void;
}) {
  const [name, setName] = useState("");
  const [aspect, setAspect] = useState<Aspect>(
    varying.find((a) => !factors.some((f) => f.aspects.includes(a))) ?? "coating",
  );
  return (
    <section>
      <Head title="Factors under test" />
      <ul>
        {factors.map((f, i) => (
          <li key={i} className="border-b border-hair py-1 text-[13.5px]">
            <span className="flex items-baseline gap-2">
              <b className="flex-1 font-[650]">{f.name}</b>
              <Button
                kind="plain"
                onClick={() => onChange(factors.filter((_, k) => k !== i))}
                aria-label={`Remove factor ${f.name}`}
              >
                remove
              </Button>
            </span>
            <span className="flex flex-wrap gap-x-2">
              {f.aspects.map((a) => (
                <button
                  key={a}
                  type="button"
                  className="min-h-6 text-ink-2 underline decoration-dotted"
                  title="Take it out of this factor"
                  onClick={() =>
                    onChange(factors.map((x, k) => (k === i ? { ...x, aspects: x.aspects.filter((y) => y !== a) } : x)))
                  }
                >
                  {ASPECT_WORDS[a]}
                </button>
              ))}
              <select
                aria-label={`Add an aspect to ${f.name}`}
                className="min-h-6 border border-rule bg-sheet text-[12.5px]"
                value=""
                onChange={(e) =>
                  e.target.value &&
                  onChange(
                    factors.map((x, k) => (k === i ? { ...x, aspects: [...x.aspects, e.target.value as Aspect] } : x)),
                  )
                }
              >
                <option value="">and with it …</option>
                {ASPECTS.filter((a) => !f.aspects.includes(a)).map((a) => (
                  <option key={a} value={a}>
                    {ASPECT_WORDS[a]}
                  </option>
                ))}
              </select>
            </span>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex flex-wrap items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          onChange([...factors, { name: name.trim() || ASPECT_WORDS[aspect], aspects: [aspect] }]);
          setName("");
        }}
      >
        <Select
          label="Factor"
          value={aspect}
          options={ASPECTS.map((a) => [a, ASPECT_WORDS[a]] as const)}
          onChange={setAspect}
        />
        <TextField
          label="called"
          place="min-w-24 flex-1"
          maxLength={80}
          value={name}
          placeholder={ASPECT_WORDS[aspect]}
          onChange={setName}
        />
        <Button type="submit">Add</Button>
      </form>
    </section>
  );
}

/** The same from the page's packed data. */
export const AskStep = withView(Ask);
