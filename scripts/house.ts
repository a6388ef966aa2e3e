// What keeps the house in order and no linter knows: public functions without a word of what they do, exported names
// nobody uses, limits and cautions said twice, state that lives in a module. `npx tsx scripts/house.ts` prints it.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';

const root = join(import.meta.dirname, '..');
const PACKAGES = ['core', 'contract', 'server', 'web', 'demo', 'bench', 'e2e', 'scripts'];
const SKIPPED = new Set(['node_modules', 'dist', 'migrations', 'files', 'public']);

function filesBelow(path: string): string[] {
  return readdirSync(join(root, path), { withFileTypes: true }).flatMap((entry) =>
    SKIPPED.has(entry.name)
      ? []
      : entry.isDirectory()
        ? filesBelow(`${path}/${entry.name}`)
        : /\.(ts|tsx|mjs)$/.test(entry.name)
          ? [`${path}/${entry.name}`]
          : [],
  );
}

interface Source {
  path: string;
  text: string;
  tree: ts.SourceFile;
  test: boolean;
}
const sources = PACKAGES.flatMap(filesBelow).map((path): Source => {
  const text = readFileSync(join(root, path), 'utf8');
  const kind = path.endsWith('.tsx') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  return {
    path,
    text,
    tree: ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true, kind),
    test: /\.test\.tsx?$|\/test\/|^e2e\//.test(path),
  };
});
const own = sources.filter((s) => !s.test);

interface Exported {
  name: string;
  path: string;
  line: number;
  isFunction: boolean;
  documented: boolean;
}
const documented = (node: ts.Node) => ts.getJSDocCommentsAndTags(node).length > 0;
const lineOf = (s: Source, node: ts.Node) => s.tree.getLineAndCharacterOfPosition(node.getStart()).line + 1;

/** Names a file declares and exports itself. */
function exportsOf(s: Source): Exported[] {
  return s.tree.statements.flatMap((statement): Exported[] => {
    const said = ts.canHaveModifiers(statement)
      ? ts.getModifiers(statement)?.some((m) => m.kind === ts.SyntaxKind.ExportKeyword)
      : false;
    if (!said) return [];
    const entry = (name: string, isFunction: boolean) => ({
      name,
      path: s.path,
      line: lineOf(s, statement),
      isFunction,
      documented: documented(statement),
    });
    if (ts.isFunctionDeclaration(statement) && statement.name) return [entry(statement.name.text, true)];
    if (ts.isVariableStatement(statement))
      return statement.declarationList.declarations.flatMap((d) =>
        ts.isIdentifier(d.name)
          ? [entry(d.name.text, d.initializer !== undefined && ts.isArrowFunction(d.initializer))]
          : [],
      );
    if (
      (ts.isClassDeclaration(statement) ||
        ts.isInterfaceDeclaration(statement) ||
        ts.isTypeAliasDeclaration(statement)) &&
      statement.name
    )
      return [entry(statement.name.text, false)];
    return [];
  });
}

const problems: string[] = [];
const all = own.flatMap(exportsOf);

/** Names an index passes on, by package folder: what the server's subjects show. */
const shown = new Set(
  own
    .filter((s) => /^server\/[^/]+\/index\.ts$/.test(s.path))
    .flatMap((s) =>
      s.tree.statements.flatMap((x) =>
        ts.isExportDeclaration(x) && x.exportClause && ts.isNamedExports(x.exportClause)
          ? x.exportClause.elements.map((e) => `${s.path.split('/')[1]} ${e.name.text}`)
          : [],
      ),
    ),
);
const bare = all.filter(
  (e) =>
    e.isFunction &&
    !e.documented &&
    (/^(core|contract)\//.test(e.path) ||
      (e.path.startsWith('server/') && shown.has(`${e.path.split('/')[1]} ${e.name}`))),
);
for (const e of bare) problems.push(`${e.path}:${e.line} ${e.name} says nothing of what it does`);

/** How often a word stands in all sources: an exported name used once is used nowhere. */
const words = new Map<string, Set<string>>();
const times = new Map<string, number>();
/** Passing a name on is no use of it. */
const withoutPassing = (text: string) => text.replaceAll(/export (\*|\{[^}]*\}) from '[^']*';/g, '');
for (const s of sources)
  for (const [word] of withoutPassing(s.text).matchAll(/[A-Za-z_$][\w$]*/g)) {
    (words.get(word) ?? words.set(word, new Set()).get(word)!).add(s.path);
    times.set(`${s.path} ${word}`, (times.get(`${s.path} ${word}`) ?? 0) + 1);
  }
/** Entries that tools or programs outside call by name. */
const ENTRIES =
  /^(contract\/one-shape\.ts|server\/main\.ts|demo\/index\.ts|server\/db\/schema\/|web\/vite\.config|server\/drizzle)/;
const unused = all.filter((e) => {
  if (ENTRIES.test(e.path) || e.path.endsWith('.mjs')) return false;
  const users = [...(words.get(e.name) ?? [])].filter((p) => p !== e.path);
  return users.length === 0 && (times.get(`${e.path} ${e.name}`) ?? 0) <= 1;
});
for (const e of unused) problems.push(`${e.path}:${e.line} ${e.name} is exported and used nowhere`);

