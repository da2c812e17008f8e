"use client";

import { Download, Upload } from "lucide-react";
import { useMemo, useState, type Dispatch, type SetStateAction } from "react";
import { toast } from "@/ui/toast";
import { coverOptics } from "@/core/optics/covers";
import { materialsFromCsv, materialsToCsv, type MaterialProblem } from "@/core/materials/csv";
import { LIBRARY } from "@/core/materials/library";
import { MATERIAL_GROUPS, type Material, type MaterialGroup } from "@/core/materials/material";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import { downloadUrl } from "@/ui/download";
import { usePreferences } from "@/ui/preferences";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { FLAG_WORDS, GROUP_WORDS, materialProblemWords, UNIT_WORDS } from "@/words/material";
import { useAct, type Act } from "@/ui/useAct";
import { deleteMaterial, keepMaterials } from "./actions";
import { MaterialEditor } from "./MaterialEditor";
import { Select } from "@/ui/form/Select";
import { Button } from "@/ui/Button";

/** Which part of the library is shown. */
type Shown = MaterialGroup | "all" | "own";

/** The library: what each stuff does to light and heat, what it bears, what it costs; and one's own beside it. */
export function Materials({ own, find = "" }: { own: Material[]; find?: string }) {
  const { system } = usePreferences();
  const [text, setText] = useState(find);
  const [group, setGroup] = useState<Shown>("all");
  const [edited, setEdited] = useState<Material | null>(null);
  const [problems, setProblems] = useState<MaterialProblem[]>([]);
  const { busy, act, undoable } = useAct();
  const ownKeys = useMemo(() => new Set(own.map((m) => m.key)), [own]);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = [...own, ...LIBRARY].filter(
    (m) =>
      (group === "all" || (group === "own" ? ownKeys.has(m.key) : m.group === group)) &&
      words.every((w) =>
        `${m.name} ${m.note} ${m.flags.map((f) => FLAG_WORDS[f]).join(" ")}`.toLowerCase().includes(w),
      ),
  );
  const { remove, save, read, keep } = useOwn({ own, setProblems, act, undoable });
  const columns = [
    ...propertyColumns(system),
    {
      id: "tools",
      title: "action",
      tools: true,
      value: () => null,
      cell: (m: Material) => {
        const mine = ownKeys.has(m.key);
        return (
          <>
            <Button kind="plain" onClick={() => setEdited(mine ? m : copyOf(m))}>
              {mine ? "Change" : "Make mine"}
            </Button>
            {mine && (
              <Button kind="plain" disabled={busy} onClick={() => remove(m)}>
                Remove
              </Button>
            )}
          </>
        );
      },
    },
  ];
  return (
    <div className="px-4 pb-8 pt-3 sm:px-6">
      <h1 className="sentence">
        {LIBRARY.length} generic materials{own.length ? ` and ${own.length} of your own` : ""}. Typical values: two
        batches of one stuff differ by a tenth, foams and paints by more.
      </h1>
      <Find {...{ text, setText, group, setGroup, setEdited, save, busy, read }} />
      {problems.length > 0 && <Refused problems={problems} />}
      {edited && (
        <MaterialEditor
          key={edited.key}
          material={edited}
          busy={busy}
          onCancel={() => setEdited(null)}
          onKeep={(m) => keep([m], () => setEdited(null))}
        />
      )}
      <div className="mt-3">
        <DataTable
          label="Materials"
          columns={columns}
          rows={shown}
          minWidth={1080}
          height={700}
          marked={(m) => ownKeys.has(m.key)}
        />
      </div>
      {shown.length === 0 && <p className="py-3">Nothing of that name. Shorten it, or add your own.</p>}
    </div>
  );
}

/** What can be done to a person's own materials. */
function useOwn({
  own,
  setProblems,
  act,
  undoable,
}: {
  own: Material[];
  setProblems: Dispatch<SetStateAction<MaterialProblem[]>>;
  act: Act["act"];
  undoable: Act["undoable"];
}) {
  const save = () => {
    const url = URL.createObjectURL(new Blob(["\uFEFF", materialsToCsv([...own, ...LIBRARY])], { type: "text/csv" }));
    downloadUrl(url, "materials.csv");
    setTimeout(() => URL.revokeObjectURL(url), 10000);
  };
  const read = async (file: File | undefined) => {
    if (!file) return;
    if (file.size > 2e6)
      return void toast.error(`${file.name} is larger than 2 MB; a table of materials is not. Nothing was changed.`);
    const result = materialsFromCsv(await file.text());
    setProblems(result.problems);
    const changed = result.materials.filter(
      (m) => JSON.stringify(LIBRARY.find((l) => l.key === m.key)) !== JSON.stringify(m),
    );
    if (result.problems.length) return;
    if (!changed.length) return void toast(`${file.name} holds nothing that is not here already.`);
    keep(changed);
  };
  const keep = (materials: Material[], after?: () => void) =>
    act(
      () => keepMaterials(materials),
      ({ kept }) => {
        toast.success(`${kept} of your own material${kept > 1 ? "s" : ""} kept.`);
        after?.();
      },
    );
  const remove = (m: Material) =>
    undoable(
      () => deleteMaterial(m.key, true),
      () => deleteMaterial(m.key, false),
      `${m.name} removed from your library.`,
    );
  return { remove, save, read, keep };
}

