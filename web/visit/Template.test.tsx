import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { TemplateReply } from '@diurna/contract/visit';
import { shippedOf, templateWord, type TemplateLine } from '@diurna/core/visit';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Templates } from './Templates.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const GREASE = templateWord('grease');
const of = (key: TemplateReply['key'], more: Partial<TemplateReply> = {}): TemplateReply => {
  const lines = [...shippedOf(key)] as unknown as TemplateReply['lines'];
  return {
    key,
    version: 1,
    origin: 'shipped',
    lines,
    shipped: lines,
    by: null,
    at: '2026-04-01T08:00:00Z',
    reason: null,
    openCards: 0,
    ...more,
  };
};
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn(role), listTemplates: [of('grease'), of('impeller'), of('visit')], ...more });
  await page(<Templates />, { path: '/', at: '/?of=grease' });
  await screen.findByRole('region', { name: `Steps of ${GREASE}` });
  return asked;
};
const steps = () => within(screen.getByRole('region', { name: `Steps of ${GREASE}` })).getAllByRole('listitem');
const press = (name: string | RegExp) => user.click(screen.getByRole('button', { name }));
const lines = shippedOf('grease');

test('the steps of a task in their order; a technician reads them', async () => {
  await open('technician');
  expect(steps().map((li) => within(li).getAllByText(/./)[1]!.textContent)).toHaveLength(lines.length);
  expect(screen.getByText(lines[0]!.text)).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Add a step' })).toBeNull();
  await press(/^Impeller/);
  expect(await screen.findByRole('region', { name: 'Steps of Impeller' })).toBeTruthy();
});

test('a changed word and an added step are kept as the next version, with why', async () => {
  const asked = await open('coordinator', { editTemplate: { id: 1, version: 2 } as never });
  await user.click(within(steps()[0]!).getByRole('button', { name: 'edit' }));
  const text = screen.getByLabelText<HTMLTextAreaElement>(/^What is to be done/);
  await user.clear(text);
  await user.type(text, 'Wipe every nipple clean');
  await press('Add a step');
  await user.type(screen.getByLabelText(/^What is to be done/), 'Note which nipple took none');
  const keep = screen.getByRole<HTMLButtonElement>('button', { name: 'Keep as version 2' });
  expect(keep.disabled).toBe(true);
  await user.type(screen.getByLabelText('Why it is changed'), 'Salt in the steering');
  await user.click(keep);
  expect(await screen.findByText(/Cards issued from now on have these steps of grease points/)).toBeTruthy();
  const sent = asked.find((a) => a.name === 'editTemplate')!.body as { lines: TemplateLine[] };
  expect(sent).toMatchObject({ version: 1, reason: 'Salt in the steering' });
  expect(sent.lines[0]).toEqual({ ...lines[0], text: 'Wipe every nipple clean' });
  expect(sent.lines.at(-1)).toMatchObject({ text: 'Note which nipple took none', after: [lines.at(-1)!.key] });
});

test('what would make cards wrong is told at its step, and nothing can be kept', async () => {
  await open('coordinator');
  await user.click(within(steps()[0]!).getByRole('button', { name: 'edit' }));
  await user.clear(screen.getByLabelText(/^What is to be done/));
  expect((await screen.findAllByRole('alert')).length).toBeGreaterThan(0);
  await user.type(screen.getByLabelText('Why it is changed'), 'because');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep as version 2' }).disabled).toBe(true);
  expect(screen.getByText(/to put right first/)).toBeTruthy();
});

test('a draft survives leaving the page, and is left as it was by a press', async () => {
  await open('coordinator');
  await press('Add a step');
  await user.type(screen.getByLabelText(/^What is to be done/), 'Look at the steering once more');
  cleanup();
  await open('coordinator');
  expect(screen.getByText('Look at the steering once more')).toBeTruthy();
  await press('Leave it as it was');
  await waitFor(() => {
    expect(screen.queryByText('Look at the steering once more')).toBeNull();
  });
});

