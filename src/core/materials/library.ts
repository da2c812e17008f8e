import { extinctionFor, type Material, type MaterialFlag, type MaterialGroup, type MaterialUnit } from "./material";

/**
 * Generic materials, no makers. Density, specific heat and conductivity of common building materials follow EN ISO 10456:2007,
 * table 3; optical values of glazings and coatings follow the ranges of DB chapters 4 and 5; the rest are typical values of
 * trade data sheets. The conductivity of cellular sheets is that of the whole sheet at 10 °C, from usual U-values less 0.17 m²·K/W at the surfaces. Prices are round figures of the invented demo world, to be replaced by your own receipts.
 */
const ISO = "EN ISO 10456:2007, table 3";
const TYPICAL = "typical value";
const OPTICS = "Duffie & Beckman, ch. 5; typical value";
const SURFACES = "Duffie & Beckman, ch. 4; typical value";

type Row = [key: string, name: string, density: number, specificHeat: number, conductivity: number, absorptance: number, emittance: number, limitC: number | null,
  expansion: number, thicknessMm: number, unit: MaterialUnit, price: number, pack: number, flags: MaterialFlag[], note: string, source: string];

const row = (group: MaterialGroup, more: Partial<Material> = {}) => (r: Row): Material => ({
  key: r[0], name: r[1], group, density: r[2], specificHeat: r[3], conductivity: r[4], absorptance: r[5], emittance: r[6], optics: null, infraredTransmittance: 0,
  limitC: r[7], expansionPerK: r[8] * 1e-6, thicknessM: r[9] / 1000, unit: r[10], price: r[11], pack: r[12], flags: r[13], note: r[14], source: r[15], ...more,
});

/** A glazing: its normal transmittance at the usual thickness fixes the extinction. */
const glazing = (transmittance: number, index: number, infraredTransmittance: number, r: Row): Material =>
  row("glazing", { optics: { index, extinctionPerM: extinctionFor(transmittance, index, r[9] / 1000) }, infraredTransmittance })(r);

