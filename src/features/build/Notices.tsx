"use client";

import type { Design } from "@/core/collector/design";
import type { Hazard, HeatLimitCheck } from "@/core/collector/limits";
import type { DesignProblem } from "@/core/collector/validate";
import type { Material } from "@/core/materials/material";
import { quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import { CASE_WORDS, hazardWords, problemWords } from "@/words/build";
import { changeLayer, freshId } from "./draft";
import { layerName } from "./names";
import { Button } from "@/ui/Button";

/** What cannot be built, what will not bear it, and what can hurt: each with what to do, most pressing first. */
export function Notices({
  design,
  problems,
  limits,
  hazards,
  library,
  onChange,
  onSelect,
}: {
  design: Design;
  problems: readonly DesignProblem[];
  limits: readonly HeatLimitCheck[];
  hazards: readonly Hazard[];
  library: ReadonlyMap<string, Material>;
  onChange: (design: Design) => void;
  onSelect: (id: string) => void;
}) {
  const { system } = usePreferences();
  const nameOf = (id: string | null) => {
    const layer = design.layers.find((l) => l.id === id);
    return layer ? layerName(layer, design.materials) : "";
  };
  const material = (key: string) => design.materials[key] ?? library.get(key);
  const pressing = limits.filter((l) => l.state !== "ok");
  const grouped = hazards
    .map((h) => hazardWords(h, design.materials))
    .reduce<{ title: string; todo: string; times: number }[]>((list, h) => {
      const same = list.find((x) => x.title === h.title);
      if (same) same.times++;
      else list.push({ ...h, times: 1 });
      return list;
    }, []);
  if (!problems.length && !pressing.length && !hazards.length)
    return <p className="side py-1">No layer passes its limit, and nothing here needs a warning.</p>;
  return (
    <ul className="grid gap-2" aria-label="Limits and hazards" aria-live="polite">
      {problems.map((p, i) => (
        <Notice key={`p${i}`} tone="danger" title={problemWords(p, nameOf(p.layer), design.materials, system)}>
          {p.layer && (
            <Button kind="plain" onClick={() => onSelect(p.layer!)}>
              Show it
            </Button>
          )}
        </Notice>
      ))}
      {pressing.map((c) => (
        <LimitNotice
          key={`${c.layer}-${c.what}`}
          check={c}
          design={design}
          material={material}
          name={nameOf(c.layer)}
          onChange={onChange}
        />
      ))}
      {grouped.map(({ title, todo, times }) => (
        <Notice key={title} tone="doubt" title={times > 1 ? `${title} (${times} of them)` : title}>
          {todo}
        </Notice>
      ))}
    </ul>
  );
}

function Notice({ tone, title, children }: { tone: "danger" | "doubt"; title: string; children?: React.ReactNode }) {
  return (
    <li
      className={`border-l-4 py-0.5 pl-2.5 text-[13.5px] leading-snug ${tone === "danger" ? "border-danger" : "border-doubt-line"}`}
    >
      <b className={`font-[650] ${tone === "danger" ? "text-danger" : "text-doubt"}`}>
        {title}
        {/[.!?]$/.test(title) ? "" : "."}
      </b>{" "}
      {children}
    </li>
  );
}

function LimitNotice({
  check,
  design,
  material,
  name,
  onChange,
}: {
  check: HeatLimitCheck;
  design: Design;
  material: (key: string) => Material | undefined;
  name: string;
  onChange: (design: Design) => void;
}) {
  const { system } = usePreferences();
  const c = (si: number) => quantityText(si, "temperature", { system, figures: 3 });
  const { remedy } = check;
  const what = check.what === "coating" ? `The coating (${material(check.material)?.name ?? check.material})` : name;
  const verb = check.state === "over" ? "reaches" : "may reach its limit:";
  const apply = () => {
    if (remedy?.kind === "insertWool") {
      const at = design.layers.findIndex((l) => l.id === remedy.before);
      const layers = [...design.layers];
      layers.splice(at, 0, {
        id: freshId(design, "wool"),
        kind: "insulation",
        material: remedy.material,
        thicknessM: remedy.thicknessM,
      });
      onChange({ ...design, sketch: false, layers });
    } else if (remedy) {
      onChange(
        changeLayer(
          design,
          remedy.layer,
          remedy.what === "coating"
            ? { coating: remedy.to }
            : {
                material: remedy.to,
                ...(design.layers.find((l) => l.id === remedy.layer)?.kind === "absorber"
                  ? {}
                  : { thicknessM: material(remedy.to)?.thicknessM ?? 0.004 }),
              },
        ),
      );
    }
  };
  return (
    <Notice
      tone={check.state === "over" ? "danger" : "doubt"}
      title={`${what} ${verb} ${quantityText(check.worstC, "temperature", { expanded: check.plusMinusK, system })} ${CASE_WORDS[check.worstCase]}; its limit is ${c(check.limitC)}`}
    >
      {remedy?.kind === "insertWool" && (
        <>
          Put {quantityText(remedy.thicknessM, "smallLength", { system, figures: 2 })} of mineral wool before it: then
          it reaches {c(remedy.thenC)}.{" "}
        </>
      )}
      {remedy?.kind === "swapMaterial" && (
        <>
          {material(remedy.to)?.name ?? remedy.to} bears {remedy.limitC === Infinity ? "it" : c(remedy.limitC)}.{" "}
        </>
      )}
      {!remedy && (
        <>
          Nothing in the library bears this here: give it flow whenever the sun shines, a vent that opens by itself, or
          less sun.{" "}
        </>
      )}
      {remedy && (
        <Button kind="main" className="mt-1 min-h-[28px]" onClick={apply}>
          {remedy.kind === "insertWool" ? "Insert the wool" : "Take that instead"}
        </Button>
      )}
    </Notice>
  );
}
