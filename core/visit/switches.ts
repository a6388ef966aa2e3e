import type { ModelTraits } from '../fleet/index.ts';
import { SCHOOLS, type PumpTurn } from '../service/index.ts';

/** What a line of a template can be made to depend on: how the model is built, or how the yard answers a question. */
export type Condition = Record<string, string | number | boolean | (string | number)[]>;

/** What is so on one engine, by name. */
export type Switches = Record<string, string | number | boolean>;

/** A thing steps can hang on: how a model is built, how the yard answers a question, what else is done. */
export interface Switch {
  key: string;
  word: string;
  values: readonly { value: string | number | boolean; word: string }[];
}

const yesNo = (key: string, word: string, no: string): Switch => ({
  key,
  word,
  values: [
    { value: true, word: 'yes' },
    { value: false, word: no },
  ],
});
const oneOf = (key: string, word: string, values: readonly (string | number)[]): Switch => ({
  key,
  word,
  values: values.map((value) => ({ value, word: String(value) })),
});

/** Everything a step can be made to hang on, by name. */
export const SWITCHES: readonly Switch[] = [
  oneOf('stroke', 'Strokes', [2, 4]),
  yesNo('sideCover', 'Side cover', 'none'),
  oneOf('induction', 'Fuel gets in by', [
    'carburettor',
    'injection',
    'direct injection',
  ] satisfies ModelTraits['induction'][]),
  oneOf('drainAt', 'Sump is emptied at', ['leg', 'behind the side cover'] satisfies ModelTraits['drainAt'][]),
  oneOf('oilBy', 'Oil comes out by', ['gravity', 'extraction'] satisfies ModelTraits['oilBy'][]),
  oneOf('drainKind', 'The drain is a', ['screw', 'valve'] satisfies ModelTraits['drainKind'][]),
  oneOf('fillAt', 'Oil is filled at', ['cap', 'dipstick hole'] satisfies ModelTraits['fillAt'][]),
  yesNo('drainsPoorly', 'Keeps water though it stands upright', 'no'),
  yesNo('tiltBeforeLevel', 'Large V engine, tilted before its level is read', 'no'),
  oneOf('gearScrews', 'Gear-case screws', [2, 3] satisfies (2 | 3)[]),
  yesNo('gearNeedsPropOff', 'Propeller blocks the gear-case screws', 'no'),
  oneOf('fuelFilter', 'Fuel filter', ['in-line', 'canister'] satisfies ModelTraits['fuelFilter'][]),
  oneOf('propNut', 'Propeller nut with', [
    'cotter pin',
    'bevelled washer',
    'bent tab',
  ] satisfies ModelTraits['propNut'][]),
  yesNo('recoil', 'Rope start', 'no'),
  yesNo('twoPersonUnit', 'Lower unit too heavy for one', 'no'),
  yesNo('boltUnderTab', 'Bolt under the trim tab', 'no'),
  yesNo('speedTube', 'Speed pickup’s tube', 'none'),
  yesNo('unitOff', 'Lower unit is off on this card', 'no'),
  {
    key: 'pumpTurn',
    word: 'Of the pump this time',
    values: [
      { value: 'impeller', word: 'the impeller' },
      { value: 'marked', word: 'what is marked' },
      { value: 'kit', word: 'the whole kit' },
    ] satisfies { value: PumpTurn; word: string }[],
  },
  yesNo('washerAgain', 'The drain washer goes on again this time', 'new'),
  yesNo('gasketsAgain', 'The gear-case gaskets go on again this time', 'new'),
  yesNo('unknownHistory', 'Nothing known of the engine’s past', 'no'),
  ...SCHOOLS.map((s): Switch => ({
    key: s.key,
    word: s.question.replace(/\?$/, ''),
    values: s.options.map((o) => ({ value: o.key, word: o.word })),
  })),
];

/** A condition in words, one for each switch. */
export function conditionWords(when: Condition | undefined): string[] {
  return Object.entries(when ?? {}).map(([key, wanted]) => {
    const of = SWITCHES.find((s) => s.key === key);
    const values = (Array.isArray(wanted) ? wanted : [wanted]).map(
      (v) => of?.values.find((x) => x.value === v)?.word ?? String(v),
    );
    return `${of?.word ?? key}: ${values.join(' or ')}`;
  });
}

/** Whether a condition holds; a switch nobody knows is false. */
export function holds(when: Condition | undefined, switches: Switches): boolean {
  return Object.entries(when ?? {}).every(([key, wanted]) => {
    const is = switches[key] ?? false;
    return Array.isArray(wanted) ? wanted.includes(is as never) : is === wanted;
  });
}
