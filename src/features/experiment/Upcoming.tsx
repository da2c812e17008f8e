import Link from "next/link";
import type { StepName } from "./steps";

const WILL: Record<string, { will: string[]; meanwhile: string }> = {
  apply: {
    will: [
      "work out month by month what the winner is worth at your place",
      "show how much heat a room or store can really use",
      "compare the cost per kilowatt-hour with other heat",
    ],
    meanwhile: "The ranking at your operating point is in Judge.",
  },
};

/** A step that is not built yet says what it will do and what to do until then. It shows nothing it does not have. */
export function Upcoming({ step, experimentId }: { step: StepName; experimentId: number }) {
  const text = WILL[step];
  return (
    <section className="max-w-prose">
      <h1 className="sentence">{step[0].toUpperCase() + step.slice(1)} is not built yet.</h1>
      <p className="mt-2 font-semibold">It will</p>
      <ul className="ml-5 list-disc">
        {text.will.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      <p className="mt-3">{text.meanwhile}</p>
      <p className="mt-3">
        <Link className="btn" href={`/experiments/${experimentId}/judge`}>
          Go to Judge
        </Link>
      </p>
    </section>
  );
}
