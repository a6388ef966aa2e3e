import { parentPort, workerData } from 'node:worker_threads';
import { BEGUN } from '../apart.ts';
import { giveWay } from '../give-way.ts';
import { HttpProblem } from '../http/problem.ts';
import type { CalendarRead, CalendarTask } from './calendar-apart.ts';
import { readCalendar } from './calendar-file.ts';

// What a calendar sends is a stranger's: it is taken apart here, where it can hang without anybody waiting.
giveWay('deadline');
parentPort!.postMessage(BEGUN);
const { text, zone, from, to, at } = workerData as CalendarTask;
const here = new Uint8Array(at);
const read = (): CalendarRead => {
  try {
    const events = readCalendar(text, zone, from, to, (title) => {
      here.fill(0);
      new TextEncoder().encodeInto(title, here);
    });
    return { events };
  } catch (error) {
    if (error instanceof HttpProblem) return { refused: error.message };
    throw error;
  }
};
parentPort!.postMessage(read());
