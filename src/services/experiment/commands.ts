import type { Knex } from "knex";
import { z } from "zod";
import { fluidKindOf } from "../../core/experiment/arrange";
import { BROKEN_KINDS } from "../../core/experiment/records";
import {
  nameSchema as name,
  newExperimentSchema,
  questionSchema as question,
} from "../../core/experiment/schema/asked";
import { instantSchema } from "../../core/experiment/schema/bounds";
import { lineSchema } from "../../core/text/line";
import { foldLayers } from "../../core/experiment/layers";
import { standsAfter } from "../../core/experiment/swaps";
import { LAYER_DETAILS } from "../../core/experiment/schema/layer";
import { experimentSettingsSchema } from "../../core/experiment/schema/settings";
import { standardSettings } from "../../core/experiment/standardSettings";
import { PLAIN_DETAIL } from "../../core/experiment/schema/site";
import { backyardRules, standardRules } from "../../core/log/windows";
import {
  findExperiment,
  copyName,
  insertExperiment,
  markExperimentDeleted,
  patchSettings,
  renameExperiment,
} from "../../data/experiment/experiments";
import { insertVariant, listVariants } from "../../data/variant/variants";
import { recordChange } from "../../data/journal";
import { doubtKey, reachOf, stopsVerdict } from "../../core/judge/doubt/dismissed";
import { analyse } from "../analysis/analyse";
import { putBrokenAway } from "../../data/broken";
import { addLayer, findLayers, markLayersRemoved, runsOfLayers, switchLayer } from "../../data/run/layers";
import { markRunDeleted } from "../../data/run/runs";
import { insertSite } from "../../data/site/sites";
import { command, done, GONE, refused } from "../web/command";
import { transact } from "../../data/transact";
import { issuesWords } from "../../words/refusal";

const id = z.number().int().positive();
const reason = lineSchema().min(1, "say why").max(300);
const touchesExperiment = (experiment: number) => ({ experiment });

/** A new experiment with its question and nothing else: the path begins at Ask. */
export const startExperiment = command({
  input: z.tuple([newExperimentSchema]),
  run: (knex, input) =>
    transact(knex, async (trx) => {
      const siteId =
        typeof input.site === "number" ? input.site : await insertSite(trx, { ...input.site, detail: PLAIN_DETAIL });
      const made = await insertExperiment(trx, {
        name: input.name,
        question: input.question,
        siteId,
        lanes: [],
        settings: standardSettings(input.fluid),
      });
      return done({ id: made });
    }),
  touches: () => "everything",
});

const parts = z.record(z.string(), z.unknown());

/**
 * Changes parts of the settings; the rest stays as it is in the database, whatever the page knew of it. With what a part was changed
 * from, only what differs in it is changed: several changes on their way at once keep each other.
 */
export const changeSettings = command({
  input: z.tuple([id, parts, parts.optional()]),
  async run(knex, experimentId, change, before) {
    const unknown = Object.keys(change).find((key) => !(key in experimentSettingsSchema.shape));
    if (unknown) return refused(`There is no setting “${unknown}”.`);
    return patched(knex, experimentId, change, before);
  },
  touches: touchesExperiment,
});

/** Says why a doubt does not count, or takes that back (reason null). What stops the verdict is mended, never dismissed. */
export const dismissDoubt = command({
  input: z.tuple([id, z.string().min(1).max(160), lineSchema().max(400).nullable()]),
  async run(knex, experimentId, key, reason) {
    const analysis = await analyse(knex, experimentId);
    if (!analysis) return GONE;
    const { [key]: before, ...others } = analysis.experiment.settings.dismissed;
    if (reason === null) return before ? patched(knex, experimentId, { dismissed: others }) : done();
    const doubt = analysis.judgement.doubts.find((d) => doubtKey(d) === key);
    if (!doubt) return refused("This doubt is no longer there. Reload the page.");
    if (stopsVerdict(doubt))
      return refused(
        "Figures that cannot be right are not dismissed: mend them, or say at the run that they are right.",
      );
    const own = { reason, atMs: Date.now(), reach: reachOf(doubt) };
    return patched(knex, experimentId, { dismissed: { ...others, [key]: own } });
  },
  touches: touchesExperiment,
});

async function patched(
  knex: Knex,
  experimentId: number,
  change: Record<string, unknown>,
  before?: Record<string, unknown>,
) {
  const kept = await patchSettings(knex, experimentId, change, before);
  if (kept === null) return GONE;
  return kept.ok ? done() : refused(issuesWords(kept.issues));
}

export const changeQuestion = command({
  input: z.tuple([id, z.object({ name, question })]),
  run: async (knex, experimentId, change) => ((await renameExperiment(knex, experimentId, change)) ? done() : GONE),
  touches: touchesExperiment,
});

export const chooseRules = command({
  input: z.tuple([id, z.enum(["standard", "backyard"])]),
  async run(knex, experimentId, choice) {
    const experiment = await findExperiment(knex, experimentId);
    if (!experiment) return GONE;
    const fluid = fluidKindOf(experiment);
    const rules = choice === "standard" ? standardRules(fluid) : backyardRules(fluid);
    return (await patchSettings(knex, experimentId, { rules })) ? done() : GONE;
  },
  touches: touchesExperiment,
});

/** Sets a span of a run aside, with its reason. */
export const setSpanAside = command({
  input: z.tuple([id, LAYER_DETAILS.exclusion.extend({ runId: id, reason })]),
  async run(knex, experimentId, { runId, reason: why, ...detail }) {
    if (!(detail.toMs > detail.fromMs)) return refused("The end must come after the beginning.");
    const layer = await addLayer(knex, experimentId, runId, { kind: "exclusion", detail, reason: why });
    return layer === null ? GONE : done({ id: layer });
  },
  touches: touchesExperiment,
});

