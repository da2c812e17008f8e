import type { ExperimentHead, Site, StoredRun } from "@/core/experiment/types";
import { fluidOf } from "@/core/fluids/fluid";
import { isZone } from "@/core/log/zone";
import { forgetHere, readKept, useBrowserDraft } from "@/ui/browserDraft";
import type { ReadAgain } from "@/services/page/pages";
import { IMPORT_STORE } from "@/ui/stores";
import { unsaidOfSite } from "@/words/site";
import { emptyDraft, flowKind, lanesFromRun, mappedLanes, newKey, siteFigures, type ImportDraft } from "./draft";
import { newLane } from "./laneDraft";

/** A run being read again has a draft of its own: what is typed for another import stays. */
const storeOf = (again: ReadAgain | null): string => (again ? `${IMPORT_STORE}-again-${again.run.id}` : IMPORT_STORE);

export const forgetDraft = ({ again }: ImportDraft): void => {
  forgetHere(again ? `${IMPORT_STORE}-again-${again.runId}` : IMPORT_STORE);
};

const LIQUID = { absorber: "tubeSheet", fluid: fluidOf("water") } as const;

/** Every mapped letter has a lane to fill in; what was typed for a letter is kept. */
export function withLanes(draft: ImportDraft): ImportDraft {
  const lanes = { ...draft.lanes };
  mappedLanes(draft).forEach((l, i) => {
    // What warms a tank carries no air.
    lanes[l] ??= { ...newLane(l, i + 1), ...(flowKind(draft, l) === "tank" ? LIQUID : {}) };
  });
  return { ...draft, lanes };
}

/** The draft for another experiment, with what its last run says of the bench. */
export function retarget(
  draft: ImportDraft,
  target: number | "new",
  heads: readonly ExperimentHead[],
  lastRuns: Record<number, StoredRun | undefined>,
): ImportDraft {
  if (target === "new") return { ...draft, target };
  const head = heads.find((h) => h.id === target)!;
  const run = lastRuns[target];
  return withLanes({
    ...draft,
    target,
    lanes: { ...draft.lanes, ...lanesFromRun(head, run) },
    ...(run
      ? {
          tilt: run.setup.plane.tilt,
          azimuth: run.setup.plane.azimuth,
          // What nobody stated then is not stated now.
          sunLimitShare: run.setup.assumed.includes("sunSensor") ? null : run.setup.sunSensor.limitShare,
          sunMounting: run.setup.sunSensor.mounting,
          ambientLimitK: run.setup.assumed.includes("outside") ? null : run.setup.ambientProbe.limitK,
        }
      : {}),
  });
}

/** The draft, kept in the browser so that a reload in the middle loses nothing. */
export function useDraft(
  sites: Site[],
  target: number | null,
  heads: ExperimentHead[],
  lastRuns: Record<number, StoredRun | undefined>,
  again: ReadAgain | null,
) {
  const store = storeOf(again);
  return useBrowserDraft<ImportDraft>(store, () => {
    const kept = keptDraft(store);
    if (again) return kept ?? draftAgain(again, heads, sites);
    const start = kept ?? emptyDraft(sites);
    const wanted = target !== null && heads.some((h) => h.id === target) ? target : start.target;
    const there = wanted === "new" || heads.some((h) => h.id === wanted);
    if (!there) return { ...start, target: "new" };
    return kept?.target === wanted ? kept : retarget(start, wanted, heads, lastRuns);
  });
}

/** A kept run as it was imported: all that was stated, with its files still to be looked at. */
function draftAgain({ experimentId, run }: ReadAgain, heads: ExperimentHead[], sites: Site[]): ImportDraft {
  const { groundReflectance, snow, inletOutside } = run.setup;
  return {
    ...retarget(emptyDraft(sites), experimentId, heads, { [experimentId]: run }),
    note: run.note,
    groundReflectance,
    snow: snow ?? undefined,
    inletOutside,
    again: { experimentId, runId: run.id, number: run.number },
  };
}

const keptDraft = (store: string): ImportDraft | null =>
  readKept(store, (value) => {
    const kept = value as ImportDraft | null;
    return kept && kept.files.length > 0 ? { ...kept, key: kept.key ?? newKey(), accepted: kept.accepted ?? [] } : null;
  });

/** The clock at the site a draft is for; undefined until it is said. */
export function zoneOf(
  draft: ImportDraft,
  heads: readonly ExperimentHead[],
  sites: readonly Site[],
): string | undefined {
  if (draft.target === "new" && draft.siteId === "new") return isZone(draft.site.zone) ? draft.site.zone : undefined;
  return siteOf(draft, heads, sites)?.zone;
}

/** The site a draft is for, known or being typed; undefined until it is said. */
export function siteOf(
  draft: ImportDraft,
  heads: readonly ExperimentHead[],
  sites: readonly Site[],
): Pick<Site, "latitude" | "longitude" | "altitudeM" | "zone"> | undefined {
  if (draft.target !== "new") return heads.find((h) => h.id === draft.target)?.site;
  if (draft.siteId !== "new") return sites.find((s) => s.id === draft.siteId);
  const site = siteFigures(draft);
  return unsaidOfSite({ ...site, name: "any" }) || !isZone(site.zone) ? undefined : site;
}
