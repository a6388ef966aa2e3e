import type { Role } from '@diurna/contract';
import type { Guide } from './guide-type.ts';
import { SEASON_PAGES } from './season-pages.ts';

const STEER: readonly Role[] = ['administrator', 'coordinator', 'manager'];

/** A short guide to each page, in the words the page uses. */
export const GUIDES: readonly Guide[] = [
  {
    path: '/day',
    title: 'Day',
    about:
      'One day of a base: who works on what and when, which boats go out and come back, and what has to be decided.',
    how: [
      'Each person has a row; a card stands where its work is expected, with the waits for oil to drain and engines to run.',
      '“To decide” lists what cannot go as planned, the dearest first. Open a line to see what each way out costs.',
      'What was decided can be taken back where it is told, or under “Lately”.',
      'The ribbon turns the day: arrow keys, or a dot on it. “.” goes back to today.',
      'Print gives the day sheet and the kits to lay out.',
    ],
  },
  {
    path: '/day/hours',
    title: 'Hours',
    about: 'What each meter shows, typed down a column.',
    how: [
      'Enter or the down arrow goes to the next engine, the up arrow back.',
      'A figure is judged as you type: more than the engine can have run, or less than it showed, asks for a reason.',
      'Half a column may be left: what is typed stays on this device until it is written into the book.',
    ],
  },
  {
    path: '/day/back',
    title: 'Boats back',
    about: 'The dock: boats that go out and come back today. It works without signal.',
    how: [
      '“It goes out” lets a boat go; “It is still here” takes that back. A held boat, and one that is not brought out of its lay-up, has no such button, and says why.',
      'Tap a boat that came back, type its meters, and say what is wrong with it, with a picture.',
      'Without signal all of it is kept on this phone and goes by itself later; what the book does not take stands beside its boat, with why.',
    ],
  },
  {
    path: '/due',
    title: 'Due',
    about: 'What each engine needs, worked out from its hours, its seasons and what will be hired.',
    how: [
      'Each line is an engine, the worst first. A mark stands at the day it is likely due, with the days it may come earlier or later.',
      'Open a mark for why: the rule, the last time, both limits, and the twin beside it.',
      'Tick boats to hand out work on several at once, or to put it off with a reason.',
    ],
  },
  {
    path: '/plan',
    title: 'Plan',
    about: 'Who does what on which day, for the least that waiting, walking and overtime cost.',
    how: [
      '“Plan” works it out; every visit can be picked, moved with its price shown at each place, and fixed.',
      '“Why here” tells what every other day and person would cost, and what hinders them.',
      'What you changed is kept when it is planned anew. Nothing is told to anybody before you accept.',
      'Ctrl Z undoes, with Shift it does it again.',
    ],
    roles: STEER,
  },
  {
    path: '/jobs',
    title: 'Jobs',
    about: 'Cards: what is handed out, under way and done.',
    how: [
      'Technicians see their own day first, in the order it is best done.',
      'Filter by day, person, base or state; order by time, boat or person.',
      'Tick cards to hand them over, move them or call them off together, under one reason.',
    ],
  },
  {
    path: '/jobs/',
    title: 'A card',
    about: 'One visit to one boat, step by step. It works without signal.',
    how: [
      'The step at hand stands open; what is found to be wrong asks what becomes of it.',
      'Timers run on while you do something else; the strip at the top shows the nearest.',
      'Holds keep the engine from going out until what they ask for is done.',
      'Finish stands at the end; what is missing leads to its step. The engine maker’s manual comes before every step here.',
    ],
    inside: true,
  },
  {
    path: '/stores',
    title: 'Stores',
    about: 'Parts and fluids of each base: on hand, kept back, and for how many services of each model they last.',
    how: [
      'Open a part to receive, count, send, hand to a person or write it off; fluids by full containers, or in any unit.',
      'What expires first is taken first; open containers are poured before new ones are opened.',
      'Below zero only when a person says so; every movement is in its ledger.',
    ],
  },
  {
    path: '/stores/orders',
    title: 'Orders',
    about:
      'What to buy, from whom, on which day, in which packs: worked out of the cards, of what likely falls due, and of what suppliers ask.',
    how: [
      'Each line says what would run short without it. Packs are changed by hand; what that costs stands above.',
      '“Order it” puts the lines on the way: plans count on them from then on.',
      'Under “On order” what has come is put on the shelf, also when it is less than was ordered.',
    ],
  },
  {
    path: '/stores/suppliers',
    title: 'Suppliers',
    about: 'Whom you buy from: the days they take orders, how long it takes, carriage, packs and prices.',
    how: [
      'How long it really took is worked out from what has come; write it down as the days when it differs.',
      'A second price counts from so many packs on, for all packs of that order.',
    ],
  },
  {
    path: '/stores/picks',
    title: 'Pick',
    about: 'What the open cards of a day take off the shelves of a base, in the order one walks.',
    how: [
      'Tick what is in the hand, or scan its label; what is not on the list is said.',
      'Where the shelf has too little: another number, another base, an order, or the task is left off its card.',
    ],
  },
  {
    path: '/stores/count',
    title: 'Count',
    about: 'A counting round: what lies on a shelf is typed, and the ledger explains what is off.',
    how: [
      'Type how the place begins, or scan the label of a shelf; empty counts all of the base.',
      'A large difference is counted a second time before it is booked; all of it is booked, or nothing.',
    ],
  },
  {
    path: '/stores/money',
    title: 'Money',
    about: 'What is tied up on the shelves, how often it turns over, what lies dead and what may not be used any more.',
    how: [
      'By the moving average of what was paid; first in first out stands beside it.',
      'Dead is what lies there and was not used within a year.',
    ],
  },
  {
    path: '/stores/labels',
    title: 'Labels',
    about: 'Labels with a code for parts, shelves, boats and engines, on sheets of common sizes or a roll.',
    how: [
      'Print them at their full size: no “fit to page”.',
      '“Gone on the sheet” begins a sheet where the last time left off.',
      'Find, “Scan a label with the camera” opens the thing; a hand scanner types into Find.',
    ],
  },
  {
    path: '/fleet',
    title: 'Fleet',
    about: 'Boats, engines, models, bases and hires.',
    how: [
      'Any word finds a boat: name, base, berth, model, serial.',
      'A column’s head sorts; a second press turns it round.',
      'A boat’s page has its engines, hires, snags and cards; an engine’s page has its due work, service log, readings and condition.',
    ],
  },
  {
    path: '/fleet/models',
    title: 'Models',
    about:
      'What an engine model is and what it needs: its programme of tasks, from a maker’s figures or the usual ones.',
    how: [
      'A programme gives each task its hours and months; what a change would do is shown before it is kept.',
      'Variants by serial range, year or place on the boat have their own rows.',
    ],
  },
  {
    path: '/fleet/hires',
    title: 'Hires',
    about: 'When boats go out and come back. What falls due is forecast from them.',
    how: ['Book once, or again and again.', 'Hires of a calendar that is read by itself are changed there, not here.'],
  },
  {
    path: '/fleet/hires/calendars',
    title: 'Calendars and files',
    about: 'Hires read from calendars, by themselves or from a file.',
    how: [
      'A calendar is read every quarter of an hour; what could not be read is told with why.',
      'A file is shown before it is written.',
    ],
  },
  {
    path: '/fleet/bases',
    title: 'Bases',
    about: 'Where boats lie: clock, hours of work, breaks, lifts, days that are closed.',
    how: ['A base’s own clock holds for everything that happens there.'],
  },
  {
    path: '/fleet/boxes',
    title: 'Meter boxes',
    about: 'Boxes on boats that tell hours by themselves.',
    how: ['Each has a key of its own, shown once.', 'What it sent and the book did not take is listed with why.'],
  },
  {
    path: '/fleet/files',
    title: 'Files',
    about: 'Fleet, hours, parts, suppliers, prices, counts, service and hires as CSV or spreadsheets, out and in.',
    how: [
      'A file is checked whole before a line of it is written; each fault is told with its line.',
      'A supplier’s own list has its own columns: say once which is which, the next list is read by itself.',
      'Of a price list only what the book has is read; the rest is counted and left out.',
    ],
  },
  {
    path: '/rules',
    title: 'Rules',
    about: 'Questions on which practised people differ, and how this book answers them.',
    how: [
      'Open a question for what each side says.',
      'Before an answer is kept you see what would fall due earlier or later, and on how many engines.',
    ],
    roles: STEER,
  },
  {
    path: '/rules/own',
    title: 'Rules of their own',
    about: 'An engine, a model or a base that goes by other figures than its programme.',
    how: ['Each has a reason, and who gave it.'],
    roles: STEER,
  },
  {
    path: '/rules/steps',
    title: 'Steps of cards',
    about: 'How each task is done, step by step; the yard’s own versions.',
    how: ['Cards already handed out keep the steps they came with.'],
    roles: STEER,
  },
  {
    path: '/rules/life',
    title: 'How long they last',
    about: 'Lives of parts in this fleet, and at what age renewing them costs least.',
    how: ['What was read of the old part on cards tells whether it had failed. Few failures say little.'],
    roles: STEER,
  },
  {
    path: '/rules/minutes',
    title: 'Minutes',
    about: 'How long each task really takes here, learned from finished cards.',
    how: ['Few cards say little: the range shows how sure it is.'],
    roles: STEER,
  },
  ...SEASON_PAGES,
  {
    path: '/records',
    title: 'Records',
    about: 'What was done to which engine, when, at how many hours and by whom.',
    how: ['An entry that was wrong is cancelled with a reason; it stays to be read.'],
  },
  {
    path: '/records/waste',
    title: 'Used oil',
    about: 'What was drained and where it is: oil, filters, fuel, coolant.',
    how: ['Containers fill by what the cards say was drained.'],
  },
  {
    path: '/records/audit',
    title: 'Audit',
    about: 'Who changed what, when, from where.',
    how: ['Nothing of it can be changed.'],
  },
  {
    path: '/records/mail',
    title: 'Mail',
    about: 'What the book sends: on its way, gone, and what did not go, with why.',
    how: ['Everybody chooses under “The yard” what comes by mail.'],
  },
  {
    path: '/yard',
    title: 'The yard',
    about: 'Who works here, what they are told and how they sign in.',
    how: [
      'Your own account, your devices and a second factor are here.',
      'Administrators add people and end their sessions.',
    ],
  },
];
