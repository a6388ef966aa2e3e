import { afterEach, describe, expect, test } from '@jest/globals';
import type { Model as ModelRow } from '@diurna/contract/fleet';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { modelOf } from '../test/model.ts';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Model } from './Model.tsx';
import { Models } from './Models.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const model = modelOf();
const open = async (
  at: string,
  more: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'coordinator',
) => {
  const asked = answer({ ...signedIn(role), listModels: [model], editModel: { id: 2, version: 8 }, ...more });
  await page(<Model />, { path: '/fleet/models/:id', at: `/fleet/models/${at}` });
  return asked;
};
const sent = (asked: Asked[], name: Asked['name']) => asked.find((a) => a.name === name)?.body as ModelRow;
const line = (task: string) => within(screen.getByRole('rowheader', { name: task }).closest('tr')!);
const limit = (label: string) => screen.getByLabelText<HTMLInputElement>(label);
const type = async (label: string, text: string) => {
  await user.clear(limit(label));
  await user.type(limit(label), text);
};
const act = (name: string) => user.click(screen.getByRole('button', { name }));

describe('a model', () => {
  test('stands with its label’s volumes as printed and its programme, by whose figures', async () => {
    await open('2');
    expect(await screen.findByRole('heading', { name: 'Corvane 60' })).toBeTruthy();
    expect(screen.getByText('14 in the fleet')).toBeTruthy();
    expect(limit('Gear case').value).toBe('0.43');
    expect(limit('Engine oil, hours').value).toBe('100');
    expect(screen.getByLabelText<HTMLSelectElement>('Engine oil, whose figures').value).toBe('maker');
    // Usual for a four-stroke, but not in this model's programme.
    expect(line('Gear lube').getByText('not in the programme')).toBeTruthy();
  });

  test('usual figures that are changed become the yard’s own at once; letters are no hours', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await type('Impeller, hours', '15o0');
    expect(limit('Impeller, hours').value).toBe('150');
    expect(screen.getByLabelText<HTMLSelectElement>('Impeller, whose figures').value).toBe('own');
    await act('Keep the changes');
    expect(await screen.findByText(/Corvane 60 is in the book/)).toBeTruthy();
    const body = sent(asked, 'editModel');
    expect(body).toMatchObject({ version: 7, gearCase: { value: 0.43, unit: 'US qt' } });
    expect(body.rules.find((r) => r.task === 'impeller')).toMatchObject({ everyHours: 150 });
  });

  test('past the maker’s limit somebody answers for it with a reason, or it is not kept', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await type('Engine oil, hours', '130');
    expect(screen.getByText(/passes the maker’s limit for engine oil/)).toBeTruthy();
    const keep = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Keep the changes' });
    expect(keep().disabled).toBe(true);
    await user.type(screen.getByLabelText('Why'), 'The dealer agreed in writing');
    expect(keep().disabled).toBe(false);
    await user.click(keep());
    await screen.findByText(/is in the book/);
    expect(sent(asked, 'editModel')).toMatchObject({ reason: 'The dealer agreed in writing' });
  });

  test('a task comes into the programme with the usual limits and goes out again', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await user.click(line('Gear lube').getByRole('button', { name: 'add it' }));
    // 100 h or 12 months (common practice, no source).
    expect([limit('Gear lube, hours').value, limit('Gear lube, months').value]).toEqual(['100', '12']);
    await user.click(line('Impeller').getByRole('button', { name: 'not on this model' }));
    await act('Keep the changes');
    await screen.findByText(/is in the book/);
    expect(
      sent(asked, 'editModel')
        .rules.map((r) => r.task)
        .sort(),
    ).toEqual(['engine-oil', 'gear-lube']);
  });

  test('a task with neither hours nor months is refused in words, before anything is sent', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await user.clear(limit('Engine oil, hours'));
    await user.clear(limit('Engine oil, months'));
    await user.type(screen.getByLabelText('Why'), 'No idea');
    await act('Keep the changes');
    expect((await screen.findByRole('alert')).textContent).toMatch(/needs hours, months or both/);
    expect(sent(asked, 'editModel')).toBeUndefined();
  });

  test('tolerances have names of their own and show what is not as usual', async () => {
    await open('2');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    const button = () => line('Impeller').getByRole('button', { expanded: false });
    expect(button().textContent).toBe('tolerances');
    await user.click(button());
    await type('Impeller: In sand and shallows', '40');
    await user.click(line('Impeller').getByRole('button', { expanded: true }));
    expect(button().textContent).toBe('sand 40 %');
  });

  test('what a change would do to the fleet is worked out before it is kept', async () => {
    const years = {
      before: { services: 10, minutes: 400, money: 90_000 },
      after: { services: 12, minutes: 480, money: 0 },
    };
    const asked = await open('2', { previewRules: { engines: 0, lastYear: years, comingYear: years } } as never);
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await type('Impeller, hours', '150');
    await act('Work out what this does to the fleet');
    expect(await screen.findByText('No due date moves, and no engine takes other parts.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'previewRules')).toBeTruthy();
  });

  test('refused, what was typed stays', async () => {
    await open('2', { editModel: () => refusal(409, 'Somebody else changed this model. Look at it anew.') });
    await screen.findByRole('heading', { name: 'Corvane 60' });
    await type('Impeller, hours', '150');
    await act('Keep the changes');
    expect(await screen.findByText(/Somebody else changed this model/)).toBeTruthy();
    expect(limit('Impeller, hours').value).toBe('150');
  });

  test('a technician reads it and changes nothing; one that is not there says so', async () => {
    await open('2', {}, 'technician');
    await screen.findByRole('heading', { name: 'Corvane 60' });
    expect(screen.queryByRole('button', { name: 'Keep the changes' })).toBeNull();
    expect(limit('Engine oil, hours').matches(':disabled')).toBe(true);
    cleanup();
    await open('99');
    expect(await screen.findByText('There is no such model.')).toBeTruthy();
  });
});

