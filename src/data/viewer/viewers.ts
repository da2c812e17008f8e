import { randomBytes } from "node:crypto";
import type { Knex } from "knex";
import { hashToken } from "../device/devices";

export interface ViewerLink {
  id: number;
  experimentId: number;
  experiment: string;
  label: string;
  /** May take the experiment along as a package. */
  takes: boolean;
  createdAt: number;
  revokedAt: number | null;
}

/** A link that shows one experiment; its token is in the answer and nowhere else. */
export async function insertViewer(
  knex: Knex,
  { experimentId, label, takes }: { experimentId: number; label: string; takes: boolean },
): Promise<string> {
  const token = randomBytes(24).toString("base64url");
  await knex("viewer_link").insert({
    experiment_id: experimentId,
    label,
    takes,
    token_sha256: hashToken(token),
    created_at: Date.now(),
  });
  return token;
}

/** A link and the experiment it shows; undefined for one that was revoked, or never was. */
export const viewedBy = (knex: Knex, token: string): Promise<{ id: number; experimentId: number } | undefined> =>
  knex("viewer_link")
    .where({ token_sha256: hashToken(token) })
    .whereNull("revoked_at")
    .first({ id: "id", experimentId: "experiment_id" });

/** What a link shows now; undefined once it was revoked. */
export async function viewerLink(
  knex: Knex,
  id: number,
): Promise<{ experimentId: number; takes: boolean } | undefined> {
  const row = await knex("viewer_link")
    .where({ id })
    .whereNull("revoked_at")
    .first({ experimentId: "experiment_id", takes: "takes" });
  return row && { experimentId: row.experimentId, takes: Boolean(row.takes) };
}

export async function listViewers(knex: Knex): Promise<ViewerLink[]> {
  const rows = await knex("viewer_link as v")
    .join("experiment as e", "e.id", "v.experiment_id")
    .whereNull("e.deleted_at")
    .orderBy("v.id", "desc")
    .select({
      id: "v.id",
      experimentId: "e.id",
      experiment: "e.name",
      label: "v.label",
      takes: "v.takes",
      createdAt: "v.created_at",
      revokedAt: "v.revoked_at",
    });
  return rows.map((row) => ({ ...row, takes: Boolean(row.takes) }));
}

export const revokeViewer = async (knex: Knex, id: number, revoked: boolean): Promise<boolean> =>
  (await knex("viewer_link")
    .where({ id })
    .update({ revoked_at: revoked ? Date.now() : null })) > 0;
