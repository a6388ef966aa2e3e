import { writeFileSync } from 'node:fs';

const WIDTH = 640;
const HEIGHT = 480;
const RATE = 5;

/** Whether a code's module is dark, by row and column. */
export type Code = readonly (readonly boolean[])[];

/**
 * A made-up camera's picture: a code on a grey table, as Y4M, the raw film a browser can be given in place of a camera.
 * Each module is so many points wide.
 */
export function writeFilm(file: string, code: Code, points = 6): void {
  const left = Math.round((WIDTH - code.length * points) / 2);
  const top = Math.round((HEIGHT - code.length * points) / 2);
  const light = Buffer.alloc(WIDTH * HEIGHT, 150);
  const margin = 4;
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const row = Math.floor((y - top) / points);
      const column = Math.floor((x - left) / points);
      const inside = (n: number) => n >= -margin && n < code.length + margin;
      if (inside(row) && inside(column)) light[y * WIDTH + x] = code[row]?.[column] ? 20 : 235;
    }
  const frame = Buffer.concat([Buffer.from('FRAME\n'), light, Buffer.alloc((WIDTH * HEIGHT) / 2, 128)]);
  const head = Buffer.from(`YUV4MPEG2 W${WIDTH} H${HEIGHT} F${RATE}:1 Ip A1:1 C420jpeg\n`);
  writeFileSync(file, Buffer.concat([head, frame, frame, frame]));
}
