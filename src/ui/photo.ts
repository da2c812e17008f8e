/** Longest side kept: enough to see a bead of sealant, small enough for a hundred of them. */
const LONGEST = 1600;

/** Makes a picture smaller on the device and turns it into a plain JPEG, which also leaves place and camera data behind. */
export async function shrinkPhoto(file: Blob): Promise<Blob> {
  const bitmap = await createImageBitmap(file);
  const scale = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(bitmap.width * scale));
  canvas.height = Math.max(1, Math.round(bitmap.height * scale));
  canvas.getContext("2d")!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
  bitmap.close();
  return new Promise((done, fail) =>
    canvas.toBlob(
      (blob) => (blob ? done(blob) : fail(new Error("the picture could not be made smaller"))),
      "image/jpeg",
      0.82,
    ),
  );
}

/** Sends a photo for a checklist item. @returns its id, or what went wrong */
export async function sendPhoto(
  at: { experimentId: number; variantId: number; item: string },
  file: File,
): Promise<{ id: number } | { error: string }> {
  let photo: Blob;
  try {
    photo = await shrinkPhoto(file);
  } catch {
    return { error: `${file.name} is not a picture this browser can read. Take a JPEG, PNG or WebP.` };
  }
  const query = new URLSearchParams({
    experiment: String(at.experimentId),
    variant: String(at.variantId),
    item: at.item,
  });
  try {
    const response = await fetch(`/api/photos?${query}`, {
      method: "POST",
      body: photo,
      headers: { "content-type": "image/jpeg" },
    });
    return (await response.json()) as { id: number } | { error: string };
  } catch {
    return { error: "The photo did not arrive. It is still on your device: try again when Bravel answers." };
  }
}
