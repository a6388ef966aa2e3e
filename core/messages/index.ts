export * from './choices.ts';
export * from './mail.ts';
export * from './morning.ts';
export * from './again.ts';
