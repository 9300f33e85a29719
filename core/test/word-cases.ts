import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readSystemFile, type SystemFile } from '../src/index';
import { TROUBLED } from './troubled-sites';

/** Systems whose every sentence is read: our scenario, the reference systems, and systems that went bad. */
export function caseFiles(): { name: string; file: SystemFile }[] {
  const read = ['../../demo/sites', '../../docs/format/reference'].flatMap((folder) =>
    readdirSync(join(__dirname, folder))
      .filter((name) => name.endsWith('.lantern.json'))
      .map((name) => ({ name, file: readSystemFile(readFileSync(join(__dirname, folder, name), 'utf8')).file })),
  );
  const bad = TROUBLED.map(({ name, model: { site, schools, system, evidence } }) => ({
    name,
    file: { format: 'true-lantern' as const, version: 1 as const, site, schools, system, evidence },
  }));
  return [...read, ...bad];
}
