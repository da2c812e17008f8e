"use client";

import dynamic from "next/dynamic";
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useMemo, useState } from "react";
import { toast } from "@/ui/toast";
import { LIBRARY } from "@/core/materials/library";
import type { Design } from "@/core/collector/design";
import type { Variant } from "@/core/experiment/records";
import type { ShownStudy, VariantsView } from "@/services/variant/variants";
import { Badge, badgeWords } from "@/ui/Badge";
import { LaneMark } from "@/ui/LaneMark";
import { changeName, createVariant, removeVariant } from "@/features/experiment/variantActions";
import { Builder } from "./Builder";
import { useStudies } from "@/features/experiment/useStudy";
import { useAct } from "@/ui/useAct";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";

// The board opens on the design; its other views come when asked for.
const BillPanel = dynamic(() => import("./BillPanel").then((m) => m.BillPanel));
const ChecklistPanel = dynamic(() => import("./ChecklistPanel").then((m) => m.ChecklistPanel));
const Compare = dynamic(() => import("./Compare").then((m) => m.Compare));
const Empty = dynamic(() => import("./Empty").then((m) => m.Empty));
const NewVariantForm = dynamic(() => import("./NewVariantForm").then((m) => m.NewVariantForm));
const SpecimensPanel = dynamic(() => import("./SpecimensPanel").then((m) => m.SpecimensPanel));

const VIEWS = [
  ["design", "Design"],
  ["compare", "Compare"],
  ["bill", "Materials and cost"],
  ["checklist", "Checklist"],
  ["specimens", "Specimens"],
] as const;
type View = (typeof VIEWS)[number][0];

/** Variants as designs: draw, compare, cost, build. Which variant and which view stand in the address, so that reload and Back keep them. */
export default function Build({ view, shown: given }: { view: VariantsView; shown: ShownStudy | null }) {
  const { experimentId, operating, lowestC, variants, ownMaterials } = view;
  const router = useRouter();
  const path = usePathname();
  const query = useSearchParams();
  const shown = (VIEWS.find(([v]) => v === query.get("view"))?.[0] ?? "design") as View;
  const variant = variants.find((v) => v.letter === query.get("v")) ?? variants[0];
  const reference =
    variants.find((v) => v.letter === query.get("with") && v !== variant) ??
    variants.find((v) => v !== variant) ??
    null;
  const library = useMemo(() => new Map([...LIBRARY, ...ownMaterials].map((m) => [m.key, m])), [ownMaterials]);
  // What the page brought of the design as last kept; the board begins with it instead of asking again.
  const known = given && variant?.id === given.variantId && variant.revision === given.revision ? given.study : null;
  const { studies, failed } = useStudies(
    variant ? [variant.design, ...(reference ? [reference.design] : [])] : [],
    operating,
    lowestC,
    known,
  );
  const { act } = useAct();
  const go = (change: Record<string, string>) => {
    const next = new URLSearchParams(query);
    for (const [k, v] of Object.entries(change)) next.set(k, v);
    router.push(`${path}?${next}`, { scroll: false });
  };
  const create = (name: string, design: Design, note: string) =>
    act(
      () => createVariant(experimentId, name, design, note),
      (result) => {
        go({ v: result.letter, view: "design" });
        toast.success(`${name} is variant ${result.letter}.`);
      },
    );

  if (!variant) return <Empty onCreate={create} />;
  return (
    <div>
      <Variants {...{ variants, variant, go, create }} />
      <Views {...{ shown, go, reference, variants, variant, experimentId }} />
      {failed && shown !== "design" && <Problem>{failed}</Problem>}
      {shown === "design" && (
        <Builder
          key={variant.id}
          experimentId={experimentId}
          variant={variant}
          reference={reference}
          referenceStudy={studies[1] ?? null}
          operating={operating}
          lowestC={lowestC}
          known={known}
          library={library}
        />
      )}
      {shown === "compare" &&
        (reference ? (
          <Compare
            a={reference}
            b={variant}
            studies={[studies[1] ?? null, studies[0] ?? null]}
            operating={operating}
            onMixed={(name, design) => create(name, design, "the missing variant")}
          />
        ) : (
          <p className="sentence">
            There is nothing to compare {variant.letter} with yet. Copy it and change one thing.
          </p>
        ))}
      {shown === "bill" && <BillPanel key={variant.id} experimentId={experimentId} variant={variant} />}
      {shown === "checklist" && (
        <ChecklistPanel key={variant.id} experimentId={experimentId} variant={variant} study={studies[0] ?? null} />
      )}
      {shown === "specimens" && <SpecimensPanel key={variant.id} experimentId={experimentId} variant={variant} />}
    </div>
  );
}

