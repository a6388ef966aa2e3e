import { fireEvent, screen } from '@testing-library/react';

type Place = Pick<typeof screen, 'findByRole'>;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
/** "2026-04-05" as the field shows it: "5 Apr 2026". */
export const shownDay = (day: string): string => {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  return `${date} ${MONTHS[month - 1]} ${year}`;
};

/** The input behind the parts of a day, once its calendar was read. @param inside where it is looked for */
export async function dayField(label: string, inside: Place = screen): Promise<HTMLInputElement> {
  const group = await inside.findByRole('group', { name: label });
  return group.parentElement!.querySelector('input')!;
}

/** Types a day such as "2026-04-20" into the field with that label. */
export async function typeDay(label: string, day: string, inside: Place = screen): Promise<void> {
  fireEvent.change(await dayField(label, inside), { target: { value: shownDay(day) } });
}

/** Types an hour such as "09:30" into the field with that label. */
export async function typeHour(label: string, hour: string, inside: Place = screen): Promise<void> {
  fireEvent.change(await dayField(label, inside), { target: { value: hour } });
}
