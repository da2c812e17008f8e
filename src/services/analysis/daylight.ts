import type { AssembledRun } from "../../core/analysis/assemble";
import type { Reduction } from "../../core/analysis/reduce";
import type { Experiment } from "../../core/experiment/types";
import { byDaylight, leavesOpen, ledByDaylight } from "../../core/judge/byDaylight";
import type { Expected } from "../../core/judge/expected";
import type { Judgement } from "../../core/judge/judge";
import { fittedByDaylight, foundByDaylight } from "../../core/method/find/dynamic";
import type { FinderInput, MethodLane } from "../../core/method/find/finding";
import { methodSpans } from "../../core/method/find/span";
import { fingerprint } from "./fingerprint";
import { store } from "./store";

/** A lane's fit holds its five-minute rows and a weight of each for every coefficient. */
const FIT_BYTES = 1_500_000;

interface Read {
  experiment: Experiment;
  reduction: Reduction;
  assembled: ReadonlyMap<number, AssembledRun>;
  expected: ReadonlyMap<string, Expected>;
}

/**
 * The judgement with all daylight's answer at its head where steady windows leave the question open and it can be told. The fit through all
 * daylight takes seconds for a week of lanes; it is made only then, and once whatever the operating point.
 *
 * @param combined fingerprint of the reduction
 */
export async function withDaylight(judgement: Judgement, combined: string, read: Read): Promise<Judgement> {
  if (!leavesOpen(judgement)) return judgement;
  const { experiment, reduction, expected } = read;
  const { basis, stationShare, operatingPoint, smallestDifference, dismissed } = experiment.settings;
  const lanes = reduction.lanes.map(({ lane, variant }): MethodLane => ({
    lane,
    variant,
    tank: null,
    pipeM: null,
    drawn: expected.get(lane) ?? null,
  }));
  const input = (): FinderInput => ({ spans: spansOf(read), lanes, basis, stationShare, operatingPoint });
  const fitted = await store.get(
    fingerprint([combined, "daylight", basis, stationShare, lanes]),
    async () => fittedByDaylight(input()),
    () => FIT_BYTES * lanes.length,
  );
  const found = foundByDaylight(fitted, { spans: [], lanes, basis, stationShare, operatingPoint });
  return ledByDaylight(judgement, byDaylight(judgement, reduction.lanes, found, { smallestDifference, dismissed }));
}

const spansOf = ({ experiment, reduction, assembled }: Read) =>
  reduction.runs.flatMap((reduced) => {
    const run = experiment.runs.find((r) => String(r.number) === reduced.run);
    const series = run && assembled.get(run.id);
    return series ? methodSpans({ arrangements: reduced.arrangements, assembled: series }, []) : [];
  });