const GLAZINGS: Material[] = [
  glazing(0.91, 1.526, 0, ["glass-low-iron", "Low-iron glass, toughened", 2500, 750, 1, 0.02, 0.88, 250, 9, 4, "m2", 52, 1, ["brittle"], "Clearest flat glazing; cannot be cut after toughening.", OPTICS]),
  glazing(0.86, 1.526, 0, ["glass-float", "Float glass", 2500, 750, 1, 0.05, 0.88, 110, 9, 4, "m2", 28, 1, ["brittle"], "Cracks from heat differences of about 40 K between centre and edge; no toughening.", OPTICS]),
  glazing(0.85, 1.526, 0, ["glass-toughened", "Float glass, toughened", 2500, 750, 1, 0.05, 0.88, 250, 9, 4, "m2", 41, 1, ["brittle"], "Breaks into blunt crumbs. Cannot be drilled or cut.", OPTICS]),
  glazing(0.94, 1.33, 0, ["glass-antireflective", "Low-iron glass, etched against reflection", 2500, 750, 1, 0.02, 0.88, 250, 9, 4, "m2", 88, 1, ["brittle"], "The gain is largest at flat sun.", TYPICAL]),
  glazing(0.92, 1.49, 0, ["acrylic", "Acrylic sheet, clear", 1180, 1500, 0.18, 0.04, 0.9, 75, 70, 4, "m2", 44, 1, ["plasticSheet", "combustible"], "Softens from 85 °C; scratches.", OPTICS]),
  glazing(0.85, 1.49, 0, ["acrylic-cellular", "Acrylic twin-wall sheet, 16 mm", 310, 1500, 0.07, 0.06, 0.9, 70, 70, 16, "m2", 58, 1, ["plasticSheet", "combustible"], "Seal the cells against dust and water, vent them at the bottom.", TYPICAL]),
  glazing(0.86, 1.59, 0, ["polycarbonate-solid", "Polycarbonate sheet, solid, 3 mm", 1200, 1200, 0.2, 0.05, 0.9, 115, 65, 3, "m2", 46, 1, ["plasticSheet", "combustible"], "Ultraviolet-stabilised side to the sun.", OPTICS]),
  glazing(0.83, 1.59, 0, ["polycarbonate-twin-4", "Polycarbonate twin-wall, 4 mm", 200, 1200, 0.048, 0.06, 0.9, 115, 65, 4, "m2", 16, 1, ["plasticSheet", "combustible"], "Cells upright, tape the ends: closed above, breathing below.", TYPICAL]),
  glazing(0.81, 1.59, 0, ["polycarbonate-twin-6", "Polycarbonate twin-wall, 6 mm", 217, 1200, 0.055, 0.07, 0.9, 115, 65, 6, "m2", 19, 1, ["plasticSheet", "combustible"], "Cells upright, tape the ends: closed above, breathing below.", TYPICAL]),
  glazing(0.79, 1.59, 0, ["polycarbonate-twin-10", "Polycarbonate twin-wall, 10 mm", 170, 1200, 0.061, 0.08, 0.9, 115, 65, 10, "m2", 24, 1, ["plasticSheet", "combustible"], "Stiff enough for 1 m spans.", TYPICAL]),
  glazing(0.72, 1.59, 0, ["polycarbonate-triple-16", "Polycarbonate triple-wall, 16 mm", 169, 1200, 0.064, 0.1, 0.9, 115, 65, 16, "m2", 37, 1, ["plasticSheet", "combustible"], "Insulates like two glasses, lets less light through.", TYPICAL]),
  glazing(0.86, 1.54, 0.05, ["polyester-glassfibre", "Glass-fibre polyester sheet, 1 mm", 1400, 1100, 0.2, 0.08, 0.9, 95, 30, 1, "m2", 18, 1, ["plasticSheet", "combustible", "fibres"], "Yellows; scatters the light.", TYPICAL]),
  glazing(0.9, 1.52, 0.7, ["film-polyethylene", "Polyethylene greenhouse film, 0.2 mm", 920, 2300, 0.4, 0.03, 0.2, 60, 200, 0.2, "m2", 1.6, 10, ["plasticSheet", "combustible"], "Lets heat radiation out; lasts two to four summers.", TYPICAL]),
  glazing(0.88, 1.64, 0.2, ["film-polyester", "Polyester film, 0.1 mm", 1390, 1170, 0.2, 0.05, 0.7, 110, 17, 0.1, "m2", 4, 10, ["combustible"], "Becomes brittle in sunlight unless stabilised.", OPTICS]),
  glazing(0.95, 1.4, 0.3, ["film-fluoropolymer", "Fluoropolymer film (ETFE), 0.1 mm", 1750, 1100, 0.24, 0.02, 0.6, 150, 90, 0.1, "m2", 17, 5, [], "Very clear and durable; needs tension.", OPTICS]),
  glazing(0.96, 1.34, 0.6, ["film-fep", "Fluoropolymer film (FEP), 0.025 mm", 2150, 1100, 0.25, 0.01, 0.4, 200, 100, 0.025, "m2", 22, 5, [], "An inner cover for hot absorbers.", OPTICS]),
];

