/** Arrays as the database keeps them. */
export const asBuffer = (a: Float64Array): Buffer => Buffer.from(a.buffer, a.byteOffset, a.byteLength);

/** The driver's buffers are not aligned to eight bytes, so they are copied before being viewed. */
export function fromBuffer(buffer: Buffer): Float64Array {
  const copy = new Uint8Array(buffer.byteLength);
  copy.set(buffer);
  return new Float64Array(copy.buffer);
}
