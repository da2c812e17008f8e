import type { Design } from "@/core/collector/design";
import { designFromOutline } from "@/core/collector/outline";
import { ASSUMABLE, type Assumed } from "@/core/analysis/setup";
import { sameFluid } from "@/core/fluids/fluid";
import { EVERY_LANE } from "@/core/log/channel";
import type { ColumnUse } from "@/core/log/logData";
import { standardSettings } from "@/core/experiment/standardSettings";
import type { ExperimentHead } from "@/core/experiment/types";
import type { StoredLaneSetup } from "@/core/experiment/schema/run";
import type { ImportRequest } from "@/services/import/importRequest";
import {
  clockOf,
  flowKind,
  instantOf,
  knownLetters,
  liveSpanMs,
  mappedLanes,
  oneInlet,
  siteFigures,
  swapInstant,
  usedColumns,
  type FileDraft,
  type ImportDraft,
} from "./draft";
import { flowOf, WIDE } from "./laneDraft";

const fileRequest = ({ inspection, settings, clock, live }: FileDraft): ImportRequest["files"] =>
  settings ? [{ fileId: inspection.file.id, settings, clock, live: live && { streamId: live.streamId } }] : [];

/** The request the server gets. Instruments stay with their place on the bench, so a swap of lanes swaps them too. */
export function buildRequest(draft: ImportDraft, heads: readonly ExperimentHead[]): ImportRequest {
  const letters = mappedLanes(draft);
  const existing = draft.target === "new" ? undefined : heads.find((h) => h.id === draft.target);
  const fresh = letters.filter((l) => !knownLetters(existing).includes(l));
  return {
    target: existing
      ? { kind: "existing", experimentId: existing.id }
      : {
          kind: "new",
          name: draft.name.trim(),
          question: draft.question.trim(),
          site:
            draft.siteId === "new"
              ? { kind: "new", ...siteFigures(draft), name: draft.site.name.trim() }
              : { kind: "known", id: draft.siteId ?? 0 },
          settings: standardSettings(draft.lanes[letters[0]]?.fluid.kind ?? "air"),
        },
    newLanes: fresh.map((letter) => {
      const lane = draft.lanes[letter];
      const original = lane.copyOf && fresh.includes(lane.copyOf) ? draft.lanes[lane.copyOf] : lane;
      const grossAreaM2 = original.grossAreaM2 ?? NaN;
      return {
        letter,
        variantKey: original === lane ? letter : lane.copyOf!,
        variantName: original.name.trim(),
        design: designFromOutline({ ...original, grossAreaM2 }),
        asBuilt: { grossAreaM2 },
      };
    }),
    run: {
      note: draft.note.trim(),
      setup: {
        plane: { tilt: draft.tilt ?? NaN, azimuth: draft.azimuth ?? NaN },
        sunSensor: {
          key: "sun",
          limitShare: draft.sunLimitShare ?? WIDE.sunShare,
          mounting: draft.sunMounting ?? "plane",
        },
        ...beforeTheBoxes(draft),
        ...outsideProbe(draft, letters),
        pressurePa: null,
        relativeHumidity: 0.5,
        assumed: assumedOf(draft, letters),
      },
      lanes: letters.map((letter) => ({
        letter,
        station: draft.lanes[letter].station,
        setup: laneSetup(draft, letter, [...(existing?.lanes ?? []), ...(existing?.drawn ?? [])]),
      })),
      swaps: (draft.swaps ?? []).map((s) => ({
        atMs: swapInstant(s, clockOf(draft)) ?? NaN,
        lanes: s.lanes,
      })),
    },
    files: draft.files.flatMap(fileRequest),
    ...liveSpanMs(draft),
    key: draft.key,
    accepted: draft.accepted,
    replaces: draft.again && existing?.id === draft.again.experimentId ? draft.again.runId : null,
  };
}

/** Only a horizontal sensor's light asks for the ground. */
function beforeTheBoxes({ sunMounting, groundReflectance, snow }: ImportDraft) {
  if (sunMounting !== "horizontal") return { groundReflectance: null, snow: null };
  return { groundReflectance: groundReflectance ?? null, snow: snow?.from && snow.until ? snow : null };
}

/** The outside probe; where the inlets' one is it too, it is off by the same there. */
function outsideProbe(draft: ImportDraft, [first]: readonly string[]) {
  const inletOutside = Boolean(draft.inletOutside) && oneInlet(draft);
  const [key, stated] = inletOutside ? ["all-in", draft.lanes[first]?.probeLimitK] : ["ambient", draft.ambientLimitK];
  return { ambientProbe: { key, limitK: stated ?? WIDE.outsideK, resolutionK: 0.1 }, inletOutside };
}

function laneSetup(
  draft: ImportDraft,
  letter: string,
  known: readonly { letter: string; design: Design }[],
): StoredLaneSetup {
  const lane = draft.lanes[letter];
  const drawn = known.find((k) => k.letter === letter)?.design.fluid;
  const shared = (kind: ColumnUse["kind"]) =>
    usedColumns(draft).some((c) => c.kind === kind && c.lane === EVERY_LANE) &&
    !usedColumns(draft).some((c) => c.kind === kind && c.lane === letter);
  const probe = (end: "in" | "out", kind: ColumnUse["kind"]) => ({
    // One probe that serves every lane is off by the same in all of them.
    key: shared(kind) ? `all-${end}` : `${lane.station}-${end}`,
    limitK: lane.probeLimitK ?? WIDE.probeK,
    resolutionK: 0.1,
  });
  return {
    // A new lane is drawn with its fluid; a known one may hold another this time.
    fluid: drawn && !sameFluid(drawn, lane.fluid) ? lane.fluid : null,
    areaLimitShare: lane.areaLimitShare ?? WIDE.areaShare,
    inletProbe: probe("in", "inlet"),
    outletProbe: probe("out", "outlet"),
    flow: flowOf(lane, flowKind(draft, letter), (at) => instantOf(at, clockOf(draft)) ?? NaN),
    fanShare: lane.fanShare,
    fanPowerW: lane.fanPowerW,
    timeConstantS: lane.timeConstantS,
    b0: lane.b0,
    b0Across: lane.b0Across,
    b0Limit: lane.b0Limit ?? WIDE.b0,
  };
}

/** What nobody stated and is therefore taken widely. */
function assumedOf(draft: ImportDraft, letters: readonly string[]): Assumed[] {
  const lanes = letters.map((l) => ({ lane: draft.lanes[l], flow: flowKind(draft, l) }));
  const bySpeed = lanes.filter(
    ({ lane, flow }) => flow === "speed" || (flow === "constant" && lane.statedAs === "speed"),
  );
  const sun = usedColumns(draft).some((c) => c.kind === "irradiance");
  const outside = usedColumns(draft).some((c) => c.kind === "ambient");
  const left: Record<Assumed, boolean> = {
    probes: lanes.some(({ lane }) => lane.probeLimitK === null),
    flowMeter: lanes.some(({ lane, flow }) => (flow === "tank" ? lane.tankLimitShare : lane.meterLimitShare) === null),
    profile: bySpeed.some(({ lane }) => lane.profileFactor === null),
    duct: bySpeed.some(({ lane }) => lane.ductLimitM === null),
    sunSensor: sun && draft.sunLimitShare === null,
    outside: outside && draft.ambientLimitK === null,
    area: lanes.some(({ lane }) => lane.areaLimitShare === null),
  };
  return ASSUMABLE.filter((what) => left[what]);
}
