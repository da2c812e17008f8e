"use client";

import Link from "next/link";
import { useState } from "react";
import type { ApplySettings } from "@/core/season/schema";
import { sunFrom, type Opening } from "@/core/mirror/geometry";
import { isUp, mirrorPlace, type Mirror } from "@/core/mirror/mirror";
import { SEASON_YEAR, standardOffset } from "@/core/season/weather";
import { sunPosition } from "@/core/sun/position";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { Select, Tick } from "@/ui/form/Select";
import { mirroredBox, triedMirrors } from "@/services/apply/seasonJob";
import { MonthPick } from "../MonthPick";
import { Adjustments } from "./Adjustments";
import { Now, Scrubbers } from "./Instant";
import { LensForm } from "./LensForm";
import { MirrorFigures } from "./MirrorFigures";
import { useMirrorYear } from "./useMirrorYear";
import { LightSpot, PlanView, SideView, type Tried } from "./views";
import { Button } from "@/ui/Button";

type Chosen = NonNullable<ApplySettings["mirror"]>;

/** A mirror at its place: where its light falls by hour and day, when to turn it, and what it is worth in heat. */
export function MirrorPart({
  view,
  settings,
  hours,
  change,
}: {
  view: ApplyView;
  settings: ApplySettings;
  hours: string | null;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const withMirrors = view.candidates.filter((c) => c.design.mirrors.length > 0);
  const own = withMirrors.find((c) => c.key === settings.mirror?.lane) ?? null;
  if (withMirrors.length === 0)
    return (
      <p>
        No variant has a mirror. Add one to a box in{" "}
        <Link className="underline" href={`/experiments/${view.experimentId}/build`}>
          Build
        </Link>
        , along any edge or standing free.
      </p>
    );
  const begin = (c: CandidateView) => {
    const plain = view.candidates.find((k) => k.design.mirrors.length === 0 && k.origins.length > 0) ?? c;
    change({
      mirror: {
        lane: c.key,
        box: plain.key,
        tried: {},
        joined: false,
        snow: [],
        toleranceDeg: 5,
        aboveK: 30,
        riseK: 20,
      },
    });
  };
  if (!settings.mirror || !own)
    return (
      <div className="flex flex-wrap gap-2">
        {withMirrors.map((c) => (
          <Button kind="main" key={c.key} onClick={() => begin(c)}>
            Mirror of {c.name}
          </Button>
        ))}
      </div>
    );
  return <Sheet {...{ view, settings, hours, change, own, withMirrors }} chosen={settings.mirror} />;
}

const DAY = 86400000;
const CHOSEN: Asked<Chosen>[] = [
  { key: "aboveK", label: "Heats above outside by", quantity: "temperatureDifference", min: 0, max: 120 },
  { key: "riseK", label: "Air may rise by", quantity: "temperatureDifference", min: 1, max: 100 },
  { key: "toleranceDeg", label: "Angle may lie off by", quantity: "angle", min: 1, max: 30 },
];

interface SheetParts {
  view: ApplyView;
  settings: ApplySettings;
  hours: string | null;
  change: (part: Partial<ApplySettings>) => void;
  own: CandidateView;
  chosen: Chosen;
  withMirrors: readonly CandidateView[];
}

function Sheet({ view, settings, hours, change, own, chosen, withMirrors }: SheetParts) {
  const mirrors = triedMirrors(own.design.mirrors, own.key, settings);
  const set = (part: Partial<Chosen>) => change({ mirror: { ...chosen, ...part } });
  const onTry = (id: string, part: Partial<Tried>) => {
    const m = mirrors.find((x) => x.id === id)!;
    set({ tried: { ...chosen.tried, [id]: { angle: m.angle, depthM: m.depthM, widthM: m.widthM, ...part } } });
  };
  const year = useMirrorYear(view, settings, hours, own, mirrors);
  const tried = Object.keys(chosen.tried).length > 0;
  const plane = settings.rows[0] ?? view.bench;
  return (
    <div className="grid min-w-0 grid-cols-1 gap-4">
      <Whose {...{ view, chosen, withMirrors, set, tried }} />
      <Scene {...{ view, own, mirrors, plane, onTry }} box={mirroredBox(view, own, settings)} />
      <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
        {mirrors.slice(0, 2).map((m, i) => (
          <QuantityFields<Tried> key={m.id} of={triedFields(m, i + 1)} value={m} set={(part) => onTry(m.id, part)} />
        ))}
        <QuantityFields of={CHOSEN} value={chosen} set={set} />
      </div>
      {(settings.rows[0]?.sideBySide ?? 1) > 1 && (
        <Tick
          label={`the ${settings.rows[0].sideBySide} boxes of the row touch, and one mirror runs along them all`}
          checked={chosen.joined}
          onChange={(joined) => set({ joined })}
        />
      )}
      <MonthPick label="Snow lies on it" months={chosen.snow} onChange={(snow) => set({ snow })} />
      <LensForm />
      {year.problem && <p className="font-semibold text-doubt">{year.problem}</p>}
      {year.view && year.of && (
        <>
          <MirrorFigures {...{ view, own, chosen, plane }} year={year.view} candidate={year.of} />
          {year.view.angles && (
            <Adjustments experimentId={view.experimentId} tried={tried} list={year.view.angles.list} />
          )}
        </>
      )}
      {!year.view && !year.problem && <p role="status">Working out the mirror’s year …</p>}
    </div>
  );
}

const triedFields = (m: Mirror, number: number): Asked<Tried>[] => [
  { key: "angle", label: `Angle of mirror ${number}`, quantity: "angle", min: m.stand === "free" ? 1 : 20, max: 179 },
  { key: "depthM", label: `Length of mirror ${number}`, quantity: "length", min: 0.05, max: 10 },
];

function Whose({
  view,
  chosen,
  withMirrors,
  set,
  tried,
}: Pick<SheetParts, "view" | "chosen" | "withMirrors"> & { set: (part: Partial<Chosen>) => void; tried: boolean }) {
  const named = (list: readonly CandidateView[]) => list.map((c) => [c.key, c.name] as const);
  return (
    <div className="flex flex-wrap items-end gap-3">
      <Select
        label="Mirror of"
        value={chosen.lane}
        options={named(withMirrors)}
        onChange={(lane) => set({ lane, tried: {} })}
      />
      <Select
        label="On the box of"
        value={chosen.box}
        options={named(view.candidates.filter((c) => c.origins.length > 0))}
        onChange={(box) => set({ box })}
      />
      {tried && <Button onClick={() => set({ tried: {} })}>As drawn again</Button>}
    </div>
  );
}

/** Box, mirrors and sun to scale at an instant of one's choice. */
function Scene({
  view,
  own,
  mirrors,
  plane,
  box,
  onTry,
}: {
  view: ApplyView;
  own: CandidateView;
  box: Opening;
  mirrors: readonly Mirror[];
  plane: { tilt: number; azimuth: number };
  onTry: (id: string, tried: Partial<Tried>) => void;
}) {
  const [day, setDay] = useState(
    () => Math.floor((Date.now() - Date.UTC(new Date().getUTCFullYear(), 0, 1)) / DAY) % 365,
  );
  const [minute, setMinute] = useState(12 * 60);
  const { site } = view;
  const atMs = Date.UTC(SEASON_YEAR, 0, 1) - standardOffset(site.zone) + day * DAY + minute * 60000;
  const position = sunPosition(atMs, site);
  const date = new Date(Date.UTC(SEASON_YEAR, 0, 1 + day));
  const up = mirrors.filter((m) => isUp(m, date.getUTCMonth() + 1, date.getUTCDate()));
  const drawn = {
    box,
    plane,
    sun: position.altitude > 0 ? sunFrom(plane, position) : null,
    mirrors: up.map((mirror) => ({ mirror, place: mirrorPlace(box, plane, mirror) })),
  };
  return (
    <>
      <div className="grid grid-cols-1 gap-3 md:grid-cols-[minmax(0,1.5fr)_minmax(0,0.68fr)_minmax(0,1.2fr)]">
        <SideView drawn={drawn} onTry={onTry} />
        <LightSpot drawn={drawn} />
        <div>
          <PlanView drawn={drawn} onTry={onTry} />
          <Now {...{ drawn, position, atMs, own, site, plane }} />
        </div>
      </div>
      <Scrubbers {...{ day, minute, setDay, setMinute, date }} />
    </>
  );
}
