import type { Metadata } from "next";
import { headers } from "next/headers";
import { Devices } from "@/features/devices/Devices";
import { database } from "@/services/web/connection";
import { devicesPage } from "@/services/device/queries";

export const metadata: Metadata = { title: "Devices" };
export const dynamic = "force-dynamic";

export default async function Page({ searchParams }: { searchParams: Promise<{ experiment?: string }> }) {
  const [data, { experiment }, head] = await Promise.all([devicesPage(database()), searchParams, headers()]);
  const host = head.get("host") ?? "127.0.0.1:4310";
  const target = experiment && /^\d{1,9}$/.test(experiment) ? Number(experiment) : null;
  return <Devices {...data} experiment={target} address={`${head.get("x-forwarded-proto") ?? "http"}://${host}`} />;
}
