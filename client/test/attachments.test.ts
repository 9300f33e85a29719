import { addPhoto, addVoice, attachmentsOf, removeAttachment } from '../src/data/attachments';
import { readBlob } from '../src/data/blobs';
import { state } from '../src/data/outbox/store';
import { openCorrach } from './corrach';

const site = openCorrach((file) => {
  file.attachments = [
    { id: 'second', kind: 'photo', subject: 'cc', type: 'image/jpeg' },
    { id: 'other', kind: 'photo', subject: 'gel', type: 'image/jpeg' },
    { id: 'third', kind: 'photo', subject: 'cc', type: 'image/jpeg' },
  ];
});
const drawn: {
  width: number;
  height: number;
  type?: string | undefined;
  quality?: number | undefined;
  args: number[];
}[] = [];
/** A canvas that notes what is drawn on it; null: it cannot give the picture back. */
let gives: Blob | null = new Blob(['jpeg'], { type: 'image/jpeg' });
const canvas = () => {
  const noted: (typeof drawn)[number] = { width: 0, height: 0, args: [] };
  return Object.assign(noted, {
    getContext: () => ({ drawImage: (_: unknown, ...args: number[]) => void (noted.args = args) }),
    toBlob(done: (blob: Blob | null) => void, type: string, quality: number) {
      drawn.push({ width: noted.width, height: noted.height, type, quality, args: noted.args });
      done(gives);
    },
  });
};
const closed = jest.fn();
let size = [4000, 3000];
beforeEach(() => {
  drawn.length = 0;
  gives = new Blob(['jpeg'], { type: 'image/jpeg' });
  closed.mockClear();
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  Object.assign(globalThis, {
    document: { createElement: canvas },
    createImageBitmap: async (file: Blob) => {
      if (file.type === 'text/plain') throw new Error('no picture');
      return { width: size[0], height: size[1], close: closed };
    },
  });
});
const entries = (from: number) => state().entries.slice(from);
const photo = (bytes: number, name?: string) => {
  const made = Object.assign(new Blob(['x'], { type: 'image/png' }), name ? { name } : {});
  Object.defineProperty(made, 'size', { value: bytes });
  return made;
};

test('a photo is drawn anew at 2,560 px and 320 px at most, so that nothing of the camera leaves the device', async () => {
  const from = state().entries.length;
  expect(await addPhoto(site, 'cc', photo(24.9e6))).toBeNull();
  expect(drawn).toEqual([
    { width: 2560, height: 1920, type: 'image/jpeg', quality: 0.85, args: [0, 0, 2560, 1920] },
    { width: 320, height: 240, type: 'image/jpeg', quality: 0.75, args: [0, 0, 320, 240] },
  ]);
  expect(closed).toHaveBeenCalledTimes(1);
  const [row, bytes] = entries(from);
  if (!row || !('change' in row) || !bytes || !('request' in bytes)) throw new Error('nothing was sent');
  const id = row.change.partId;
  expect(row.change).toMatchObject({
    baseRevision: 0,
    create: { kind: 'attachment', position: 3 },
    set: { id, kind: 'photo', subject: 'cc', type: 'image/jpeg' },
  });
  expect(Date.parse(String(row.change.set.at))).toBeGreaterThan(Date.now() - 60_000);
  expect(bytes.request).toEqual({
    key: `attachment ${id}`,
    method: 'PUT',
    path: `/sites/site/attachments/${id}`,
    blob: id,
  });
  expect([(await readBlob(id))?.size, (await readBlob(`${id} small`))?.size]).toEqual([4, 4]);
});
test('a small picture is not blown up, and none is thinner than a pixel', async () => {
  size = [200, 100];
  await addPhoto(site, 'cc', photo(10));
  size = [9000, 2];
  await addPhoto(site, 'cc', photo(10));
  size = [1000, 3000];
  await addPhoto(site, 'cc', photo(10));
  size = [4000, 3000];
  expect(drawn.map(({ width, height }) => [width, height])).toEqual([
    [200, 100],
    [200, 100],
    [2560, 1],
    [320, 1],
    [853, 2560],
    [107, 320],
  ]);
});
test('what is too large, no picture, or cannot be kept is said, and nothing is attached', async () => {
  const from = state().entries.length;
  expect(await addPhoto(site, 'cc', photo(25_000_001, 'roof.png'))).toBe(
    'roof.png has 25 MB; a photo may have 25 MB at most. Nothing was attached.',
  );
  expect(await addPhoto(site, 'cc', Object.assign(new Blob(['a'], { type: 'text/plain' })))).toBe(
    'The picture is not a picture this browser can read. Nothing was attached.',
  );
  gives = null;
  expect(await addPhoto(site, 'cc', photo(10, 'roof.png'))).toBe(
    'roof.png could not be saved: this device is full or blocks storage. Nothing was attached.',
  );
  expect(closed).toHaveBeenCalledTimes(1);
  expect(entries(from)).toEqual([]);
  // Just what is allowed is taken.
  gives = new Blob(['jpeg']);
  expect(await addPhoto(site, 'cc', photo(25e6))).toBeNull();
});
test('a spoken note keeps its kind of sound, without what the recorder adds to it', async () => {
  const from = state().entries.length;
  expect(await addVoice(site, 'gel', new Blob(['abc'], { type: 'audio/ogg;codecs=opus' }))).toBeNull();
  expect(await addVoice(site, 'gel', new Blob(['abc']))).toBeNull();
  const made = entries(from).flatMap((entry) => ('change' in entry ? [entry.change] : []));
  expect(made.map(({ set }) => [set.kind, set.subject, set.type])).toEqual([
    ['voice', 'gel', 'audio/ogg'],
    ['voice', 'gel', 'audio/webm'],
  ]);
  expect((await readBlob(made[0]!.partId))?.type).toBe('audio/ogg');
});
test('those of a part, in their order; one that was taken away can be brought back', () => {
  const mine = attachmentsOf(site, 'cc');
  expect(mine.map(({ body }) => body.id)).toEqual(['second', 'third']);
  const turned = mine.map((row, i) => ({ ...row, position: 9 - i }));
  expect(attachmentsOf({ ...site, rows: turned }, 'cc').map(({ body }) => body.id)).toEqual(['third', 'second']);
  const from = state().entries.length;
  removeAttachment(site, mine[0]!)();
  expect(entries(from).map((entry) => ('change' in entry ? entry.change : null))).toMatchObject([
    { partId: mine[0]!.id, baseRevision: mine[0]!.revision, set: { '/deleted': true } },
    { partId: mine[0]!.id, set: { '/deleted': false } },
  ]);
});
