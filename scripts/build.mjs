// Builds the web app and the server when a source is newer than the last build.
// @ts-check
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { gzipSync } from 'node:zlib';

const SOURCES = ['core', 'contract', 'server', 'web', 'demo', 'scripts/build.mjs', 'package-lock.json'];

const PLAN_SOURCES = ['core', 'contract', 'server', 'scripts/build.mjs', 'package-lock.json'];

/** @param {string} path @returns {string[]} */
function filesBelow(path) {
  if (!existsSync(path)) return [];
  if (statSync(path).isFile()) return [path];
  return readdirSync(path, { withFileTypes: true }).flatMap((entry) =>
    ['node_modules', 'dist', 'migrations'].includes(entry.name) || /\.test\.tsx?$/.test(entry.name)
      ? []
      : filesBelow(join(path, entry.name)),
  );
}

/** @param {string} root */
function fingerprint(root) {
  const hash = createHash('sha256');
  for (const file of SOURCES.flatMap((s) => filesBelow(join(root, s))).sort()) {
    hash.update(relative(root, file)).update(readFileSync(file));
  }
  return hash.digest('hex');
}

/** Bundles our own packages, leaves those of node_modules outside. */
const ownOnly = {
  name: 'own-only',
  /** @param {import('esbuild').PluginBuild} build */
  setup(build) {
    build.onResolve({ filter: /^[^./]/ }, (args) =>
      args.path.startsWith('@diurna/') || args.kind === 'entry-point' ? undefined : { path: args.path, external: true },
    );
  },
};

/** Bundles the planner's command and its thread, when a source is newer than the last bundle. @param {string} root */
export async function buildPlan(root) {
  const built = join(root, 'dist/plan/plan.js');
  const at = existsSync(built) ? statSync(built).mtimeMs : 0;
  if (at > 0 && PLAN_SOURCES.flatMap((s) => filesBelow(join(root, s))).every((file) => statSync(file).mtimeMs < at))
    return;
  const esbuild = await import('esbuild');
  await esbuild.build({
    absWorkingDir: root,
    entryPoints: {
      plan: 'server/planner/command.ts',
      prover: 'server/planner/prover-thread.ts',
      order: 'server/ordering/command.ts',
    },
    // What reads the book is only loaded when the book is planned.
    splitting: true,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    outdir: join(root, 'dist/plan'),
    plugins: [ownOnly],
    logLevel: 'warning',
  });
}

/** Files of the desk alone, or fetched when they are needed: a phone need not keep them. */
const NOT_KEPT = /highs|\.wasm$|\.gz$|\.map$|manifest\.json$|\/sw\.js$|worker/;

/**
 * Bundles the service worker with the list of files it keeps on the phone.
 * @param {string} root @param {typeof import('esbuild')} esbuild
 */
async function buildServiceWorker(root, esbuild) {
  const web = join(root, 'dist/web');
  const files = filesBelow(web)
    .filter((f) => !NOT_KEPT.test(f))
    .map((f) => {
      const url = `/${relative(web, f).replaceAll('\\', '/')}`;
      // Names under assets carry their content's hash.
      return {
        url,
        revision: url.startsWith('/assets/')
          ? null
          : createHash('sha256').update(readFileSync(f)).digest('hex').slice(0, 16),
      };
    });
  await esbuild.build({
    absWorkingDir: root,
    entryPoints: ['web/app/sw.ts'],
    bundle: true,
    minify: true,
    platform: 'browser',
    target: 'es2022',
    format: 'iife',
    outfile: join(web, 'sw.js'),
    define: { MANIFEST: JSON.stringify(files), 'process.env.NODE_ENV': '"production"', 'import.meta.env.PROD': 'true' },
    logLevel: 'warning',
  });
}

/** @param {string} root @returns {Promise<boolean>} whether something was built */
export async function build(root) {
  const dist = join(root, 'dist');
  const stamp = join(dist, 'fingerprint');
  const print = fingerprint(root);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === print) return false;
  const esbuild = await import('esbuild');
  const vite = await import('vite');
  mkdirSync(dist, { recursive: true });
  await esbuild.build({
    absWorkingDir: root,
    entryPoints: {
      server: 'server/main.ts',
      prover: 'server/planner/prover-thread.ts',
      'plan-thread': 'server/planner/plan-thread.ts',
      'beside-thread': 'server/beside-thread.ts',
      'calendar-thread': 'server/hires/calendar-thread.ts',
      demo: 'demo/index.ts',
    },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    outdir: dist,
    plugins: [ownOnly],
    logLevel: 'warning',
  });
  // Whatever the shell says: what people get is React's production build.
  const env = process.env.NODE_ENV;
  process.env.NODE_ENV = 'production';
  await vite.build({ root: join(root, 'web'), logLevel: 'warn' });
  if (env === undefined) delete process.env.NODE_ENV;
  else process.env.NODE_ENV = env;
  await buildServiceWorker(root, esbuild);
  const assets = join(dist, 'web/assets');
  for (const name of readdirSync(assets).filter((n) => /\.(js|css)$/.test(n))) {
    writeFileSync(join(assets, `${name}.gz`), gzipSync(readFileSync(join(assets, name)), { level: 9 }));
  }
  writeFileSync(stamp, print);
  return true;
}

if (process.argv[1]?.endsWith('scripts/build.mjs')) {
  await build(join(import.meta.dirname, '..'));
}
