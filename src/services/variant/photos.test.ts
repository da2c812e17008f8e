import { photoHeaders, photoType } from "./photos";

const bytes = (head: number[]) => Uint8Array.from([...head, ...new Array<number>(32).fill(0)]);

test("a photo's type is what its own bytes say", () => {
  expect(photoType(bytes([0xff, 0xd8, 0xff, 0xe0]))).toBe("image/jpeg");
  expect(photoType(bytes([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))).toBe("image/png");
  expect(photoType(bytes([0x52, 0x49, 0x46, 0x46, 1, 2, 3, 4, 0x57, 0x45, 0x42, 0x50]))).toBe("image/webp");
});

test("pages, scripts, drawings with scripts, and crumbs are no photos", () => {
  for (const text of [
    "<html><script>alert(1)</script></html>",
    "<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>",
    "GIF89a................",
    "%PDF-1.7 ............",
    "RIFF....WAVEfmt ......",
  ])
    expect(photoType(new TextEncoder().encode(text))).toBeNull();
  expect(photoType(Uint8Array.from([0xff, 0xd8, 0xff]))).toBeNull();
});

test("photos are served so that nothing in them can run", () => {
  expect(photoHeaders("image/png")).toMatchObject({
    "content-type": "image/png",
    "x-content-type-options": "nosniff",
    "content-security-policy": expect.stringContaining("sandbox"),
  });
});
