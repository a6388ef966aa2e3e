import { beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { lifeRoutes } from '@diurna/contract/life';
import type { ReplyOf } from '@diurna/contract';
import { answer, page, signedIn } from '../test/page.tsx';
import { Life } from './Life.tsx';

type Reply = ReplyOf<(typeof lifeRoutes)['readLife']>;
const user = userEvent.setup();
beforeEach(cleanup);

const reply: Reply = {
  ...{ lives: 20, failures: 10, few: false, costs: { planned: 60, failed: 480 } },
  fit: { shape: 1.7208, scale: 606.528, shapeRange: [0.96, 2.74], scaleRange: [444, 999] },
  points: [{ time: 54, share: 0.95, atRisk: 20 }],
  cheapest: { age: 233, cost: 0.62, failsBefore: 0.17, between: [180, 410] },
  inForce: [{ age: 200, engines: 12, cost: 0.63 }],
};
const open = async (of: Partial<Reply> = {}) => {
  const asked = answer({ ...signedIn('coordinator'), readLife: { ...reply, ...of } });
  await page(<Life />);
  await screen.findByText(/ended worn or broken/);
  return asked;
};

describe('how long they last', () => {
  test('the law with how sure it is, the cheapest age beside the rules in force', async () => {
    await open();
    const body = document.body.textContent;
    expect(body).toContain('shape 1.72 (0.96 to 2.74), two of three have failed by 607 h (444 h to 999 h)');
    expect(body).toContain('Renewing at 233 h costs least, €62.00 for 100 h; 17 % still fail before.');
    expect(body).toContain('it lies between 180 h and 410 h');
    expect(screen.getByRole('img', { name: /^Half of them still hold at 490 h/ })).toBeTruthy();
    expect(screen.getByRole('table', { name: 'Rules in force' }).textContent).toContain('200.0 h12€63.00');
    expect(screen.queryByText(/That is few/)).toBeNull();
  });
  test('few failures are said to say little; none fit no law; no wear wants no renewing', async () => {
    await open({ failures: 1, few: true, fit: null, cheapest: null, points: [] });
    expect(screen.getByText(/That is few: it says little/)).toBeTruthy();
    expect(screen.getByText(/^Two failures at different ages are the least/)).toBeTruthy();
    cleanup();
    await open({ cheapest: null });
    expect(screen.getByText(/waiting is cheapest/)).toBeTruthy();
  });
  test('by months everything is told in months, costs for a year', async () => {
    await open();
    await user.selectOptions(await screen.findByLabelText('By'), 'months fitted');
    expect(await screen.findByText(/for a year;/)).toBeTruthy();
    expect(screen.getByRole('columnheader', { name: 'Costs for a year' })).toBeTruthy();
  });
  test('other costs and other waters are asked for as they are typed', async () => {
    const asked = await open();
    await user.selectOptions(screen.getByLabelText('Of'), 'sand and shallows');
    await user.type(screen.getByLabelText('Failed on the water (EUR)'), '900');
    await waitFor(() => {
      const { searchParams } = asked.findLast((a) => a.name === 'readLife')!.url;
      expect([searchParams.get('water'), searchParams.get('failed')]).toEqual(['sand', '900']);
    });
  });
});
