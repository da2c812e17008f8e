import type { Knex } from "knex";

interface One {
  material: string;
  side: "bottom" | "top";
  lengthM: number;
  angle: number;
}
interface Listed {
  material: string;
  stand: string;
  depthM: number;
  angle: number;
}

const parse = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

async function rewrite(knex: Knex, change: (design: Record<string, unknown>) => Record<string, unknown> | null) {
  for (const row of await knex("variant_revision").select("id", "design")) {
    const next = change(parse<Record<string, unknown>>(row.design));
    if (next)
      await knex("variant_revision")
        .where({ id: row.id })
        .update({ design: JSON.stringify(next) });
  }
}

/** A design holds a list of mirrors instead of one or none, and may hold a thermostat. */
export const up = (knex: Knex): Promise<void> =>
  rewrite(knex, ({ reflector, ...rest }) => {
    if (reflector === undefined) return null;
    const one = reflector as One | null;
    const mirrors = one && [
      {
        id: "mirror",
        material: one.material,
        stand: one.side,
        depthM: one.lengthM,
        widthM: null,
        angle: one.angle,
        gapM: 0,
        reflectance: null,
        free: null,
        up: null,
        cost: null,
      },
    ];
    return { ...rest, mirrors: mirrors ?? [], thermostat: null };
  });

/** One mirror fits into the old form: the first along the bottom or top edge. */
export const down = (knex: Knex): Promise<void> =>
  rewrite(knex, ({ mirrors, thermostat: _, ...rest }) => {
    if (mirrors === undefined) return null;
    const kept = (mirrors as Listed[]).find((m) => m.stand === "bottom" || m.stand === "top");
    const reflector = kept
      ? { material: kept.material, side: kept.stand, lengthM: kept.depthM, angle: kept.angle }
      : null;
    return { ...rest, reflector };
  });
