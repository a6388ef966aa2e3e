import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import { cardOf } from '../test/card.ts';
import { liveCard } from './live-card.ts';
import { PrintCard } from './PrintCard.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const draw = (...[tasks, more]: Parameters<typeof cardOf>) => {
  const card = cardOf(tasks, more);
  render(<PrintCard live={liveCard(card, [], { id: 3, name: 'Ines Okoye' })} />);
  return card;
};
/** The paper is drawn for print only, so it is not read out. */
const items = () => screen.getAllByRole('listitem', { hidden: true }).map((l) => l.textContent);

test('the card on paper has every step in working order with its number, hints, cautions and what it asks', () => {
  const card = draw(['engine-oil', 'oil-filter'], { sump: { value: 3, unit: 'L' } });
  const steps = items();
  expect(steps).toHaveLength(card.steps.length);
  expect(steps[0]).toMatch(/^1Tools, pans and absorbent laid out/);
  const drain = steps.find((s) => s.includes('drain screw out'))!;
  expect(drain).toContain('Tilt up. ');
  expect(drain).toContain('Then 20 min by itself, over at ______.');
  const look = steps.find((s) => s.includes('Rub it between two fingers'))!;
  expect(look).toMatch(/What came out\? ☐ black, normal☐ thin, smells of fuel☐ milky/);
  expect(look).toContain('How much came out? ______ L');
  // What was seen at the gates is written by hand, too.
  expect(steps.filter((s) => s.includes('Confirm: ______')).length).toBeGreaterThan(3);
  expect(screen.getByText('oil 3 L = 3.17 US qt')).toBeTruthy();
});

test('cylinders are asked one by one; a second person is named with the step and for how long', () => {
  const card = draw(['compression', 'impeller']);
  const crank = items().find((s) => s.includes('crank until it stops rising'))!;
  for (const n of [1, 2, 3, 4]) expect(crank).toContain(`Compression ${n} ______ psi`);
  const two = card.steps.flatMap((t, i) => (t.step.twoPeople ? [i + 1] : []));
  expect(two.length).toBeGreaterThan(1);
  const line = screen.getByText('A second person:').closest('p')!.textContent;
  for (const n of two) expect(line).toMatch(new RegExp(`step ${n}, about \\d+ min`));
});

test('what was ticked on a phone is ticked on the paper; parts with their place, who and when at the end', () => {
  const tick = { kind: 'tick' as const, step: 'arrive', done: true };
  draw(['grease'], {
    entries: [{ id: 'e', seq: 1, by: 3, at: 0, act: tick, seen: 0, against: null }],
    parts: [
      {
        partId: 7,
        number: 'GRS-400',
        name: 'Marine grease',
        unit: 'mL',
        quantity: 40,
        onHand: 400,
        open: [],
        sizes: [],
        instead: [],
        place: 'B2',
        tasks: [],
      },
    ],
  });
  expect(items()[0]).toMatch(/^✓1/);
  expect(items()[1]).toMatch(/^2/);
  expect(screen.getByText('Take along:').closest('p')!.textContent).toBe(
    'Take along: GRS-400 Marine grease, 40 mL (at B2)',
  );
  expect(screen.getByText(/Done by ______/).textContent).toMatch(/^Grease points\. Done by .* on .*manual/);
});
