// Tests run at one instant, wherever and whenever they run; test:dates sets others.
process.env.DIURNA_NOW ||= '2026-04-15T10:00:00Z';

const swc = [
  '@swc/jest',
  {
    jsc: {
      parser: { syntax: 'typescript', tsx: true },
      target: 'es2022',
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
];
const project = (name, match, more = {}) => ({
  displayName: name,
  rootDir: import.meta.dirname,
  testMatch: match.map((m) => `<rootDir>/${m}`),
  testEnvironment: '<rootDir>/scripts/test-environment.mjs',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.tsx?$': swc },
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/data'],
  ...more,
});

export default {
  projects: [
    project('unit', ['{core,contract,demo,web}/**/*.test.ts']),
    project('page', ['web/**/*.test.tsx'], {
      testEnvironment: '<rootDir>/web/test/environment.mjs',
      setupFilesAfterEnv: ['<rootDir>/web/test/no-stacks.mjs'],
      moduleNameMapper: { '\\.css$': '<rootDir>/web/test/no-style.mjs' },
    }),
    project('server', ['server/**/*.test.ts'], {
      globalSetup: '<rootDir>/server/test/setup.mjs',
      globalTeardown: '<rootDir>/server/test/teardown.mjs',
    }),
    project('e2e', ['e2e/**/*.test.ts'], {
      globalSetup: '<rootDir>/e2e/setup.mjs',
      globalTeardown: '<rootDir>/e2e/teardown.mjs',
    }),
  ],
};
