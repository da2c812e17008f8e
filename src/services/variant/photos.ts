export { findPhoto, insertPhoto } from "../../data/variant/variants";

/** Largest photo kept; the page makes them much smaller before sending. */
export const LARGEST_PHOTO = 4 * 1024 * 1024;

/** The type a photo's own first bytes say, whatever its name or header claims; null for anything that is not one of three plain picture formats. */
export function photoType(bytes: Uint8Array): "image/jpeg" | "image/png" | "image/webp" | null {
  const starts = (signature: readonly number[], at = 0) => signature.every((b, i) => bytes[at + i] === b);
  if (bytes.length < 16) return null;
  if (starts([0xff, 0xd8, 0xff])) return "image/jpeg";
  if (starts([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])) return "image/png";
  if (starts([0x52, 0x49, 0x46, 0x46]) && starts([0x57, 0x45, 0x42, 0x50], 8)) return "image/webp";
  return null;
}

/** Headers under which a kept photo is served: its verified type, nothing to sniff, nothing to run, not to be framed. */
export const photoHeaders = (type: string): Record<string, string> => ({
  "content-type": type,
  "x-content-type-options": "nosniff",
  "content-security-policy": "default-src 'none'; sandbox",
  "content-disposition": "inline",
  "cross-origin-resource-policy": "same-origin",
  "cache-control": "private, max-age=86400",
});
