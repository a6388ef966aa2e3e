import { afterEach, describe, expect, test } from '@jest/globals';
import type { Base } from '@diurna/contract/fleet';
import type { PartPage, StoreWorth, WhichPart } from '@diurna/contract/stores';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { EngineParts } from './EngineParts.tsx';
import { KitContents } from './KitContents.tsx';
import { Lots } from './Lots.tsx';
import { Money } from './Money.tsx';
import { OpenContainers } from './OpenContainers.tsx';
import { OtherNumbers } from './OtherNumbers.tsx';
import { ShelfActs } from './ShelfActs.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const oil: PartPage = {
  ...{ id: 7, version: 1, number: 'OIL-1030', name: 'Engine oil', kind: 'oil', unit: 'mL', priceMinor: 820 },
  ...{ fitments: [], places: [], keptBack: [], shelfLifeMonths: 36, kitModels: [2], supersedes: [9] },
  onHand: [{ baseId: 1, quantity: 5000 }],
  containers: [{ value: 1, unit: 'US qt', kind: 'bottle' }],
  contents: [{ partId: 9, quantity: 2 }],
  links: [
    { ...{ otherId: 8, kind: 'equivalent', approved: false, evidence: 'a letter', saidBy: 'Ilse', day: '2026-01-10' } },
  ],
  others: [
    { id: 8, number: 'OIL-B', name: 'Oil of another make', unit: 'mL' },
    { id: 9, number: 'F-9', name: 'Filter', unit: 'each' },
  ],
  open: [
    { id: 3, baseId: 1, label: '1 US qt bottle', sizeMl: 946, leftMl: 400, openedAt: '2026-04-14T10:00:00Z' },
    { id: 4, baseId: 1, label: '1 US qt bottle', sizeMl: 946, leftMl: 100, openedAt: '2026-04-14T11:00:00Z' },
  ],
  lots: [
    { baseId: 1, lot: 'H-1', expires: '2026-03-01', since: '2024-03-01', left: 900 },
    { baseId: 1, lot: null, expires: null, since: '2024-03-01', left: 4100 },
  ],
  worth: [],
};
const start = async (element: Parameters<typeof page>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn('stores'), listModels: [], ...more });
  await page(element);
  return asked;
};

