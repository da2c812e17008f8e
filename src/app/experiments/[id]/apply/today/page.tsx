import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { MirrorTodaySheet } from "@/features/apply/mirror/MirrorToday";
import { mirrorToday } from "@/services/apply/calendar";
import { database } from "@/services/web/connection";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Mirror today" };

export default async function TodayPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  if (!/^\d+$/.test(id)) notFound();
  const today = await mirrorToday(database(), Number(id), new Date().getTime());
  if (!today) notFound();
  return <MirrorTodaySheet today={today} />;
}
