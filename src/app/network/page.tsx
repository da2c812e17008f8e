import type { Metadata } from "next";
import { headers } from "next/headers";
import QRCode from "qrcode";
import { Network } from "@/features/network/Network";
import { database } from "@/services/web/connection";
import { networkPage } from "@/services/network/network";
import { askerOf } from "@/services/web/requestGuard";

export const metadata: Metadata = { title: "Phone and network" };
export const dynamic = "force-dynamic";

export default async function Page() {
  const [data, asker] = await Promise.all([networkPage(database(), new Date().getTime()), askerOf(await headers())]);
  const here = asker && asker.role !== "viewer" ? asker.sessionId : null;
  const codes = await Promise.all(
    data.addresses.map(async (address) => ({
      address,
      code: await QRCode.toDataURL(address, { margin: 1, width: 180 }),
    })),
  );
  return <Network {...data} codes={codes} here={here} />;
}