describe('the catalogue on the page of a part', () => {
  test('numbers that stand for it, with who says so and whether they are fitted here', async () => {
    await start(<OtherNumbers part={oil} />);
    const region = await screen.findByRole('region', { name: 'Other numbers' });
    expect(region.textContent).toContain('Came after F-9: what is left of that is used up first.');
    expect(within(region).getByText('OIL-B').closest('tr')!.textContent).toMatch(
      /an equivalent.*a letter.*Ilse.*not approved/,
    );
  });

  test('lots: what may not be used any more stands out; what has neither lot nor date is no line', async () => {
    await start(<Lots part={oil} />);
    const region = await screen.findByRole('region', { name: 'Lots' });
    expect(region.textContent).toContain('900 mL may not be used any more.');
    expect(within(region).getAllByRole('row')).toHaveLength(2);
  });

  test('open containers: one is opened, one poured into another', async () => {
    const asked = await start(<OpenContainers part={oil} />, { moveStock: { onHand: 5000 } });
    await user.click(await screen.findByRole('button', { name: 'Open a full one' }));
    expect(asked.at(-1)!.body).toEqual({ act: 'open', partId: 7, baseId: 1, container: oil.containers[0] });
    await user.selectOptions(screen.getByLabelText('Into'), '4');
    await user.type(screen.getByLabelText('mL'), '50');
    await user.click(screen.getByRole('button', { name: 'Pour over' }));
    expect(asked.at(-1)!.body).toEqual({ act: 'decant', partId: 7, baseId: 1, fromId: 3, toId: 4, ml: 50 });
  });

  test('typed by full containers, with the litres beside; a figure a thousand times off asks first', async () => {
    const asked = await start(<ShelfActs part={oil} />, { moveStock: { onHand: 8785 } });
    await user.click(await screen.findByRole('button', { name: 'Receive' }));
    await user.type(screen.getByLabelText('How many'), '4');
    expect(screen.getByRole('status').textContent).toBe('= 3.79 L');
    const receive = () => screen.getAllByRole<HTMLButtonElement>('button', { name: 'Receive' }).at(-1)!;
    await user.clear(screen.getByLabelText('How many'));
    await user.type(screen.getByLabelText('How many'), '3785');
    expect(receive().disabled).toBe(true);
    await user.click(screen.getByRole('checkbox', { name: /far from what is usual/ }));
    expect(receive().disabled).toBe(false);
    await user.clear(screen.getByLabelText('How many'));
    await user.type(screen.getByLabelText('How many'), '4');
    await user.type(screen.getByLabelText('Lot'), 'H-2');
    await user.click(receive());
    expect(asked.at(-1)!.body).toMatchObject({ act: 'receive', quantity: 3785.41, lot: 'H-2', expires: null });
  });

  test('counted: full ones, and what stands open is looked at by itself', async () => {
    const asked = await start(<ShelfActs part={oil} />, { moveStock: { onHand: 2392 } });
    await user.click(await screen.findByRole('button', { name: 'Count' }));
    await user.type(screen.getByLabelText('Full ones'), '2');
    const [first] = screen.getAllByLabelText('In the open 1 US qt bottle, mL');
    await user.clear(first!);
    await user.type(first!, '300');
    await user.click(screen.getAllByRole('button', { name: 'Count' }).at(-1)!);
    expect(asked.at(-1)!.body).toMatchObject({
      counted: 2292.71,
      open: [
        { id: 3, leftMl: 300 },
        { id: 4, leftMl: 100 },
      ],
    });
  });

  test('what is kept back for cards does not leave; said so, it does', async () => {
    const [north] = signedIn('stores').listBases as Base[];
    const asked = await start(<ShelfActs part={oil} />, {
      listBases: [north!, { ...north!, id: 2, name: 'South Quay' }],
      moveStock: (a) =>
        (a.body as { although: boolean }).although
          ? { onHand: 0 }
          : refusal(409, 'Of OIL-1030 1000 mL are free here.', { type: 'kept' }),
    });
    await user.click(await screen.findByRole('button', { name: 'Send to another base' }));
    await user.selectOptions(screen.getByLabelText('To'), '2');
    await user.type(screen.getByLabelText('How many'), '5');
    await user.click(screen.getByRole('button', { name: 'Send' }));
    await user.click(await screen.findByRole('checkbox', { name: /these cards go short/ }));
    await user.click(screen.getByRole('button', { name: 'Send' }));
    expect(asked.filter((a) => a.name === 'moveStock').map((a) => (a.body as { although: boolean }).although)).toEqual([
      false,
      true,
    ]);
  });

  test('a kit is held against a service; no tasks, no question', async () => {
    const asked = await start(<KitContents part={oil} />, {
      listModels: [{ id: 2, maker: 'Corvane', name: '60' }] as never,
      checkKit: {
        missing: [{ id: 9, number: 'SEP-10', name: 'Separator', unit: 'each', quantity: 1 }],
        over: [],
        links: [{ wanted: 'F1', brings: 'F2', why: 'newer number: bulletin 7 (Tern)' }],
        unknown: ['impeller'],
      },
    });
    const check = await screen.findByRole('group', { name: 'Kit check' });
    expect(await within(check).findByText('SEP-10')).toBeTruthy();
    expect(check.textContent).toContain('It brings F2 for F1: newer number: bulletin 7 (Tern).');
    expect(check.textContent).toContain('No part known for impeller.');
    expect(asked.filter((a) => a.name === 'checkKit').at(-1)!.url.search).toContain('modelId=2');
  });
});

test('which part an engine takes: one answer, what may be fitted instead, and what is in doubt', async () => {
  const which: WhichPart[] = [
    {
      ...{ task: 'oil-filter', kind: 'oil filter', quantity: 1, onHand: 0, doubts: [] },
      part: { id: 9, number: 'F-9', name: 'Filter', unit: 'each' },
      instead: [
        { id: 8, number: 'F-8', name: 'Old', unit: 'each', onHand: 2, place: null, why: 'older number: x (y)' },
      ],
    },
    {
      ...{ task: 'engine-oil', kind: 'oil', quantity: null, onHand: 0, part: null, instead: [] },
      doubts: ['A and B both fit by what is written.'],
    },
  ];
  await start(<EngineParts engineId={5} />, { whichParts: which });
  const region = await screen.findByRole('region', { name: 'Its parts' });
  expect(within(region).getByText('F-9').closest('tr')!.textContent).toMatch(/Oil filter.*F-8 2 on hand older number/);
  expect(within(region).getByText('not sure').closest('tr')!.textContent).toContain('both fit');
});

test('money on the shelves: tied up, dead, and what may not be used any more', async () => {
  const part = {
    ...{ id: 9, number: 'F-9', name: 'Filter', unit: 'each' as const },
    worthFifoMinor: 0,
    expiresSoon: 0,
  };
  const worth: StoreWorth = {
    ...{ totalMinor: 40_000, totalFifoMinor: 41_000, deadMinor: 5000, turns: 2.345 },
    parts: [{ ...part, onHand: 3, worthMinor: 5000, turns: null, lastUsed: null, dead: true, expired: 2 }],
  };
  await start(<Money />, { readWorth: worth });
  const region = await screen.findByRole('region', { name: 'Money on the shelves' });
  expect(region.textContent).toContain('€400.00 tied up by the moving average, €410.00 first in first out.');
  expect(region.textContent).toContain('turned over 2.3 times within a year. €50.00 of it lies dead');
  expect(region.textContent).toContain('2 may not be used any more');
  expect(within(region).getByText('never, dead')).toBeTruthy();
});
