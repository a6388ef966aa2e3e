const LONGEST = 1280;
const QUALITY = 0.72;

/** A picture of the phone made small enough to send from the dock; null when it is none the browser can read. */
export async function smallPicture(file: File): Promise<{ type: 'image/jpeg'; base64: string } | null> {
  const image = await createImageBitmap(file).catch(() => null);
  if (!image) return null;
  const scale = Math.min(1, LONGEST / Math.max(image.width, image.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(image.width * scale);
  canvas.height = Math.round(image.height * scale);
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  image.close();
  const base64 = canvas.toDataURL('image/jpeg', QUALITY).split(',')[1];
  return base64 ? { type: 'image/jpeg', base64 } : null;
}
