/** Gives the person a file to keep. */
export function saveFile(name: string, parts: BlobPart[], type: string): void {
  const url = URL.createObjectURL(new Blob(parts, { type }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  // The download has begun by then.
  setTimeout(() => {
    URL.revokeObjectURL(url);
  }, 10_000);
}
