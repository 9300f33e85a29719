import { randomUUID } from 'node:crypto';
import whelk from '../../demo/sites/whelk-bank.lantern.json';
import { startRig, Visitor, type Rig } from './site-of-two-firms';

/** A file that is sent twice, as a phone does whose signal comes and goes: the first time counts, the second is answered. */

let rig: Rig;
let ann: Visitor;
const signedIn = async () => {
  const visitor = new Visitor(rig.address);
  expect((await visitor.signIn('ann@ours.example')).status).toBe(200);
  return visitor;
};
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn();
}, 60_000);
afterAll(() => rig.close());

test('two sendings of one file side by side: one is stored, both are answered', async () => {
  for (let round = 0; round < 4; round++) {
    const job = { id: randomUUID(), file: whelk };
    const answers = await Promise.all(Array.from({ length: 4 }, () => ann.call('POST', '/sites', job)));
    const statuses = answers.map(({ status }) => status).sort();
    expect(statuses).toEqual([200, 200, 200, 201]);
    expect((await ann.call('GET', `/sites/${job.id}`)).status).toBe(200);
  }
}, 60_000);

test('the same file once more under another id is another site', async () => {
  for (let n = 0; n < 2; n++)
    expect((await ann.call('POST', '/sites', { id: randomUUID(), file: whelk })).status).toBe(201);
});

test('two pages opened side by side after one sign-in may both write: neither token makes the other worth nothing', async () => {
  const fresh = await signedIn();
  const tokens = await Promise.all(
    Array.from(
      { length: 8 },
      async () => ((await fresh.call('GET', '/session')).body as unknown as { csrfToken: string }).csrfToken,
    ),
  );
  expect(new Set(tokens).size).toBe(1);
  const other = await signedIn();
  const theirs = ((await other.call('GET', '/session')).body as unknown as { csrfToken: string }).csrfToken;
  expect(theirs).not.toBe(tokens[0]);
});
