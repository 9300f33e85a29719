// One system of the demo speaks: a stand-in from its own model sends to the server that was just started.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { SIGN_IN } from './build.mjs';
import { launch, ROOT } from './steps.mjs';

const SITE = 'Whelk Bank research raft';
/** What happens to it when its switch is on: a joint that lost its torque, in mohm. */
const FAULT = 'joint:r-bus:60';
const FILE = join(ROOT, 'demo', 'sites', 'whelk-bank.lantern.json');

/** Starts the stand-in; null where the demo's person or site is not there any more. */
export async function startDemoFeed(address) {
  let cookie = '';
  let token = '';
  const call = async (method, path, body) => {
    const reply = await fetch(`${address}/api${path}`, {
      method,
      headers: { 'content-type': 'application/json', cookie, 'x-csrf-token': token },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    cookie = reply.headers.get('set-cookie')?.split(';')[0] ?? cookie;
    const answer = /json/.test(reply.headers.get('content-type') ?? '') ? await reply.json() : {};
    token = answer.csrfToken ?? token;
    return reply.ok ? answer : null;
  };
  await call('GET', '/session');
  if (!(await call('POST', '/session', JSON.parse(readFileSync(SIGN_IN, 'utf8'))))) return null;
  const site = (await call('GET', '/sites'))?.sites.find(({ name }) => name === SITE);
  if (!site) return null;
  // The token of the start before is of no use to anybody.
  for (const { id } of (await call('GET', `/sites/${site.id}/feeds`))?.feeds ?? [])
    await call('DELETE', `/sites/${site.id}/feeds/${id}`);
  const feed = await call('POST', `/sites/${site.id}/feeds`, {});
  await call('DELETE', '/session');
  if (!feed) return null;
  return launch(
    process.execPath,
    [
      '--import',
      'tsx',
      'tools/standin.ts',
      FILE,
      '--post',
      `${address}/api/live`,
      '--token',
      feed.token,
      '--fault',
      FAULT,
      '--switch',
      `${address}/api/demo/fault`,
      '--every',
      '15',
    ],
    { cwd: ROOT, stdio: ['ignore', 'ignore', 'inherit'], detached: true },
  );
}
