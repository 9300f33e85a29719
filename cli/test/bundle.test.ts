import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { run } from '../src/run';

/** What `npm run lantern` starts is one bundled file: it says what the sources say, built anew or as it was kept. */

const root = join(__dirname, '../..');
const file = join(root, 'demo/sites/corrach-bothy.lantern.json');
const call = (...args: string[]) =>
  spawnSync(process.execPath, ['tools/lantern.mjs', ...args], { cwd: root, encoding: 'utf8' });

test('the bundle answers as the sources do, twice', () => {
  const { out } = run(['check', file]);
  for (let n = 0; n < 2; n++) expect(call('check', file)).toMatchObject({ status: 0, stdout: out, stderr: '' });
}, 60_000);

test('a bad call is a line on standard error and exit 2, never a stack trace', () => {
  const { status, stdout, stderr } = call('check', 'no-such-file');
  expect([status, stdout]).toEqual([2, '']);
  expect(stderr).toMatch(/^no-such-file: cannot be read .*\n$/);
}, 60_000);
