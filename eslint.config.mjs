// What the faster checker (see .oxlintrc.json) has no rule for: the machine's clock is read in one place of each
// process, and nowhere else. No types are needed, so it is quick.
import tsParser from '@typescript-eslint/parser';

const text =
  'Time comes as an argument or from the request (`now`); only the clock of the process reads the machine’s.';
const CLOCKS = [
  "NewExpression[callee.name='Date'][arguments.length=0]",
  "CallExpression[callee.name='Date']",
  "CallExpression[callee.object.name='Date'][callee.property.name='now']",
  "MemberExpression[object.name='Date'][property.name='now']",
  "MemberExpression[object.object.name='Temporal'][property.name='Now']",
  // The database's own clock.
  'TemplateElement[value.raw=/(?<![.\\w])(now\\(\\)|current_date|current_timestamp|localtimestamp|clock_timestamp)/i]',
];

export default [
  { ignores: ['**/dist/', 'data/', '**/node_modules/', '**/*.cjs', '.cache/', 'coverage/'] },
  {
    files: ['**/*.ts', '**/*.tsx', '**/*.mjs'],
    languageOptions: { parser: tsParser, parserOptions: { ecmaFeatures: { jsx: true } } },
    linterOptions: { reportUnusedDisableDirectives: 'off' },
    rules: { 'no-restricted-syntax': ['error', ...CLOCKS.map((selector) => ({ selector, message: text }))] },
  },
  // The one place of each process.
  { files: ['server/clock.ts', 'web/app/clock.ts'], rules: { 'no-restricted-syntax': 'off' } },
];