const SHEETS: Material[] = ([
  ["aluminium-sheet", "Aluminium sheet, 0.5 mm, mill finish", 2800, 880, 160, 0.15, 0.08, 400, 24, 0.5, "m2", 14, 2, ["sharp"], "Degrease and roughen before painting.", ISO],
  ["aluminium-thin", "Aluminium litho plate, 0.3 mm", 2800, 880, 160, 0.2, 0.08, 400, 24, 0.3, "m2", 5, 1, ["sharp"], "Used printing plate; wash the ink off.", ISO],
  ["aluminium-corrugated", "Corrugated aluminium roofing, 0.6 mm", 2800, 880, 160, 0.2, 0.1, 400, 24, 0.6, "m2", 22, 2, ["sharp"], "Profile depth and pitch belong to the absorber.", ISO],
  ["aluminium-foil", "Aluminium foil, 0.03 mm", 2700, 880, 160, 0.12, 0.05, 300, 24, 0.03, "m2", 1.2, 10, [], "Shiny liner; glue bears less than the foil.", ISO],
  ["aluminium-can", "Drink cans, 0.1 mm wall", 2700, 880, 160, 0.2, 0.1, 300, 24, 0.1, "piece", 0, 1, ["sharp"], "Punched top and bottom. The inside coating smells once when first heated: bake out in the open.", TYPICAL],
  ["steel-sheet", "Steel sheet, galvanised, 0.5 mm", 7800, 450, 50, 0.6, 0.25, 400, 12, 0.5, "m2", 15, 2, ["sharp"], "Wash off the oil; prime for paint.", ISO],
  ["steel-corrugated", "Corrugated galvanised steel, 0.5 mm", 7800, 450, 50, 0.6, 0.25, 400, 12, 0.5, "m2", 13, 2, ["sharp"], "Heavy; warms slowly.", ISO],
  ["stainless-sheet", "Stainless steel sheet, 0.5 mm", 7900, 500, 17, 0.4, 0.2, 500, 16, 0.5, "m2", 36, 2, ["sharp"], "Conducts poorly between tubes.", ISO],
  ["copper-sheet", "Copper sheet, 0.3 mm", 8900, 380, 380, 0.35, 0.05, 400, 17, 0.3, "m2", 62, 1, ["sharp"], "Solders to copper tube.", ISO],
  ["fabric-black", "Black polyester felt, 3 mm", 200, 1300, 0.05, 0.94, 0.9, 130, 20, 3, "m2", 6, 1, ["fibres", "combustible", "outgasses"], "Wash and bake out before breathing its air.", TYPICAL],
  ["shade-cloth", "Black knitted polyethylene shade cloth", 300, 2300, 0.3, 0.92, 0.9, 80, 200, 1, "m2", 3, 2, ["combustible", "outgasses"], "Softens when the fan stops.", TYPICAL],
] satisfies Row[]).map(row("sheet"));

const COATINGS: Material[] = ([
  ["paint-black-matt", "Matt black paint, heat-proof, water-based", 1300, 1000, 0.3, 0.95, 0.9, 200, 0, 0.05, "litre", 38, 0.5, ["cures"], "Two thin coats; 0.12 L/m² a coat.", SURFACES],
  ["paint-black-stove", "Stove paint, matt black, solvent-borne", 1300, 1000, 0.3, 0.95, 0.88, 500, 0, 0.05, "litre", 46, 0.4, ["solvent", "outgasses", "cures"], "Fumes while it first cures at 150 to 200 °C: bake out in the open.", SURFACES],
  ["paint-black-spray", "Matt black spray paint, acrylic, solvent-borne", 1300, 1000, 0.3, 0.94, 0.9, 110, 0, 0.04, "litre", 30, 0.4, ["solvent", "outgasses", "cures"], "Dissolves polystyrene; test on scrap.", SURFACES],
  ["paint-board", "Blackboard paint", 1350, 1000, 0.3, 0.95, 0.92, 90, 0, 0.06, "litre", 24, 0.75, ["cures"], "Chalks when hot.", SURFACES],
  ["paint-selective", "Selective paint, thickness-sensitive", 1500, 1000, 0.3, 0.91, 0.4, 250, 0, 0.01, "litre", 140, 0.5, ["solvent", "cures"], "Too thick a coat loses the selectivity.", SURFACES],
  ["foil-selective", "Selective foil, self-adhesive", 4000, 700, 20, 0.95, 0.1, 160, 15, 0.05, "m2", 48, 2, [], "The glue sets the limit; roll it on without bubbles.", SURFACES],
  ["sputtered-selective", "Selective coating, sputtered on aluminium", 2700, 880, 160, 0.95, 0.05, 300, 24, 0.001, "m2", 26, 2, [], "Comes on the sheet; do not touch or wash.", SURFACES],
  ["black-chrome", "Black chrome on nickel", 7000, 450, 50, 0.95, 0.1, 350, 12, 0.002, "m2", 60, 1, [], "Electroplated.", SURFACES],
  ["soot", "Lamp soot in lime wash", 1000, 900, 0.3, 0.96, 0.95, 300, 0, 0.1, "kg", 6, 1, ["cures"], "Rubs off: not in a breathing-air path.", TYPICAL],
  ["anodised-black", "Black anodised aluminium", 2700, 880, 160, 0.94, 0.8, 350, 24, 0.02, "m2", 22, 1, [], "Some dyes turn purple in the sun.", SURFACES],
] satisfies Row[]).map(row("coating"));

