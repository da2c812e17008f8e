import { randomBytes } from "node:crypto";
import type { Knex } from "knex";
import { hashToken } from "../device/devices";

export interface ViewerLink {
  id: number;
  experimentId: number;
  experiment: string;
  label: string;
  createdAt: number;
  revokedAt: number | null;
}

/** A link that shows one experiment; its token is in the answer and nowhere else. */
export async function insertViewer(knex: Knex, experimentId: number, label: string): Promise<string> {
  const token = randomBytes(24).toString("base64url");
  await knex("viewer_link").insert({
    experiment_id: experimentId,
    label,
    token_sha256: hashToken(token),
    created_at: Date.now(),
  });
  return token;
}

/** The experiment a link shows; undefined for one that was revoked, or never was. */
export async function viewedBy(knex: Knex, token: string): Promise<number | undefined> {
  const row = await knex("viewer_link")
    .where({ token_sha256: hashToken(token) })
    .whereNull("revoked_at")
    .first("experiment_id");
  return row?.experiment_id;
}

export const listViewers = (knex: Knex): Promise<ViewerLink[]> =>
  knex("viewer_link as v")
    .join("experiment as e", "e.id", "v.experiment_id")
    .whereNull("e.deleted_at")
    .orderBy("v.id", "desc")
    .select({
      id: "v.id",
      experimentId: "e.id",
      experiment: "e.name",
      label: "v.label",
      createdAt: "v.created_at",
      revokedAt: "v.revoked_at",
    });

export const revokeViewer = async (knex: Knex, id: number, revoked: boolean): Promise<boolean> =>
  (await knex("viewer_link")
    .where({ id })
    .update({ revoked_at: revoked ? Date.now() : null })) > 0;
