import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import ts from 'typescript';

const ROOT = resolve(__dirname, '../..');
const DOORS: Record<string, string> = {
  '@true-lantern/core': 'core/src/index.ts',
  '@true-lantern/core/base': 'core/src/base.ts',
  '@true-lantern/wire': 'wire/src/index.ts',
};

/** What a module asks for when it is loaded: neither types nor what is fetched later. */
function asked(path: string): string[] {
  const source = ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, false);
  return source.statements.flatMap((statement) => {
    if (ts.isImportDeclaration(statement)) {
      const { importClause, moduleSpecifier } = statement;
      const named = importClause?.namedBindings;
      const typesOnly =
        importClause?.isTypeOnly ||
        (!importClause?.name && named && ts.isNamedImports(named) && named.elements.every((one) => one.isTypeOnly));
      return typesOnly ? [] : [(moduleSpecifier as ts.StringLiteral).text];
    }
    if (ts.isExportDeclaration(statement) && statement.moduleSpecifier && !statement.isTypeOnly)
      return [(statement.moduleSpecifier as ts.StringLiteral).text];
    return [];
  });
}

function fileOf(from: string, name: string): string | null {
  const door = DOORS[name];
  if (door) return join(ROOT, door);
  if (!name.startsWith('.')) return null;
  const path = resolve(dirname(from), name);
  return (
    [`${path}.ts`, `${path}.tsx`, join(path, 'index.ts'), path].find((it) => existsSync(it) && statSync(it).isFile()) ??
    null
  );
}

function loadedWith(...starts: string[]): string[] {
  const seen = new Set<string>();
  const go = (path: string) => {
    if (seen.has(path)) return;
    seen.add(path);
    for (const name of /\.tsx?$/.test(path) ? asked(path) : []) {
      const next = fileOf(path, name);
      if (next) go(next);
    }
  };
  for (const start of starts) go(join(ROOT, start));
  return [...seen].map((path) => relative(ROOT, path));
}

describe('what is loaded before the list of sites is seen', () => {
  const loaded = loadedWith('client/app/_layout.tsx', 'client/app/index.tsx');

  test('the list itself, the store of what is not sent, and the rules that say what each site is about', () => {
    expect(loaded).toEqual(
      expect.arrayContaining([
        'client/src/sites/SitesScreen.tsx',
        'client/src/data/outbox/store.ts',
        'core/src/base.ts',
        'core/src/rules/check.ts',
      ]),
    );
  });

  test('of the core no plan, order, year, proof, successor, and no door to them', () => {
    const rooms = new Set(loaded.flatMap((path) => /^core\/src\/([\w-]+)\//.exec(path)?.[1] ?? []));
    for (const late of [
      'plan',
      'proposal',
      'successor',
      'layouts',
      'headroom',
      'flips',
      'work-order',
      'readings',
      'year',
    ])
      expect(rooms).not.toContain(late);
    expect(loaded).not.toContain('core/src/index.ts');
  });

  test('no other screen: each route fetches its own behind it', () => {
    const screens = loaded.filter((path) =>
      /^client\/src\/(check|plan|work-order|visits|year|survey|shelf|quick|line|entry)\//.test(path),
    );
    expect(screens).toEqual([]);
  });

  test('every route but the list draws a screen that is there', () => {
    const stages = loadedWith('client/src/stages/stages.ts');
    for (const screen of [
      'check/CheckScreen.tsx',
      'year/YearScreen.tsx',
      'work-order/OrderScreen.tsx',
      'shell/SiteShell.tsx',
    ])
      expect(stages).toContain(`client/src/${screen}`);
    expect(stages).toContain('core/src/index.ts');
  });
});
