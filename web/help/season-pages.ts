import type { Guide } from './guide-type.ts';

/** The guides of the Season room. */
export const SEASON_PAGES: readonly Guide[] = [
  {
    path: '/season',
    title: 'Season',
    about: 'Lay-up and recommission of a base: what comes next for each boat, and whether the pace is enough.',
    how: [
      'A boat’s name opens its lists: each piece of work with its reason, what is left out and why, its fuel and its place.',
      '“Hand out the next visits” makes cards of them; they are carried through like any other.',
      'A boat that was put away stays at the dock until its recommission is done; whoever plans lets it go once, with a reason.',
    ],
  },
  {
    path: '/season/plan',
    title: 'Planned backwards',
    about: 'A day for each boat’s next visits, counted back from frost or the opening, at least cost.',
    how: [
      'The share says how many of the free hands the campaign gets; the rest is for the season that still runs.',
      'What would help is priced beside it. Work is handed out under Boats.',
      'What being late costs this base is entered under Year and places.',
    ],
  },
  {
    path: '/season/batteries',
    title: 'Batteries in store',
    about: 'Whose turn it is, and what the last look said.',
    how: [
      'Volts count after hours at rest; cold makes them lower, and that is taken off.',
      'It works without signal: what a look says is told at once, and it is sent when there is signal again.',
      'Scan the boat’s label by camera or hand scanner, or type its name.',
    ],
  },
  {
    path: '/season/shelf',
    title: 'What the season takes',
    about: 'Parts and fluids of all visits that are still open, beside what is on the shelf.',
    how: [
      'A tank’s size on the boat’s sheet tells how much stabiliser it takes.',
      'Containers stand in the week in which they have to be there; the order book of Stores buys for them too.',
    ],
  },
  {
    path: '/season/put-off',
    title: 'Work put off',
    about: 'What somebody put off, with who and why, until it is done.',
    how: ['Work is put off, and taken back, in Due.'],
  },
  {
    path: '/season/paper',
    title: 'The season on paper',
    about: 'The campaign as a sheet to tick, and a card for the cover of each boat that stands.',
    how: [
      'A card says how the boat was put away and what has to be done before anybody starts it.',
      'The same as a file for a spreadsheet, and its days as a calendar.',
    ],
  },
  {
    path: '/season/year',
    title: 'Year and places',
    about: 'When the base closes and opens, how cold its nights get, and where its boats stand.',
    how: ['A base that never closes gets calendar work only.'],
  },
];
