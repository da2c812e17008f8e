/**
 * Where a request came from. The server's own process has written these headers by then, from the connection itself, or as a proxy said that
 * was named in BRAVEL_PROXY (scripts/launcher/forwarded.ts): what a client wrote into them is gone.
 */
export const clientAddress = (headers: Headers): string => headers.get("x-forwarded-for") ?? "here";
export const isEncrypted = (headers: Headers): boolean => headers.get("x-forwarded-proto") === "https";
