import type { Metadata } from "next";
import QRCode from "qrcode";
import { Network } from "@/features/network/Network";
import { database } from "@/services/web/connection";
import { networkPage } from "@/services/network/network";

export const metadata: Metadata = { title: "Phone and network" };
export const dynamic = "force-dynamic";

export default async function Page() {
  const data = await networkPage(database());
  const codes = await Promise.all(
    data.addresses.map(async (address) => ({
      address,
      code: await QRCode.toDataURL(address, { margin: 1, width: 180 }),
    })),
  );
  return <Network {...data} codes={codes} />;
}
