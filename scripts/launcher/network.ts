import { createHmac, randomBytes, X509Certificate } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { request as forward, type IncomingMessage } from "node:http";
import { createServer, type Server } from "node:https";
import { isIP, type BlockList } from "node:net";
import { hostname, networkInterfaces } from "node:os";
import { join } from "node:path";
import { passphraseHash } from "../../src/services/web/session";
import { certificateFor } from "./certificate";
import { forwardedOf, proxiesOf } from "./forwardedOf";
import { LaunchError } from "./progress";

/** How the application is to listen, and what it has to know of it. */
export interface Opening {
  /** Where the application itself listens. */
  host: string;
  env: Record<string, string>;
  /** Under which others reach it; empty on this computer only. */
  addresses: string[];
  /** Listens encrypted and hands on; null for plain HTTP. */
  tls: { host: string; port: number; home: string; target: number; names: string[] } | null;
}

const SHORTEST = 12;
/** The encrypted port lies this far above the plain one. */
const TLS_OFFSET = 33;

/** What BRAVEL_LISTEN asks for. Without it Bravel answers this computer only. */
export function openingOf(home: string, port: number, env: Record<string, string | undefined>): Opening {
  const listen = env.BRAVEL_LISTEN;
  if (!listen) return { host: "127.0.0.1", env: {}, addresses: [], tls: null };
  if (!isIP(listen))
    throw new LaunchError(
      `BRAVEL_LISTEN is "${listen}"; it must be an address of this computer, or 0.0.0.0 for all of them.`,
    );
  const passphrase = env.BRAVEL_PASSPHRASE ?? "";
  if (passphrase.length < SHORTEST)
    throw new LaunchError(
      `BRAVEL_LISTEN opens Bravel to your network: set BRAVEL_PASSPHRASE, of at least ${SHORTEST} characters, beside it.`,
    );
  const encrypted = env.BRAVEL_TLS === "1";
  checkProxies(env.BRAVEL_PROXY);
  const outer = encrypted ? port + TLS_OFFSET : port;
  const names = listen === "0.0.0.0" || listen === "::" ? ownAddresses() : [listen];
  const hosts = names.map((n) => `${isIP(n) === 6 ? `[${n}]` : n}:${outer}`);
  const addresses = hosts.map((h) => `${encrypted ? "https" : "http"}://${h}`);
  return {
    host: encrypted ? "127.0.0.1" : listen,
    addresses,
    env: {
      BRAVEL_GUARD: passphraseHash(passphrase),
      // By the passphrase too: another one ends every session.
      BRAVEL_SESSION_KEY: createHmac("sha256", sessionKey(home))
        .update(passphrase.normalize("NFC"))
        .digest("base64url"),
      BRAVEL_ADDRESSES: addresses.join(" "),
      // Bravel's own encrypted side hands on from this computer, and is believed.
      ...(encrypted
        ? {
            BRAVEL_AUTHORITY: join(home, "tls", "authority.cert.pem"),
            BRAVEL_PROXY: [env.BRAVEL_PROXY, "127.0.0.1"].filter(Boolean).join(","),
          }
        : {}),
      BRAVEL_HOSTS: [env.BRAVEL_HOSTS, ...hosts].filter(Boolean).join(","),
      // The hash is enough: the words themselves need not lie in another process.
      BRAVEL_PASSPHRASE: "",
    },
    tls: encrypted ? { host: listen, port: outer, home, target: port, names: hostNames(env.BRAVEL_HOSTS) } : null,
  };
}

/** Said at the start, and not by a server that ends at once. */
function checkProxies(list: string | undefined): void {
  try {
    proxiesOf(list ?? "");
  } catch (error) {
    throw new LaunchError((error as Error).message);
  }
}

function ownAddresses(): string[] {
  return Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).filter((i) => !i.internal && i.family === "IPv4").map((i) => i.address),
  );
}

/** Names of `name:port, name:port`. */
const hostNames = (hosts: string | undefined): string[] =>
  (hosts ?? "").split(",").flatMap(
    (host) =>
      host
        .trim()
        .replace(/:\d+$/, "")
        .replace(/^\[|\]$/g, "") || [],
  );

/** Kept, so that a restart does not sign everybody out. */
function sessionKey(home: string): string {
  const file = join(home, "session.key");
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString("base64url"), { mode: 0o600 });
  return readFileSync(file, "utf8");
}

/** A request's headers as it is handed on: where it came from is what this side saw. */
function onwardHeaders(asked: IncomingMessage, trusted: BlockList): IncomingMessage["headers"] {
  const from = forwardedOf(asked.headers, asked.socket.remoteAddress ?? "", trusted);
  const headers = { ...asked.headers, ...from, "x-forwarded-proto": "https" };
  return Object.fromEntries(Object.entries(headers).filter(([, value]) => value !== undefined));
}

/** Takes encrypted requests and hands them to the application on this computer, whoever answers there by then. */
export async function startTls({
  host,
  port,
  home,
  target,
  names: asked,
}: NonNullable<Opening["tls"]>): Promise<Server> {
  const folder = join(home, "tls");
  const trusted = proxiesOf(process.env.BRAVEL_PROXY ?? "");
  const names = [...new Set([...asked, ...ownAddresses(), hostname(), "localhost", "127.0.0.1"])];
  const { key, cert, authority } = await certificateFor(folder, names);
  const server = createServer({ key, cert }, (asked, answer) => {
    const onward = forward(
      {
        host: "127.0.0.1",
        port: target,
        method: asked.method,
        path: asked.url,
        headers: onwardHeaders(asked, trusted),
      },
      (got) => {
        answer.writeHead(got.statusCode ?? 502, got.headers);
        got.pipe(answer);
      },
    );
    onward.on("error", () => {
      if (!answer.headersSent) answer.writeHead(502);
      answer.end();
    });
    answer.on("close", () => onward.destroy());
    asked.pipe(onward);
  });
  await new Promise<void>((resolve, reject) => {
    server.once("error", (error: Error) => reject(new LaunchError(`port ${port} cannot be opened: ${error.message}.`)));
    server.listen(port, host, resolve);
  });
  console.log(`Certificate’s fingerprint (SHA-256): ${new X509Certificate(cert).fingerprint256}`);
  console.log(
    `A phone trusts this Bravel once it has installed ${join(folder, "authority.cert.pem")} (SHA-256 ${new X509Certificate(authority).fingerprint256}).`,
  );
  return server;
}
