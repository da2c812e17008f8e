import type { Knex } from "knex";
import { looserLimits, type Looser } from "../../core/analysis/looser";
import { arrangedSetups, fluidKindOf } from "../../core/experiment/arrange";
import { analyse } from "../analysis/analyse";

/** What each limit of an experiment's rules would give if it alone were looser. null when there is no such experiment. */
export async function looser(knex: Knex, experimentId: number): Promise<Looser[] | null> {
  const analysis = await analyse(knex, experimentId);
  if (!analysis) return null;
  const { experiment, assembled } = analysis;
  const inputs = experiment.runs.flatMap((run) => {
    const series = assembled.get(run.id);
    return series && !run.setup.byHand ? [{ arrangements: arrangedSetups(experiment, run), assembled: series }] : [];
  });
  return looserLimits(inputs, experiment.settings, fluidKindOf(experiment));
}
