import type { ChecklistItem, Stage } from "@/core/collector/checklist";

export const STAGE_WORDS: Record<Stage, string> = {
  before: "Before you cut",
  cut: "Cut and drill",
  paint: "Paint and dry",
  assemble: "Assemble",
  seal: "Seal and test",
  probes: "Place the probes",
  firstSun: "First days in the sun",
};

/** One thing to do, in a sentence or two. */
export function checklistWords({ kind, values: v }: ChecklistItem): string {
  switch (kind) {
    case "paintOnFoam":
      return `Paint a scrap of ${v.foam} with ${v.paint} and look at it after a day: pitted or soft means another paint.`;
    case "ventilate":
      return `Spray or brush ${v.paint} outdoors or with a draught; no flame or spark; a mask for solvents.`;
    case "bakeOut":
      return `Bake out ${v.material} in the open sun, until warm air from it no longer smells, before it heats a room.`;
    case "deburr":
      return "Break all cut metal edges with a file; wear gloves.";
    case "dust":
      return "Cut mineral wool and other fibres with a knife, outdoors, with mask and long sleeves.";
    case "drillOversize":
      return `Drill ${v.hole}\u2009mm holes in ${v.material} for ${v.screw}\u2009mm screws, washers over them: the sheet must be able to slide.`;
    case "expansionGap":
      return `Leave ${v.gap}\u2009mm free at every edge of ${v.material}.`;
    case "cellEnds":
      return `Tape the ends of ${v.material}: closed above, breathing below; cells upright so that water runs out.`;
    case "degrease":
      return `Degrease and roughen ${v.material}; from then on touch it with clean gloves only.`;
    case "paintCoats":
      return `Two thin coats of ${v.paint}, ${v.hours}\u2009h between them (the tin’s text comes first).`;
    case "cure":
      return `Let ${v.paint} dry for ${v.hours}\u2009h before the glazing goes on.`;
    case "bond":
      return `Bond tubes to the sheet over their whole length (the plan counts on ${v.bond}\u2009W/(m·K)); a gap of a hair halves it.`;
    case "insulationDry":
      return "Insulation dry, without gaps, not pressed thin.";
    case "channelClear":
      return `The air’s way is clear: ${v.depth}\u2009mm everywhere, nothing hanging into it.`;
    case "liftGlass":
      return `Lift the pane (${v.mass}\u2009kg) with ${v.people} people, on edge, gloves on.`;
    case "lift":
      return `Move the box (${v.mass}\u2009kg) with ${v.people} people; fix it against wind at once.`;
    case "sealJoints":
      return "Seal all joints from inside before the glazing; glazing on a strip that lets it move.";
    case "sealCure":
      return `Let sealant cure ${v.hours}\u2009h with the box open: its vapour fogs the glass.`;
    case "smokeTest":
      return "Close both ports, blow in smoke: none may come out. Then open them: it must come out of the outlet only.";
    case "pressureTest":
      return `Fill with water to ${v.bar}\u2009bar for an hour and look at every joint; vent, then drain.`;
    case "reliefValve":
      return `Without flow it reaches ${v.temperature}\u2009°C: relief valve and open or expansion vessel before the first sun; pressurised loops by a licensed installer.`;
    case "probeInlet":
      return v.air
        ? "Inlet probe in the middle of the inlet duct, shaded, not touching metal."
        : "Inlet probe immersed against the stream, insulated outside.";
    case "probeOutlet":
      return v.air
        ? `Outlet probe ${v.diameters} duct widths behind the box, insulated duct, out of sight of the absorber.`
        : "Outlet probe immersed right at the outlet, insulated outside.";
    case "probePlate":
      return "Absorber probe on its back at two thirds of the way, with paste and tape, out of the sun.";
    case "probeShield":
      return "No probe sees the sun or the hot absorber: shade it with foil that does not touch it.";
    case "measureAreas":
      return "Measure outside, opening and absorber with a tape; enter what differs under Specimens.";
    case "weigh":
      return `Weigh the box (about ${v.mass}\u2009kg planned) and enter it: it tells the heat capacity.`;
    case "firstStagnation":
      return `First hour without flow, with someone beside it: the absorber should reach about ${v.temperature}\u2009°C. Smoke, smell or bending: cover it.`;
    case "firstSmell":
      return "Blow the first warm days’ air outdoors.";
    case "freezeDrain":
      return "Tag the drain valve and write down who drains it before frost.";
    case "mirrorCover":
      return "A cover for the mirror hangs beside it; nobody looks into the bright strip.";
  }
}
