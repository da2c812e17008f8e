import { incidenceParts, sunPosition } from "../../sun/position";
import { clearSkyInPlane } from "../../sun/clearSky";
import { coverageFactor } from "../../uncertainty/coverage";
import { withSource } from "../../uncertainty/uncertain";
import { fitDynamic } from "./dynamicFit";
import { stretchesOf, type Stretch } from "./dynamicRows";
import { eachLane, type Finder, type FinderInput, type Finding, type GapReason } from "./finding";
import { robustFit } from "./robust";
import { minuteMs, type MethodSpan } from "./span";

/** Range of 1/cos θ − 1 without which the factor is a guess: 0 to about 48°. */
const LEAST_RANGE = 0.5;
/** Beyond this the beam grazes: the law no longer holds (DB 5.10 to 60°). */
const STEEPEST = 1.1;
const RAD = Math.PI / 180;

/**
 * How the light's part falls with the angle, from all clear daylight: b0 of K = 1 − b0(1/cos θ − 1) beside η0, losses and storage, along the
 * box and across it where both were swept (transverse and longitudinal, ISO 9806:2017).
 */
export const offNormal: Finder = (input) => eachLane(input, ({ lane }) => factorsOf(input, lane));

function factorsOf({ spans, basis }: FinderInput, lane: string): Finding[] | GapReason {
  if (!spans.some((s) => s.minutes.irradiance)) return "noSun";
  const parts = spans.flatMap((span) => stretchesOf(span, lane, basis).map((stretch) => ({ span, stretch })));
  const fitted = fitDynamic(parts.map((p) => p.stretch))?.with([]);
  if (!fitted) return "fewHours";
  const beams = parts.flatMap(({ span, stretch }) => clearBeam(span, stretch, fitted.tauS));
  const rows = beams.filter((b) => b.along < STEEPEST && b.across < STEEPEST);
  const range = (of: (b: Beam) => number) => spread(rows.map(of));
  if (
    rows.length < 30 ||
    Math.max(
      range((b) => b.along),
      range((b) => b.across),
      range((b) => b.whole),
    ) < LEAST_RANGE
  )
    return "angleNarrow";
  const both = range((b) => b.along) >= LEAST_RANGE && range((b) => b.across) >= LEAST_RANGE;
  const angles = both ? [(b: Beam) => b.along, (b: Beam) => b.across] : [(b: Beam) => b.whole];
  const fitWith = (more: (r: Beam) => number[]) =>
    robustFit(
      {
        x: rows.map((r) => [r.light, ...angles.map((a) => -r.light * a(r)), ...more(r)]),
        y: rows.map((r) => r.heat),
        block: rows.map((r) => r.block),
      },
      fitted.lags,
    );
  // With the inlet always at outside the loss follows the heat itself and cannot be told from it: it then is a part of η0.
  const loss = angles.length + 1;
  const fit = [(r: Beam) => [r.over, r.drift], (r: Beam) => [r.over], () => []]
    .map((more) => fitWith((r) => more(r).map((v) => -v)))
    .find((f) => f && f.beta[0] > 0 && (f.beta[loss] ?? 0) >= 0);
  if (!fit) return "alike";
  const days = new Set(rows.map((r) => r.day)).size;
  if (days < 2) return "oneDay";
  return angles
    .map((_, j): Finding => {
      const b0 = fit.beta[j + 1] / fit.beta[0];
      const standard = Math.hypot(fit.standard[j + 1], b0 * fit.standard[0]) / fit.beta[0];
      return {
        name: j === 0 ? "b0" : "b0Across",
        lane,
        figure: withSource(b0, standard, {
          kind: "methodScatter",
          method: "offNormal",
          figure: `${lane}/b0/${j}`,
          owner: lane,
          dof: fit.dof,
        }),
        quantity: "number",
        hours: rows.length / 12,
        days,
      };
    })
    .filter((f) => Math.abs(f.figure.value) + coverageFactor(fit.dof) < 50);
}

interface Beam {
  day: string;
  block: number;
  heat: number;
  light: number;
  over: number;
  drift: number;
  /** 1/cos θ − 1 of all light, by the whole angle and by its parts along and across the box. */
  whole: number;
  along: number;
  across: number;
}

const spread = (v: readonly number[]): number => (v.length ? Math.max(...v) - Math.min(...v) : 0);
/** A clear sky, W/m² against the model: anything less is cloud and says nothing of the beam. */
const CLEAR = 0.8;

/** Five-minute means under a clear sky, the light without any incidence factor, everything through the box's lag. */
function clearBeam(span: MethodSpan, s: Stretch, tauS: number): Beam[] {
  const { setup } = span;
  const keep = tauS > 0 ? Math.exp(-s.stepS / tauS) : 0;
  const first = Math.round((s.startMs - span.minutes.startMs) / span.minutes.stepMs);
  const width = Math.max(1, Math.round(300 / s.stepS));
  const skip = Math.ceil(Math.max(900, 4 * tauS) / s.stepS);
  const out: Beam[] = [];
  let [light, over] = [NaN, NaN];
  let sum = [0, 0, 0, 0];
  for (let i = 0; i < s.heat.length; i++) {
    const G = span.minutes.irradiance![first + i];
    const lagged = (state: number, v: number) => (Number.isNaN(state) ? v : keep * state + (1 - keep) * v);
    light = lagged(light, G);
    over = lagged(over, s.over[i]);
    if (i < skip) continue;
    const now = [s.heat[i], light, over, tauS > 0 ? (s.over[i] - over) / tauS : 0];
    sum = sum.map((v, j) => v + now[j] / width);
    if ((i - skip) % width !== width - 1) continue;
    const ms = minuteMs(span, first + i - (width >> 1));
    const sun = sunPosition(ms, setup.place);
    const sky = clearSkyInPlane(ms, setup.place, setup.plane, setup.linkeTurbidity);
    const beam = sky.total > 0 ? sky.beam / sky.total : 0;
    const p = incidenceParts(sun, setup.plane);
    const over1 = (degrees: number) => 1 / Math.max(0.05, Math.cos(degrees * RAD)) - 1;
    const [heat, lightMean, overMean, drift] = sum;
    if (lightMean > CLEAR * sky.total && lightMean > 100)
      out.push({
        day: s.day,
        block: Math.floor(s.startMs / 60_000),
        heat,
        light: lightMean,
        over: overMean,
        drift,
        // Diffuse light comes as if from 60°, from all sides alike (DB 5.4): 1/cos θ − 1 is 1 there.
        whole: beam * over1(wholeAngle(p)) + 1 - beam,
        along: beam * over1(p.along) + (1 - beam) / 2,
        across: beam * over1(p.across) + (1 - beam) / 2,
      });
    sum = [0, 0, 0, 0];
  }
  return out;
}

/** The angle whose parts along and across are these: tan²θ = tan²θ_L + tan²θ_T. */
const wholeAngle = ({ along, across }: { along: number; across: number }): number =>
  Math.atan(Math.hypot(Math.tan(along * RAD), Math.tan(across * RAD))) / RAD;
