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

/** Before a file is chosen: a browser says nothing of the same name chosen again, and it was mended meanwhile. */
export const chooseAgain = (e: { currentTarget: HTMLInputElement }): void => {
  e.currentTarget.value = '';
};
