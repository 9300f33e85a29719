import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { checkWithRemedies } from '@true-lantern/core/rules/remedies';
import type { Finding } from '@true-lantern/core/rules/finding';
import { FaultError, faultLine } from '@true-lantern/core/system/faults';
import { modelOf } from '@true-lantern/core/system/model';
import { readSystemFile } from '@true-lantern/core/system/read';
import type { SystemFile } from '@true-lantern/core/system/schema';

export interface Answer {
  /** 0 when done, 2 for a bad file or call. */
  code: number;
  out: string;
  err: string;
}

interface Verb {
  usage: string;
  flags: string[];
  run(args: string[], flags: Record<string, string | undefined>, warn: (line: string) => void): unknown;
}

const VERBS: Record<string, Verb> = {
  validate: {
    usage: 'lantern validate FILE',
    flags: [],
    run([path], _, warn) {
      load(path, warn);
      return undefined;
    },
  },
  check: {
    usage: 'lantern check FILE [--proposal ID]',
    flags: ['proposal'],
    run([path], { proposal }, warn) {
      return { findings: checkWithRemedies(modelOf(load(path, warn), proposal)).map(printed) };
    },
  },
};

/** One call of `lantern`; never throws for what a person can mend. */
export function run(argv: string[]): Answer {
  const warnings: string[] = [];
  try {
    const [name, ...rest] = argv;
    const verb = name !== undefined && Object.hasOwn(VERBS, name) ? VERBS[name] : undefined;
    if (!verb)
      throw fault('call', `is ${name ? `"${name}"` : 'empty'}, expected one of ${Object.keys(VERBS).join(', ')}`);
    const { args, flags } = parse(verb, rest);
    const value = verb.run(args, flags, (line) => warnings.push(line));
    const out = value === undefined ? '' : `${JSON.stringify(value, null, 1)}\n`;
    return { code: 0, out, err: lines(warnings) };
  } catch (error) {
    if (error instanceof FaultError) return { code: 2, out: '', err: lines(error.faults.map(faultLine)) };
    throw error;
  }
}

function parse({ usage, flags }: Verb, rest: string[]) {
  try {
    const { values, positionals } = parseArgs({
      args: rest,
      allowPositionals: true,
      options: Object.fromEntries(flags.map((flag) => [flag, { type: 'string' as const }])),
    });
    if (
      positionals.length !==
      usage.split(' ').filter((word) => word === word.toUpperCase() && /^[A-Z_]+$/.test(word)).length
    )
      throw fault('call', `has ${positionals.length} arguments, expected ${usage}`);
    return { args: positionals, flags: values as Record<string, string | undefined> };
  } catch (error) {
    if (error instanceof FaultError) throw error;
    throw fault('call', `${(error as Error).message.split('. ')[0]}, expected ${usage}`);
  }
}

function load(path: string | undefined, warn: (line: string) => void): SystemFile {
  let text: string;
  try {
    text = readFileSync(path ?? '', 'utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw fault(
      path || 'file',
      `cannot be read (${code === 'ENOENT' ? 'no such file' : code}), expected a system file`,
    );
  }
  const { file, warnings } = readSystemFile(text);
  warnings.forEach(warn);
  return file;
}

/** A finding as the open format has it. */
function printed({ tightAbove, ...finding }: Finding) {
  void tightAbove;
  return finding;
}

const fault = (path: string, message: string) => new FaultError([{ path, message }]);
const lines = (all: string[]) => (all.length > 0 ? `${all.join('\n')}\n` : '');
