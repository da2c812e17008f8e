"use client";

import { isLiquid, type Fluid } from "@/core/fluids/fluid";
import type { Design, Drive, Thermostat } from "@/core/collector/design";
import { DUCT_FAN, SMALL_PUMP } from "@/core/collector/presets";
import type { FanPoint } from "@/core/flow/fan";
import type { Material } from "@/core/materials/material";
import { FluidField } from "@/ui/FluidField";
import { QuantityField } from "@/ui/QuantityField";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";
import { MaterialSelect } from "./LayerEditor";
import { MirrorsEditor } from "./MirrorsEditor";
import { Button } from "@/ui/Button";
import type { Mirror } from "@/core/mirror/mirror";

const DRIVE_WORDS: Record<Drive["kind"], string> = {
  fan: "mains fan",
  pump: "pump",
  photovoltaicFan: "fan on its own panel",
  natural: "natural draught",
};
const GRID = "grid grid-cols-2 gap-x-3 gap-y-2 pt-1 md:grid-cols-4 xl:grid-cols-5";

const OUTSIDE: Asked<Design>[] = [
  { key: "grossWidthM", label: "Outside width", quantity: "length", min: 0.05, max: 10 },
  { key: "grossLengthM", label: "Outside length", quantity: "length", min: 0.05, max: 20, hint: "along the flow" },
];
const FRAME: Asked<Design["frame"]>[] = [
  { key: "thicknessM", label: "Frame thickness", quantity: "smallLength", min: 0.0005, max: 0.2 },
];
const PORTS: Asked<Design["ports"]>[] = [
  { key: "diameterM", label: "Port diameter", quantity: "smallLength", min: 0.004, max: 0.6 },
  { key: "count", label: "Ports at each end", quantity: "number", min: 1, max: 50, whole: true },
];
const MANIFOLD: Asked<Design>[] = [
  {
    key: "manifoldLoss",
    label: "Manifold and bends",
    quantity: "number",
    min: 0,
    max: 100,
    hint: "loss factor on the port’s velocity",
  },
];
const DRAUGHT: Asked<Extract<Drive, { kind: "natural" }>>[] = [
  { key: "heightM", label: "Height of the draught", quantity: "length", min: 0.05, max: 30 },
];
type PanelFan = Extract<Drive, { kind: "photovoltaicFan" }>;
const PANEL: Asked<PanelFan>[] = [{ key: "panelW", label: "Panel’s power", quantity: "power", min: 0.1, max: 2000 }];
const FAN: Asked<Fan>[] = [{ key: "powerW", label: "Fan takes", quantity: "power", min: 0.1, max: 100000 }];
const PUMP: Asked<Fan>[] = [{ ...FAN[0], label: "Pump takes" }];
type Fan = Exclude<Drive, { kind: "natural" }>["fan"];

/** A duct fan moves no liquid and a pump no air: with the fluid comes a usual one of its own, and its curve. */
function driveFor(fluid: Fluid, { fluid: before, drive }: Pick<Design, "fluid" | "drive">): Drive {
  if (drive.kind === "natural" || isLiquid(fluid) === isLiquid(before)) return drive;
  return isLiquid(fluid) ? { kind: "pump", fan: SMALL_PUMP } : { kind: "fan", fan: DUCT_FAN };
}

/** What is not a layer: outside dimensions, ports, what moves the fluid, mirror, how boxes are joined. */
export function BoxEditor({
  design,
  materials,
  onChange,
}: {
  design: Design;
  materials: ReadonlyMap<string, Material>;
  onChange: (design: Design) => void;
}) {
  const set = (change: Partial<Design>) => onChange({ ...design, sketch: false, ...change });
  const { drive, mirrors, thermostat } = design;
  const liquid = design.fluid.kind !== "air";
  const setDrive = (kind: Drive["kind"]) => {
    const usual = liquid ? SMALL_PUMP : DUCT_FAN;
    const fan = "fan" in drive ? drive.fan : usual;
    if (kind === "natural") return set({ drive: { kind, heightM: 2.5 } });
    set({ drive: kind === "photovoltaicFan" ? { kind, fan, panelW: 20 } : { kind, fan } });
  };
  const natural = liquid ? "thermosiphon" : "natural draught";
  return (
    <div className="grid gap-3">
      <fieldset>
        <legend className="text-[13.5px] font-[650]">Box</legend>
        <div className={GRID}>
          <QuantityFields of={OUTSIDE} value={design} set={set} />
          <MaterialSelect
            label="Frame"
            value={design.frame.material}
            groups={["board", "sheet"]}
            materials={materials}
            own={design.materials}
            onChange={(m) => set({ frame: { ...design.frame, material: m.key } })}
          />
          <QuantityFields
            of={FRAME}
            value={design.frame}
            set={(part) => set({ frame: { ...design.frame, ...part } })}
          />
          <FluidField fluid={design.fluid} onChange={(fluid) => set({ fluid, drive: driveFor(fluid, design) })} />
        </div>
      </fieldset>
      <StreamFields {...{ liquid, design, set, drive, natural, setDrive, thermostat }} />
      <RestFields {...{ design, set, liquid, materials, mirrors }} />
    </div>
  );
}

