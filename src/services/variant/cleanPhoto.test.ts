import sharp from "sharp";
import { cleanPhoto } from "./cleanPhoto";

const picture = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: "#805030" } });
const PLACE = { IFD0: { Make: "a camera" }, IFD3: { GPSLatitudeRef: "N", GPSLatitude: "46/1 18/1 36/1" } };

test.each(["jpeg", "png", "webp"] as const)(
  "a %s loses its place and its camera, and keeps its picture",
  async (format) => {
    const taken = await picture(60, 40).withExif(PLACE).toFormat(format).toBuffer();
    expect((await sharp(taken).metadata()).exif).toBeDefined();
    const kept = (await cleanPhoto(taken))!;
    expect(kept.type).toBe(`image/${format}`);
    const read = await sharp(kept.content).metadata();
    expect(read).toMatchObject({ format, width: 60, height: 40 });
    expect(read.exif).toBeUndefined();
  },
);

test("a photo taken sideways stands upright without its mark", async () => {
  const taken = await picture(60, 40).withMetadata({ orientation: 6 }).jpeg().toBuffer();
  const { width, height, orientation } = await sharp((await cleanPhoto(taken))!.content).metadata();
  expect([width, height, orientation]).toEqual([40, 60, undefined]);
});

test("what is larger than is looked at is made smaller; few bytes of very many pixels are refused", async () => {
  const wide = await picture(5000, 100).png().toBuffer();
  expect(await sharp((await cleanPhoto(wide))!.content).metadata()).toMatchObject({ width: 4000, height: 80 });
  const bomb = await picture(9000, 9000).png({ compressionLevel: 9 }).toBuffer();
  expect(bomb.length).toBeLessThan(1e6);
  expect(await cleanPhoto(bomb)).toBeNull();
}, 30_000);

test("what is cut short, or only begins like a picture, is none", async () => {
  const whole = await picture(600, 400).jpeg().toBuffer();
  expect(await cleanPhoto(whole.subarray(0, whole.length / 2))).toBeNull();
  expect(await cleanPhoto(Buffer.from("\u0089PNG\r\n\u001a\n<script>alert(1)</script>", "latin1"))).toBeNull();
  expect(await cleanPhoto(Buffer.from("<svg xmlns='http://www.w3.org/2000/svg'/>"))).toBeNull();
});
