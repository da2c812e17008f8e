import { opened, packed } from "../../core/log/column";

/** Arrays as the database keeps them. */
export const asBuffer = (a: Float64Array | Int16Array | Int32Array): Buffer =>
  Buffer.from(a.buffer, a.byteOffset, a.byteLength);

/** The driver's buffers are not aligned, so they are copied before being viewed. */
export function fromBuffer(buffer: Uint8Array): Float64Array {
  return new Float64Array(aligned(buffer));
}

function aligned(buffer: Uint8Array): ArrayBuffer {
  const copy = new Uint8Array(buffer.byteLength);
  copy.set(buffer);
  return copy.buffer;
}

/** In front of packed numbers: the power of ten they are divided by, two bytes. */
const HEAD = 2;

/**
 * A block of readings, docs/decisions/0018: whole numbers of two or four bytes behind the power of ten of their scale where every reading
 * comes back to its last bit, doubles without a head where not. Its length and the number of readings tell which.
 */
export function packBlock(values: Float64Array): Buffer {
  const block = packed(values);
  if (block instanceof Float64Array) return asBuffer(block);
  const head = Buffer.alloc(HEAD);
  head.writeUInt16LE(Math.round(Math.log10(block.scale)));
  return Buffer.concat([head, asBuffer(block.whole)]);
}

/** @param n readings in the block */
export function openBlock(buffer: Buffer, n: number): Float64Array {
  if (buffer.byteLength === 8 * n) return fromBuffer(buffer);
  const scale = 10 ** buffer.readUInt16LE(0);
  const body = aligned(buffer.subarray(HEAD));
  const whole = body.byteLength === 2 * n ? new Int16Array(body) : new Int32Array(body);
  if (whole.length !== n) throw new RangeError(`a block of ${n} readings holds ${whole.length}`);
  return opened({ whole, scale });
}
