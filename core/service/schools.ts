/**
 * Where practised people differ: each question with the ways it is answered, what speaks for each, and the
 * one a fresh book starts with. Common practice, no source; the engine maker's manual outranks all of it.
 */
export interface SchoolOption {
  key: string;
  word: string;
  argument: string;
}

export interface School {
  key: string;
  question: string;
  /** The option a fresh book starts with, and why. */
  usual: string;
  because: string;
  /** True where the answer moves due dates; the others shape the work itself. */
  movesDates: boolean;
  options: readonly SchoolOption[];
}

const school = <const S extends School>(s: S): S => s;

export const SCHOOLS = [
  school({
    key: 'impeller',
    question: 'When is the pump impeller renewed?',
    usual: '12 months or 200 h',
    movesDates: true,
    because: 'A hired boat that overheats costs more than a kit, so the cautious rule is the first choice.',
    options: [
      {
        key: '12 months or 200 h',
        word: 'Every 12 months or 200 h',
        argument: 'Rubber that ran hard and rubber that stood still both go; nobody is towed home.',
      },
      {
        key: '24 months',
        word: 'Every 24 months, however little it ran',
        argument: 'Vanes take a set with time, not with hours; for boats that run little it halves the work.',
      },
      {
        key: '300 h',
        word: 'Every 300 h, with the big service',
        argument: 'The lower unit is off then anyway. Leaves an engine that hardly runs with an old impeller.',
      },
      {
        key: 'by inspection',
        word: 'When it looks worn: looked at every year',
        argument: 'Nothing thrown away early, but the unit comes off for the look, and sand wears it between looks.',
      },
    ],
  }),
  school({
    key: 'first oil',
    question: 'When is the first oil of a new engine changed?',
    usual: '20 h',
    movesDates: true,
    because: 'Takes the swarf of running in out before the season is under way; no warranty asks for it.',
    options: [
      { key: '10 h', word: 'At 10 h', argument: 'Most of the swarf comes in the first hours.' },
      { key: '20 h', word: 'At 20 h', argument: 'One early change, after running in is over.' },
      {
        key: 'usual',
        word: 'With the first usual service',
        argument: 'Modern engines are clean inside, and the filter is there for what is not.',
      },
    ],
  }),
  school({
    key: 'counting',
    question: 'What is the next service counted from?',
    usual: 'rolling',
    movesDates: true,
    because:
      'Hire boats are serviced when there is a gap, often early; counted from the job, no interval gets longer than it should be.',
    options: [
      {
        key: 'rolling',
        word: 'From the job',
        argument: 'Every interval is whole; due dates of one engine drift apart.',
      },
      {
        key: 'ladder',
        word: 'From zero, in rungs',
        argument:
          'At 100, 200, 300 h as the label prints it: all tasks meet again, and an early job does not move the next.',
      },
    ],
  }),
  school({
    key: 'plugs',
    question: 'How long do spark plugs stay in?',
    usual: 'by model',
    movesDates: true,
    because: 'Two-strokes foul theirs, four-strokes barely wear them: the model’s programme knows.',
    options: [
      {
        key: 'by model',
        word: 'As the model’s programme says',
        argument: 'Two- and four-strokes differ too much for one rule.',
      },
      {
        key: '100 h',
        word: 'Every 100 h',
        argument: 'Cheap against a tow, and they are out for the compression test anyway.',
      },
      { key: 'yearly', word: 'Every year', argument: 'Out once a year, they never seize in the head.' },
      { key: '300 h', word: 'Every 300 h', argument: 'Four-strokes burn clean: plugs at 100 h look new.' },
    ],
  }),
  school({
    key: 'pump parts',
    question: 'How much of the pump is renewed?',
    usual: 'second',
    movesDates: false,
    because: 'Plate and liner last two impellers unless sand was in them.',
    options: [
      { key: 'impeller', word: 'The impeller only', argument: 'The rest is metal; look at it and put it back.' },
      { key: 'marked', word: 'The impeller and whatever is marked', argument: 'A groove eats the next impeller.' },
      {
        key: 'second',
        word: 'The whole kit at every second change, or at any groove',
        argument: 'Parts bought once, the unit dropped once.',
      },
    ],
  }),
  school({
    key: 'washers',
    question: 'Drain washers and gear-screw gaskets',
    usual: 'new',
    movesDates: false,
    because: 'Pennies against a gear case full of water.',
    options: [
      { key: 'new', word: 'New each time', argument: 'A washer seals by being crushed, once.' },
      { key: 'second', word: 'Composite ones a second time', argument: 'They spring back; a careful look is enough.' },
    ],
  }),
  school({
    key: 'oil out',
    question: 'How does the old oil come out?',
    usual: 'by model',
    movesDates: false,
    because: 'Where the drain is easy to reach, gravity takes more of it.',
    options: [
      { key: 'by model', word: 'As the model is built', argument: 'Some drains cannot be reached on the water.' },
      { key: 'gravity', word: 'By the drain', argument: 'Leaves less behind, and shows what lies on the bottom.' },
      { key: 'extraction', word: 'Through the dipstick', argument: 'Clean, afloat, and no drain thread to wear out.' },
    ],
  }),
  school({
    key: 'fill level',
    question: 'How is the sump filled?',
    usual: 'dipstick',
    movesDates: false,
    because: 'The old oil never comes out whole, so the label’s volume alone overfills.',
    options: [
      {
        key: 'dipstick',
        word: 'The label less a tenth, then by dipstick after the run',
        argument: 'Ends in the upper half of the band, whatever stayed inside.',
      },
      {
        key: 'label',
        word: 'The volume on the label',
        argument: 'Quick, and right when it was drained to the last drop.',
      },
    ],
  }),
  school({
    key: 'filter turn',
    question: 'How tight is the oil filter?',
    usual: 'model',
    movesDates: false,
    because: 'The model’s own figure comes first.',
    options: [
      {
        key: 'model',
        word: 'By the model’s figure',
        argument: 'A torque or a part of a turn is printed for a reason.',
      },
      { key: 'half', word: 'Half a turn after contact', argument: 'Comes off again without a chain.' },
      {
        key: 'three quarters',
        word: 'Three quarters of a turn after contact',
        argument: 'Does not weep in a hull that slams.',
      },
    ],
  }),
  school({
    key: 'gear lube visit',
    question: 'When is gear lube changed?',
    usual: 'own',
    movesDates: true,
    because: 'Water in the case is found early; when the unit is off anyway the two are done as one.',
    options: [
      { key: 'own', word: 'On its own limit', argument: 'The lube is how a leaking seal shows itself.' },
      {
        key: 'with unit',
        word: 'Only with the lower unit off',
        argument: 'Drained in passing, at no extra time; water in the case stands as long as the pump lasts.',
      },
    ],
  }),
  school({
    key: 'parts make',
    question: 'Whose parts?',
    usual: 'maker impeller',
    movesDates: false,
    because: 'All sides lean to the maker’s impeller; elsewhere approved parts do.',
    options: [
      {
        key: 'maker impeller',
        word: 'The maker’s impellers, approved parts elsewhere',
        argument: 'A vane that breaks off costs more than all filters of a season.',
      },
      { key: 'maker', word: 'The maker’s throughout', argument: 'No question of warranty ever.' },
      { key: 'approved', word: 'Approved parts throughout', argument: 'The same works often make both.' },
    ],
  }),
  school({
    key: 'oil make',
    question: 'Which oil?',
    usual: 'one',
    movesDates: false,
    because: 'One oil on the shelf is never mixed up.',
    options: [
      {
        key: 'one',
        word: 'One marine-grade oil that meets every model’s specification',
        argument: 'Pick one and stay with it.',
      },
      {
        key: 'any',
        word: 'Any that meets the specification',
        argument: 'The specification is what counts; buy what is cheap.',
      },
    ],
  }),
  school({
    key: 'fogging',
    question: 'Fogging at lay-up',
    usual: 'two-strokes',
    movesDates: false,
    because: 'Two-strokes have no oil film of their own left after standing.',
    options: [
      { key: 'two-strokes', word: 'Two-strokes only', argument: 'Four-strokes keep their film through a winter.' },
      { key: 'all', word: 'Every engine', argument: 'A minute each; rust in a bore costs the engine.' },
    ],
  }),
  school({
    key: 'antifreeze',
    question: 'Antifreeze at lay-up',
    usual: 'frost',
    movesDates: false,
    because: 'Most outboards drain by themselves when upright.',
    options: [
      {
        key: 'frost',
        word: 'Where frost comes and the model drains poorly',
        argument: 'Elsewhere it is work for nothing.',
      },
      { key: 'never', word: 'Never', argument: 'Stored upright, nothing stays in.' },
    ],
  }),
  school({
    key: 'bowls',
    question: 'Carburettor bowls at lay-up',
    usual: 'drain',
    movesDates: false,
    because: 'What is drained cannot gum.',
    options: [
      { key: 'drain', word: 'Drained', argument: 'Every bowl is empty, and one sees what comes out.' },
      {
        key: 'run dry',
        word: 'Run dry',
        argument: 'Quick; on two-strokes only together with fogging, because the oil goes with the fuel.',
      },
    ],
  }),
  school({
    key: 'battery',
    question: 'Batteries over the winter',
    usual: 'top up',
    movesDates: false,
    because: 'Rounds find the one that died; chargers left alone do not.',
    options: [
      { key: 'top up', word: 'Topped up every two to four weeks', argument: 'Somebody looks at each of them.' },
      { key: 'charger', word: 'On a charger all winter', argument: 'No rounds to forget.' },
    ],
  }),
  school({
    key: 'last oil',
    question: 'Oil at season’s end',
    usual: 'before',
    movesDates: true,
    because: 'Clean oil is carried round once before it stands for months.',
    options: [
      {
        key: 'before',
        word: 'Before the last outing',
        argument: 'Acids and water go out with the old oil, and the new one coats everything.',
      },
      {
        key: 'at lay-up',
        word: 'At lay-up, then a short run',
        argument: 'One visit less while boats are still on hire.',
      },
    ],
  }),
] as const satisfies readonly School[];

export type SchoolKey = (typeof SCHOOLS)[number]['key'];
export const SCHOOL_KEYS = SCHOOLS.map((s) => s.key) as [SchoolKey, ...SchoolKey[]];

/** The answers of a book; questions left open are answered as usual. */
export type SchoolChoices = Partial<Record<SchoolKey, string>>;

/** The school a key names; undefined = none. */
export const schoolOf = (key: SchoolKey): School => SCHOOLS.find((s) => s.key === key)!;

/** The answer in force. An answer the book does not know any more counts as the usual one. */
export function answerTo(key: SchoolKey, choices: SchoolChoices): SchoolOption {
  const { options, usual } = schoolOf(key);
  return options.find((o) => o.key === choices[key]) ?? options.find((o) => o.key === usual)!;
}
