import { afterEach, describe, expect, test } from '@jest/globals';
import type { Outlook } from '@diurna/contract/service';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type Asked, answer, page, readyButton, refusal, signedIn } from '../test/page.tsx';
import { due, row } from '../test/due.ts';
import { Due } from './Due.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const ROWS = [
  row(11),
  row(11, { due: due({ task: 'impeller', state: 'fine', hoursLeft: 80, share: 0.2 }) }),
  row(12, { job: { id: 71, day: '2026-04-16', technician: 'Sven Achterberg' } }),
];
const counts = { over: 2, due: 0, soon: 0, unknown: 0, fine: 1 };
const outlook: Outlook = { from: '2026-04-08', days: 42, rows: [], hires: {}, counts };
const open = async (
  at = '/?view=list',
  more: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'coordinator',
) => {
  const asked = answer({
    ...signedIn(role),
    listModels: [],
    listSchools: [],
    outlook,
    dueList: ({ url }: Asked) => ({
      rows: url.searchParams.get('state') === 'unknown' ? [] : ROWS,
      total: ROWS.length,
      page: 1,
      size: 50,
      counts,
      engines: url.searchParams.get('state') === 'unknown' ? 0 : 2,
    }),
    listPeople: [
      { id: 4, version: 1, name: 'Sven Achterberg', username: 'sven', role: 'technician', baseId: 1, active: true },
    ],
    listHires: { rows: [], total: 0, page: 1, size: 200 },
    ...more,
  });
  await page(<Due />, { path: '/', at });
  return asked;
};

describe('what falls due', () => {
  test('as a list: each task with its state in words, the last time, who has it; what is handed out is not offered', async () => {
    await open();
    const rows = (await screen.findAllByRole('row')).slice(1).map((r) => r.textContent);
    expect(rows[0]).toMatch(/Plover port.*404.*9\.2.*1 Oct 2025, 300\.0 h.*Hand out/);
    expect(rows[2]).toMatch(/Plover starboard.*Sven, Thu 16 Apr$/);
    expect(screen.getByText('2 engines')).toBeTruthy();
  });

  test('filters are asked of the book and stand in the address; nothing left says to take one away', async () => {
    const asked = await open();
    await screen.findAllByRole('row');
    await user.click(screen.getByRole('button', { name: /unknown/i }));
    expect(await screen.findByText('Nothing stands like this.')).toBeTruthy();
    expect(
      asked
        .filter((a) => a.name === 'dueList')
        .at(-1)!
        .url.searchParams.get('state'),
    ).toBe('unknown');
    await user.selectOptions(screen.getByLabelText('Task'), 'Impeller');
    await waitFor(() => {
      expect(
        asked
          .filter((a) => a.name === 'dueList')
          .at(-1)!
          .url.searchParams.get('task'),
      ).toBe('impeller');
    });
  });

  test('why a task stands so: its rule, its last time, its twin and when the boat can be worked on; Esc closes it', async () => {
    await open('/?view=list', { listHires: { rows: [], total: 1, page: 1, size: 200 } });
    await user.click((await screen.findAllByRole('button', { name: /^Why: Plover port, Engine oil/ }))[0]!);
    const why = within(await screen.findByRole('complementary', { name: 'Why' }));
    expect(await why.findByRole('heading', { name: 'Plover port: engine oil' })).toBeTruthy();
    expect(why.getByText(/Its twin starboard/)).toBeTruthy();
    expect(why.getByText('The maker’s programme for this model.')).toBeTruthy();
    // Likely past its limit yesterday, by the forecast.
    expect(why.getByText(/by now it is likely past the limit\. Read the meter/)).toBeTruthy();
    expect(await why.findByRole('heading', { name: 'At its base this week' })).toBeTruthy();
    expect(why.getByText('now to Wed 22 Apr and on')).toBeTruthy();
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('complementary')).toBeNull();
  });

  test('a task is put off with a reason, to a day or to the spring; it says who allowed it and is taken back', async () => {
    const put = {
      id: 5,
      until: '2026-10-01',
      spring: true,
      reason: 'Renewed last spring',
      by: 'Ilse Brandt',
      on: '2026-04-14',
      otherwise: '4 h over',
    };
    const asked = await open('/?view=list', { putOff: { id: 6 } });
    await user.click((await screen.findAllByRole('button', { name: /^Why: Plover port, Impeller/ }))[0]!);
    await user.click(await screen.findByRole('button', { name: 'Put it off' }));
    const form = within(screen.getByRole('form', { name: 'Put it off' }));
    expect(form.getByRole<HTMLButtonElement>('button', { name: 'Put it off' }).disabled).toBe(true);
    await user.type(form.getByLabelText('Why'), 'Few hours since');
    await user.click(form.getByLabelText(/^In spring/));
    await user.click(form.getByRole('button', { name: 'Put it off' }));
    expect(await screen.findByText('It is put off, and comes back by itself.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'putOff')!.body).toEqual({
      task: 'impeller',
      until: null,
      reason: 'Few hours since',
    });
    cleanup();
    const later = await open('/?view=list', {
      dueList: { rows: [row(11, { deferral: put })], total: 1, page: 1, size: 50, counts, engines: 1 },
      endDeferral: { ok: true },
    });
    expect((await screen.findByRole('row', { name: /Plover port.*put off to spring/ })).textContent).toBeTruthy();
    await user.click(screen.getByRole('button', { name: /^Why: Plover port/ }));
    expect(
      await screen.findByText(/Put off to spring, 1 Oct 2026, allowed by Ilse Brandt: Renewed last spring/),
    ).toBeTruthy();
    expect(screen.getByText('By its own limits: 4 h over.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take it back' }));
    await waitFor(() => {
      expect(later.some((a) => a.name === 'endDeferral')).toBe(true);
    });
  });

  test('an empty fleet says how it begins; a book that does not answer is told', async () => {
    await open('/', { outlook });
    expect(await screen.findByText('No engines yet.')).toBeTruthy();
    cleanup();
    await open('/', { outlook: () => refusal(503, 'The database does not answer.') });
    expect(await screen.findByText('The database does not answer.')).toBeTruthy();
  });
});

