import type { IncomingMessage } from "node:http";
import { BlockList, isIP } from "node:net";

/** Addresses that are believed. @throws Error that names what is no address */
export function proxiesOf(list: string): BlockList {
  const known = new BlockList();
  for (const entry of list
    .split(",")
    .map((e) => e.trim())
    .filter(Boolean)) {
    const [address, bits] = entry.split("/");
    const family = isIP(address) === 6 ? "ipv6" : "ipv4";
    const most = family === "ipv6" ? 128 : 32;
    if (!isIP(address) || (bits !== undefined && !(/^\d+$/.test(bits) && Number(bits) <= most)))
      throw new Error(`BRAVEL_PROXY holds "${entry}"; it must be an address, or a network like 10.0.0.0/8.`);
    known.addSubnet(address, bits === undefined ? most : Number(bits), family);
  }
  return known;
}

const plain = (address: string): string => address.trim().replace(/^::ffff:(?=\d+\.)/i, "");
const isTrusted = (address: string, proxies: BlockList): boolean =>
  isIP(address) > 0 && proxies.check(address, isIP(address) === 6 ? "ipv6" : "ipv4");

/** The nearest address that no trusted proxy has, and what the nearest trusted proxy says of the rest. */
export function forwardedOf(
  headers: IncomingMessage["headers"],
  remoteAddress: string,
  proxies: BlockList,
): IncomingMessage["headers"] {
  const remote = plain(remoteAddress);
  const nothing = { "x-forwarded-host": undefined, "x-forwarded-port": undefined, forwarded: undefined };
  if (!isTrusted(remote, proxies)) return { ...nothing, "x-forwarded-for": remote, "x-forwarded-proto": "http" };
  const hops = String(headers["x-forwarded-for"] ?? "")
    .split(",")
    .map(plain)
    .filter((hop) => isIP(hop) > 0);
  const client = hops.reverse().find((hop) => !isTrusted(hop, proxies)) ?? hops.at(-1) ?? remote;
  const proto = String(headers["x-forwarded-proto"] ?? "")
    .split(",")
    .at(-1)
    ?.trim();
  return { ...nothing, "x-forwarded-for": client, "x-forwarded-proto": proto === "https" ? "https" : "http" };
}
