// Commands beside the app: `npm run backup -- FILE`, `npm run restore -- FILE`, `npm run administrator -- NAME`.
// @ts-check
import { join } from 'node:path';
import { backup, restore } from './backup.mjs';
import { needPackages } from './cluster.mjs';
import { needModules } from './install.mjs';
import { withDatabase } from './own-book.mjs';
import { Trouble } from './trouble.mjs';

const root = join(import.meta.dirname, '..');
const [what, given] = process.argv.slice(2);

/** @param {string} use */
function needGiven(use) {
  if (!given) throw new Trouble(`Say it like this: ${use}`);
  return given;
}

/** @type {Record<string, () => Promise<void>>} */
const commands = {
  backup: () => {
    const file = needGiven('npm run backup -- diurna.backup');
    return withDatabase(root, async (url) => {
      const { tables, rows } = await backup(url, file);
      console.log(`${file} and ${file}.json hold ${rows} rows of ${tables} tables.`);
    });
  },
  restore: () => {
    const file = needGiven('DIURNA_DATA=FOLDER npm run restore -- diurna.backup');
    return withDatabase(
      root,
      async (url) => {
        const { tables, rows } = await restore(url, file);
        console.log(
          `The book is back: ${rows} rows of ${tables} tables, each as it was. Everybody signs in anew, second factors are set up anew.`,
        );
      },
      { alone: true },
    );
  },
  administrator: () => {
    const name = needGiven('npm run administrator -- ada');
    return withDatabase(root, async (url) => {
      const { build } = await import('./build.mjs');
      await build(root);
      const server = await import(join(root, 'dist/server.js'));
      const password = await server.makeAdministrator(url, join(root, 'server/db/migrations'), name);
      console.log(`"${name}" is an administrator, with the password ${password} until they change it.`);
    });
  },
};

try {
  if (!process.env.DATABASE_URL) needPackages('postgres');
  needModules(root);
  await commands[what ?? '']?.();
} catch (error) {
  console.error(
    error instanceof Trouble || /** @type {Error} */ (error).name === 'Refused'
      ? /** @type {Error} */ (error).message
      : error,
  );
  process.exitCode = 1;
}
