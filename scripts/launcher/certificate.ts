import { createPrivateKey, randomBytes, webcrypto, X509Certificate } from "node:crypto";
import { existsSync, mkdirSync, readFileSync } from "node:fs";
import { isIP } from "node:net";
import { join } from "node:path";
import {
  BasicConstraintsExtension,
  cryptoProvider,
  ExtendedKeyUsage,
  ExtendedKeyUsageExtension,
  KeyUsageFlags,
  KeyUsagesExtension,
  PemConverter,
  SubjectAlternativeNameExtension,
  X509CertificateGenerator,
  X509Certificate as Parsed,
} from "@peculiar/x509";
import { writeWhole } from "./ready";

export interface Certificate {
  key: string;
  /** The server's own, with the authority's behind it. */
  cert: string;
  /** What a phone installs once to trust every certificate of this Bravel. */
  authority: string;
}

const ALGORITHM = { name: "ECDSA", namedCurve: "P-256", hash: "SHA-256" } as const;
const DAY = 86_400_000;
const AUTHORITY_DAYS = 3650;
/** Browsers take none that holds for longer than 398 days. */
const SERVER_DAYS = 390;
const RENEWED_BEFORE = 30 * DAY;

interface Pair {
  key: string;
  cert: string;
}

/**
 * A certificate for the names and addresses under which Bravel is reached, by a small authority of this folder's own: made anew when an address
 * came, when it ends within a month, or when a file of it is spoilt. The authority stays, so that what was installed on a phone goes on.
 * @param names host names and addresses
 */
export async function certificateFor(
  folder: string,
  names: readonly string[],
  nowMs = Date.now(),
): Promise<Certificate> {
  cryptoProvider.set(webcrypto as never);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  let authority = kept(folder, "authority", nowMs);
  if (!authority) {
    authority = await made({ name: "Bravel on this computer", days: AUTHORITY_DAYS, nowMs, names: [], by: null });
    keep(folder, "authority", authority);
  }
  const own = kept(folder, "server", nowMs);
  const fits =
    own &&
    covers(own.cert, names) &&
    new X509Certificate(own.cert).verify(new X509Certificate(authority.cert).publicKey);
  let server = own;
  if (!server || !fits) {
    server = await made({ name: "Bravel", days: SERVER_DAYS, nowMs, names, by: authority });
    keep(folder, "server", server);
  }
  return { key: server.key, cert: `${server.cert}\n${authority.cert}`, authority: authority.cert };
}

const files = (folder: string, of: string) => [join(folder, `${of}.key.pem`), join(folder, `${of}.cert.pem`)] as const;

function keep(folder: string, of: string, { key, cert }: Pair): void {
  const [keyFile, certFile] = files(folder, of);
  writeWhole(keyFile, key);
  writeWhole(certFile, cert);
}

/** What lies there, whole, of one pair, and good for a month to come; null otherwise. */
function kept(folder: string, of: string, nowMs: number): Pair | null {
  const [keyFile, certFile] = files(folder, of);
  if (!existsSync(keyFile) || !existsSync(certFile)) return null;
  try {
    const [key, cert] = [readFileSync(keyFile, "utf8"), readFileSync(certFile, "utf8")];
    const read = new X509Certificate(cert);
    const fits = read.checkPrivateKey(createPrivateKey(key));
    return fits && Date.parse(read.validTo) > nowMs + RENEWED_BEFORE && Date.parse(read.validFrom) <= nowMs
      ? { key, cert }
      : null;
  } catch {
    // Cut short or of something else: made anew.
    return null;
  }
}

function covers(cert: string, names: readonly string[]): boolean {
  const read = new X509Certificate(cert);
  return names.every((name) => (isIP(name) ? read.checkIP(name) : read.checkHost(name)) !== undefined);
}

async function made({
  name,
  days,
  nowMs,
  names,
  by,
}: {
  name: string;
  days: number;
  nowMs: number;
  names: readonly string[];
  by: Pair | null;
}): Promise<Pair> {
  const keys = await webcrypto.subtle.generateKey(ALGORITHM, true, ["sign", "verify"]);
  const signer = by ? await signingKey(by.key) : keys.privateKey;
  const isAuthority = by === null;
  const cert = await X509CertificateGenerator.create({
    // Positive, and never the same twice.
    serialNumber: `01${randomBytes(15).toString("hex")}`,
    subject: `CN=${name}`,
    issuer: by ? new Parsed(by.cert).subject : `CN=${name}`,
    notBefore: new Date(nowMs - DAY),
    notAfter: new Date(nowMs + days * DAY),
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey as never,
    signingKey: signer as never,
    extensions: isAuthority
      ? [new BasicConstraintsExtension(true, 0, true), new KeyUsagesExtension(KeyUsageFlags.keyCertSign, true)]
      : [
          new BasicConstraintsExtension(false, undefined, true),
          new KeyUsagesExtension(KeyUsageFlags.digitalSignature, true),
          new ExtendedKeyUsageExtension([ExtendedKeyUsage.serverAuth]),
          new SubjectAlternativeNameExtension(
            names.map((value) => ({ type: isIP(value) ? ("ip" as const) : ("dns" as const), value })),
          ),
        ],
  });
  const pkcs8 = await webcrypto.subtle.exportKey("pkcs8", keys.privateKey);
  return { key: `${PemConverter.encode(pkcs8, "PRIVATE KEY")}\n`, cert: cert.toString("pem") };
}

const signingKey = (pem: string) =>
  webcrypto.subtle.importKey(
    "pkcs8",
    createPrivateKey(pem).export({ type: "pkcs8", format: "der" }),
    ALGORITHM,
    false,
    ["sign"],
  );
