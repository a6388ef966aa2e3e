import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import jsQR from 'jsqr';
import { answer, page, signedIn } from '../test/page.tsx';
import { Labels } from './Labels.tsx';
import { Scan } from './Scan.tsx';

const user = userEvent.setup();
const part = (id: number, number: string) => ({
  id,
  version: 1,
  number,
  name: 'Oil filter',
  kind: 'oil filter' as const,
  unit: 'each' as const,
  priceMinor: null,
  fitments: [],
  onHand: [],
  places: [{ baseId: 1, place: 'rack 4' }],
  keptBack: [],
});
const open = async () => {
  answer({
    ...signedIn('stores'),
    listParts: { rows: [part(12, 'F1'), part(13, 'F2')], total: 2, page: 1, size: 120 },
  });
  await page(<Labels />);
  await screen.findByTitle('Code of F1');
};
afterEach(cleanup);

/** The drawn code as a scanner sees it: its runs of dark modules, eight points each. */
function read(code: Element): string | undefined {
  const side = Number(code.getAttribute('viewBox')!.split(' ')[2]);
  const scale = 8;
  const width = side * scale;
  const pixels = new Uint8ClampedArray(width * width * 4).fill(255);
  const dark = [...code.querySelectorAll('path')].at(-1)!.getAttribute('d')!;
  for (const [, x, y, run] of dark.matchAll(/M(\d+)[ ,](\d+) ?h(\d+)v1H\d+z/g))
    for (let dy = 0; dy < scale; dy++)
      for (let dx = 0; dx < Number(run) * scale; dx++) {
        const at = ((Number(y) * scale + dy) * width + Number(x) * scale + dx) * 4;
        pixels.fill(0, at, at + 3);
      }
  return jsQR(pixels, width, width)?.data;
}

// ISO/IEC 18004: written by one package (qrcode.react), read by another (jsQR).
test('the code of a label is read by another decoder as the address of its page', async () => {
  await open();
  expect(read(screen.getByTitle('Code of F1').closest('svg')!)).toBe(`${location.origin}/stores/parts/12`);
  expect(read(screen.getByTitle('Code of F2').closest('svg')!)).toBe(`${location.origin}/stores/parts/13`);
});

test('a label says number, name and place; places gone on the sheet stay empty', async () => {
  await open();
  const label = screen.getByTitle('Code of F1').closest('div')!;
  expect(label.textContent).toBe('Code of F1F1Oil filterrack 4');
  await user.clear(screen.getByLabelText('Gone on the sheet'));
  await user.type(screen.getByLabelText('Gone on the sheet'), '3');
  const cells = [...screen.getByTitle('Code of F1').closest('div')!.parentElement!.children];
  expect(cells.map((c) => within(c as HTMLElement).queryByText('F1') !== null)).toEqual([
    false,
    false,
    false,
    true,
    false,
  ]);
});

const devices = Object.getOwnPropertyDescriptor(navigator, 'mediaDevices');
const camera = (getUserMedia: (() => Promise<unknown>) | null) => {
  if (getUserMedia === null) Reflect.deleteProperty(navigator, 'mediaDevices');
  else Object.defineProperty(navigator, 'mediaDevices', { configurable: true, value: { getUserMedia } });
};
beforeEach(() => {
  camera(null);
});
afterEach(() => {
  if (devices) Object.defineProperty(navigator, 'mediaDevices', devices);
});

test('a camera that is not allowed, or not there, is said with what to do instead', async () => {
  answer(signedIn('technician'));
  camera(() => Promise.reject(new DOMException('no', 'NotAllowedError')));
  await page(<Scan onClose={() => undefined} />);
  expect((await screen.findByRole('alert')).textContent).toContain('Allow it for this page in the browser');
  cleanup();
  camera(null);
  await page(<Scan onClose={() => undefined} />);
  expect((await screen.findByRole('alert')).textContent).toContain('This device has no camera');
});

test('left, the camera is let go', async () => {
  answer(signedIn('technician'));
  let stopped = 0;
  const track = { stop: () => (stopped += 1), getCapabilities: () => ({}) };
  camera(() => Promise.resolve({ getTracks: () => [track], getVideoTracks: () => [track] }));
  await page(<Scan onClose={() => undefined} />);
  await screen.findByText('Scan a label');
  cleanup();
  await waitFor(() => {
    expect(stopped).toBe(1);
  });
});
