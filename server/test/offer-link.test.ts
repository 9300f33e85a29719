import { randomUUID } from 'node:crypto';
import { numberOf, type Proposal } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { withoutToken } from '../src/http/app';
import { bodyOf, change, signedIn, startRig, Visitor, type Rig } from './site-of-two-firms';

/** An offer that a customer reads and signs on a page of its own: what is kept, who can do it, and when it is over. */

let rig: Rig;
let ann: Visitor;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
}, 60_000);
afterAll(() => rig.close());

interface Row {
  id: string;
  kind: string;
  revision: number;
  body: Partial<Proposal> & { id: string };
}
const STROKES = 'M10 20L40 60L90 30M120 40L130 80';

/** A site of its own with an offer that is out. */
async function sent(proposal = 'p-two') {
  const id = randomUUID();
  const made = await ann.call('POST', '/sites', { id, file: corrach });
  expect(made.status).toBe(201);
  const link = await ann.call('POST', `/sites/${id}/offers/${proposal}`, {});
  expect(link.status).toBe(201);
  const { address, id: linkId } = bodyOf<{ address: string; id: string }>(link);
  const path = new URL(address).pathname;
  const row = async () =>
    bodyOf<{ parts: Row[] }>(await ann.call('GET', `/sites/${id}`)).parts.find(
      (part) => part.kind === 'proposal' && part.body.id === proposal,
    )!;
  return { site: id, path, linkId, row, address };
}
const read = (path: string) => fetch(`${rig.address}${path}`);
const sign = (path: string, given: Record<string, string>) =>
  fetch(`${rig.address}${path}`, { method: 'POST', body: new URLSearchParams(given) });

