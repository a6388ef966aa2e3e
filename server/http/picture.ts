import type { Response } from 'express';

/**
 * Answers with a picture somebody took: shown as what it is, never run as something else, kept on the device for a day.
 */
export function sendPicture(res: Response, { type, bytes }: { type: string; bytes: Buffer }): null {
  res
    .set({
      'cache-control': 'private, max-age=86400',
      'content-disposition': 'inline',
      'x-content-type-options': 'nosniff',
    })
    .type(type)
    .send(bytes);
  return null;
}
