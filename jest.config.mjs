import { bundledForTests } from './scripts/test-bundle.mjs';

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

/** What a project's tests import from packages, bundled, where it is one of those that run. */
async function bundled(name, what) {
  const chosen = process.argv.indexOf('--selectProjects');
  return chosen > 0 && !process.argv.slice(chosen).includes(name) ? {} : bundledForTests(what);
}

export default async () => ({
  projects: [
    project('unit', ['{core,contract,demo,web}/**/*.test.ts']),
    project('page', ['web/**/*.test.tsx'], {
      testEnvironment: '<rootDir>/web/test/environment.mjs',
      setupFilesAfterEnv: ['<rootDir>/web/test/no-stacks.mjs'],
      moduleNameMapper: {
        '\\.css$': '<rootDir>/web/test/no-style.mjs',
        ...(await bundled('page', {
          workspaces: ['web'],
          platform: 'browser',
          wanted: (name) => !/^(@jest\/|@fontsource|vite|workbox|highs|write-excel)/.test(name),
          more: ['react/jsx-runtime'],
        })),
      },
    }),
    project('server', ['server/**/*.test.ts'], {
      globalSetup: '<rootDir>/server/test/setup.mjs',
      globalTeardown: '<rootDir>/server/test/teardown.mjs',
      // Those that load files of their own, or parts made for one machine, stay as they are.
      moduleNameMapper: await bundled('server', {
        workspaces: ['server', 'demo'],
        platform: 'node',
        wanted: (name) => /^(@diurna\/(core|contract)|drizzle-orm|zod)(\/|$)/.test(name),
      }),
    }),
    project('e2e', ['e2e/**/*.test.ts'], {
      globalSetup: '<rootDir>/e2e/setup.mjs',
      globalTeardown: '<rootDir>/e2e/teardown.mjs',
    }),
  ],
});