function Refused({ problems }: { problems: MaterialProblem[] }) {
  return (
    <div role="alert" className="mt-2 border-l-4 border-danger pl-2.5">
      <p className="font-[650] text-danger">
        Nothing was taken over: {problems.length} cell{problems.length > 1 ? "s" : ""} cannot be read.
      </p>
      <ul className="text-[13.5px]">
        {problems.slice(0, 12).map((p, i) => (
          <li key={i}>{materialProblemWords(p)}</li>
        ))}
        {problems.length > 12 && <li className="side">and {problems.length - 12} more</li>}
      </ul>
    </div>
  );
}

/** What is shown of the library, and its ways in and out. */
function Find({
  text,
  setText,
  group,
  setGroup,
  setEdited,
  save,
  busy,
  read,
}: {
  text: string;
  setText: (text: string) => void;
  group: Shown;
  setGroup: (group: Shown) => void;
  setEdited: (edited: Material | null) => void;
  save: () => void;
  busy: boolean;
  read: (file: File | undefined) => Promise<undefined>;
}) {
  return (
    <div className="no-print mt-2 flex flex-wrap items-end gap-3">
      <label className="text-[13px] font-semibold">
        Find
        <input
          className="field mt-0.5"
          type="search"
          value={text}
          onChange={(e) => setText(e.target.value)}
          placeholder="foam, solvent, clear"
        />
      </label>
      <Select
        label="Kind"
        value={group}
        options={[["all", "all"], ["own", "your own"], ...MATERIAL_GROUPS.map((g) => [g, GROUP_WORDS[g]] as const)]}
        onChange={setGroup}
      />
      <Button
        onClick={() =>
          setEdited({
            ...LIBRARY[0],
            key: `my-${Date.now().toString(36)}`,
            name: "",
            note: "",
            source: "own measurement",
          })
        }
      >
        Add your own
      </Button>
      <span className="flex-1" />
      <Button onClick={save}>
        <Download size={14} aria-hidden /> Save as CSV
      </Button>
      <label className="btn cursor-pointer">
        <Upload size={14} aria-hidden /> {busy ? "Reading …" : "Read a CSV"}
        <input
          type="file"
          accept=".csv,text/csv"
          className="sr-only"
          onChange={(e) => {
            void read(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </label>
    </div>
  );
}

const copyOf = (m: Material): Material => ({
  ...m,
  key: `my-${m.key}`.slice(0, 60),
  name: `${m.name}, mine`,
  source: "own measurement",
});

const through = ({ optics, thicknessM }: Material): number | null =>
  optics && coverOptics([{ index: optics.index, extinction: optics.extinctionPerM * thicknessM }], 0).transmitted;

const propertyColumns = (system: UnitSystem): TableColumn<Material>[] => [
  {
    id: "name",
    title: "Material",
    rowHeader: true,
    place: "max-w-72",
    value: (m) => m.name,
    cell: (m) => (
      <>
        <span className="font-semibold">{m.name}</span>
        {m.note && <span className="side block">{m.note}</span>}
      </>
    ),
  },
  { id: "absorptance", title: "α", number: true, value: (m) => m.absorptance, cell: (m) => m.absorptance.toFixed(2) },
  { id: "emittance", title: "ε", number: true, value: (m) => m.emittance, cell: (m) => m.emittance.toFixed(2) },
  {
    id: "through",
    title: "τ at its thickness",
    number: true,
    value: through,
    cell: (m) => through(m)?.toFixed(2) ?? "",
  },
  { id: "conductivity", title: "k, W/(m·K)", number: true, value: (m) => m.conductivity },
  {
    id: "density",
    title: "density",
    number: true,
    value: (m) => m.density,
    cell: (m) => quantityText(m.density, "density", { system, figures: 3 }),
  },
  {
    id: "specificHeat",
    title: "c, J/(kg·K)",
    number: true,
    value: (m) => m.specificHeat,
    cell: (m) => formatNumber(m.specificHeat, 0),
  },
  {
    id: "limit",
    title: "bears",
    number: true,
    value: (m) => m.limitC,
    cell: (m) => (m.limitC === null ? "–" : quantityText(m.limitC, "temperature", { system, figures: 3 })),
  },
  {
    id: "price",
    title: "price",
    number: true,
    value: (m) => m.price,
    cell: (m) => `${formatNumber(m.price, 2)}/${UNIT_WORDS[m.unit]}`,
  },
  {
    id: "flags",
    title: "Mind",
    place: "max-w-40 text-[12.5px]",
    value: (m) => m.flags.map((f) => FLAG_WORDS[f]).join(", "),
  },
  { id: "source", title: "Source", place: "side", value: (m) => m.source },
];
