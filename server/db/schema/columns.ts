import { customType, integer, timestamp } from 'drizzle-orm/pg-core';

/** Exact decimal read as a number: meters (one decimal), quantities, printed volumes. Never used for money. */
export const decimal = (digits: number, places: number) =>
  customType<{ data: number; driverData: string }>({
    dataType: () => `numeric(${digits}, ${places})`,
    fromDriver: (value) => Number(value),
    toDriver: (value) => String(value),
  });

export const hoursColumn = decimal(8, 1);
export const quantityColumn = decimal(12, 2);

export const identity = () => integer().primaryKey().generatedAlwaysAsIdentity();
export const versionColumn = () => integer().notNull().default(1);
export const instant = () => timestamp({ withTimezone: true, mode: 'date' });
