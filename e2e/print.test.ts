import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK } from './browser.ts';

/**
 * What comes out of the printer: one sheet where one is enough, on either paper, and nothing that can only be pressed.
 */
const book = await openBook();
let desk: Browser;
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Ilse Maren');
});
afterAll(async () => {
  await desk.close();
  await closeBook(book);
});

/** ISO 216 A4 and ANSI letter, in inches. */
const PAPERS = [
  ['A4', 8.27, 11.69],
  ['letter', 8.5, 11],
] as const;

/** What of the driver its types do not tell. */
interface Printer {
  sendAndGetDevToolsCommand: (name: string, how: object) => Promise<{ data: string }>;
}

async function sheets(paperWidth: number, paperHeight: number): Promise<number> {
  const margin = 12 / 25.4;
  const { data } = await (desk.driver as unknown as Printer).sendAndGetDevToolsCommand('Page.printToPDF', {
    paperWidth,
    paperHeight,
    marginTop: margin,
    marginBottom: margin,
    marginLeft: margin,
    marginRight: margin,
  });
  // ISO 32000: each page of the file is an object of this type.
  return (
    Buffer.from(data, 'base64')
      .toString('latin1')
      .match(/\/Type \/Page\b(?!s)/g) ?? []
  ).length;
}

/** Opens a card, and waits for its paper: it is there unseen. */
async function open(id: number): Promise<void> {
  await desk.turnTo(`/jobs/${id}`);
  await desk.until(async () => (await desk.count(`//header[h1]/p[contains(., "planned · card ${id}")]`)) > 0);
}

/** Controls that would be printed. */
async function controls(): Promise<string[]> {
  await desk.driver.sendDevToolsCommand('Emulation.setEmulatedMedia', { media: 'print' });
  const found = await desk.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('main :is(.MuiButtonBase-root, select, input[type="text"], nav)')]
       .filter((e) => e.getClientRects().length > 0).map((e) => e.outerHTML.slice(0, 80));`,
  );
  await desk.driver.sendDevToolsCommand('Emulation.setEmulatedMedia', { media: '' });
  return found;
}

describe.each(PAPERS)('on %s', (_paper, width, height) => {
  test('the day of a base is one sheet: people, what is picked, boats', async () => {
    await desk.turnTo('/day');
    await desk.see('//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
    await desk.choose('Base', 'Brindle Quay');
    // The sheet is that of this base alone.
    await desk.until(
      async () => (await desk.count('//*[@aria-label="Day sheet"]//h2[contains(., ", Larkspur Slip")]')) === 0,
    );
    expect(await sheets(width, height)).toBe(1);
    expect(await controls()).toEqual([]);
  });

  test('a small card is one sheet, the steps of a large one as many as they need', async () => {
    const { rows } = await desk.call<{ rows: { id: number; tasks: unknown[] }[] }>('GET', '/jobs?status=open&size=100');
    const small = rows.find((j) => j.tasks.length === Math.min(...rows.map((r) => r.tasks.length)))!;
    const large = rows.find((j) => j.tasks.length === Math.max(...rows.map((r) => r.tasks.length)))!;
    await open(small.id);
    expect(await sheets(width, height)).toBe(1);
    await open(large.id);
    const many = await sheets(width, height);
    expect(many).toBeGreaterThan(1);
    expect(many).toBeLessThanOrEqual(6);
  });
});

test('lists print their lines, not what they are worked with', async () => {
  for (const [path, there] of [
    ['/due?view=list', '//tbody/tr'],
    ['/jobs?whose=all', '//h1'],
    ['/fleet', '//tbody/tr'],
    ['/records', '//tbody/tr'],
  ] as const) {
    await desk.turnTo(path);
    await desk.see(there);
    expect({ path, controls: await controls() }).toEqual({ path, controls: [] });
  }
});