function Variants({
  variants,
  variant,
  go,
  create,
}: {
  variants: Variant[];
  variant: Variant;
  go: (change: Record<string, string>) => void;
  create: (name: string, design: Design, note: string) => void;
}) {
  return (
    <nav
      aria-label="Variants"
      className="no-print flex flex-wrap items-stretch gap-x-1 gap-y-1 border-b border-rule pb-1"
    >
      {variants.map((v) => (
        <button
          key={v.id}
          type="button"
          aria-current={v === variant ? "true" : undefined}
          onClick={() => go({ v: v.letter })}
          title={badgeWords(v.design)}
          className={`flex min-h-9 items-center gap-1.5 border-b-[3px] px-1.5 text-left text-[13px] ${v === variant ? "border-action bg-action-wash font-semibold" : "border-transparent hover:bg-well"}`}
        >
          <LaneMark lane={v.letter} size={12} />
          <Badge design={v.design} lane={v.letter} scale={0.7} />
          <span className="max-w-36 truncate" style={{ fontStretch: "86%" }}>
            {v.name}
            {v.specimens.length > 1 && `, ${v.specimens.length} built`}
            {v.specimens.length === 0 && variants.some((o) => o.specimens.length) && ", drawn"}
          </span>
        </button>
      ))}
      <NewVariant variants={variants} current={variant} onCreate={create} />
    </nav>
  );
}

function Views({
  shown,
  go,
  reference,
  variants,
  variant,
  experimentId,
}: {
  shown: "design" | "compare" | "bill" | "checklist" | "specimens";
  go: (change: Record<string, string>) => void;
  reference: Variant | null;
  variants: Variant[];
  variant: Variant;
  experimentId: number;
}) {
  return (
    <div className="no-print flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
      {VIEWS.map(([v, name]) => (
        <button
          key={v}
          type="button"
          aria-current={v === shown ? "page" : undefined}
          onClick={() => go({ view: v })}
          className={`min-h-8 border-b-[3px] px-1 text-[13.5px] ${v === shown ? "border-ink font-semibold" : "border-transparent text-ink-2 hover:bg-well"}`}
        >
          {name}
        </button>
      ))}
      {reference && (shown === "design" || shown === "compare") && (
        <label className="ml-auto text-[13px]">
          beside it{" "}
          <select
            className="border border-rule bg-sheet px-1 py-0.5"
            value={reference.letter}
            onChange={(e) => go({ with: e.target.value })}
          >
            {variants
              .filter((v) => v !== variant)
              .map((v) => (
                <option key={v.id} value={v.letter}>
                  {v.letter} {v.name}
                </option>
              ))}
          </select>
        </label>
      )}
      <VariantMenu experimentId={experimentId} variant={variant} />
    </div>
  );
}

/** A copy of the one in hand, or a usual build of a form. */
function NewVariant({
  variants,
  current,
  onCreate,
}: {
  variants: readonly Variant[];
  current: Variant;
  onCreate: (name: string, design: Design, note: string) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <span className="flex flex-wrap items-center gap-2 pl-2">
      <Button className="min-h-8" onClick={() => setOpen(!open)} aria-expanded={open}>
        Copy {current.letter}, or draw a new one
      </Button>
      {open && (
        <NewVariantForm
          variants={variants}
          current={current}
          onCreate={(...made) => {
            onCreate(...made);
            setOpen(false);
          }}
        />
      )}
    </span>
  );
}

function VariantMenu({ experimentId, variant }: { experimentId: number; variant: Variant }) {
  const [name, setName] = useState<string | null>(null);
  const { busy, act, undoable } = useAct();
  const rename = () => {
    if (name === null || name.trim() === variant.name) return setName(null);
    act(
      () => changeName(experimentId, variant.id, name),
      () => setName(null),
    );
  };
  const remove = () =>
    undoable(
      () => removeVariant(experimentId, variant.id, true),
      () => removeVariant(experimentId, variant.id, false),
      `${variant.name} removed.`,
    );
  if (name !== null)
    return (
      <form
        className="flex items-center gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          rename();
        }}
      >
        <label>
          <span className="sr-only">Name of the variant</span>
          <input
            autoFocus
            className="field min-h-7"
            maxLength={120}
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === "Escape" && setName(null)}
          />
        </label>
        <Button className="min-h-7" type="submit" disabled={busy}>
          Keep
        </Button>
      </form>
    );
  return (
    <span className="flex gap-1">
      <Button kind="plain" onClick={() => setName(variant.name)}>
        Rename
      </Button>
      {variant.specimens.length === 0 && (
        <Button kind="plain" disabled={busy} onClick={remove}>
          Remove
        </Button>
      )}
    </span>
  );
}
