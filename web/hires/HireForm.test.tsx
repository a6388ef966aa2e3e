import { afterEach, expect, jest, test } from '@jest/globals';
import type { Hire } from '@diurna/contract/hires';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { store } from '../app/store.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { HireForm } from './HireForm.tsx';

afterEach(cleanup);
const hire = {
  id: 9,
  version: 4,
  boatId: 2,
  boatName: 'Avocet',
  outDay: '2026-04-20',
  outTime: '09:00',
  backDay: '2026-04-20',
  backTime: '16:00',
  reference: null,
} as Hire;

test('a changed booking goes with its version; that it runs into another is said, though it is kept', async () => {
  const asked = answer({
    ...signedIn('coordinator'),
    editHire: { id: 9, version: 5, overlaps: ['20 Apr 14:00 to 18:00'] },
  });
  const close = jest.fn();
  await page(<HireForm hire={hire} day="2026-04-15" onClose={close} />);
  const user = userEvent.setup();
  await user.type(screen.getByLabelText(/Reference/), 'LB-7');
  await user.click(screen.getByRole('button', { name: 'Keep the changes' }));
  await waitFor(() => {
    expect(close).toHaveBeenCalled();
  });
  const sent = asked.find((a) => a.name === 'editHire')!;
  expect(sent.url.pathname).toBe('/api/hires/9');
  expect(sent.body).toMatchObject({ version: 4, reference: 'LB-7', outTime: '09:00' });
  expect(store.getState().book.notice?.text).toContain('is also out 20 Apr 14:00 to 18:00');
});
