import { createHash } from "node:crypto";

/** Names plain data by its content. Maps count with their entries, numbers that JSON does not know with their names. */
export const fingerprint = (value: unknown): string =>
  createHash("sha256")
    .update(
      JSON.stringify(value, (_, v) => {
        if (v instanceof Map) return [...v];
        return typeof v === "number" && !Number.isFinite(v) ? String(v) : v;
      }),
    )
    .digest("hex");
