import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { DaySheet } from "@/features/plan/DaySheet";
import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Day sheet" };

export default async function DaySheetPage({ params }: { params: Promise<{ id: string; day: string }> }) {
  const { id, day } = await params;
  if (!/^\d+$/.test(id) || !/^\d{4}-\d{2}-\d{2}$/.test(day)) notFound();
  const plan = await heavy(database()).planView(Number(id), new Date().getTime());
  if (!plan) notFound();
  return <DaySheet plan={plan} date={day} />;
}
