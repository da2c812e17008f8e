import type { Aspect } from "@/core/collector/compare";
import { absorberLayer, airPath, coverLayers, type Design } from "@/core/collector/design";
import { FORMS } from "@/core/collector/form/list";
import { quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import { FORM_WORDS, PATH_WORDS } from "@/words/forms";
import { fieldWords } from "@/words/build";
import { fluidWords } from "@/words/fluid";

const DRIVES = { fan: "mains fan", pump: "pump", photovoltaicFan: "fan on its own panel", natural: "natural draught" };

/** One aspect of a design in words a person can check against the box. */
export function aspectText(d: Design, aspect: Aspect, system: UnitSystem): string {
  const mm = (m: number) => quantityText(m, "smallLength", { system, figures: m < 0.01 ? 2 : 3 });
  const name = (key: string) => {
    const short = d.materials[key]?.name.split(",")[0] ?? key;
    // Abbreviations keep their capitals.
    return /^[A-Z]{2}/.test(short) ? short : short[0].toLowerCase() + short.slice(1);
  };
  const absorber = absorberLayer(d);
  const at = d.layers.findIndex((l) => l.kind === "absorber");
  switch (aspect) {
    case "fluid":
      return fluidWords(d.fluid);
    case "absorber":
      return absorber ? FORM_WORDS[absorber.form] : "none";
    case "absorberMaterial":
      return absorber ? `${name(absorber.material)}, ${mm(absorber.thicknessM)}` : "none";
    case "absorberSize":
      return absorber
        ? FORMS[absorber.form].fields
            .map(
              (f) =>
                `${fieldWords(f.name)} ${quantityText(absorber.shape[f.name], f.quantity, { system, figures: 3 })}`,
            )
            .join(", ") || "as the box"
        : "none";
    case "coating":
      return absorber?.coating ? name(absorber.coating) : "bare";
    case "glazing":
      return (
        coverLayers(d)
          .map((l) => `${name(l.material)} ${mm(l.thicknessM)}`)
          .join(" + ") || "none"
      );
    case "coverGap":
      return (
        d.layers
          .slice(0, Math.max(0, at))
          .filter((l) => l.kind === "gap")
          .map((l) => mm(l.thicknessM))
          .join(" + ") || "none"
      );
    case "airPath":
      return [
        PATH_WORDS[airPath(d)] || "no air",
        ...d.layers.filter((l) => l.kind === "channel").map((l) => mm(l.thicknessM)),
      ].join(", ");
    case "backing":
      return (
        d.layers
          .slice(at + 1)
          .flatMap((l) => {
            if (l.kind === "gap") return [`still air ${mm(l.thicknessM)}`];
            if (!("material" in l)) return [];
            const coat = "coating" in l && l.coating ? ` with ${name(l.coating)}` : "";
            return [`${name(l.material)} ${mm(l.thicknessM)}${coat}`];
          })
          .join(", ") || "none"
      );
    case "size":
      return `${quantityText(d.grossWidthM, "length", { system, figures: 3 })} × ${quantityText(d.grossLengthM, "length", { system, figures: 3 })}, ${name(d.frame.material)} ${mm(d.frame.thicknessM)}`;
    case "ports":
      return `${d.ports.count} × ${mm(d.ports.diameterM)}, loss factor ${d.manifoldLoss}`;
    case "drive":
      return d.drive.kind === "natural"
        ? `${DRIVES.natural}, ${quantityText(d.drive.heightM, "length", { system, figures: 2 })}`
        : `${DRIVES[d.drive.kind]}, ${quantityText(d.drive.fan.powerW, "power", { system, figures: 2 })}`;
    case "reflector":
      if (!d.mirrors.length) return d.concentration === 1 ? "none" : `lens × ${d.concentration}`;
      return d.mirrors.map((m) => `${m.stand === "free" ? "standing free" : m.stand}, ${name(m.material)}`).join("; ");
    case "arrangement":
      return `${d.inSeries} in series, ${d.inParallel} in parallel${d.exchanger === null ? "" : `, exchanger ${Math.round(d.exchanger * 100)} %`}`;
  }
}
