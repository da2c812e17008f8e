import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { DaySheet } from "@/features/plan/DaySheet";
import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";

export const dynamic = "force-dynamic";
export const metadata: Metadata = { title: "Day sheet" };

/** A day of the calendar, as 2026-10-06. */
const isDay = (text: string): boolean =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(Date.parse(text)) && new Date(text).toISOString().startsWith(text);

export default async function DaySheetPage({ params }: { params: Promise<{ id: string; day: string }> }) {
  const { id, day } = await params;
  if (!/^\d+$/.test(id) || !isDay(day)) notFound();
  const plan = await heavy(database()).planView(Number(id), new Date().getTime());
  if (!plan) notFound();
  return <DaySheet plan={plan} date={day} />;
}