function StreamFields({
  liquid,
  design,
  set,
  drive,
  natural,
  setDrive,
  thermostat,
}: {
  liquid: boolean;
  design: Design;
  set: (change: Partial<Design>) => void;
  drive: Drive;
  natural: "thermosiphon" | "natural draught";
  setDrive: (kind: Drive["kind"]) => void;
  thermostat: Thermostat | null;
}) {
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Ports and what moves the {liquid ? "liquid" : "air"}</legend>
      <div className={GRID}>
        <QuantityFields of={PORTS} value={design.ports} set={(part) => set({ ports: { ...design.ports, ...part } })} />
        <QuantityFields of={MANIFOLD} value={design} set={set} />
        <Select
          label="Moved by"
          value={drive.kind}
          options={(liquid ? (["pump", "natural"] as const) : (["fan", "photovoltaicFan", "natural"] as const)).map(
            (k) => [k, k === "natural" ? natural : DRIVE_WORDS[k]] as const,
          )}
          onChange={setDrive}
        />
        {drive.kind === "natural" && (
          <QuantityFields of={DRAUGHT} value={drive} set={(part) => set({ drive: { ...drive, ...part } })} />
        )}
        {drive.kind === "photovoltaicFan" && <PanelFields drive={drive} onChange={(next) => set({ drive: next })} />}
        {drive.kind !== "natural" && (
          <QuantityFields
            of={liquid ? PUMP : FAN}
            value={drive.fan}
            set={(part) => set({ drive: { ...drive, fan: { ...drive.fan, ...part } } })}
          />
        )}
      </div>
      {drive.kind !== "natural" && (
        <FanCurve
          points={drive.fan.points}
          onChange={(points) => set({ drive: { ...drive, fan: { ...drive.fan, points } } })}
        />
      )}
      {drive.kind !== "natural" && drive.kind !== "photovoltaicFan" && (
        <ThermostatFields thermostat={thermostat} onChange={(next) => set({ thermostat: next })} />
      )}
      {!liquid && drive.kind === "fan" && (
        <p className="side mt-1">
          Mains fans and damp do not go together: earth leakage protection, and connection by a licensed electrician.
        </p>
      )}
    </fieldset>
  );
}

function PanelFields({ drive, onChange }: { drive: PanelFan; onChange: (drive: PanelFan) => void }) {
  return (
    <>
      <QuantityFields of={PANEL} value={drive} set={(part) => onChange({ ...drive, ...part })} />
      <Tick
        label="behind a converter that keeps the panel at its best"
        checked={drive.tracked === true}
        onChange={(tracked) => onChange({ ...drive, tracked: tracked || undefined })}
      />
    </>
  );
}

