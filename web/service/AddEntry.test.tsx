import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { Engine } from '@diurna/contract/fleet';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { modelOf, rule } from '../test/model.ts';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { AddEntry } from './AddEntry.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const model = modelOf({ rules: (['engine-oil', 'oil-filter', 'gear-lube'] as const).map((task) => rule({ task })) });
const engine = { id: 11, modelId: 2, stroke: 4, serial: 'C60-1' } as Engine;
const open = async (more: Parameters<typeof answer>[0] = { addEntries: { ids: [7, 8, 9] } }) => {
  const asked = answer({ ...signedIn('coordinator'), listModels: [model], ...more });
  const close = jest.fn();
  await page(<AddEntry engine={engine} onClose={close} />);
  await screen.findByRole('button', { name: 'The whole programme' });
  return { close, sent: () => asked.filter((a) => a.name === 'addEntries').map((a) => a.body) };
};
const act = (name: string) => user.click(screen.getByRole('button', { name }));

describe('earlier work', () => {
  test('a whole service of one day is one act; what is not in the programme can go with it', async () => {
    const { close, sent } = await open();
    await act('The whole programme');
    await user.click(screen.getByRole('checkbox', { name: 'Gear lube' }));
    await user.click(screen.getByText('Not in its programme'));
    await user.click(screen.getByRole('checkbox', { name: 'Impeller' }));
    await user.selectOptions(screen.getByLabelText('The old part was'), 'worn out or broken');
    await user.type(screen.getByLabelText(/^Life hours then/), '302');
    await user.type(screen.getByLabelText(/^Done by/), 'Ines');
    await act('Write it down');
    await waitFor(() => {
      expect(close).toHaveBeenCalled();
    });
    expect(sent()).toEqual([
      {
        engineId: 11,
        tasks: ['engine-oil', 'oil-filter', 'impeller'],
        doneOn: '2026-04-15',
        hours: 302,
        doneBy: 'Ines',
        remark: null,
        oldPart: 'spent',
      },
    ]);
    expect(screen.getByText('3 tasks are in the log.')).toBeTruthy();
  });

  test('how the old part was is asked only of what is looked at when it is renewed', async () => {
    const { sent } = await open();
    await user.click(screen.getByText('Not in its programme'));
    expect(screen.queryByLabelText('The old part was')).toBeNull();
    await user.click(screen.getByRole('checkbox', { name: 'Impeller' }));
    await user.selectOptions(screen.getByLabelText('The old part was'), 'sound');
    await user.click(screen.getByRole('checkbox', { name: 'Impeller' }));
    await user.click(screen.getByRole('checkbox', { name: 'Engine oil' }));
    await act('Write it down');
    await waitFor(() => {
      expect(sent()[0]).toMatchObject({ tasks: ['engine-oil'], oldPart: null });
    });
  });

  test('nothing ticked is told, and nothing is sent', async () => {
    const { sent } = await open();
    await act('Write it down');
    expect((await screen.findByRole('alert')).textContent).toBe('Tick what was done.');
    expect(sent()).toEqual([]);
  });

  test('hours that want a second look keep what was ticked, and go again with the reason', async () => {
    const { close, sent } = await open({
      addEntries: () => refusal(422, 'The hours want a second look; nothing was written.', { type: 'questioned' }),
    });
    await user.click(screen.getByRole('checkbox', { name: 'Engine oil' }));
    await user.type(screen.getByLabelText(/^Life hours then/), '9302');
    await act('Write it down');
    const why = await screen.findByLabelText(/^Why the hours are right/);
    expect(screen.getByRole<HTMLInputElement>('checkbox', { name: 'Engine oil' }).checked).toBe(true);
    expect(close).not.toHaveBeenCalled();
    await user.type(why, 'Counted by the first meter');
    await act('Write it down');
    await waitFor(() => {
      expect(sent()).toHaveLength(2);
    });
    expect(sent()[1]).toMatchObject({ tasks: ['engine-oil'], confirm: 'Counted by the first meter' });
  });
});