describe('an offer by its address', () => {
  test('a stranger reads what is offered, and nothing of anybody else', async () => {
    const { path } = await sent();
    const page = await read(path);
    const text = await page.text();
    expect(page.status).toBe(200);
    expect(text).toContain('Two in series, third set aside');
    expect(text).toContain('Accept the offer');
    expect(text).toContain('ours');
    expect(text).not.toMatch(/ann@|rob@|Schoolhouse key|latitude/i);
    expect(page.headers.get('x-robots-tag')).toMatch('noindex');
    expect(page.headers.get('cache-control')).toBe('no-store');
    const policy = page.headers.get('content-security-policy')!;
    const nonce = /script-src 'nonce-([^']+)'/.exec(policy)![1]!;
    expect(text).toContain(`<script nonce="${nonce.replace(/&/g, '&amp;')}">`);
    expect(policy).toContain("default-src 'none'");
    // Another visit, another nonce: what somebody smuggles in cannot know it.
    expect((await read(path)).headers.get('content-security-policy')).not.toBe(policy);
  });

  test('signed with a name, the whole offer is kept with its number, once, and stands', async () => {
    const { path, row, site } = await sent();
    const reply = await sign(path, { name: ' Mo <b>Quill</b> ', strokes: STROKES });
    const text = await reply.text();
    expect(reply.status).toBe(200);
    expect(text).toContain('Accepted by Mo &lt;b&gt;Quill&lt;/b&gt;');
    expect(text).not.toContain('Accept the offer');
    const { body, id, revision } = await row();
    const { accepted } = body;
    expect(accepted).toMatchObject({ name: 'Mo <b>Quill</b>', strokes: STROKES });
    expect(accepted!.number).toBe(numberOf(accepted!.offer));
    expect((accepted!.offer as { lines: unknown[] }).lines.length).toBeGreaterThan(0);
    // A second signature changes nothing, nor does the firm itself.
    expect((await sign(path, { name: 'Somebody else', strokes: STROKES })).status).toBe(409);
    await ann.call('POST', `/sites/${site}/changes`, {
      changes: [change(id, revision, { 'accepted.name': 'Somebody else' })],
    });
    expect((await row()).body.accepted!.name).toBe('Mo <b>Quill</b>');
    expect(await (await read(path)).text()).toContain('Accepted by Mo');
  });

  test.each([
    ['no name', { strokes: STROKES }],
    ['a name of blanks', { name: '  \u0000 ', strokes: STROKES }],
    ['no signature', { name: 'Mo Quill', strokes: '' }],
    ['a dot', { name: 'Mo Quill', strokes: 'M1 1' }],
    ['what is no signature', { name: 'Mo Quill', strokes: 'M1 1L2 2"><script>' }],
    ['an endless one', { name: 'Mo Quill', strokes: `M1 1${'L2 2'.repeat(12_000)}` }],
  ])('%s accepts nothing, and says so', async (_, given) => {
    const { path, row } = await sent();
    const reply = await sign(path, given);
    expect(reply.status).toBe(422);
    expect(await reply.text()).toContain('Nothing was accepted yet');
    expect((await row()).body.accepted ?? null).toBeNull();
  });

  test('what was changed since it was sent can no longer be accepted', async () => {
    const { path, row, site } = await sent();
    const { id, revision } = await row();
    await ann.call('POST', `/sites/${site}/changes`, { changes: [change(id, revision, { title: 'Another title' })] });
    expect(await (await read(path)).text()).toContain('has changed since it was sent');
    expect((await sign(path, { name: 'Mo Quill', strokes: STROKES })).status).toBe(409);
    expect((await row()).body.accepted ?? null).toBeNull();
  });

  test('past its date it is over', async () => {
    const { path, linkId, row } = await sent();
    const { sequelize } = rig.database;
    const until = (day: string) =>
      sequelize.query(
        `update links set body = jsonb_set(body, '{offer,validUntil}', to_jsonb($2::text)) where id = $1`,
        { bind: [linkId, day] },
      );
    const day = (ms: number) => new Date(Date.now() + ms).toISOString().slice(0, 10);
    await until(day(-86_400_000));
    expect(await (await read(path)).text()).toContain('past its date');
    expect((await sign(path, { name: 'Mo Quill', strokes: STROKES })).status).toBe(409);
    expect((await row()).body.accepted ?? null).toBeNull();
    // Its last day is a day on which it can be accepted.
    await until(day(0));
    expect(await (await read(path)).text()).toContain('Accept the offer');
  });

  test('ended, it opens nothing; its token is kept nowhere and written to no log', async () => {
    const { path, site, linkId, row } = await sent();
    const token = path.split('/').pop()!;
    const [rows] = await rig.database.sequelize.query('select token_hash, body from links');
    expect(JSON.stringify(rows)).not.toContain(token);
    expect(withoutToken(path)).not.toContain(token);
    const links = bodyOf<{ links: { id: string }[] }>(await ann.call('GET', `/sites/${site}/offers/p-two`)).links;
    expect(links.map(({ id }) => id)).toEqual([linkId]);
    expect(JSON.stringify(links)).not.toContain(token);
    await ann.call('DELETE', `/sites/${site}/offers/p-two/${linkId}`);
    expect([(await read(path)).status, (await sign(path, { name: 'Mo', strokes: STROKES })).status]).toEqual([
      404, 404,
    ]);
    expect((await row()).body.accepted ?? null).toBeNull();
  });

  test('a proposal that is not there, or accepted already, has no link', async () => {
    const { site, path } = await sent();
    expect((await ann.call('POST', `/sites/${site}/offers/p-nine`, {})).status).toBe(422);
    await sign(path, { name: 'Mo Quill', strokes: STROKES });
    const again = await ann.call('POST', `/sites/${site}/offers/p-two`, {});
    expect(again.status).toBe(422);
    expect(JSON.stringify(again.body)).toContain('accepted already');
  });

  test('where the firm hides prices from some, the paper is signed instead', async () => {
    const { site } = await sent();
    const hidden = await ann.call('PUT', '/firm/sheet', { name: 'ours', prices: 'no-readers' });
    expect(hidden.status).toBeLessThan(300);
    const reply = await ann.call('POST', `/sites/${site}/offers/p-two`, {});
    expect(reply.status).toBe(403);
    expect(JSON.stringify(reply.body)).toContain('sign the paper instead');
  });
});