/** Sentences that stand in several places: a caution, a limit, a message is said once and called by name. */
const LONG = 44;
const said = new Map<string, Set<string>>();
for (const s of own.filter((x) => /^(core|contract|server|web)\//.test(x.path))) {
  const look = (node: ts.Node): void => {
    if (
      (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) &&
      !ts.isImportDeclaration(node.parent) &&
      node.text.length >= LONG &&
      node.text.includes(' ') &&
      !node.text.includes('select ')
    )
      (said.get(node.text) ?? said.set(node.text, new Set()).get(node.text)!).add(`${s.path}:${lineOf(s, node)}`);
    ts.forEachChild(node, look);
  };
  look(s.tree);
}
const repeated = [...said].filter(([, places]) => places.size > 1);
for (const [text, places] of repeated)
  problems.push(`said twice: "${text.slice(0, 60)} ..." in ${[...places].join(', ')}`);

/** Limits that stand once by name: their figure with its unit is written nowhere else. */
const LIMITS = JSON.parse(readFileSync(join(root, 'scripts/limits.json'), 'utf8')) as {
  name: string;
  home: string;
  figure: string;
}[];
const loose = LIMITS.flatMap(({ name, home, figure }) =>
  own
    .filter((s) => /^(core|server|web|contract)\//.test(s.path) && s.path !== home)
    .flatMap((s) =>
      s.text
        .split('\n')
        .flatMap((line, i) =>
          !/^\s*(\*|\/\/|\/\*)/.test(line) && new RegExp(figure).test(line)
            ? [`${s.path}:${i + 1} writes ${name} out`]
            : [],
        ),
    ),
);
problems.push(...loose);
for (const { name, home } of LIMITS)
  if (!own.some((s) => s.path === home && s.text.includes(name))) problems.push(`${name} is not in ${home}`);

/** State that lives as long as the process: each is listed with its reason in docs/architecture.md. */
const papers = readFileSync(join(root, 'docs/architecture.md'), 'utf8');
const state = own
  .filter((s) => /^(core|contract|server|web|demo)\//.test(s.path))
  .flatMap((s) =>
    s.tree.statements.flatMap((statement) => {
      if (!ts.isVariableStatement(statement)) return [];
      const isLet = (statement.declarationList.flags & ts.NodeFlags.Let) !== 0;
      return statement.declarationList.declarations.flatMap((d) => {
        if (!ts.isIdentifier(d.name)) return [];
        const name = d.name.text;
        const holds =
          d.initializer !== undefined &&
          ts.isNewExpression(d.initializer) &&
          /^(Map|Set|WeakMap|WeakSet)$/.test(d.initializer.expression.getText());
        const changed = new RegExp(`\\b${name}\\.(set|add|delete|clear)\\(`).test(s.text);
        return isLet || (holds && changed) ? [{ path: s.path, name }] : [];
      });
    }),
  );
const unlisted = state.filter((x) => !papers.includes(`\`${x.path}\` \`${x.name}\``));
for (const x of unlisted)
  problems.push(`${x.path} keeps \`${x.name}\` in the module and docs/architecture.md does not say why`);

/** Tests find things as people do, by role and name: a class is the style sheet's own. */
const BY_CLASS = /@class|\.className\b|classList|toHaveClass/;
const goesByClass = (line: string) =>
  BY_CLASS.test(line) ||
  [...line.matchAll(/querySelector(?:All)?\((['"`])(.*?)\1/g)].some((m) =>
    /\.[a-z]/.test(m[2].replaceAll(/\[[^\]]*\]/g, '')),
  );
const byClass = sources
  .filter((s) => /\.test\.tsx?$/.test(s.path) && /^(e2e|web)\//.test(s.path))
  .flatMap((s) => s.text.split('\n').flatMap((line, i) => (goesByClass(line) ? [`${s.path}:${i + 1}`] : [])));
for (const at of byClass) problems.push(`${at} finds something by its class`);

/** No compiler reads SQL: rows are read by a schema (`rowsOf`, `prepared`, `parsed`), never asserted. */
const asserted = own
  .filter((s) => s.path.startsWith('server/'))
  .flatMap((s) =>
    s.text.split('\n').flatMap((line, i) => (/\.(execute|query)</.test(line) ? [`${s.path}:${i + 1}`] : [])),
  );
for (const at of asserted) problems.push(`${at} asserts what rows of SQL are`);

console.log(
  [
    `public functions without a word of what they do: ${bare.length}`,
    `exported names without a user: ${unused.length}`,
    `sentences and limits said twice: ${repeated.length + loose.length}`,
    `module state: ${state.length}, not justified: ${unlisted.length}`,
    `tests that find something by its class: ${byClass.length}`,
    `rows of SQL asserted: ${asserted.length}`,
  ].join('\n'),
);
for (const p of problems) console.error(p);
process.exit(problems.length === 0 ? 0 : 1);
