import type { Role } from '@diurna/contract';

export interface Room {
  path: string;
  word: string;
  /** Its place in the book: the figure that opens it. */
  key: string;
  roles: readonly Role[];
}

const ALL: readonly Role[] = ['administrator', 'coordinator', 'technician', 'stores', 'dock', 'manager'];

/** The rooms that are open, in the order of use. */
export const ROOMS: Room[] = [
  { path: '/day', word: 'Day', key: '1', roles: ALL },
  { path: '/due', word: 'Due', key: '2', roles: ALL },
  { path: '/plan', word: 'Plan', key: '3', roles: ['administrator', 'coordinator', 'manager'] },
  { path: '/jobs', word: 'Jobs', key: '4', roles: ALL },
  { path: '/stores', word: 'Stores', key: '5', roles: ALL },
  { path: '/season', word: 'Season', key: '6', roles: ALL },
  { path: '/fleet', word: 'Fleet', key: '7', roles: ALL },
  { path: '/rules', word: 'Rules', key: '8', roles: ['administrator', 'coordinator', 'manager'] },
  { path: '/records', word: 'Records', key: '9', roles: ALL },
];

/** Where each role starts: what it needs first. */
export const HOME: Record<Role, string> = {
  administrator: '/day',
  coordinator: '/day',
  manager: '/day',
  technician: '/jobs',
  stores: '/stores',
  dock: '/day/back',
};