function RestFields({
  design,
  set,
  liquid,
  materials,
  mirrors,
}: {
  design: Design;
  set: (change: Partial<Design>) => void;
  liquid: boolean;
  materials: ReadonlyMap<string, Material>;
  mirrors: readonly Mirror[];
}) {
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Mirror and arrangement</legend>
      <div className={GRID}>
        <QuantityField
          label="Lens, times the sun"
          quantity="number"
          si={design.concentration}
          min={0.1}
          max={20}
          hint="1 for none"
          onChange={(concentration) => set({ concentration })}
        />
        <QuantityField
          label="Boxes in series"
          quantity="number"
          si={design.inSeries}
          min={1}
          max={20}
          onChange={(v) => set({ inSeries: Math.round(v) })}
        />
        <QuantityField
          label="Rows in parallel"
          quantity="number"
          si={design.inParallel}
          min={1}
          max={50}
          onChange={(v) => set({ inParallel: Math.round(v) })}
        />
        {!liquid && (
          <label className="flex items-end gap-2 pb-1.5 text-[13px] font-semibold">
            <input
              type="checkbox"
              className="size-4"
              checked={design.exchanger !== null}
              onChange={(e) => set({ exchanger: e.target.checked ? 0.7 : null })}
            />{" "}
            air-to-water exchanger
          </label>
        )}
        {design.exchanger !== null && (
          <QuantityField
            label="Its effectiveness"
            quantity="fraction"
            si={design.exchanger}
            min={0.05}
            max={1}
            onChange={(exchanger) => set({ exchanger })}
          />
        )}
      </div>
      <MirrorsEditor {...{ design, materials, set }} />
      {(mirrors.length > 0 || design.concentration > 1) && (
        <p className="side mt-1">
          Here mirrors count for the heat limits; their gain by hour and season stands in Apply. A lens multiplies the
          sun at your point.
        </p>
      )}
    </fieldset>
  );
}

const SWITCHES = {
  none: "none: somebody lets it run",
  pair: "thermostat, its pair set by you",
  snap: "snap disc, fixed pair",
};
const PAIR: Asked<Thermostat>[] = [
  { key: "onC", label: "On above", quantity: "temperature", min: -20, max: 200 },
  {
    key: "offC",
    label: "Off below",
    quantity: "temperature",
    min: -20,
    max: 200,
    hint: "below where it starts, or it never stops",
  },
];

/** What starts and stops the fan by the box's own warmth. */
function ThermostatFields({
  thermostat,
  onChange,
}: {
  thermostat: Design["thermostat"];
  onChange: (thermostat: Design["thermostat"]) => void;
}) {
  return (
    <div className={GRID}>
      <Select
        label="Switch"
        value={thermostat?.kind ?? "none"}
        options={optionsOf(SWITCHES)}
        onChange={(kind) =>
          onChange(kind === "none" ? null : { kind, onC: thermostat?.onC ?? 40, offC: thermostat?.offC ?? 30 })
        }
      />
      {thermostat && (
        <QuantityFields of={PAIR} value={thermostat} set={(part) => onChange({ ...thermostat, ...part })} />
      )}
    </div>
  );
}

/** A fan curve as points; two are its rating: pressure against a closed end, and free delivery. */
function FanCurve({ points, onChange }: { points: FanPoint[]; onChange: (points: FanPoint[]) => void }) {
  const set = (i: number, change: Partial<FanPoint>) => {
    const next = points.map((p, k) => (k === i ? { ...p, ...change } : p));
    onChange([...next].sort((a, b) => a.flowM3PerS - b.flowM3PerS));
  };
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-[13px] font-semibold text-action">
        Fan or pump curve, {points.length} points
      </summary>
      <p className="side">Flow against pressure at full speed, from the maker’s sheet; two points are its rating.</p>
      <ul className="grid gap-1">
        {points.map((p, i) => (
          <li key={i} className="flex items-end gap-2">
            <QuantityField
              label={`Flow ${i + 1}`}
              quantity="volumeFlow"
              si={p.flowM3PerS}
              min={0}
              max={100}
              onChange={(flowM3PerS) => set(i, { flowM3PerS })}
            />
            <QuantityField
              label={`Pressure ${i + 1}`}
              quantity="pressureLoss"
              si={p.pressurePa}
              min={0}
              max={1e7}
              onChange={(pressurePa) => set(i, { pressurePa })}
            />
            <Button
              kind="plain"
              disabled={points.length < 3}
              onClick={() => onChange(points.filter((_, k) => k !== i))}
            >
              Remove point {i + 1}
            </Button>
          </li>
        ))}
      </ul>
      <Button
        className="mt-1"
        onClick={() => {
          const [a, b] = points.slice(-2);
          onChange([
            ...points.slice(0, -1),
            { flowM3PerS: (a.flowM3PerS + b.flowM3PerS) / 2, pressurePa: (a.pressurePa + b.pressurePa) / 2 },
            b,
          ]);
        }}
      >
        Add a point
      </Button>
    </details>
  );
}
