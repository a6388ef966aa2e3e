import { afterEach, describe, expect, test } from '@jest/globals';
import type { WorkingPerson } from '@diurna/contract/work-calendar';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Reply } from '../app/api.ts';
import { dayField, shownDay, typeDay, typeHour } from '../test/day-field.ts';
import { answer, DONE, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Work } from './Work.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const ines: WorkingPerson = {
  id: 3,
  version: 4,
  name: 'Ines Okoye',
  role: 'technician',
  baseId: 1,
  calendar: false,
  skills: [],
  pace: 1,
  rateMinor: null,
  overtimeMinutes: 60,
  overtimePercent: 150,
  shifts: [1, 2].map((weekday) => ({ weekday, fromMinute: 450, toMinute: 960, baseId: null })),
  exceptions: [
    {
      id: 5,
      kind: 'away',
      firstDay: '2026-05-12',
      lastDay: '2026-05-14',
      baseId: null,
      fromMinute: null,
      toMinute: null,
      reason: 'wedding',
    },
  ],
};
const calendar = (more: Partial<Reply<'readWorkCalendar'>> = {}): Reply<'readWorkCalendar'> => ({
  people: [ines],
  closed: [{ id: 8, baseId: 1, day: '2026-05-01', name: 'Workers’ day' }],
  liftOut: [{ id: 2, baseId: 1, firstDay: '2026-04-20', lastDay: '2026-04-22', slots: 0, reason: 'new cable' }],
  settings: { version: 6, lateWeightPercent: 100, moveCostMinor: 500, rateMinor: 4800, hireDayMinor: 42_000 },
  ...more,
});
async function open(more: Parameters<typeof answer>[0] = {}, role: Parameters<typeof signedIn>[0] = 'coordinator') {
  const asked = answer({ ...signedIn(role), readWorkCalendar: calendar(), ...more });
  await page(<Work />);
  await screen.findByText('Ines Okoye');
  return asked;
}
const sent = (asked: Asked[], name: Asked['name']) =>
  waitFor(() => {
    const found = asked.find((a) => a.name === name);
    expect(found).toBeTruthy();
    return found!.body;
  });
const block = (title: string) => within(screen.getByRole('heading', { name: title }).closest('section, form')!);

