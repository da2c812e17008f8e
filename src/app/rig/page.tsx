import type { Metadata } from "next";
import { Rig } from "@/features/rig/Rig";
import { database } from "@/services/web/connection";
import { rigPage } from "@/services/rig/rig";

export const metadata: Metadata = { title: "Rig" };
export const dynamic = "force-dynamic";

export default async function Page() {
  return <Rig {...await rigPage(database())} nowMs={new Date().getTime()} />;
}
