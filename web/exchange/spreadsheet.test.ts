import { describe, expect, test } from '@jest/globals';
import writeSheet from 'write-excel-file/node';
import { csvOfSpreadsheet, isSpreadsheet, spreadsheetOfCsv } from './spreadsheet.ts';

describe('spreadsheets', () => {
  const csv = 'part,price,count,note\r\n0012,9.90,40,"two, and more"\r\nOIL-30,120,,\r\n';

  test('what is written comes back the same: numbers with noughts before them are words, figures are figures', async () => {
    const sheet = await spreadsheetOfCsv(csv);
    expect(await csvOfSpreadsheet(sheet)).toBe('part,price,count,note\r\n0012,9.9,40,"two, and more"\r\nOIL-30,120,,');
  });

  test('it is a file of Office Open XML (ISO/IEC 29500): a zip archive whose parts are named in [Content_Types].xml', async () => {
    const bytes = new Uint8Array(await (await spreadsheetOfCsv(csv)).arrayBuffer());
    // Signature of a local file header (APPNOTE.TXT 4.3.7, from memory).
    expect([...bytes.slice(0, 4)]).toEqual([0x50, 0x4b, 3, 4]);
    expect(new TextDecoder('latin1').decode(bytes)).toContain('[Content_Types].xml');
  });

  test('days of somebody’s sheet are read as the days they show, with their hour where they have one', async () => {
    const bytes = await writeSheet([
      [{ value: 'read_on' }, { value: 'at' }],
      [
        { value: new Date('2026-04-05T00:00:00Z'), type: Date, format: 'dd/mm/yyyy' },
        { value: new Date('2026-04-05T09:30:00Z'), type: Date, format: 'dd/mm/yyyy hh:mm' },
      ],
    ]).toBuffer();
    expect(await csvOfSpreadsheet(new Blob([new Uint8Array(bytes)]))).toBe('read_on,at\r\n2026-04-05,2026-04-05 09:30');
  });

  test('what is none is said in words', async () => {
    await expect(csvOfSpreadsheet(new Blob(['not a zip']))).rejects.toThrow(/no spreadsheet the book can open/);
    expect(isSpreadsheet(new File([''], 'Prices.XLSX'))).toBe(true);
    expect(isSpreadsheet(new File([''], 'prices.csv'))).toBe(false);
  });
});
