/** The arrows of the house: web -> contract -> core; server -> contract -> core; demo -> the server's public way in. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  // Tests may start a database of their own.
  from: { path: `^${from}/`, pathNot: '(\\.test\\.tsx?$|/test/)' },
  to: { path: '^(core|contract|server|web|demo|e2e|bench|scripts)/', pathNot: `^(${[from, ...allowed].join('|')})/` },
});
module.exports = {
  forbidden: [
    only('core-imports-nothing-of-ours', 'core', []),
    only('contract-imports-core', 'contract', ['core']),
    only('server-imports-contract-and-core', 'server', ['contract', 'core']),
    only('web-imports-contract-and-core', 'web', ['contract', 'core']),
    only('demo-imports-contract-and-core', 'demo', ['contract', 'core']),
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^core/', pathNot: '(\\.test\\.ts$|/test/)' },
      to: { dependencyTypes: ['core', 'npm', 'npm-dev', 'npm-no-pkg'], dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'core-by-its-public-face',
      severity: 'error',
      from: { path: '^core/([^/]+)/' },
      to: { path: '^core/([^/]+)/', pathNot: ['^core/$1/', '^core/[^/]+/index\\.ts$'] },
    },
    {
      // A subject shows what others may use in its index; db and http are the house's own floors.
      name: 'server-by-its-public-face',
      severity: 'error',
      from: { path: '^server/([^/]+)/', pathNot: '(\\.test\\.ts$|^server/test/)' },
      to: { path: '^server/([^/]+)/', pathNot: ['^server/$1/', '^server/[^/]+/index\\.ts$', '^server/(db|http)/'] },
    },
    {
      // Rooms use each other's routes (`api.ts`) and what their index shows; app and ui belong to all.
      name: 'web-by-its-public-face',
      severity: 'error',
      from: { path: '^web/([^/]+)/', pathNot: '(\\.test\\.tsx?$|^web/(test|app)/)' },
      // A lazily loaded page is a door of its own.
      to: {
        dynamic: false,
        path: '^web/([^/]+)/',
        pathNot: ['^web/$1/', '^web/[^/]+/(index|api)\\.tsx?$', '^web/(app|ui)/', '^web/node_modules/'],
      },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|data|node_modules/\\.vite)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
    },
  },
};
