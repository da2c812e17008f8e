import { opening } from "../../core/collector/design";
import type { ApplySettings } from "../../core/season/schema";
import type { SeasonJob } from "../../core/season/job";
import { boxesOf, seasonMirrors, type Mirrored } from "../../core/season/scenario";
import { usualSpecificHeat } from "../../core/judge/flowWay";
import { triedMirror } from "../../core/experiment/tried";
import type { Opening } from "../../core/mirror/geometry";
import { reflectanceOf, type Mirror } from "../../core/mirror/mirror";
import { onMeanBasis } from "../../core/season/parts";
import type { Candidate } from "../../core/season/season";
import type { Origin } from "../../core/season/origins";
import type { ApplyView } from "./applyView";
import type { CandidateView } from "./candidates";

/** What is known before the year is. */
type Known = Omit<ApplyView, "year">;

/** The way a variant's curve is taken: as chosen, else the best that all built variants beside it have, else its own best. */
export function originOf(c: CandidateView, view: Known, settings: ApplySettings): Candidate | null {
  const by = (origin: Origin | null | undefined) => c.origins.find((o) => o.origin === origin);
  return by(settings.origins[c.key]) ?? (c.built ? by(likeGround(view, settings)) : null) ?? c.origins[0] ?? null;
}

/** The best way that every built variant of the table is known by; null where there is none. */
function likeGround(view: Known, { left }: ApplySettings): Origin | null {
  const built = view.candidates.filter((c) => c.built && c.origins.length && !left.includes(c.key));
  return ORIGIN_ORDER.find((o) => built.every((c) => c.origins.some((k) => k.origin === o))) ?? null;
}

export const TYPED = "typed";

/** Curve typed in by hand, for a collector that is not of this experiment. */
export function typedCandidate(view: Known, typed: NonNullable<ApplySettings["typed"]>): Candidate | null {
  const flowWK = typed.massFlowKgS * usualSpecificHeat(view.fluid, 25);
  const numbers = { eta0: typed.eta0, a1: typed.a1, a2: typed.a2 };
  const curve = typed.basis === "mean" ? numbers : onMeanBasis(numbers, flowWK / typed.areaM2);
  if (!curve) return null;
  return {
    key: TYPED,
    name: typed.name,
    origin: "typed",
    curve,
    covariance: null,
    areaM2: typed.areaM2,
    b0: typed.b0,
    capacityJM2K: typed.capacityJM2K,
    flowWK,
    powerW: typed.powerW,
    limitC: null,
    xRange: null,
  };
}

/** Everything the worker needs, candidates in order of rank. */
export function jobOf(view: Known, settings: ApplySettings, hours: string | null): SeasonJob {
  const rank = (key: string) => {
    const own = view.candidates.find((c) => c.key === key);
    const at = Math.min(...(own?.letters ?? [key]).map((l) => view.ranking.indexOf(l)).filter((i) => i >= 0));
    return Number.isFinite(at) ? at : 99;
  };
  const taken = view.candidates.filter((c) => !settings.left.includes(c.key));
  const candidates = taken
    .flatMap((c) => originOf(c, view, settings) ?? [])
    .sort((a, b) => rank(a.key) - rank(b.key) || a.key.localeCompare(b.key));
  const mirrored: Record<string, Mirrored> = {};
  const snow = settings.mirror?.snow ?? [];
  const mirrorsOf = ({ key, design }: CandidateView, on: CandidateView["design"] = design): Mirrored => ({
    box: rowOpening(on, settings),
    mirrors: seasonMirrors(
      triedMirrors(design.mirrors, key, settings),
      (m) => reflectanceOf(m, design.materials),
      snow,
    ),
  });
  for (const c of taken) if (c.design.mirrors.length) mirrored[c.key] = mirrorsOf(c);
  const lent = withMirror(view, settings);
  if (lent && candidates.some((c) => c.key === settings.mirror!.box)) {
    const own = candidates.find((c) => c.key === settings.mirror!.box)!;
    candidates.splice(candidates.indexOf(own) + 1, 0, { ...own, key: `${own.key}+`, name: `${own.name}, mirrored` });
    mirrored[`${own.key}+`] = mirrorsOf(lent, taken.find((c) => c.key === own.key)!.design);
  }
  const typed = settings.typed && typedCandidate(view, settings.typed);
  if (typed) candidates.push(typed);
  const { panels, money } = settings;
  const first = candidates[0];
  const area = first ? first.areaM2 * boxesOf(settings) : 0;
  const cost = first && money ? costOf(view, settings, first.key) : null;
  return {
    settings,
    site: view.site,
    fluid: view.fluid,
    climate: view.climate,
    hours,
    candidates,
    mirrored,
    panels:
      panels && area > 0
        ? [
            { key: "panels", name: "panels, same area", areaM2: area },
            ...(cost !== null && cost > panels.other
              ? [{ key: "panels-money", name: "panels, same money", areaM2: (cost - panels.other) / panels.costPerM2 }]
              : []),
          ]
        : [],
  };
}

/** Mirrors as drawn, but for what is tried on this page. */
export const triedMirrors = (mirrors: readonly Mirror[], key: string, { mirror }: ApplySettings): Mirror[] =>
  mirrors.map((m) => (mirror?.lane === key ? triedMirror(m, mirror)! : m));

/** One box's opening, or that of a whole row whose boxes touch under one mirror. */
function rowOpening(design: CandidateView["design"], { mirror, rows }: ApplySettings): Opening {
  const box = opening(design);
  return mirror?.joined ? { ...box, widthM: box.widthM * (rows[0]?.sideBySide ?? 1) } : box;
}

/** The opening that mirrors stand at: of the box they are put on. */
export const mirroredBox = (view: Known, own: CandidateView, settings: ApplySettings): Opening =>
  rowOpening((view.candidates.find((c) => c.key === settings.mirror?.box) ?? own).design, settings);

/** The variant whose mirrors are put on another's box. */
export const withMirror = (view: Known, { mirror }: ApplySettings): CandidateView | null => {
  const own = mirror && mirror.lane !== mirror.box ? view.candidates.find((c) => c.key === mirror.lane) : null;
  return own && own.design.mirrors.length ? own : null;
};

/** All boxes of a candidate with what else is needed; null where no bill is known. */
export function costOf(view: Known, settings: ApplySettings, key: string): number | null {
  const { money } = settings;
  if (!money) return null;
  if (key === TYPED) return settings.typed ? settings.typed.cost * boxesOf(settings) + money.other : null;
  const own = view.candidates.find((c) => c.key === key.replace("+", ""));
  if (!own || own.first === null || own.repeat === null) return null;
  if (own.currency !== money.currency) return null;
  const boxes = boxesOf(settings);
  const lent = key.endsWith("+") ? withMirror(view, settings) : null;
  // The mirrors' share of another variant's bill: what it costs more than the same box without.
  const mirrors = lent && lent.repeat !== null ? Math.max(0, lent.repeat - own.repeat) * boxes : 0;
  const each = money.unit === "first" ? own.first + (boxes - 1) * own.repeat : own.repeat * boxes;
  return each + mirrors + money.other;
}

export const ORIGIN_ORDER: readonly Origin[] = ["curve", "condition", "prediction"];
