import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import whelk from '../../demo/sites/whelk-bank.lantern.json';
import { PASSWORD, startRig, type Rig } from './site-of-two-firms';

/** Papers made by the server, and their text read back as somebody would who searches them. */
let rig: Rig;
let cookie = '';
let token = '';
const folder = mkdtempSync(join(tmpdir(), 'papers-'));
const ask = (path: string, method = 'GET', body?: unknown) =>
  fetch(`${rig.address}/api${path}`, {
    method,
    headers: { cookie, 'x-csrf-token': token, 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
const keep = (reply: Response) => {
  cookie = reply.headers.getSetCookie()[0]?.split(';')[0] ?? cookie;
  return reply;
};
beforeAll(async () => {
  rig = await startRig();
  token = ((await keep(await ask('/session')).json()) as { csrfToken: string }).csrfToken;
  const signed = keep(await ask('/session', 'POST', { email: 'ann@ours.example', password: PASSWORD }));
  token = ((await signed.json()) as { csrfToken: string }).csrfToken;
  await ask('/firm/sheet', 'PUT', { name: 'Saltmarsh & Daughter', address: 'Quay 3, Skerrow', paper: 'letter' });
}, 60_000);
afterAll(async () => {
  await rig.close();
  rmSync(folder, { recursive: true });
});

const reader = `
  import { readFileSync } from 'node:fs';
  import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
  const pdf = await getDocument({ data: new Uint8Array(readFileSync(process.argv.at(-1))), verbosity: 0 }).promise;
  const pages = [];
  for (let n = 1; n <= pdf.numPages; n++) {
    const page = await pdf.getPage(n);
    const { items } = await page.getTextContent();
    pages.push({
      text: items.map(({ str }) => str).join(' '),
      view: page.view,
      right: Math.max(...items.map(({ transform, width }) => transform[4] + width)),
      tree: await page.getStructTree(),
      marks: [await pdf.getMarkInfo(), (await pdf.getMetadata()).info.Language],
    });
  }
  console.log(JSON.stringify(pages));
`;
interface ReadPage {
  text: string;
  view: number[];
  right: number;
  /** Elements of the page in reading order, and whether the document says that it has them. */
  tree: Branch | null;
  marks: [{ Marked: boolean } | null, string];
}
interface Branch {
  role?: string;
  children?: Branch[];
}
/** Asynchronously: a thread that waits would let the server's kept connections die under the next question. */
async function pagesOf(bytes: Uint8Array): Promise<ReadPage[]> {
  const path = join(folder, `${randomUUID()}.pdf`);
  writeFileSync(path, bytes);
  // Run from beside the test, so that the package is found; no file of its own, which other checks would trip over.
  const { stdout } = await promisify(execFile)(process.execPath, ['--input-type=module', '-e', reader, path], {
    cwd: __dirname,
    maxBuffer: 64 * 2 ** 20,
  });
  // A line that is broken at a hyphen is one word.
  return (JSON.parse(stdout) as ReadPage[]).map(({ text, ...rest }) => ({
    ...rest,
    text: text.replace(/\s+/g, ' ').replace(/(\w)- (?=[a-z])/g, '$1-'),
  }));
}
const paper = async (site: string, kind: string, about: string, query = '') => {
  const reply = await ask(`/sites/${site}/papers/${kind}/${about}${query}`);
  return {
    status: reply.status,
    type: reply.headers.get('content-type'),
    bytes: new Uint8Array(await reply.arrayBuffer()),
  };
};

test('a work sheet in the firm\u2019s head: kit, cuts, what comes out, labels, and every step with its number', async () => {
  const { status, type, bytes } = await paper(rig.sites.ours, 'work', 'p-relay');
  expect([status, type]).toEqual([200, 'application/pdf']);
  const pages = await pagesOf(bytes);
  const text = pages
    .map((page) => page.text)
    .join('\n')
    .replace(/\s+/g, ' ');
  expect(text).toContain('Saltmarsh & Daughter');
  expect(text).toContain('Work sheet: Radio relay that may never go dark');
  for (const part of ['Kit', 'Cuts', 'Labels', 'Tools', 'Steps', 'Done by']) expect(text).toContain(part);
  expect(text).toContain('2 × 6.6 m');
  expect(text).toContain('10 mm²');
  expect(text).toMatch(/read: _+ /);
  expect(text).toContain('PV: live in daylight');
  // Letter, as the firm prints; each page says which it is.
  expect(pages[0]!.view.slice(2)).toEqual([612, 792]);
  pages.forEach((page, i) => expect(page.text).toContain(`${i + 1} of ${pages.length}`));
  expect(pages.length).toBeGreaterThan(1);
}, 30_000);

test('a reader that speaks it is told headings, paragraphs and cells in their order; page numbers are set apart', async () => {
  const pages = await pagesOf((await paper(rig.sites.ours, 'survey', 'found')).bytes);
  const roles = (branch: Branch): string[] => [
    ...(branch.role && branch.role !== 'Root' && branch.role !== 'Document' ? [branch.role] : []),
    ...(branch.children ?? []).flatMap(roles),
  ];
  const of = pages.map(({ tree }) => (tree ? roles(tree) : []));
  expect(pages[0]!.marks).toEqual([expect.objectContaining({ Marked: true }), 'en']);
  expect(of[0]!.filter((role) => role === 'H1')).toHaveLength(1);
  expect(of[0]!.indexOf('H1')).toBeLessThan(10);
  for (const page of of) expect(page.filter((role) => role === 'P').length).toBeGreaterThan(5);
  expect(of.flat().filter((role) => role === 'H2').length).toBeGreaterThan(5);
  // The number at the foot is in the text, and in no element.
  expect(pages[0]!.text).toContain(`1 of ${pages.length}`);
}, 30_000);

test('in feet, pounds and gauges for whom reads these; what is no unit is metric; the Line stands on it as letters and strokes', async () => {
  const read = async (query: string) =>
    (await pagesOf((await paper(rig.sites.ours, 'work', 'p-relay', query)).bytes))
      .map((page) => page.text)
      .join(' ')
      .replace(/\s+/g, ' ');
  const imperial = await read('?length=ft&mass=lb&size=AWG&temperature=degF&small=in');
  // 6.6 m are 21.65 ft.
  expect(imperial).toMatch(/2 × 21\.[67] ft/);
  expect(imperial).not.toContain('6.6 m');
  expect(imperial).toContain('AWG');
  expect(imperial).toContain('The Line as it will be');
  expect(imperial).toMatch(/Brackwell T20-75 \(new\)/);
  expect(imperial).toContain('12 V bus');
  expect(await read('?length=furlong')).toContain('2 × 6.6 m');
}, 30_000);

test('a settings sheet: each device in volts at this bank, what it becomes and was', async () => {
  const gannet = JSON.parse(
    readFileSync(join(__dirname, '../../demo/sites/gannet-ledge.lantern.json'), 'utf8'),
  ) as object;
  const id = randomUUID();
  expect((await ask('/sites', 'POST', { id, file: gannet })).status).toBe(201);
  const { bytes } = await paper(id, 'settings', 'p-lfp');
  const text = (await pagesOf(bytes))
    .map((page) => page.text)
    .join(' ')
    .replace(/\s+/g, ' ');
  expect(text).toContain('Settings: Lithium bank, keep the modules');
  expect(text).toMatch(/Ostrum 1500 modified cut-off 24 V/);
  expect(text).toContain('maker’s manual overrides');
}, 30_000);

test('a commissioning record: expected and measured, what lies outside and why, what was not tested, who signed', async () => {
  const id = randomUUID();
  expect((await ask('/sites', 'POST', { id, file: whelk })).status).toBe(201);
  const { bytes } = await paper(id, 'record', 'v-spring');
  const text = (await pagesOf(bytes))
    .map((page) => page.text)
    .join(' ')
    .replace(/\s+/g, ' ');
  expect(text).toContain('Commissioning record');
  expect(text).toContain('Reason for the visit: The yearly look');
  expect(text.match(/OUTSIDE/g)).toHaveLength(1);
  expect(text).toContain('one loose strand');
  expect(text).toContain('Not tested');
  expect(text).toContain('For the firm: Isla, 2026-05-18');
  expect(text).toContain('−'); // A true minus before what is drawn.
}, 30_000);

test('what is not there, or of another firm, has no paper, and says so', async () => {
  expect((await paper(rig.sites.ours, 'work', 'p-nine')).status).toBe(422);
  expect((await paper(rig.sites.ours, 'record', 'v-nine')).status).toBe(422);
  expect((await paper(rig.sites.ours, 'poem', 'p-relay')).status).toBe(422);
  expect((await paper(rig.sites.theirs, 'work', 'p-relay')).status).toBe(404);
  const lost = structuredClone(corrach) as unknown as {
    proposals: { id: string; changes: object[]; closed?: object }[];
  };
  Object.assign(lost.proposals[0]!, { closed: { as: 'overtaken' } });
  lost.proposals[0]!.changes.push({ op: 'remove', at: 'loads', id: 'nobody' });
  const id = randomUUID();
  expect((await ask('/sites', 'POST', { id, file: lost })).status).toBe(201);
  const reply = await ask(`/sites/${id}/papers/work/${lost.proposals[0]!.id}`);
  expect(reply.status).toBe(422);
  expect(JSON.stringify(await reply.json())).toContain('nobody');
});

test('a name of two hundred letters neither leaves its page nor takes the page number with it', async () => {
  const name = 'Donaudampfschifffahrtsgesellschaft'.repeat(6).slice(0, 199);
  const id = randomUUID();
  const file = { ...whelk, site: { ...whelk.site, name } };
  expect((await ask('/sites', 'POST', { id, file })).status).toBe(201);
  const { bytes } = await paper(id, 'record', whelk.visits[0]!.id);
  const pages = await pagesOf(bytes);
  expect(pages.length).toBeGreaterThan(1);
  pages.forEach(({ text, view, right }, i) => {
    expect(text).toContain(`${i + 1} of ${pages.length}`);
    expect(right).toBeLessThan(view[2]!);
  });
});

test('a long name at the foot of a page ends with a whole word', async () => {
  const name = 'Old lighthouse keepers’ cottage above the eastern landing, with the boat house and its generator shed';
  const id = randomUUID();
  expect((await ask('/sites', 'POST', { id, file: { ...whelk, site: { ...whelk.site, name } } })).status).toBe(201);
  const pages = await pagesOf((await paper(id, 'record', whelk.visits[0]!.id)).bytes);
  const foot = pages[1]!.text.replace(/\s+/g, ' ');
  expect(foot).toContain('above the eastern landing, with the boat house …');
  expect(foot).not.toContain('and its');
}, 30_000);

const SHELF_ID = randomUUID();
/** As the first of the demo's sites has it. */
const { id: _, label: __, ...TARNLIGHT } = corrach.system.moduleTypes[0]!;

test.each([
  ['survey', 'found', ['Survey report', 'The system as found', '45.1 V (nameplate)', 'Cables', 'Not known yet']],
  ['check', 'found', ['Check report', '153.9 V against 150 V', 'What helps', 'Design standards', 'Rule book']],
  ['check', 'p-two', ['Two in series, third set aside']],
  ['parts', 'p-relay', ['Parts and cuts: Radio relay that may never go dark', 'Cuts', '2 × 6.6 m', 'Tools']],
  ['offer', 'p-lantern,p-two', ['Options', 'A: Two more modules', 'B: Two in series', '153.60 GBP', 'no price']],
  ['handover', 'found', ['Your system', 'In an emergency', 'What not to do']],
  ['log', '2026', ['Log of 2026', 'Details']],
])(
  'the paper "%s" of %s is a PDF in the firm\u2019s head, each page numbered',
  async (kind, about, words) => {
    await ask('/firm/sheet', 'PUT', { name: 'Saltmarsh & Daughter', paper: 'letter', tax_pct: 20 });
    const item = { kind: 'moduleTypes', label: 'Tarnlight 235', price: 128, currency: 'GBP', body: TARNLIGHT };
    expect((await ask(`/shelf/${SHELF_ID}`, 'PUT', item)).status).toBe(204);
    const { status, bytes } = await paper(rig.sites.ours, kind, about);
    expect(status).toBe(200);
    const pages = await pagesOf(bytes);
    const text = pages
      .map((page) => page.text)
      .join(' ')
      .replace(/\s+/g, ' ');
    for (const word of ['Saltmarsh & Daughter', ...words]) expect(text).toContain(word);
    pages.forEach((page, i) => {
      expect(page.text).toContain(`${i + 1} of ${pages.length}`);
      expect(page.right).toBeLessThan(page.view[2]!);
    });
    // No heading alone at the foot of a page: something of what it heads stands on the page with it.
    for (const { text: page } of pages)
      expect(page.replace(/\d+ of \d+.*$/, '')).not.toMatch(
        /(Over|Tight|Notes|Parts|Settings|Cautions|Cuts|Kit|Bank|Cables) $/,
      );
  },
  30_000,
);

test('an offer does not go out without its prices: who may not see them is refused, and sees none elsewhere', async () => {
  await ask('/firm/sheet', 'PUT', { name: 'Saltmarsh & Daughter', prices: 'no-readers' });
  const owner = { cookie, token };
  try {
    cookie = '';
    token = ((await keep(await ask('/session')).json()) as { csrfToken: string }).csrfToken;
    keep(await ask('/session', 'POST', { email: 'rob@ours.example', password: PASSWORD }));
    const refused = await ask(`/sites/${rig.sites.ours}/papers/offer/p-two`);
    expect(refused.status).toBe(403);
    expect(await refused.text()).toContain('prices');
    expect((await paper(rig.sites.ours, 'parts', 'p-relay')).status).toBe(200);
  } finally {
    ({ cookie, token } = owner);
    await ask('/firm/sheet', 'PUT', { name: 'Saltmarsh & Daughter', prices: 'everybody' });
  }
}, 30_000);
