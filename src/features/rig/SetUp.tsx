"use client";

import { Play } from "lucide-react";
import Link from "next/link";
import { useState } from "react";
import type { RigPage } from "@/services/rig/rig";
import { SCENARIOS } from "@/services/rig/scenarios";
import { LaneMark } from "@/ui/LaneMark";
import { useAct } from "@/ui/useAct";
import { setUpRig } from "./actions";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

type ScenarioName = keyof typeof SCENARIOS;
const MOST_BOXES = 8;

/** Which drawn boxes stand on the bench, and what they are put through. */
export function SetUp({ experiments, open }: Pick<RigPage, "experiments" | "open">) {
  const { busy, act } = useAct();
  const [asked, setAsked] = useState(false);
  const [id, setId] = useState(experiments[0]?.id ?? 0);
  const [left, setLeft] = useState<Record<string, boolean>>({});
  const [scenario, setScenario] = useState<ScenarioName>("clear");
  const experiment = experiments.find((e) => e.id === id) ?? experiments[0];
  const setUp = (ends: number[]) =>
    act(
      async () => setUpRig({ experimentId: experiment.id, letters, scenario, speed: 60, ends }),
      () => setAsked(false),
    );
  if (!experiment) return <NothingDrawn />;
  const offered = experiment.variants.map((v) => v.letter);
  const letters = offered.filter((l) => !left[`${experiment.id}${l}`]).slice(0, MOST_BOXES);
  return (
    <section aria-labelledby="setup" className="mt-6">
      <Head id="setup" title="Put boxes on the bench" side="any drawn variant; what stood there before is taken off" />
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <Select
          label="From the experiment"
          value={experiment.id}
          options={experiments.map((e) => [e.id, e.name] as const)}
          onChange={setId}
        />
        <ScenarioChoice scenario={scenario} onScenario={setScenario} />
      </div>
      <Boxes
        variants={experiment.variants}
        chosen={letters}
        onChoose={(letter, on) => setLeft({ ...left, [`${experiment.id}${letter}`]: !on })}
      />
      {asked && open.length > 0 ? (
        <EndFirst
          open={open}
          busy={busy}
          onEnd={() => setUp(open.map((r) => r.runId))}
          onLeave={() => setAsked(false)}
        />
      ) : (
        <Button
          kind="main"
          className="mt-2"
          disabled={busy || letters.length === 0}
          onClick={() => (open.length ? setAsked(true) : setUp([]))}
        >
          <Play size={14} aria-hidden /> Set up and run at 60×
        </Button>
      )}
    </section>
  );
}

/** Runs that take what the bench sends would take the new boxes' readings for their own: a person ends them, or leaves the bench as it is. */
const EndFirst = ({
  open,
  busy,
  onEnd,
  onLeave,
}: {
  open: RigPage["open"];
  busy: boolean;
  onEnd: () => void;
  onLeave: () => void;
}) => (
  <div role="alert" className="mt-2 border-l-4 border-doubt-line bg-doubt-fill/40 px-3 py-2">
    <p className="font-semibold text-doubt">
      {open.map((r) => `Run ${r.number} of “${r.experiment}”`).join(" and ")} {open.length === 1 ? "takes" : "take"} the
      readings of this bench. With other collectors on it {open.length === 1 ? "that run" : "those runs"} must end.
      Saved readings stay.
    </p>
    <p className="mt-2 flex flex-wrap gap-3">
      <Button kind="main" disabled={busy} onClick={onEnd}>
        End {open.length === 1 ? "the run" : `${open.length} runs`} and set up
      </Button>
      <Button disabled={busy} onClick={onLeave}>
        Leave the bench as it is
      </Button>
    </p>
  </div>
);

const Boxes = ({
  variants,
  chosen,
  onChoose,
}: {
  variants: RigPage["experiments"][number]["variants"];
  chosen: readonly string[];
  onChoose: (letter: string, on: boolean) => void;
}) => (
  <fieldset className="mt-2 flex flex-wrap gap-x-6 gap-y-1">
    <legend className="text-[13px] font-semibold">Boxes</legend>
    {variants.map((v) => (
      <label key={v.letter} className="flex min-h-8 items-center gap-1">
        <input
          type="checkbox"
          className="accent-[var(--action)]"
          checked={chosen.includes(v.letter)}
          onChange={(e) => onChoose(v.letter, e.target.checked)}
        />
        <LaneMark lane={v.letter} /> {v.variant}
      </label>
    ))}
  </fieldset>
);

const ScenarioChoice = ({
  scenario,
  onScenario,
}: {
  scenario: ScenarioName;
  onScenario: (scenario: ScenarioName) => void;
}) => (
  <>
    <Select
      label="Scenario"
      value={scenario}
      options={SCENARIO_NAMES.map((key) => [key, SCENARIOS[key].name] as const)}
      onChange={onScenario}
    />
    <p className="side">{SCENARIOS[scenario].about}</p>
  </>
);

const SCENARIO_NAMES = Object.keys(SCENARIOS) as ScenarioName[];

const NothingDrawn = () => (
  <p className="mt-4">
    No experiment has a drawn box yet.{" "}
    <Link className="underline" href="/new">
      Ask a question and draw one
    </Link>
    .
  </p>
);
