import type { Metadata } from "next";
import { headers } from "next/headers";
import { notFound } from "next/navigation";
import { Account } from "@/features/network/Account";
import { sessionsOf } from "@/services/network/people";
import { database } from "@/services/web/connection";
import { askerOf } from "@/services/web/requestGuard";

export const metadata: Metadata = { title: "Account" };
export const dynamic = "force-dynamic";

export default async function Page({ searchParams }: { searchParams: Promise<{ refused?: string }> }) {
  const { refused } = await searchParams;
  const asker = await askerOf(await headers());
  if (!asker || asker.role === "viewer") notFound();
  const { role, name, personId, sessionId } = asker;
  const sessions = sessionId === null ? [] : await sessionsOf(database(), personId, new Date().getTime());
  return <Account role={role} name={name} here={sessionId} sessions={sessions} refused={refused !== undefined} />;
}