describe('working hours', () => {
  test('a week is written with its like days together; an hour not of one’s own is the book’s', async () => {
    await open();
    const line = screen.getByText('Ines Okoye').closest('tr')!;
    expect(line.textContent).toMatch(/Mon Tue 07:30 to 16:00/);
    expect(line.textContent).toMatch(/48\.00/);
    expect(line.textContent).toMatch(/12 May to .*14 May: away, wedding/);
  });

  test('a day ticked begins with usual hours, one unticked is gone; what is sent carries the version', async () => {
    const asked = await open({ editPersonWork: { id: 3, version: 5 } });
    await user.click(screen.getByRole('button', { name: 'edit the working hours of Ines Okoye' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.click(sheet.getByRole('checkbox', { name: 'Sat' }));
    await user.click(sheet.getByRole('checkbox', { name: 'Mon' }));
    await typeHour('Sat to', '12:15', sheet);
    await user.click(sheet.getByRole('button', { name: 'lower units' }));
    await user.click(sheet.getByRole('button', { name: 'Keep them' }));
    expect(await sent(asked, 'editPersonWork')).toMatchObject({
      version: 4,
      skills: ['lower units'],
      rateMinor: null,
      shifts: [
        { weekday: 2, fromMinute: 450, toMinute: 960, baseId: null },
        { weekday: 6, fromMinute: 480, toMinute: 735, baseId: null },
      ],
    });
  });

  test('hours that end before they begin are told at their day, nothing is sent', async () => {
    const asked = await open();
    await user.click(screen.getByRole('button', { name: /^edit the working hours/ }));
    const sheet = within(await screen.findByRole('dialog'));
    await typeHour('Tue to', '06:00', sheet);
    await user.click(sheet.getByRole('button', { name: 'Keep them' }));
    expect((await sheet.findByRole('alert')).textContent).toBe('Tue ends before it begins');
    expect(asked.some((a) => a.name === 'editPersonWork')).toBe(false);
  });

  test('an hour that costs no sum, or a pace of nothing, is told under its field', async () => {
    const asked = await open();
    await user.click(screen.getByRole('button', { name: /^edit the working hours/ }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.type(sheet.getByLabelText(/^An hour costs/), 'plenty');
    await user.clear(sheet.getByLabelText(/^Pace/));
    await user.type(sheet.getByLabelText(/^Pace/), '0');
    await user.click(sheet.getByRole('button', { name: 'Keep them' }));
    expect(await sheet.findByText('An hour costs (EUR) has to be a number')).toBeTruthy();
    expect(sheet.getByText('Pace is between 0.3 and 5')).toBeTruthy();
    expect(asked.some((a) => a.name === 'editPersonWork')).toBe(false);
  });

  test('days that differ: away by day, or there at other hours; each goes alone and is taken back alone', async () => {
    const asked = await open({ addException: { id: 9 }, removeException: DONE });
    await user.click(screen.getByRole('button', { name: /^edit the working hours/ }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.selectOptions(sheet.getByLabelText('What'), 'at other hours');
    await typeHour('From', '10:00', sheet);
    await typeDay('First day', '2026-06-01', sheet);
    // The last day is never before the first.
    expect((await dayField('Last day', sheet)).value).toBe(shownDay('2026-06-01'));
    await user.click(sheet.getByRole('button', { name: 'Write it down' }));
    expect(await sent(asked, 'addException')).toEqual({
      kind: 'hours',
      fromMinute: 600,
      toMinute: 960,
      firstDay: '2026-06-01',
      lastDay: '2026-06-01',
      reason: null,
    });
    await user.click(sheet.getByRole('button', { name: 'take back' }));
    await sent(asked, 'removeException');
    expect(asked.find((a) => a.name === 'removeException')!.url.pathname).toBe('/api/people/exceptions/5');
  });
});

describe('days without work, the lift, what plans are weighed by', () => {
  test('a day is added at a base by its name; a calendar file says how many it brought', async () => {
    const asked = await open({ addClosedDay: { id: 9 }, importClosedDays: { added: 11, known: 2 } });
    const closed = block('Days without work');
    expect(closed.getByText(/Workers’ day/)).toBeTruthy();
    const add = closed.getByRole<HTMLButtonElement>('button', { name: 'Add the day' });
    expect(add.disabled).toBe(true);
    await user.type(closed.getByLabelText('Name of the day'), ' Quay fair ');
    await user.click(add);
    expect(await sent(asked, 'addClosedDay')).toEqual({ day: '2026-04-15', name: 'Quay fair' });
    const file = new File(['BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n'], 'days.ics', { type: 'text/calendar' });
    file.text = () => Promise.resolve('BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n');
    const read = closed.getByLabelText(/calendar file/);
    await user.upload(read, file);
    expect(await screen.findByText('11 days without work read in, 2 known already.')).toBeTruthy();
    expect(await sent(asked, 'importClosedDays')).toContain('BEGIN:VCALENDAR');
  });

  test('the lift out of use wants a reason; while there is none nothing can be sent', async () => {
    const asked = await open({ addLiftOut: { id: 3 } });
    const lift = block('The lift');
    expect(lift.getByText(/20 Apr 2026 to 22 Apr 2026: out, new cable/)).toBeTruthy();
    const add = lift.getByRole<HTMLButtonElement>('button', { name: 'Write it down' });
    expect(add.disabled).toBe(true);
    await user.type(lift.getByLabelText('Why'), 'inspection');
    await typeDay('Until', '2026-04-17', lift);
    await user.click(add);
    expect(await sent(asked, 'addLiftOut')).toEqual({
      firstDay: '2026-04-15',
      lastDay: '2026-04-17',
      slots: 0,
      reason: 'inspection',
    });
  });

  test('money is typed as money; what somebody else changed meanwhile is told and nothing typed is lost', async () => {
    const asked = await open({
      editPlanSettings: () => refusal(409, 'Somebody else changed the figures. Look again, then keep yours.'),
    });
    const weights = block('What plans are weighed by');
    const hour = weights.getByLabelText<HTMLInputElement>(/^An hour of work/);
    await user.clear(hour);
    await user.type(hour, '52.50');
    await user.click(weights.getByRole('button', { name: 'Keep the figures' }));
    expect(await sent(asked, 'editPlanSettings')).toMatchObject({ version: 6, rateMinor: 5250, hireDayMinor: 42_000 });
    expect((await weights.findByRole('alert')).textContent).toMatch(/Somebody else changed/);
    expect(hour.value).toBe('52.50');
  });

  test('a manager reads all of it and changes none', async () => {
    await open({}, 'manager');
    expect(screen.queryByRole('button')).toBeNull();
    expect(screen.queryByRole('heading', { name: 'What plans are weighed by' })).toBeNull();
  });
});
