"use client";

import { useState } from "react";
import { toast } from "@/ui/toast";
import { designAreas, layerMasses } from "@/core/collector/content";
import { quantityText } from "@/core/quantity/format";
import type { QuantityId } from "@/core/quantity/quantities";
import type { AsBuilt } from "@/core/experiment/schema/design";
import type { Specimen, Variant } from "@/core/experiment/records";
import { LaneMark } from "@/ui/LaneMark";
import { parseQuantity } from "@/core/quantity/parseQuantity";
import { usePreferences } from "@/ui/preferences";
import { parsedProblem } from "@/words/quantity";
import { buildSpecimen, measureSpecimen, takeSpecimenAway } from "@/features/experiment/variantActions";
import { useAct } from "@/ui/useAct";
import { NotKept } from "@/ui/NotKept";
import { useChanged } from "@/ui/useChanged";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

function builtWords(built: number, name: string): string {
  if (built === 0) return `${name} is not built yet.`;
  if (built > 1) return `${built} specimens of ${name}: an identical pair shows how well the bench repeats.`;
  return `One ${name.toLowerCase()} is built. A second makes an identical pair, which shows how well the bench repeats.`;
}

/** The physical copies of a variant: what was really built, to which revision, and how far from the plan. */
export function SpecimensPanel({ experimentId, variant }: { experimentId: number; variant: Variant }) {
  const { busy, act } = useAct();
  const { specimens } = variant;
  const build = () =>
    act(
      () => buildSpecimen(experimentId, variant.id),
      (result) => {
        toast.success(
          result.letter
            ? `Specimen ${result.number} stands as lane ${result.letter}.`
            : `Specimen ${result.number} is kept; all eight lanes are taken, so it has none.`,
        );
      },
    );
  return (
    <div>
      <h1 className="sentence">{builtWords(specimens.length, variant.name)}</h1>
      <Head title="Specimens" side="what differs from the plan; an empty field means as planned" className="mt-2">
        <span className="more no-print">
          <Button kind="main" disabled={busy} onClick={build}>
            {specimens.length ? "Add an identical one" : "It is built: add a specimen"}
          </Button>
        </span>
      </Head>
      <ul>
        {specimens.map((s) => (
          <OneSpecimen key={s.id} experimentId={experimentId} variant={variant} specimen={s} />
        ))}
      </ul>
      <p className="side mt-2">
        Heat is divided by the measured area where there is one. Two specimens of one variant should agree within a
        percent in area and weight.
      </p>
    </div>
  );
}

const FIELDS: {
  name: Exclude<keyof AsBuilt, "note">;
  label: string;
  quantity: QuantityId;
  planned: (v: Variant) => number;
}[] = [
  { name: "grossAreaM2", label: "Gross area", quantity: "area", planned: (v) => designAreas(v.design).gross },
  { name: "apertureAreaM2", label: "Aperture area", quantity: "area", planned: (v) => designAreas(v.design).aperture },
  { name: "absorberAreaM2", label: "Absorber area", quantity: "area", planned: (v) => designAreas(v.design).absorber },
  {
    name: "massKg",
    label: "Weight, empty",
    quantity: "mass",
    planned: (v) => layerMasses(v.design).reduce((a, b) => a + b, 0),
  },
  {
    name: "channelM",
    label: "Channel depth",
    quantity: "smallLength",
    planned: (v) => v.design.layers.find((l) => l.kind === "channel")?.thicknessM ?? Number.NaN,
  },
];

const measured = ({ asBuilt, revision }: Specimen) => ({ asBuilt, revision });

