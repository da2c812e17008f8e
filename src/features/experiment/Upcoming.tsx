import Link from "next/link";
import type { ExperimentView } from "@/services/views";
import { Badge, badgeWords } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import type { StepName } from "./steps";

const WILL: Record<string, { will: string[]; meanwhile: string }> = {
  ask: { will: ["name the factor under test and its levels, and what is held equal", "compare the variants’ specifications and say what is confounded", "hold where the winner will run, and the smallest difference that matters"], meanwhile: "The question stands above; the operating point and the smallest difference that matters are set in Judge." },
  build: { will: ["draw a variant from its layers to scale and predict its curve, outlet temperature and pressure loss as you edit", "check every layer’s worst temperature against its limit", "make the bill of materials and the build checklist"], meanwhile: "Variants below come from the import; their badges are drawn from them." },
  prove: { will: ["keep a register of your instruments and their health", "calibrate probes against each other in one bath and apply it to a run as a layer", "turn duct traverses and bucket tests into flow with uncertainty"], meanwhile: "Until then every instrument counts with the accuracy you stated at import, and every figure’s working shows what that costs." },
  plan: { will: ["give dated test windows from the site’s sun and horizon", "make a balanced swap schedule and say how many days settle the question", "write the calendar file and the bench checklist"], meanwhile: "The sun strip already shows today’s usable window for the clear sky." },
  apply: { will: ["work out month by month what the winner is worth at your place", "show how much heat a room or store can really use", "compare the cost per kilowatt-hour with other heat"], meanwhile: "The ranking at your operating point is in Judge." },
};

/** A step that is not built yet says what it will do and what to do until then. It shows nothing it does not have. */
export function Upcoming({ step, view }: { step: StepName; view: ExperimentView }) {
  const text = WILL[step];
  const { head } = view;
  return (
    <div className="grid gap-8 lg:grid-cols-2">
      <section>
        <h1 className="sentence">{step[0].toUpperCase() + step.slice(1)} is not built yet.</h1>
        <p className="mt-2 font-semibold">It will</p>
        <ul className="ml-5 list-disc">{text.will.map((w) => <li key={w}>{w}</li>)}</ul>
        <p className="mt-3">{text.meanwhile}</p>
        <p className="mt-3"><Link className="btn" href={`/experiments/${head.id}/judge`}>Go to Judge</Link></p>
      </section>
      {(step === "build" || step === "ask") && (
        <section>
          <div className="head"><h2>Variants on the bench</h2></div>
          <ul>
            {head.lanes.map((l) => (
              <li key={l.letter} className="flex items-center gap-3 border-b border-hair py-2">
                <LaneMark lane={l.letter} /> <Badge specification={l.specification} lane={l.letter} scale={1.5} />
                <span><b className="font-semibold">{l.variant}</b>, specimen {l.specimenNumber}<span className="side block">{badgeWords(l.specification)}; {l.specification.coating || "coating not given"}; gross area {l.specification.grossAreaM2} m²</span></span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
