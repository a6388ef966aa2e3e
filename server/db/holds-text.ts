import { ilike, type Column, type SQL } from 'drizzle-orm';

/**
 * Whose text holds what somebody looks for, whatever its case; signs that are patterns to the database are plain text.
 */
export const holdsText = (column: Column, text: string): SQL =>
  ilike(column, `%${text.replaceAll(/[%_\\]/g, '\\$&')}%`);