describe('a new model', () => {
  test('begins with the usual programme; a two-stroke is asked for no engine oil', async () => {
    const asked = await open('new', { addModel: { id: 9, version: 1 } });
    await screen.findByRole('heading', { name: 'A new engine model' });
    await user.type(limit('Maker'), 'Talbrook');
    await user.type(limit('Model'), 'T 9');
    await user.type(limit('Power, hp'), '9.9');
    await user.selectOptions(screen.getByLabelText('Stroke'), 'two-stroke');
    expect(screen.queryByLabelText('Engine oil')).toBeNull();
    await act('Volumes are not known');
    await act('Add the model');
    await screen.findByText('another page');
    const body = sent(asked, 'addModel');
    expect(body).toMatchObject({ maker: 'Talbrook', powerHp: 9.9, stroke: 2, sump: null, gearCase: null });
    expect(body.rules.every((r) => r.basis === 'usual')).toBe(true);
  });

  test('what is missing is told at its field, and nothing is sent', async () => {
    const asked = await open('new');
    await screen.findByRole('heading', { name: 'A new engine model' });
    await act('Add the model');
    await waitFor(() => {
      expect(limit('Maker').getAttribute('aria-invalid')).toBe('true');
    });
    expect(sent(asked, 'addModel')).toBeUndefined();
  });
});

describe('engines that are built otherwise', () => {
  test('say from which serial or for which transom, and only in what they differ', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Some of them are built otherwise' });
    await act('Add engines that are built otherwise');
    await type('From serial', 'C60-40117');
    await user.selectOptions(screen.getByLabelText('In what do they differ?'), 'Propeller nut, N·m');
    const own = within(screen.getByRole('group', { name: 'Otherwise 1' }));
    await user.type(own.getByLabelText(/^Propeller nut, N·m/), '80-100 lbf·ft');
    // 80 lbf.ft are 108.5 N.m (NIST SP 811).
    expect(own.getByText('109 to 136 N·m (80 to 100 lbf·ft)')).toBeTruthy();
    await act('Keep the changes');
    await waitFor(() => {
      expect(sent(asked, 'editModel')).toBeTruthy();
    });
    expect(sent(asked, 'editModel').variants).toEqual([
      { from: 'C60-40117', to: null, transom: null, traits: { propNutNm: { least: 108.5, most: 135.6 } } },
    ]);
  });
  test('without serial and transom it is said at the field, and nothing is sent', async () => {
    const asked = await open('2');
    await screen.findByRole('heading', { name: 'Some of them are built otherwise' });
    await act('Add engines that are built otherwise');
    await act('Keep the changes');
    expect(await screen.findByText(/needs a serial or a transom/)).toBeTruthy();
    expect(sent(asked, 'editModel')).toBeUndefined();
    await act('Take these out');
    expect(screen.queryByRole('group', { name: 'Otherwise 1' })).toBeNull();
  });
});

describe('the models', () => {
  test('stand in a list with their volumes in the label’s unit and how many are in the fleet', async () => {
    answer({
      ...signedIn('coordinator'),
      listModels: [model, { ...model, id: 3, name: '90', engines: 0, sump: null }],
    });
    await page(<Models />);
    const rows = (await screen.findAllByRole('row')).slice(1).map((r) => r.textContent);
    // 3.0 L is 3.17 US qt (common practice, no source).
    expect(rows[0]).toMatch(/^Corvane 60.*4 cyl143 L = 3\.17 US qt.*0\.43 US qt = 0\.41 L/);
    expect(rows).toHaveLength(2);
  });
  test('what cards still want of them is told the desk, the worst first; a dock hand is not asked', async () => {
    const missing = () => screen.queryByRole('region', { name: 'Figures cards still want' });
    const few = { ...model, id: 3, name: '90', engines: 1, traits: {} };
    const many = { ...model, id: 4, name: '20', engines: 9, traits: { propNutNm: 70 } };
    answer({ ...signedIn('coordinator'), listModels: [few, many] });
    await page(<Models />);
    await screen.findByText('Figures cards still want');
    const lines = within(missing()!)
      .getAllByRole('listitem')
      .map((l) => l.textContent);
    expect(lines[0]).toMatch(/^Corvane 20, 9 engines: torque of the drain screw/);
    expect(lines[1]).toMatch(/^Corvane 90, one engine: torque of the propeller nut/);
    cleanup();
    answer({ ...signedIn('dock'), listModels: [few, many] });
    await page(<Models />);
    await screen.findAllByRole('row');
    expect(missing()).toBeNull();
  });
});
