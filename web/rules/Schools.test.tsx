import { afterEach, describe, expect, test } from '@jest/globals';
import { SCHOOLS } from '@diurna/core/service';
import type { RulePreview } from '@diurna/contract/rules';
import type { TemplateReply } from '@diurna/contract/visit';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Schools } from './Schools.tsx';

afterEach(cleanup);
const user = userEvent.setup();
/** Of a name that goes on. */
const startsWith = (words: string) => (name: string) => name.startsWith(words);
const impeller = SCHOOLS.find((s) => s.key === 'impeller')!;
const other = impeller.options.find((o) => o.key !== impeller.usual)!;
const usual = SCHOOLS.map((s) => ({ school: s.key, answer: s.usual, by: null, at: null }));
const year = (services: number, minutes: number, partsMinor: number) => ({ services, minutes, partsMinor });
const preview = (more: Partial<RulePreview> = {}): RulePreview => ({
  engines: 20,
  moved: 31,
  earlier: 4,
  later: 27,
  newlyOver: 2,
  noLongerOver: 1,
  unpriced: 3,
  otherParts: 0,
  issued: 0,
  lastYear: { before: year(22, 1100, 68_000), after: year(11, 550, 34_000) },
  comingYear: { before: year(24, 1200, 72_000), after: year(12, 600, 36_000) },
  examples: [
    {
      engineId: 7,
      boatName: 'Razorbill',
      position: 'port',
      task: 'impeller',
      before: { state: 'soon', likely: '2026-05-02', text: '16 h left' },
      after: { state: 'fine', likely: '2027-03-01', text: '216 h left' },
    },
  ],
  ...more,
});

const open = async (
  replies: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'coordinator',
) => {
  const asked = answer({
    ...signedIn(role),
    listSchools: usual,
    listOverrides: [],
    previewRules: preview(),
    answerSchool: DONE,
    ...replies,
  });
  await page(<Schools />, { path: '/rules', at: '/rules' });
  await screen.findByRole('button', { name: startsWith(impeller.question) });
  return asked;
};
const kept = (asked: Asked[]) => asked.filter((a) => a.name === 'answerSchool');
const choose = () => user.click(screen.getByRole('radio', { name: startsWith(other.word) }));

describe('questions of school', () => {
  test('another answer is worked out on the fleet before it is kept, in dates, services, hours and money', async () => {
    const asked = await open();
    await choose();
    const told = await screen.findByText(/20 engines touched/);
    expect(told.textContent).toBe(
      '20 engines touched. 31 due dates move: 4 earlier, 27 later. 2 tasks would be over at once. 1 task would be over no more.',
    );
    const behind = screen.getByRole('row', { name: /A year like the one behind/ }).textContent;
    expect(behind).toContain('22 → 11');
    expect(behind).toContain('18 h 20 → 9 h 10');
    expect(behind).toMatch(/680.*→.*340/);
    const line = within(screen.getByRole('row', { name: /Razorbill port/ }));
    expect(line.getByText('216 h left')).toBeTruthy();
    expect(screen.getByText('and 30 more')).toBeTruthy();
    expect(kept(asked)).toEqual([]);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Answer it so' }).disabled).toBe(true);
    await user.type(screen.getByLabelText('Why it is answered otherwise'), 'our pumps last');
    await user.click(screen.getByRole('button', { name: 'Answer it so' }));
    await waitFor(() => {
      expect(kept(asked).map((a) => [a.url.pathname, a.body])).toEqual([
        ['/api/rules/schools/impeller', { answer: other.key, was: impeller.usual, reason: 'our pumps last' }],
      ]);
    });
    expect(await screen.findByText(/is answered:/)).toBeTruthy();
  });

  test('left as it is, nothing is asked of the book', async () => {
    const asked = await open();
    await choose();
    await user.click(await screen.findByRole('button', { name: 'Leave it as it is' }));
    expect(screen.queryByRole('button', { name: 'Answer it so' })).toBeNull();
    expect(screen.getByRole<HTMLInputElement>('radio', { name: startsWith(other.word) }).checked).toBe(false);
    expect(kept(asked)).toEqual([]);
  });

  test('an answer that touches nothing says so; one somebody else gave meanwhile is refused in words', async () => {
    await open({
      previewRules: preview({ engines: 0 }),
      answerSchool: () => refusal(409, 'Wyn Aldous answered it otherwise a moment ago.'),
    });
    await choose();
    expect(await screen.findByText('No due date moves, and no engine takes other parts.')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Answer it so' }).disabled).toBe(true);
    await user.type(screen.getByLabelText('Why it is answered otherwise'), 'our pumps last');
    await user.click(screen.getByRole('button', { name: 'Answer it so' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Wyn Aldous answered it otherwise');
  });

  test('a question that moves no date shows what changes on cards before it is kept', async () => {
    const model = {
      id: 1,
      version: 1,
      engines: 3,
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
    // The yard has written its own steps for one task: those are compared.
    const own: TemplateReply = {
      key: 'engine-oil',
      version: 3,
      origin: 'own',
      by: 'Ilse Brandt',
      at: '2026-04-01T08:00:00Z',
      reason: null,
      openCards: 0,
      shipped: [],
      lines: [
        { key: 'new', text: 'Washer from the box', share: 1, when: { washerAgain: false } },
        { key: 'old', text: 'Washer turned over', share: 1, when: { washerAgain: true } },
      ],
    };
    const asked = await open({
      listModels: [model, { ...model, id: 2, name: '90', powerHp: 90 }],
      listTemplates: [own],
    });
    const washers = SCHOOLS.find((s) => s.key === 'washers')!;
    await user.click(screen.getByRole('button', { name: startsWith(washers.question) }));
    await user.click(screen.getByRole('radio', { name: /^Composite ones a second time/ }));
    const list = await screen.findByRole('list', { name: 'What changes on cards' });
    expect(list.textContent).toMatch(/Engine oil on every model.*comes.*Washer turned over.*goes.*Washer from the box/);
    expect(list.textContent).toMatch(/Gear lube.*comes.*gaskets go on a second time/);
    await user.type(await screen.findByLabelText('Why it is answered otherwise'), 'as the maker says');
    await user.click(screen.getByRole('button', { name: 'Answer it so' }));
    await waitFor(() => {
      expect(kept(asked)).toHaveLength(1);
    });
  });

  test('a technician reads the answers and changes none', async () => {
    await open({}, 'technician');
    expect(screen.getByRole('group', { name: impeller.question }).matches(':disabled')).toBe(true);
  });
});
