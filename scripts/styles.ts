// Style sheets come with the page that loads them and stay: a rule that names no class of its own room changes pages
// of other rooms once its own has been looked at, and a class whose sheet its page does not load stands bare until
// another page brings it. `npx tsx scripts/styles.ts` prints both.
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import ts from 'typescript';

const root = join(import.meta.dirname, '..');
const read = (path: string) => readFileSync(join(root, path), 'utf8');
const below = (path: string): string[] =>
  readdirSync(join(root, path), { withFileTypes: true }).flatMap((e) =>
    e.name === 'node_modules' || e.name === 'dist' || e.name === 'test'
      ? []
      : e.isDirectory()
        ? below(`${path}/${e.name}`)
        : [`${path}/${e.name}`],
  );
const files = below('web');
const classesIn = (selector: string) => [...selector.matchAll(/\.([a-z][\w-]*)/gi)].map(([, name]) => name);
/** Classes of our components' library are nobody's own. */
const ours = (name: string) => !name.startsWith('Mui');

interface Module {
  sheets: string[];
  imports: string[];
  /** Pages loaded when they are wanted. */
  pages: string[];
  classes: Map<string, number>;
}
function moduleOf(path: string): Module {
  const text = read(path);
  const tree = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: Module = { sheets: [], imports: [], pages: [], classes: new Map() };
  const to = (spec: string) => normalize(join(dirname(path), spec));
  const look = (node: ts.Node, inClass: boolean): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) {
      const from = node.moduleSpecifier;
      const typeOnly = ts.isImportDeclaration(node) && node.importClause?.phaseModifier === ts.SyntaxKind.TypeKeyword;
      if (from && ts.isStringLiteral(from) && from.text.startsWith('.') && !typeOnly)
        (from.text.endsWith('.css') ? found.sheets : found.imports).push(to(from.text));
      return;
    }
    if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.ImportKeyword) {
      const [from] = node.arguments;
      if (ts.isStringLiteral(from) && from.text.startsWith('.')) found.pages.push(to(from.text));
    }
    // A state that is asked for is no class.
    const asked = ts.isBinaryExpression(node.parent) && /^[!=]==?$/.test(node.parent.operatorToken.getText());
    if (
      inClass &&
      !asked &&
      (ts.isStringLiteralLike(node) || ts.isTemplateHead(node) || ts.isTemplateMiddleOrTemplateTail(node))
    )
      for (const name of node.text.split(/\s+/).filter(Boolean))
        found.classes.set(name, tree.getLineAndCharacterOfPosition(node.getStart()).line + 1);
    const opens = ts.isJsxAttribute(node) && node.name.getText() === 'className';
    ts.forEachChild(node, (child) => {
      look(child, inClass || opens);
    });
  };
  ts.forEachChild(tree, (node) => {
    look(node, false);
  });
  return found;
}
const modules = new Map(files.filter((f) => /\.tsx?$/.test(f) && !/\.test\./.test(f)).map((f) => [f, moduleOf(f)]));

/** All that comes with a page: what it imports, and what that imports. */
function comesWith(page: string): { modules: Set<string>; sheets: Set<string> } {
  const seen = new Set<string>();
  const sheets = new Set<string>();
  const go = (path: string): void => {
    const m = modules.get(path);
    if (!m || seen.has(path)) return;
    seen.add(path);
    for (const s of m.sheets) sheets.add(s);
    m.imports.forEach(go);
  };
  go(page);
  return { modules: seen, sheets };
}

const entry = 'web/app/main.tsx';
const always = comesWith(entry).sheets;
const owner = (sheet: string) => (always.has(sheet) ? 'all' : sheet.startsWith('web/ui/') ? sheet : dirname(sheet));
const sheets = files.filter((f) => f.endsWith('.css'));
const selectorsOf = (sheet: string) =>
  [
    ...read(sheet)
      .replaceAll(/\/\*[\s\S]*?\*\//g, '')
      .matchAll(/([^{};]+)\{/g),
  ]
    .flatMap((m) => m[1].split(/,(?![^(]*\))/).map((s) => s.trim()))
    .filter((s) => !s.startsWith('@') && !/^(from|to|\d+%)$/.test(s));
const definedBy = new Map<string, Set<string>>();
/** Rules that name a class, by owner. */
const rules = new Map<string, Map<string, number>>();
for (const sheet of sheets)
  for (const name of selectorsOf(sheet).flatMap(classesIn).filter(ours)) {
    (definedBy.get(name) ?? definedBy.set(name, new Set()).get(name)!).add(sheet);
    const by = rules.get(name) ?? rules.set(name, new Map()).get(name)!;
    by.set(owner(sheet), (by.get(owner(sheet)) ?? 0) + 1);
  }
/** A class is at home where most of its rules are; one with two homes has none. */
function homeOf(name: string): string | null {
  const by = [...(rules.get(name) ?? [])].sort((a, b) => b[1] - a[1]);
  return by[0] && by[0][1] !== by[1]?.[1] ? by[0][0] : null;
}

const problems: string[] = [];
for (const sheet of sheets.filter((s) => !always.has(s)))
  for (const selector of selectorsOf(sheet)) {
    if (!classesIn(selector).some((name) => homeOf(name) === owner(sheet)))
      problems.push(`${sheet}: "${selector}" names no class of its own and changes other rooms`);
  }
const leaks = problems.length;

const pages = new Set([entry, ...[...modules.values()].flatMap((m) => m.pages)]);
const bare = new Set<string>();
for (const page of pages) {
  if (!existsSync(join(root, page))) continue;
  const with_ = comesWith(page);
  for (const path of with_.modules)
    for (const [name, line] of modules.get(path)!.classes) {
      const homes = [...(definedBy.get(name) ?? [])];
      if (homes.length > 0 && !homes.some((h) => always.has(h) || with_.sheets.has(h)))
        bare.add(`${path}:${line} uses "${name}" of ${homes.join(', ')}, which ${page} does not load`);
    }
}
problems.push(...bare);

console.log(`rules that change other rooms: ${leaks}\nclasses without their style sheet: ${bare.size}`);
for (const p of problems) console.error(p);
process.exit(problems.length === 0 ? 0 : 1);
