import { Key } from 'selenium-webdriver';
import type { Browser } from './browser.ts';

/** The step at hand of a card on the phone, and the bar it is ticked on. */
export const STEP_AT_HAND = '//*[@role="group"][@aria-label="The step at hand"]';
export const TICKS = '//*[@role="group"][@aria-label="Tick the step"]';

/** What is seen at a step, where nothing is wrong. */
const WELL = [
  'black, normal',
  'dark and clear',
  'none',
  'upper half',
  'free',
  'soon and strong',
  'all three as they should',
  'dry',
  'clean',
  'out',
  'holds',
  'both hold',
  'sound',
];

/** Figures that are asked for, as they mostly are; by the words of the step. */
const FIGURES: readonly (readonly [label: string, figure: (step: string) => string])[] = [
  ['How many came out?', (step) => (/\bthree were in/.test(step) ? '3' : '2')],
  ['How much is left of the thinnest?', () => '80'],
];

/** What stands at hand: its number and its words. What a card learns may bring steps, and the next has that number. */
export const atHandOn = async (phone: Browser): Promise<string> =>
  `${/step (\d+) of/.exec(await phone.glance(STEP_AT_HAND))?.[1] ?? ''} ${await phone.glance(`${STEP_AT_HAND}//h2`)}`;

/** Answers what the step at hand asks, as it mostly is, and ticks it; the last answer ticks by itself. */
export async function workStepOn(phone: Browser): Promise<void> {
  const [now, bar] = [STEP_AT_HAND, TICKS];
  const before = await atHandOn(phone);
  const isNext = async () => (await atHandOn(phone)) !== before;
  for (const word of WELL) {
    const look = `${now}//button[@role="radio"][@aria-checked="false"][normalize-space(.)="${word}"]`;
    if ((await phone.count(look)) > 0) {
      await phone.click(look);
      // The entry goes through the phone's store first; then it is seen.
      await phone.until(async () => (await phone.count(look)) === 0 || (await isNext()));
      // Nothing more is asked: the answer was the tick, unless something was found or still has to be waited for.
      if ((await phone.count(`${bar}//button[@disabled]`)) === 0 && !/Still \d/.test(await phone.glance(now)))
        await phone.until(isNext, 'not yet', 2_000).catch(() => undefined);
      if (await isNext()) return;
    }
  }
  for (const [label, figureFor] of FIGURES) {
    const field = `${now}//input[@aria-label="${label}"]`;
    if ((await phone.count(field)) > 0) {
      const figure = figureFor(await phone.text(`${now}//h2`));
      await phone.fill(label, figure);
      await phone.see(`${field}[@value="${figure}"]`);
      await phone.press(Key.ENTER);
      // A last figure ticks by itself.
      await phone.until(isNext, 'not yet', 2_000).catch(() => undefined);
      if (await isNext()) return;
    }
  }
  await phone.click(`${bar}//button[not(@disabled)][.!="Something wrong"]`);
  await phone.until(isNext, `stuck at ${before}`);
}