function OneSpecimen({
  experimentId,
  variant,
  specimen,
}: {
  experimentId: number;
  variant: Variant;
  specimen: Specimen;
}) {
  const { busy, act } = useAct();
  const {
    shown: s,
    error,
    busy: keeping,
    change,
  } = useChanged(specimen, (next, before) =>
    measureSpecimen(experimentId, specimen.id, measured(next), measured(before)),
  );
  const [note, setNote] = useState(s.asBuilt.note);
  const keep = (part: Partial<AsBuilt>) => change((now) => ({ ...now, asBuilt: { ...now.asBuilt, ...part } }));
  const remove = () => act(() => takeSpecimenAway(experimentId, s.id));
  return (
    <li className="border-b border-ink py-2" data-specimen={s.number}>
      <div className="flex flex-wrap items-center gap-3">
        <b className="font-[650]">Specimen {s.number}</b>{" "}
        {s.letter ? <LaneMark lane={s.letter} /> : <span className="side">no lane</span>}
        <label className="text-[13px]">
          built to{" "}
          <select
            className="border border-rule bg-sheet px-1"
            value={s.revision}
            onChange={(e) => {
              const revision = Number(e.target.value);
              change((now) => ({ ...now, revision }));
            }}
          >
            {variant.revisions.map((r) => (
              <option key={r.revision} value={r.revision}>
                revision {r.revision}
                {r.note ? `, ${r.note}` : ""}
              </option>
            ))}
          </select>
        </label>
        {s.revision !== variant.revision && (
          <span className="text-[13px] text-doubt">the drawing has moved on to revision {variant.revision}</span>
        )}
        {s.runs > 0 ? (
          <span className="side">
            in {s.runs} run{s.runs > 1 ? "s" : ""}
          </span>
        ) : (
          <Button kind="plain" disabled={busy} onClick={remove}>
            remove
          </Button>
        )}
      </div>
      <NotKept error={error} busy={keeping} />
      <div className="mt-1 grid grid-cols-2 gap-3 md:grid-cols-5">
        {FIELDS.filter((f) => Number.isFinite(f.planned(variant))).map((f) => (
          <Measured
            key={f.name}
            label={f.label}
            quantity={f.quantity}
            value={s.asBuilt[f.name]}
            planned={f.planned(variant)}
            onChange={(v) => keep({ [f.name]: v })}
          />
        ))}
      </div>
      <TextField
        label="Other deviations"
        place="mt-1 block"
        maxLength={500}
        value={note}
        onBlur={() => note !== s.asBuilt.note && keep({ note })}
        onChange={setNote}
      />
    </li>
  );
}

/** A measured value beside the planned one; empty is as planned. */
function Measured({
  label,
  quantity,
  value,
  planned,
  onChange,
}: {
  label: string;
  quantity: QuantityId;
  value: number | null;
  planned: number;
  onChange: (v: number | null) => void;
}) {
  const { system } = usePreferences();
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const shown = value === null ? "" : quantityText(value, quantity, { system, figures: 4 });
  const take = (measured: number | null) => {
    setText(null);
    setProblem(null);
    if (measured !== value) onChange(measured);
  };
  const commit = () => {
    if (text === null) return;
    if (!text.trim()) return take(null);
    const parsed = parseQuantity(text, quantity, { defaultUnit: system });
    if (!parsed.ok) return setProblem(parsedProblem(parsed));
    if (!(parsed.si > 0)) return setProblem("More than 0.");
    if (parsed.si > planned * 5 || parsed.si < planned / 5)
      return setProblem(
        `More than five times off the plan (${quantityText(planned, quantity, { system, figures: 3 })}). Check the unit, or change the drawing.`,
      );
    take(parsed.si);
  };
  const off = value === null ? null : (value / planned - 1) * 100;
  return (
    <label className="text-[13px] font-semibold">
      {label}
      <input
        className="field mt-0.5"
        aria-invalid={problem !== null}
        placeholder={quantityText(planned, quantity, { system, figures: 3 })}
        value={text ?? shown}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => e.key === "Enter" && commit()}
      />
      {problem ? (
        <span role="alert" className="text-[12.5px] font-semibold text-danger">
          {problem}
        </span>
      ) : (
        <span className="side font-normal">
          {off === null ? "as planned" : `${off >= 0 ? "+" : "−"}${Math.abs(off).toFixed(1)} % from plan`}
        </span>
      )}
    </label>
  );
}