const MESHES: Material[] = ([
  ["mesh-aluminium", "Aluminium insect screen", 2700, 880, 160, 0.2, 0.1, 400, 24, 0.25, "m2", 5, 3, ["sharp"], "About 1.5 mm pitch, 0.25 mm wire.", ISO],
  ["mesh-steel", "Black steel wire mesh", 7800, 450, 50, 0.8, 0.7, 400, 12, 0.4, "m2", 9, 2, ["sharp"], "Oiled against rust: bake out in the open first.", ISO],
  ["mesh-glassfibre", "Glass-fibre insect screen, PVC-coated, black", 1800, 1000, 0.2, 0.92, 0.9, 80, 10, 0.28, "m2", 3, 3, ["outgasses", "fibres"], "The coating softens and smells: not in breathing air.", TYPICAL],
  ["expanded-aluminium", "Expanded aluminium lath", 2700, 880, 160, 0.2, 0.1, 400, 24, 0.5, "m2", 12, 2, ["sharp"], "Coarse; two or three layers crossed.", ISO],
] satisfies Row[]).map(row("mesh"));

const TUBES: Material[] = ([
  ["hose-pe", "Polyethylene irrigation pipe, black", 950, 1900, 0.4, 0.93, 0.92, 60, 200, 2.3, "m", 0.9, 25, ["combustible"], "Loses its pressure rating when warm: open or low-pressure loops only.", ISO],
  ["hose-epdm", "EPDM rubber hose, black", 1150, 1000, 0.25, 0.94, 0.94, 120, 150, 3, "m", 4.2, 10, ["outgasses"], "Bears freezing when it can stretch.", ISO],
  ["hose-pvc", "Garden hose, PVC, dark", 1390, 900, 0.17, 0.9, 0.9, 55, 70, 2.5, "m", 1.3, 25, ["outgasses"], "Not for drinking water once hot.", ISO],
  ["pipe-pex", "Cross-linked polyethylene pipe", 940, 2000, 0.38, 0.75, 0.9, 90, 180, 2, "m", 1.8, 25, ["combustible"], "Keep the sun off it where it is not the absorber.", TYPICAL],
  ["tube-copper", "Copper tube, 12 × 1", 8900, 380, 380, 0.35, 0.05, 300, 17, 1, "m", 7.5, 5, [], "Silver-brazed joints if it can run dry in the sun.", ISO],
  ["tube-aluminium", "Aluminium tube, 12 × 1", 2800, 880, 160, 0.2, 0.08, 300, 24, 1, "m", 5, 5, [], "Never with copper in one loop.", ISO],
  ["tube-steel", "Steel tube, 12 × 1", 7800, 450, 50, 0.6, 0.3, 400, 12, 1, "m", 3.2, 6, [], "Closed loop with inhibitor.", ISO],
  ["duct-aluminium", "Flexible aluminium duct", 2700, 880, 160, 0.2, 0.1, 250, 24, 0.1, "m", 6, 3, ["sharp"], "Stretch it fully: a slack duct chokes the fan.", TYPICAL],
  ["pipe-ventilation", "Spiral ventilation pipe, galvanised", 7800, 450, 50, 0.6, 0.25, 400, 12, 0.5, "m", 9, 3, ["sharp"], "", ISO],
] satisfies Row[]).map(row("tube"));

