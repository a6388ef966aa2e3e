import type { Template } from '../template.ts';

const VAPOUR = 'Fuel vapour: no flame, no spark, battery isolated, in the open. Fuel to its own waste.';

export const FUEL_FILTER: Template = [
  {
    key: 'pressure',
    tools: ['clean rag'],
    text: 'Let the pressure off the fuel rail: rag round the fitting, open it slowly',
    share: 1.5,
    when: { induction: ['injection', 'direct injection'] },
    after: ['cowl off'],
    caution: 'Fuel under pressure sprays: eye protection. No flame, no spark, battery isolated, in the open.',
  },
  {
    key: 'off',
    tools: ['hose clamps', 'pan that stands fuel'],
    text: 'Close the fuel, old filter out whole with both hose joints',
    share: 5,
    when: { fuelFilter: 'in-line' },
    after: ['cowl off', 'pressure'],
    opens: ['fuel filter'],
    caution: VAPOUR,
  },
  {
    key: 'off-canister',
    tools: ['hose clamps', 'pan that stands fuel'],
    text: 'Close the fuel, canister out of its rubber, empty it into the pan',
    share: 5,
    when: { fuelFilter: 'canister' },
    after: ['cowl off', 'pressure'],
    opens: ['fuel filter'],
    caution: VAPOUR,
  },
  {
    key: 'look',
    text: 'Hold the old filter beside the new one: darker? Water in the bowl?',
    share: 1.5,
    after: ['off', 'off-canister'],
    readings: ['fuel filter look'],
  },
  {
    key: 'on',
    text: 'New filter in, arrow with the flow, clips tight',
    detail: 'Date on it.',
    share: 5,
    when: { fuelFilter: 'in-line' },
    after: ['look'],
    parts: true,
  },
  {
    key: 'on-canister',
    text: 'New element in, canister hand tight and a touch more, back into its rubber',
    detail: 'Date on it.',
    share: 5,
    when: { fuelFilter: 'canister' },
    after: ['look'],
    parts: true,
  },
  {
    key: 'dry',
    text: 'Prime it and look: every joint dry',
    share: 1.5,
    after: ['on', 'on-canister'],
    closes: ['fuel filter'],
    caution: VAPOUR,
  },
];

export const SEPARATOR: Template = [
  {
    key: 'off',
    text: 'Boat’s own separator: close the fuel, tray under it, old element off',
    share: 4,
    after: ['arrive'],
    opens: ['fuel separator'],
    caution: VAPOUR,
  },
  {
    key: 'look',
    text: 'Pour the bowl into a glass: water below, dirt?',
    share: 2,
    after: ['off'],
    readings: ['separator look'],
  },
  { key: 'on', text: 'Rubber oiled, new element on by hand, date on it', share: 4, after: ['look'], parts: true },
  {
    key: 'dry',
    text: 'Fuel open, prime, every joint dry',
    share: 2,
    after: ['on'],
    closes: ['fuel separator'],
    caution: VAPOUR,
  },
];

export const FUEL_REPAIR: Template = [
  {
    key: 'find',
    text: 'Find where the fuel goes: joints and hoses; into the oil by pump diaphragm, injectors, carburettor needle',
    share: 25,
    after: ['cowl off'],
    opens: ['fuel system'],
    caution: VAPOUR,
  },
  { key: 'mend', text: 'Mend it, and write down what it was', share: 30, after: ['find'], caution: VAPOUR },
  {
    key: 'dry',
    text: 'Pressure on, every joint dry',
    share: 5,
    after: ['mend'],
    closes: ['fuel system', 'fuel leak'],
    caution: VAPOUR,
  },
];

export const TANK_CHECK: Template = [
  {
    key: 'draw',
    text: 'Draw a glass from the bottom of the tank: water, dirt, old smell?',
    share: 12,
    after: ['arrive'],
    caution: VAPOUR,
    readings: ['tank look'],
  },
  {
    key: 'clean',
    text: 'Clean or empty the tank as it needs, look at cap and vent',
    share: 18,
    after: ['draw'],
    caution: VAPOUR,
  },
];

export const STABILISER: Template = [
  {
    key: 'first',
    text: 'Stabiliser for the fuel in the tank: 30 mL to 10 L, before the last outing',
    detail: 'A short dose stays short: 20 mL treats 6.7 L only.',
    share: 6,
    after: ['arrive'],
    caution: VAPOUR,
  },
];

export const SECOND_DOSE: Template = [
  {
    key: 'fill',
    text: 'Fill to at least 95 %, and dose what was added: 30 mL to 10 L',
    detail: 'What the first dose was short goes in too.',
    share: 8,
    after: ['arrive', 'stabiliser/first'],
    caution: VAPOUR,
  },
  {
    key: 'vent',
    text: 'Tank vent as climate and sun allow: shut in the sun it swells, open in damp it draws water',
    share: 2,
    after: ['fill'],
  },
];

export const BOWLS: Template = [
  {
    key: 'off',
    text: 'Battery off, fuel closed',
    share: 2,
    when: { bowls: 'drain' },
    after: ['cowl off'],
    caution: VAPOUR,
  },
  { key: 'off-dry', text: 'Fuel closed', share: 2, when: { bowls: 'run dry' }, after: ['cowl off'], caution: VAPOUR },
  {
    key: 'drain',
    text: 'Drain every bowl into the pan',
    share: 9,
    when: { bowls: 'drain' },
    after: ['off'],
    opens: ['fuel bowls', 'fuel to run on'],
    caution: VAPOUR,
  },
  {
    key: 'dry',
    text: 'Run it dry, with fogging oil into the intake on a two-stroke',
    detail: 'Its last run. A two-stroke loses its oil with the fuel. Battery off again after.',
    share: 9,
    when: { bowls: 'run dry' },
    stance: 'level',
    after: ['off-dry', 'antifreeze/draw'],
    opens: ['fuel to run on'],
    turns: 'late',
    caution: 'Never without cooling water, in the open.',
  },
  {
    key: 'shut',
    text: 'Screws back, valves closed, nothing drips',
    share: 4,
    after: ['drain', 'dry'],
    closes: ['fuel bowls'],
  },
];
