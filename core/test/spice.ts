import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The circuit simulator, as the independent figure for everything that is a network. */

/** Runs a netlist with the given commands; columns of what they write to `out.txt`, first the sweep. */
export function spice(netlist: string[], commands: string[]): number[][] {
  const folder = mkdtempSync(join(tmpdir(), 'spice-'));
  try {
    const text = [
      '* from a test',
      ...netlist,
      '.control',
      'set wr_singlescale',
      ...commands,
      'quit',
      '.endc',
      '.end',
      '',
    ];
    writeFileSync(join(folder, 'net.cir'), text.join('\n'));
    const { error, stderr, stdout } = spawnSync('ngspice', ['-b', 'net.cir'], { cwd: folder, encoding: 'utf8' });
    if (error) throw new Error('ngspice is missing; "npm test" installs it', { cause: error });
    let written: string;
    try {
      written = readFileSync(join(folder, 'out.txt'), 'utf8');
    } catch {
      throw new Error(`ngspice wrote nothing:\n${stdout}\n${stderr}`);
    }
    return written
      .trim()
      .split('\n')
      .map((line) => line.trim().split(/\s+/).map(Number));
  } finally {
    rmSync(folder, { recursive: true });
  }
}
