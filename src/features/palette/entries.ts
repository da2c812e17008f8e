import type { Material } from "@/core/materials/material";
import { STEPS } from "@/features/experiment/nextOf";
import type { Places } from "@/services/page/pages";
import { GROUP_WORDS } from "@/words/material";

/** One thing to go to or to do. */
export interface Entry {
  group: "Actions" | "Pages" | "Experiments" | "Variants" | "Materials";
  name: string;
  /** Said smaller, searched too. */
  about: string;
  /** An address, or the event of the page that does it. */
  to: { href: string } | { event: string };
}

const capital = (s: string): string => s[0].toUpperCase() + s.slice(1);

const PAGES: Entry[] = [
  ["Bench", "every experiment with its answer", "/"],
  ["Import", "read a logger’s files", "/import"],
  ["Materials", "the library and your own", "/materials"],
  ["Site", "sun, skyline, climate", "/site"],
].map(([name, about, href]) => ({ group: "Pages", name, about, to: { href } }));

const ACTIONS: Entry[] = [
  { group: "Actions", name: "New experiment", about: "begin with a question", to: { href: "/new" } },
  { group: "Actions", name: "New site", about: "where a bench stands", to: { href: "/site?add=1" } },
  {
    group: "Actions",
    name: "Quick reading",
    about: "bench tools: heat from two temperatures",
    to: { event: "bravel-tools" },
  },
  { group: "Actions", name: "Units of the trade", about: "bench tools: converter", to: { event: "bravel-tools" } },
  { group: "Actions", name: "Keys", about: "what the keyboard does", to: { event: "bravel-keys" } },
  { group: "Actions", name: "Daylight or evening", about: "change the theme", to: { event: "bravel-toggle-theme" } },
  {
    group: "Actions",
    name: "Metric or US units",
    about: "change what figures are shown in",
    to: { event: "bravel-toggle-units" },
  },
];

/** Everything the palette offers. @param experimentId of the page shown: its steps come first */
export function entries(places: Places, library: readonly Material[], experimentId: number | null): Entry[] {
  const order = [...places.experiments].sort((a, b) => Number(b.id === experimentId) - Number(a.id === experimentId));
  return [
    ...order.flatMap((e) =>
      STEPS.map((s): Entry => ({
        group: "Experiments",
        name: `${e.name}: ${capital(s)}`,
        about: "",
        to: { href: `/experiments/${e.id}/${s}` },
      })),
    ),
    ...ACTIONS,
    ...PAGES,
    ...order.flatMap((e) =>
      e.lanes.map(({ letter, variant }): Entry => ({
        group: "Variants",
        name: `${letter} ${variant}`,
        about: e.name,
        to: { href: `/experiments/${e.id}/build?v=${letter}` },
      })),
    ),
    ...[...places.materials, ...library].map((m): Entry => ({
      group: "Materials",
      name: m.name,
      about: GROUP_WORDS[m.group],
      to: { href: `/materials?find=${encodeURIComponent(m.name)}` },
    })),
  ];
}

/** How well an entry answers what was typed, 0 to 1: every word must stand in it as typed, beginnings before middles. */
export function score(text: string, typed: string): number {
  const [where, words] = [text.toLowerCase(), typed.toLowerCase().split(/\s+/).filter(Boolean)];
  if (!words.every((w) => where.includes(w))) return 0;
  if (where.startsWith(words[0] ?? "")) return 1;
  return words.every((w) => where.includes(` ${w}`)) ? 0.7 : 0.4;
}
