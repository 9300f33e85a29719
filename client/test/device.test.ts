import { zipSync, strToU8 } from 'fflate';
import { takeBundle } from '../src/data/bundle';
import { chooseFile, chooseTextFile, chooseWeatherFile, saveTextFile } from '../src/data/files';
import { newId } from '../src/data/ids';
import { keepMeter, metersOf } from '../src/data/meters';
import { installOffline, takeNewer, useNewer } from '../src/data/offline';
import { readPreference } from '../src/data/preferences';
import { noteRecent, recentIds } from '../src/data/shelf';
import { readStorage, roomText } from '../src/data/storage';
import { act, renderHook } from '@testing-library/react-native';

/** What the browser is asked for, and what it gives. */

describe('the room, in the device\u2019s own units', () => {
  test.each([
    [999_000, '999 kB used, about 0 kB left.'],
    [1e6, '1 MB used, about 0 kB left.'],
    [999e6, '999 MB used, about 0 kB left.'],
    [1e9, '1.0 GB used, about 0 kB left.'],
    [1.1e9, '1.1 GB used, about 0 kB left.'],
    [1, '1 kB used, about 0 kB left.'],
  ])('%d bytes', (used, text) => expect(roomText(used, 0)).toBe(text));
  test('half an answer is none; one that keeps nothing does not last', async () => {
    const manager = (estimate: object, more: object = {}) => ({ estimate: async () => estimate, ...more }) as never;
    expect(await readStorage(manager({ usage: 1 }))).toBeNull();
    expect(await readStorage(manager({ quota: 1 }))).toBeNull();
    expect((await readStorage(manager({ usage: 1, quota: 2 })))?.lasting).toBe(false);
  });
});

test('ids made by hand are of version 4 and its variant, with 36 letters', () => {
  const own = Object.getOwnPropertyDescriptor(globalThis.crypto, 'randomUUID');
  Object.defineProperty(globalThis.crypto, 'randomUUID', { value: undefined, configurable: true });
  const bytes = jest.spyOn(globalThis.crypto, 'getRandomValues');
  const made = (byte: number) => {
    bytes.mockImplementationOnce((array) => (array as unknown as Uint8Array).fill(byte) as never);
    return newId();
  };
  expect([made(0), made(255), made(0x12)]).toEqual([
    '00000000-0000-4000-8000-000000000000',
    'ffffffff-ffff-4fff-bfff-ffffffffffff',
    '12121212-1212-4212-9212-121212121212',
  ]);
  bytes.mockRestore();
  if (own) Object.defineProperty(globalThis.crypto, 'randomUUID', own);
  else delete (globalThis.crypto as { randomUUID?: unknown }).randomUUID;
});

test('eight meters of a person are kept, twelve parts of the shelf', () => {
  for (let n = 0; n < 10; n++) keepMeter('isla', { name: `M${n}`, pct: n });
  expect(metersOf('isla').map(({ name }) => name)).toEqual(['M9', 'M8', 'M7', 'M6', 'M5', 'M4', 'M3', 'M2']);
  keepMeter('morag', { name: 'Own', pct: 1 });
  expect([metersOf('isla').length, metersOf('morag').length]).toEqual([8, 1]);
  for (let n = 0; n < 13; n++) noteRecent(`p${n}`);
  expect(recentIds()).toHaveLength(12);
  expect(readPreference('recent')?.at(-1)).toBe('p1');
});

describe('files', () => {
  type Heard = Record<string, () => void>;
  const made: {
    style?: object;
    type?: string;
    accept?: string;
    capture?: string;
    href?: string;
    download?: string;
    files?: File[];
  }[] = [];
  let heard: Heard = {};
  const removed = jest.fn();
  const clicked = jest.fn();
  beforeEach(() => {
    made.length = 0;
    heard = {};
    removed.mockClear();
    clicked.mockClear();
    Object.assign(globalThis, {
      document: {
        createElement: () => {
          const element = {
            style: {},
            addEventListener: (name: string, act: () => void) => void (heard[name] = act),
            remove: removed,
            click: clicked,
          };
          made.push(element);
          return element;
        },
        body: { append: jest.fn() },
      },
    });
    Object.assign(URL, { createObjectURL: jest.fn(() => 'blob:1'), revokeObjectURL: jest.fn() });
  });
  test('one is chosen, or none; a phone opens its camera where that is meant', async () => {
    const file = new File(['a'], 'a.png');
    const first = chooseFile('image/*', true);
    expect(made[0]).toMatchObject({ type: 'file', accept: 'image/*', capture: 'environment' });
    expect(clicked).toHaveBeenCalledTimes(1);
    made[0]!.files = [file];
    heard.change!();
    expect(await first).toBe(file);
    expect(removed).toHaveBeenCalledTimes(1);
    const second = chooseFile('.json');
    expect(made[1]).not.toHaveProperty('capture');
    heard.cancel!();
    expect(await second).toBeNull();
    const third = chooseFile('.json');
    heard.change!();
    expect(await third).toBeNull();
  });
  test('a text that is too large comes a letter too long, so that its reader refuses it; weather may have 8 MB', async () => {
    const small = chooseTextFile('.json', 3);
    made[0]!.files = [new File(['abcdef'], 'a.json')];
    heard.change!();
    expect(await small).toEqual({ name: 'a.json', text: 'abcd' });
    const weather = chooseWeatherFile();
    const slice = jest.fn(() => new Blob(['x']));
    made[1]!.files = [Object.assign(new File(['x'], 'w.epw'), { slice })];
    heard.change!();
    await weather;
    expect(slice).toHaveBeenCalledWith(0, 8_000_001);
    expect(made[1]!.accept).toBe('.epw');
    const none = chooseTextFile('.json', 3);
    heard.cancel!();
    expect(await none).toBeNull();
  });
  test('what is saved has its name, and its address is given back when the browser has had the time', () => {
    jest.useFakeTimers();
    saveTextFile('a.json', '{}');
    expect(made[0]).toMatchObject({ href: 'blob:1', download: 'a.json' });
    expect(clicked).toHaveBeenCalledTimes(1);
    jest.advanceTimersByTime(9_999);
    expect(URL.revokeObjectURL).not.toHaveBeenCalled();
    jest.advanceTimersByTime(1);
    expect(URL.revokeObjectURL).toHaveBeenCalledWith('blob:1');
    jest.useRealTimers();
  });
});