/** Corrects a logger's clock over one run. @param offsetMs how much it was slow */
export const shiftClock = command({
  input: z.tuple([id, LAYER_DETAILS.clock.extend({ runId: id, reason })]),
  async run(knex, experimentId, { runId, reason: why, ...detail }) {
    if (detail.offsetMs === 0)
      return refused("A shift of nothing changes nothing. Say by how much the clock was slow.");
    const layer = await addLayer(knex, experimentId, runId, { kind: "clock", detail, reason: why });
    return layer === null ? GONE : done({ id: layer });
  },
  touches: touchesExperiment,
});

/** Two lanes changed places in the middle of a run: from that instant each is measured with the other place's instruments. */
export const swapLanes = command({
  input: z.tuple([
    id,
    z.object({
      runId: id,
      atMs: instantSchema,
      lanes: z.tuple([z.string().regex(/^[A-H]$/), z.string().regex(/^[A-H]$/)]),
      reason,
    }),
  ]),
  async run(knex, experimentId, { runId, atMs, lanes, reason: why }) {
    const run = (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId);
    if (!run) return GONE;
    if (run.setup.byHand)
      return refused("Rows read by hand name the box they were read at. After a swap begin a second sheet.");
    const [first, last] = [
      Math.min(...run.streams.map((s) => s.startMs)),
      Math.max(...run.streams.map((s) => s.endMs)),
    ];
    if (!(atMs > first && atMs < last)) return refused("The swap must lie inside the run. Nothing was changed.");
    if (lanes[0] === lanes[1]) return refused("A box does not change places with itself.");
    const stands = standsAfter(foldLayers(run.layers).arrangements, { atMs, lanes });
    if (!stands) return refused(`${lanes.join(" and ")} do not both stand on the bench then. Nothing was changed.`);
    const layer = await addLayer(knex, experimentId, runId, {
      kind: "assignment",
      detail: { mounts: [], stands },
      reason: why,
    });
    return layer === null ? GONE : done({ id: layer });
  },
  touches: touchesExperiment,
});

/** Layers that a run cannot be without: who stood where, as imported. */
const FIRST = "This is how the run was imported: without it nobody knows who stood where. Lay another over it instead.";

/** Takes layers off the list, or puts them back. */
export const removeLayers = command({
  input: z.tuple([id, z.array(id).min(1).max(400), z.boolean()]),
  async run(knex, experimentId, layerIds, removed) {
    if (removed && (await holdsFirst(knex, layerIds))) return refused(FIRST);
    return (await markLayersRemoved(knex, experimentId, layerIds, removed)) ? done() : GONE;
  },
  touches: touchesExperiment,
});

/** Switches a layer off or on; it keeps its place in the list. */
export const turnLayer = command({
  input: z.tuple([id, id, z.boolean()]),
  async run(knex, experimentId, layerId, on) {
    if (!on && (await holdsFirst(knex, [layerId]))) return refused(FIRST);
    return (await switchLayer(knex, experimentId, layerId, on)) ? done() : GONE;
  },
  touches: touchesExperiment,
});

async function holdsFirst(knex: Parameters<typeof findLayers>[0], layerIds: readonly number[]): Promise<boolean> {
  const layers = await findLayers(knex, await runsOfLayers(knex, layerIds));
  return [...layers.values()].some((own) => {
    const first = own.find((l) => l.kind === "assignment");
    return first !== undefined && layerIds.includes(first.id);
  });
}

/** Puts a stored part away that cannot be read, so that the rest is shown; what it held stands in the journal. */
export const putAway = command({
  input: z.tuple([z.enum(BROKEN_KINDS), z.union([id, z.string().min(1).max(190)])]),
  run: async (knex, kind, partId) =>
    (await putBrokenAway(knex, kind, partId)) ? done() : refused("It is no longer there, or can be read again."),
  touches: () => "everything",
});

export const deleteRun = command({
  input: z.tuple([id, id, z.boolean()]),
  run: async (knex, experimentId, runId, deleted) =>
    (await markRunDeleted(knex, experimentId, runId, deleted)) ? done() : GONE,
  touches: touchesExperiment,
});

export const deleteExperiment = command({
  input: z.tuple([id, z.boolean()]),
  run: async (knex, experimentId, deleted) =>
    (await markExperimentDeleted(knex, experimentId, deleted)) ? done() : GONE,
  touches: () => "everything",
});

/** Several at once, as the demo world is; one that is gone already stays so. */
export const deleteExperiments = command({
  input: z.tuple([z.array(id).min(1).max(200), z.boolean()]),
  async run(knex, ids, deleted) {
    for (const experimentId of ids) await markExperimentDeleted(knex, experimentId, deleted);
    return done();
  },
  touches: () => "everything",
});

/** The same question, site, settings and drawings once more. What was built, measured, dismissed or saved stays with the first. */
export const duplicateExperiment = command({
  input: z.tuple([id]),
  run: (knex, experimentId) =>
    transact(knex, async (trx) => {
      const from = await findExperiment(trx, experimentId);
      if (!from) return GONE;
      const copied = await copyName(trx, from.name);
      const made = await insertExperiment(trx, {
        name: copied,
        question: from.question,
        siteId: from.site.id,
        settings: { ...from.settings, dismissed: {} },
        lanes: [],
      });
      for (const { name, design } of await listVariants(trx, experimentId))
        await insertVariant(trx, made, name, design);
      await recordChange(trx, made, "experiment duplicated", { from: from.name });
      return done({ id: made, name: copied });
    }),
  touches: () => "everything",
});
