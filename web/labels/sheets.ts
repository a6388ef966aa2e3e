/** Paper that labels are printed on. Lengths in millimetres. */
export interface LabelSheet {
  key: string;
  word: string;
  /** Class that sets the page and the grid. */
  className: string;
  perPage: number;
  /** Width and height of the paper, as CSS says them. */
  paper: string;
}

/** Common sizes of sheets, and a roll. */
export const SHEETS: LabelSheet[] = [
  { key: 'a4-24', word: 'A4, 24 of 70 x 37 mm', className: 'sheet-a4-24', perPage: 24, paper: '210mm 297mm' },
  { key: 'a4-10', word: 'A4, 10 of 105 x 57 mm', className: 'sheet-a4-10', perPage: 10, paper: '210mm 297mm' },
  {
    key: 'letter-30',
    word: 'Letter, 30 of 2 5/8 x 1 in',
    className: 'sheet-letter-30',
    perPage: 30,
    paper: '8.5in 11in',
  },
  { key: 'roll-62', word: 'Roll, 62 x 29 mm', className: 'sheet-roll-62', perPage: 1, paper: '62mm 29mm' },
];

/** Labels page by page, the first sheet begun where the last time left off. @param used places gone on it */
export function pagesOf<T>(labels: readonly T[], perPage: number, used: number): (T | null)[][] {
  const all: (T | null)[] = [...Array<null>(Math.min(used, perPage - 1)).fill(null), ...labels];
  return Array.from({ length: Math.ceil(all.length / perPage) }, (_, i) => all.slice(i * perPage, (i + 1) * perPage));
}