test('a zip that unpacks to more than 400 MB is refused, not taken by halves', async () => {
  // What its own directory says is believed before a byte is unpacked.
  const sized = (bytes: number) => {
    const zip = zipSync({ 'other.json': strToU8('{}'), 'attachments/a.jpg': new Uint8Array(10) }, { level: 0 });
    const view = new DataView(zip.buffer);
    let last = 0;
    for (let at = 0; at < zip.length - 4; at++) if (view.getUint32(at, true) === 0x02014b50) last = at;
    view.setUint32(last + 24, bytes, true);
    return takeBundle(new Blob([new Uint8Array(zip)]));
  };
  await expect(sized(400e6)).rejects.toMatchObject({
    faults: [{ path: 'zip', message: 'unpacks to 401 MB, expected 400 MB at most' }],
  });
  // As much as is allowed is unpacked; what is wrong with it then is that it holds no site.
  await expect(sized(400e6 - 2)).rejects.toMatchObject({ faults: [{ path: 'site.lantern.json' }] });
});

describe('a newer version', () => {
  const waiting = { postMessage: jest.fn() };
  const listeners: Record<string, () => void> = {};
  const registration = {
    waiting: null as object | null,
    installing: { addEventListener: (_: string, act: () => void) => void (listeners.state = act) },
    addEventListener: (name: string, act: () => void) => void (listeners[name] = act),
    update: jest.fn(async () => undefined),
  };
  const serviceWorker = {
    controller: null as object | null,
    register: jest.fn(async () => registration),
    addEventListener: jest.fn(),
  };
  const settled = () => new Promise((resolve) => setTimeout(resolve, 10));
  const offered = () => renderHook(useNewer).result.current;
  beforeEach(() => {
    jest.replaceProperty(process, 'env', { ...process.env, NODE_ENV: 'production' });
    Object.defineProperty(globalThis, 'navigator', { value: { serviceWorker }, configurable: true });
    Object.assign(globalThis, { location: { reload: jest.fn() } });
    jest.spyOn(globalThis, 'setInterval').mockReturnValue(0 as never);
  });
  afterEach(() => jest.restoreAllMocks());
  test('nothing is kept while it is being made, nor where the browser cannot', async () => {
    jest.replaceProperty(process, 'env', { ...process.env, NODE_ENV: 'test' });
    installOffline();
    Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
    jest.replaceProperty(process, 'env', { ...process.env, NODE_ENV: 'production' });
    expect(() => installOffline()).not.toThrow();
    await settled();
    expect(serviceWorker.register).not.toHaveBeenCalled();
  });
  test('the first one is no newer one; a second is offered, taken once, and the page loaded anew when it has taken over', async () => {
    installOffline();
    await settled();
    expect(serviceWorker.register).toHaveBeenCalledWith('/sw.js');
    registration.waiting = waiting;
    listeners.updatefound!();
    listeners.state!();
    expect(offered()).toBe(false);
    serviceWorker.controller = {};
    act(() => listeners.state!());
    expect(offered()).toBe(true);
    act(() => takeNewer());
    expect(waiting.postMessage).toHaveBeenCalledWith({ type: 'SKIP_WAITING' });
    expect(offered()).toBe(false);
    expect(serviceWorker.addEventListener.mock.calls[0]).toMatchObject([
      'controllerchange',
      expect.any(Function),
      { once: true },
    ]);
  });
  test('a page that stays open looks once an hour; one that may not keep anything works all the same', async () => {
    installOffline();
    await settled();
    const [look, every] = jest.mocked(setInterval).mock.calls.at(-1)!;
    expect(every).toBe(3_600_000);
    registration.update.mockRejectedValueOnce(new Error('no signal'));
    expect(() => look()).not.toThrow();
    expect(registration.update).toHaveBeenCalled();
    serviceWorker.register.mockRejectedValueOnce(new Error('insecure'));
    installOffline();
    await settled();
  });
});
