import { writeFileSync } from 'node:fs';
import type { Browser } from './browser.ts';

const WIDTH = 640;
const HEIGHT = 480;
const RATE = 5;

/** Whether a code's module is dark, by row and column. */
type Code = readonly (readonly boolean[])[];

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

/** The modules of a code on the page, off the pixels it is drawn with. @param title of the drawing: "Code of C60-F2" */
export const codeOnPage = (browser: Browser, title: string): Promise<Code> =>
  browser.driver.executeAsyncScript<boolean[][]>(
    `const [title, done] = arguments;
     const svg = [...document.querySelectorAll('svg')].find((s) => s.querySelector('title')?.textContent === title);
     const side = Number(svg.getAttribute('viewBox').split(' ')[2]);
     const canvas = Object.assign(document.createElement('canvas'), { width: side, height: side });
     const to = canvas.getContext('2d');
     to.fillStyle = '#fff';
     to.fillRect(0, 0, side, side);
     to.fillStyle = '#000';
     for (const path of [...svg.querySelectorAll('path')].slice(-1)) to.fill(new Path2D(path.getAttribute('d')));
     const { data } = to.getImageData(0, 0, side, side);
     done(Array.from({ length: side }, (_, y) => Array.from({ length: side }, (_x, x) => data[(y * side + x) * 4] < 128)));`,
    title,
  );
