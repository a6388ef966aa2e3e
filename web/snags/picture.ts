/** The longer side, in pixels: a thread of a plug or a number on a plate can still be read. */
const LONGEST = 2048;
const QUALITY = 0.8;
/** What goes within a form has to stay small. */
const LONGEST_IN_FORM = 1280;

async function shrunk(file: File, longest: number): Promise<HTMLCanvasElement | null> {
  const image = await createImageBitmap(file).catch(() => null);
  if (!image) return null;
  const scale = Math.min(1, longest / Math.max(image.width, image.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(image.width * scale);
  canvas.height = Math.round(image.height * scale);
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  image.close();
  return canvas;
}

/** A picture of the phone made small enough to go with a form; null when it is none the browser can read. */
export async function smallPicture(file: File): Promise<{ type: 'image/jpeg'; base64: string } | null> {
  const canvas = await shrunk(file, LONGEST_IN_FORM);
  const base64 = canvas?.toDataURL('image/jpeg', QUALITY * 0.9).split(',')[1];
  return base64 ? { type: 'image/jpeg', base64 } : null;
}

/**
 * A picture of the phone as a card keeps it: drawn anew, so that where it was taken does not go along; null when it is
 * none the browser can read.
 */
export async function takenPicture(file: File): Promise<{ type: 'image/jpeg'; bytes: Uint8Array<ArrayBuffer> } | null> {
  const canvas = await shrunk(file, LONGEST);
  const blob = await new Promise<Blob | null>((resolve) => {
    if (canvas) canvas.toBlob(resolve, 'image/jpeg', QUALITY);
    else resolve(null);
  });
  return blob && { type: 'image/jpeg', bytes: new Uint8Array(await blob.arrayBuffer()) };
}