test('moved, the order is what is sent; somebody else’s change is told and the draft stays', async () => {
  const two: TemplateLine[] = [
    { key: 'a', text: 'First of all', share: 1 },
    { key: 'b', text: 'Then this', share: 1 },
  ];
  const own = of('grease', { lines: two, version: 4, origin: 'own', by: 'Ilse Brandt', openCards: 2 });
  const asked = await open('coordinator', {
    listTemplates: [own],
    editTemplate: () => refusal(409, 'Ilse changed these steps meanwhile.'),
  });
  expect(screen.getByText(/2 open cards keep an older version/)).toBeTruthy();
  await press('Step 1 down');
  await user.type(screen.getByLabelText('Why it is changed'), 'The other way round');
  await press('Keep as version 5');
  expect((await screen.findByRole('alert')).textContent).toBe('Ilse changed these steps meanwhile.');
  expect(
    (asked.find((a) => a.name === 'editTemplate')!.body as { lines: TemplateLine[] }).lines.map((l) => l.key),
  ).toEqual(['b', 'a']);
  expect(steps()[0]!.textContent).toMatch(/Then this/);
});

test('earlier versions, and the book’s own again', async () => {
  const own = of('grease', { version: 2, origin: 'own', lines: [{ key: 'a', text: 'Only this', share: 1 }] });
  await open('coordinator', {
    listTemplates: [own],
    templateVersions: [
      { ...of('grease'), version: 1 },
      { ...own, by: 'Ilse Brandt', reason: 'Shorter' },
    ] as never,
  });
  await press('Earlier versions');
  expect(await screen.findByText(/Version 2, Ilse: Shorter/)).toBeTruthy();
  await press('Take the book’s steps again');
  expect(steps()).not.toHaveLength(1);
});

test('a step of the yard’s own says what it opens, closes and runs; of the book’s own steps that stays', async () => {
  const asked = await open('coordinator', {
    editTemplate: () =>
      refusal(422, '"Start it" would run the engine while plugs are out: "Plugs out" is neither over before it.'),
  });
  await press('Add a step');
  await user.type(screen.getByLabelText(/^What is to be done/), 'Start it and listen');
  await user.selectOptions(screen.getByLabelText('Opens one more'), 'cylinders');
  await user.selectOptions(screen.getByLabelText('Opens one more'), 'battery');
  await press('battery ×: take it out');
  await user.selectOptions(screen.getByLabelText('The engine runs'), 'runs it, once everything is closed');
  expect(screen.getByText('Until it is closed: plugs are out.')).toBeTruthy();
  await user.type(screen.getByLabelText('Why it is changed'), 'To hear the bearings');
  await press('Keep as version 2');
  // What it would do to an engine the book works out, and refuses in words.
  expect((await screen.findByRole('alert')).textContent).toMatch(/would run the engine while plugs are out/);
  const sent = asked.find((a) => a.name === 'editTemplate')!.body as { lines: TemplateLine[] };
  expect(sent.lines.at(-1)).toMatchObject({ opens: ['cylinders'], turns: 'late' });
});

test('what a step of the book does to the engine is told, and is nobody’s to change', async () => {
  const asked = answer({ ...signedIn('coordinator'), listTemplates: [of('spark-plugs')] });
  await page(<Templates />, { path: '/', at: '/?of=spark-plugs' });
  const region = await screen.findByRole('region', { name: 'Steps of Spark plugs' });
  await user.click(within(within(region).getAllByRole('listitem')[0]!).getByRole('button', { name: 'edit' }));
  expect(
    screen.getByText(/What it does to the engine stays, whatever its words become: opens: cylinders\./),
  ).toBeTruthy();
  expect(screen.queryByLabelText('Opens one more')).toBeNull();
  expect(asked.some((a) => a.name === 'editTemplate')).toBe(false);
});
