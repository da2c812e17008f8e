import sharp from "sharp";
import { photoType } from "./photos";

/** A picture of more is no photo of a bench, whatever few bytes it is packed into. */
const MOST_PIXELS = 50e6;
const LONGEST_SIDE = 4000;
const FORMAT = { "image/jpeg": "jpeg", "image/png": "png", "image/webp": "webp" } as const;

export interface Photo {
  type: keyof typeof FORMAT;
  content: Buffer;
}

/**
 * A photo drawn anew: upright, no larger than is looked at, and without what its camera wrote into it, the place above all. Null for what is no
 * whole picture of one of three plain formats, or too large to unpack.
 */
export async function cleanPhoto(bytes: Uint8Array): Promise<Photo | null> {
  const type = photoType(bytes);
  if (!type) return null;
  try {
    const content = await sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: "truncated" })
      .autoOrient()
      .resize({ width: LONGEST_SIDE, height: LONGEST_SIDE, fit: "inside", withoutEnlargement: true })
      .toFormat(FORMAT[type])
      .toBuffer();
    return { type, content };
  } catch {
    return null;
  }
}