describe('handing out', () => {
  const preview = {
    minutes: 95,
    savedMinutes: 20,
    parts: [
      {
        partId: 7,
        number: 'OIL-10W30',
        name: 'Engine oil',
        unit: 'mL' as const,
        quantity: 2100,
        onHand: 1000,
        open: [],
        sizes: [],
        instead: [],
        place: null,
        tasks: [],
      },
    ],
    partsUnknown: [{ engineId: 11, task: 'impeller' as const }],
    against: [],
  };
  const give = async (more: Parameters<typeof answer>[0] = {}) => {
    const asked = await open('/?view=list', { previewJob: preview, ...more });
    await user.click((await screen.findAllByRole('button', { name: 'Hand out work on Plover' }))[0]!);
    await screen.findByRole('complementary', { name: 'Hand out work' });
    return asked;
  };

  test('what is urgent and free is ticked; minutes, what is saved, and what the shelf lacks are worked out', async () => {
    const asked = await give();
    const tick = (name: string) => screen.getByRole<HTMLInputElement>('checkbox', { name });
    expect(await screen.findByText('1 h 35')).toBeTruthy();
    expect([tick('Engine oil port').checked, tick('Impeller port').checked]).toEqual([true, false]);
    // It is with Sven already.
    expect(tick('Engine oil starboard').disabled).toBe(true);
    expect(screen.getByText('2.1 L of 1 L short')).toBeTruthy();
    expect(screen.getByText(/No part is known to fit: impeller/)).toBeTruthy();
    await user.click(tick('Impeller port'));
    await waitFor(() => {
      expect(asked.filter((a) => a.name === 'previewJob').at(-1)!.body).toEqual({
        boatId: 1,
        tasks: [
          { engineId: 11, task: 'engine-oil' },
          { engineId: 11, task: 'impeller' },
        ],
        meant: { technicianId: 4, day: '2026-04-15' },
      });
    });
  });

  test('what is against it stands there before it is asked for; it goes with a reason alone', async () => {
    const against = [
      { bar: 'person off' as const, text: 'Ines is off that day.', frees: 'Ines is there again on Mon 20 Apr.' },
      { bar: 'no lift' as const, text: 'No lift turn is left.', frees: null },
    ];
    const asked = await give({ previewJob: { ...preview, against }, addJob: { id: 9, version: 1, changeId: 4 } });
    expect(await screen.findByText('2 things are against it.')).toBeTruthy();
    expect(screen.getByText('Ines is there again on Mon 20 Apr.')).toBeTruthy();
    const hand = () => screen.getByRole('button', { name: /^Hand out \d+ task/ });
    expect(hand().hasAttribute('disabled')).toBe(true);
    await user.type(screen.getByLabelText('Why it is handed out all the same'), 'she comes in');
    await user.click(await readyButton(/^Hand out \d+ task/));
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'addJob')?.body).toMatchObject({ insist: 'she comes in' });
    });
  });

  test('a service is taken by its name, with what the shelf lacks for it; a lay-up brings work of the season', async () => {
    const model = {
      id: 2,
      version: 1,
      engines: 2,
      maker: 'Corvane',
      name: '60',
      powerHp: 60,
      stroke: 4 as const,
      cylinders: 4,
      sump: null,
      gearCase: null,
      traits: {},
      rules: [],
    };
    const asked = await give({
      listModels: [model],
      listSchools: [{ school: 'fogging', answer: 'all', by: null, at: null }],
      dueList: () => ({
        rows: [
          row(11),
          row(11, {
            due: due({ task: 'impeller', state: 'fine', hoursLeft: 80, share: 0.2 }),
            rule: {
              task: 'impeller',
              everyHours: 200,
              everyMonths: null,
              firstHours: null,
              counting: 'rolling',
              anchor: null,
            },
          }),
        ],
        total: 2,
        page: 1,
        size: 50,
        counts,
        engines: 1,
      }),
    });
    const services = within(await screen.findByRole('group', { name: 'Services, port' }));
    await user.click(services.getByRole('button', { name: /^200 h service 2/ }));
    expect(services.getByRole('button', { name: /^200 h service/ }).getAttribute('aria-pressed')).toBe('true');
    expect(await screen.findByText('200 h service port: the shelf lacks a part for impeller.')).toBeTruthy();
    await user.click(await services.findByRole('button', { name: /^lay-up/ }));
    expect(services.getByRole('button', { name: /^lay-up/ }).getAttribute('aria-pressed')).toBe('true');
    expect(screen.getByRole<HTMLInputElement>('checkbox', { name: 'Fogging port' }).checked).toBe(true);
    expect(screen.getByRole<HTMLInputElement>('checkbox', { name: 'Engine oil port' }).checked).toBe(false);
    await waitFor(() => {
      const { tasks } = asked.filter((a) => a.name === 'previewJob').at(-1)!.body as { tasks: { task: string }[] };
      expect(tasks.map((t) => t.task)).toEqual(expect.arrayContaining(['flush', 'second-dose', 'fogging', 'battery']));
    });
  });

  test('handed out it says to whom and when; refused it stays to be changed', async () => {
    let refuse = true;
    const asked = await give({
      addJob: () =>
        refuse ? refusal(409, 'Engine oil of Plover port is on another card by now.') : { id: 80, version: 1 },
    });
    await user.click(await readyButton('Hand out 1 task'));
    expect(await screen.findByText(/is on another card by now/)).toBeTruthy();
    refuse = false;
    await user.click(await readyButton('Hand out 1 task'));
    expect(await screen.findByText('Plover goes to Sven on Wed 15 Apr.')).toBeTruthy();
    expect(asked.filter((a) => a.name === 'addJob').at(-1)!.body).toEqual({
      boatId: 1,
      technicianId: 4,
      day: '2026-04-15',
      tasks: [{ engineId: 11, task: 'engine-oil' }],
    });
  });

  test('a technician hands nothing out', async () => {
    await open('/?view=list', {}, 'technician');
    await screen.findAllByRole('row');
    expect(screen.queryByRole('button', { name: /^Hand out/ })).toBeNull();
  });
});