const INSULATION: Material[] = ([
  ["wool-mineral", "Mineral wool board", 60, 1030, 0.037, 0.6, 0.9, 250, 0, 50, "m2", 9, 4, ["fibres"], "Face it with foil toward the air path; the binder smells above 200 °C.", ISO],
  ["wool-glass", "Glass wool roll", 20, 1030, 0.038, 0.6, 0.9, 230, 0, 50, "m2", 6, 6, ["fibres"], "Sags when wet.", ISO],
  ["wool-sheep", "Sheep wool batt", 20, 1700, 0.04, 0.5, 0.9, 110, 0, 50, "m2", 12, 5, ["combustible", "fibres"], "Keep dry and away from the absorber.", TYPICAL],
  ["foam-pir", "Rigid foam (PIR), foil-faced", 32, 1400, 0.024, 0.12, 0.1, 110, 60, 40, "m2", 14, 3, ["foam", "combustible", "outgasses"], "Chars and gives off fumes when overheated.", TYPICAL],
  ["foam-pur", "Rigid foam (PUR)", 32, 1400, 0.026, 0.5, 0.9, 90, 60, 40, "m2", 12, 3, ["foam", "combustible", "outgasses"], "Chars and gives off fumes when overheated.", ISO],
  ["foam-eps", "Expanded polystyrene board", 20, 1450, 0.037, 0.4, 0.9, 75, 65, 50, "m2", 7, 4, ["foam", "combustible", "outgasses"], "Shrinks from 80 °C; solvents dissolve it.", ISO],
  ["foam-xps", "Extruded polystyrene board", 33, 1450, 0.034, 0.5, 0.9, 75, 70, 50, "m2", 11, 4, ["foam", "combustible", "outgasses"], "Bears damp; solvents dissolve it.", ISO],
  ["foam-phenolic", "Phenolic foam board", 38, 1400, 0.022, 0.5, 0.9, 120, 40, 40, "m2", 19, 3, ["foam", "combustible"], "Slightly acid: keep from bare steel.", TYPICAL],
  ["cork-board", "Expanded cork board", 115, 1560, 0.04, 0.7, 0.9, 110, 40, 40, "m2", 18, 2, ["combustible"], "", ISO],
  ["wood-fibre", "Wood-fibre board, soft", 160, 2100, 0.042, 0.5, 0.9, 100, 10, 40, "m2", 10, 2, ["combustible"], "", ISO],
  ["aerogel-blanket", "Aerogel blanket", 150, 1000, 0.016, 0.3, 0.9, 200, 0, 10, "m2", 70, 1, ["fibres"], "Dusty: gloves and mask.", TYPICAL],
  ["bubble-foil", "Foil-faced bubble sheet", 40, 1900, 0.034, 0.1, 0.1, 80, 100, 8, "m2", 5, 5, ["combustible", "outgasses"], "Counts little without an air space in front.", TYPICAL],
  ["perlite-loose", "Perlite, loose fill", 90, 900, 0.05, 0.4, 0.9, 600, 0, 50, "kg", 1, 10, [], "Dusty.", ISO],
] satisfies Row[]).map(row("insulation"));

const BOARDS: Material[] = ([
  ["plywood", "Plywood, exterior", 500, 1600, 0.13, 0.6, 0.9, 90, 8, 9, "m2", 19, 2.98, ["combustible"], "Seal cut edges against rain.", ISO],
  ["softwood", "Softwood boards", 500, 1600, 0.13, 0.55, 0.9, 90, 5, 20, "m2", 16, 1, ["combustible"], "Dries and shrinks behind glass: screw, do not only glue.", ISO],
  ["larch", "Larch boards", 600, 1600, 0.16, 0.6, 0.9, 90, 5, 22, "m2", 29, 1, ["combustible"], "", TYPICAL],
  ["osb", "Oriented strand board", 650, 1700, 0.13, 0.6, 0.9, 90, 8, 12, "m2", 11, 3.1, ["combustible", "outgasses"], "Binder smells when hot: line it toward breathing air.", ISO],
  ["hardboard", "Hardboard", 900, 1700, 0.17, 0.75, 0.9, 90, 10, 3, "m2", 6, 2.9, ["combustible"], "", ISO],
  ["fibre-cement", "Fibre-cement board", 1600, 1000, 0.5, 0.6, 0.9, 150, 8, 8, "m2", 18, 3, ["brittle"], "Heavy; do not saw dry.", TYPICAL],
  ["gypsum-fibre", "Gypsum-fibre board", 1150, 1100, 0.32, 0.4, 0.9, 45, 12, 12.5, "m2", 9, 3, [], "Loses its water above 45 °C held long.", TYPICAL],
  ["calcium-silicate", "Calcium silicate board", 450, 900, 0.09, 0.3, 0.9, 600, 6, 15, "m2", 42, 1.2, [], "Bears what a stopped collector can reach.", TYPICAL],
  ["aluminium-profile", "Aluminium frame profile, 2 mm", 2800, 880, 160, 0.3, 0.2, 300, 24, 2, "m2", 60, 1, ["sharp"], "A cold bridge unless lined.", ISO],
] satisfies Row[]).map(row("board"));

