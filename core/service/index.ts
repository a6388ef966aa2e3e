export * from './tasks.ts';
export * from './due.ts';
export * from './why.ts';
export * from './programme.ts';
