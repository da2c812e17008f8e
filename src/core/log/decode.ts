/** What the first bytes of a file say about it. */
export type Encoding = "utf-8" | "utf-16le" | "utf-16be" | "windows-1252";

export type FileNature =
  | { kind: "text"; encoding: Encoding; byteOrderMark: number }
  | { kind: "empty" }
  /** Not text; `what` names the format when its signature is known. */
  | { kind: "binary"; what: "zip" | "gzip" | "pdf" | "image" | "spreadsheet" | "unknown" };

/**
 * Recognises text and its encoding from the head of a file (a few kilobytes are enough).
 * A byte-order mark decides; without one, alternating zero bytes mean UTF-16, valid UTF-8 means
 * UTF-8, and otherwise the Western single-byte set that older loggers write (for ° and ²).
 */
export function detectEncoding(head: Uint8Array): FileNature {
  if (head.length === 0) return { kind: "empty" };
  const [a, b, c, d] = head;
  if (a === 0xef && b === 0xbb && c === 0xbf) return { kind: "text", encoding: "utf-8", byteOrderMark: 3 };
  if (a === 0xff && b === 0xfe) return { kind: "text", encoding: "utf-16le", byteOrderMark: 2 };
  if (a === 0xfe && b === 0xff) return { kind: "text", encoding: "utf-16be", byteOrderMark: 2 };
  if (a === 0x50 && b === 0x4b && c <= 0x08) return { kind: "binary", what: "zip" };
  if (a === 0x1f && b === 0x8b) return { kind: "binary", what: "gzip" };
  if (a === 0x25 && b === 0x50 && c === 0x44 && d === 0x46) return { kind: "binary", what: "pdf" };
  if ((a === 0x89 && b === 0x50) || (a === 0xff && b === 0xd8) || (a === 0x47 && b === 0x49 && c === 0x46))
    return { kind: "binary", what: "image" };
  if (a === 0xd0 && b === 0xcf && c === 0x11 && d === 0xe0) return { kind: "binary", what: "spreadsheet" };

  let evenZeros = 0;
  let oddZeros = 0;
  let control = 0;
  for (let i = 0; i < head.length; i++) {
    const byte = head[i];
    if (byte === 0) {
      if (i % 2) oddZeros++;
      else evenZeros++;
    } else if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 13 && byte !== 26) control++;
  }
  const half = head.length / 2;
  if (oddZeros > half * 0.4 && evenZeros < half * 0.05) return { kind: "text", encoding: "utf-16le", byteOrderMark: 0 };
  if (evenZeros > half * 0.4 && oddZeros < half * 0.05) return { kind: "text", encoding: "utf-16be", byteOrderMark: 0 };
  if (evenZeros + oddZeros > 0 || control > head.length * 0.02) return { kind: "binary", what: "unknown" };
  return { kind: "text", encoding: isUtf8(head) ? "utf-8" : "windows-1252", byteOrderMark: 0 };
}

/** Bytes of a UTF-8 character by its first; 0 where none begins so. */
function sequenceLength(first: number): number {
  if (first < 0x80) return 1;
  if (first < 0xc2 || first > 0xf4) return 0;
  if (first < 0xe0) return 2;
  return first < 0xf0 ? 3 : 4;
}

/** Valid UTF-8, allowing the last character to be cut off. */
function isUtf8(bytes: Uint8Array): boolean {
  for (let i = 0; i < bytes.length;) {
    const byte = bytes[i];
    const length = sequenceLength(byte);
    if (length === 0) return false;
    for (let k = 1; k < length && i + k < bytes.length; k++) if ((bytes[i + k] & 0xc0) !== 0x80) return false;
    i += length;
  }
  return true;
}