const MASONRY: Material[] = ([
  ["concrete-dense", "Concrete slab", 2400, 1000, 2, 0.65, 0.9, 200, 12, 40, "m2", 24, 1, [], "Two people per slab.", ISO],
  ["brick-facing", "Facing brick", 1700, 850, 0.75, 0.65, 0.9, 300, 6, 65, "m2", 48, 1, [], "", TYPICAL],
  ["fibre-cement-dark", "Dark fibre-cement slate", 1800, 1000, 0.6, 0.85, 0.92, 150, 8, 5, "m2", 25, 1, ["brittle"], "Through-coloured: no paint to peel.", TYPICAL],
  ["slate", "Roofing slate", 2800, 760, 2.2, 0.88, 0.9, 200, 9, 6, "m2", 55, 1, ["brittle"], "", ISO],
] satisfies Row[]).map(row("masonry"));

const REFLECTORS: Material[] = ([
  ["mirror-glass", "Silvered glass mirror, 3 mm", 2500, 750, 1, 0.1, 0.88, 70, 9, 3, "m2", 36, 1, ["brittle"], "Reflects 0.88 to 0.93; the backing paint dislikes water.", TYPICAL],
  ["aluminium-bright", "Polished anodised aluminium", 2800, 880, 160, 0.14, 0.1, 300, 24, 0.5, "m2", 40, 1, ["sharp"], "Reflects 0.82 to 0.90 when clean.", TYPICAL],
  ["film-reflective", "Metallised polyester film on board", 1390, 1170, 0.2, 0.12, 0.5, 90, 17, 0.1, "m2", 8, 2, [], "Wrinkles throw streaks; dulls in a few years.", TYPICAL],
  ["paint-white", "White paint", 1400, 1000, 0.3, 0.25, 0.9, 100, 0, 0.1, "litre", 18, 0.75, [], "Diffuse: helps a little from everywhere.", SURFACES],
] satisfies Row[]).map(row("reflector"));

const SUNDRIES: Material[] = ([
  ["sealant-silicone", "Silicone sealant, neutral", 1030, 1400, 0.2, 0.5, 0.9, 150, 250, 5, "piece", 9, 1, ["cures", "outgasses"], "Cartridge of 0.3 L seals about 10 m.", TYPICAL],
  ["sealant-silicone-hot", "High-temperature silicone", 1100, 1400, 0.2, 0.6, 0.9, 250, 250, 5, "piece", 14, 1, ["cures"], "Cartridge of 0.3 L seals about 10 m.", TYPICAL],
  ["strip-epdm", "EPDM glazing strip", 1150, 1000, 0.25, 0.9, 0.9, 120, 150, 3, "m", 1.6, 10, [], "Bears the glazing's movement.", ISO],
  ["tape-aluminium", "Aluminium tape", 2700, 880, 160, 0.12, 0.05, 120, 24, 0.05, "m", 0.35, 50, [], "The glue sets the limit.", TYPICAL],
  ["tape-cell-closed", "Cell-end tape, closed", 1000, 1500, 0.3, 0.3, 0.9, 100, 0, 0.3, "m", 0.8, 10, [], "Top ends of twin-wall sheets.", TYPICAL],
  ["tape-cell-breathing", "Cell-end tape, breathing", 1000, 1500, 0.3, 0.3, 0.9, 100, 0, 0.3, "m", 1.4, 10, [], "Bottom ends of twin-wall sheets.", TYPICAL],
  ["screws", "Stainless screws", 7900, 500, 17, 0.4, 0.2, null, 16, 4, "piece", 0.15, 100, [], "", TYPICAL],
  ["duct-collar", "Duct collar, 125 mm", 7800, 450, 50, 0.5, 0.3, null, 12, 0.5, "piece", 5, 1, [], "", TYPICAL],
  ["glycol-propylene", "Propylene glycol, inhibited", 1036, 2500, 0.2, 0.1, 0.9, 140, 0, 1, "litre", 6.5, 5, [], "Propylene, not ethylene, wherever washing water is near.", TYPICAL],
] satisfies Row[]).map(row("sundry"));

export const LIBRARY: readonly Material[] = [...GLAZINGS, ...SHEETS, ...COATINGS, ...MESHES, ...TUBES, ...INSULATION, ...BOARDS, ...MASONRY, ...REFLECTORS, ...SUNDRIES];

const byKey = new Map(LIBRARY.map((m) => [m.key, m]));

/** A material of the shipped library. Throws RangeError for a key it does not hold. */
export function libraryMaterial(key: string): Material {
  const found = byKey.get(key);
  if (!found) throw new RangeError(`no material "${key}" in the library`);
  return found;
}
