import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildSync } from 'esbuild';
import { dependencies } from '../package.json';

/** Our own core is bundled; packages stay what they are. */
const packages = Object.keys(dependencies).filter((name) => !name.startsWith('@true-lantern/'));

/**
 * Programs of their own for a test, each compiled once: a process that compiles as it starts takes ten times as long.
 * @param entries TypeScript files, by the name of the program
 * @returns the folder with NAME.mjs in it, and how to take it away
 */
export function bundled(
  entries: Readonly<Record<string, string>>,
  root = process.cwd(),
): { folder: string; remove(): void } {
  const work = join(root, '.lantern');
  mkdirSync(work, { recursive: true });
  const folder = mkdtempSync(join(work, 'bundled-'));
  buildSync({
    entryPoints: { ...entries },
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    mainFields: ['module', 'main'],
    loader: { '.json': 'json' },
    external: packages,
  });
  return { folder, remove: () => rmSync(folder, { recursive: true, force: true }) };
}
