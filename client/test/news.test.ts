import { keepNews } from '../src/data/news';
import { queryClient } from '../src/data/site';

/** Changes by others, told by the server; without its voice the app asks. */

class Source {
  static readonly CLOSED = 2;
  static all: Source[] = [];
  readyState = 0;
  closed = false;
  private readonly hearers = new Map<string, (event: { data: string }) => void>();
  constructor(readonly path: string) {
    Source.all.push(this);
  }
  addEventListener(name: string, hear: (event: { data: string }) => void) {
    this.hearers.set(name, hear);
  }
  say(name: string, data: object = {}) {
    this.hearers.get(name)?.({ data: JSON.stringify(data) });
  }
  close() {
    this.closed = true;
  }
}

const asked: string[] = [];
let sight = 'visible';
let look: () => void = () => undefined;
let end: () => void = () => undefined;
beforeEach(() => {
  jest.useFakeTimers();
  Source.all = [];
  asked.length = 0;
  sight = 'visible';
  globalThis.document = {
    get visibilityState() {
      return sight;
    },
    addEventListener: (_: string, act: () => void) => {
      look = act;
    },
    removeEventListener: () => undefined,
  } as unknown as Document;
  jest.spyOn(queryClient, 'invalidateQueries').mockImplementation(async (filters) => {
    asked.push((filters?.queryKey ?? []).join(' '));
  });
  queryClient.setQueryData(['site', 's'], { id: 's', revision: 4, parts: [] });
  end = keepNews(Source as unknown as typeof EventSource);
});
afterEach(() => {
  end();
  jest.useRealTimers();
  jest.restoreAllMocks();
});
const [first, last] = [() => Source.all[0]!, () => Source.all.at(-1)!];

test("another's change is asked for; what this phone pushed itself is not", () => {
  expect(first().path).toBe('/api/events');
  first().say('ready');
  first().say('site', { id: 's', revision: 5 });
  // The answer to our own push comes meanwhile.
  queryClient.setQueryData(['site', 's'], { id: 's', revision: 5, parts: [] });
  jest.advanceTimersByTime(1000);
  expect(asked).toEqual([]);
  first().say('site', { id: 's', revision: 6 });
  first().say('site', { id: 's', revision: 7 });
  jest.advanceTimersByTime(1000);
  // Several at once are asked for once.
  expect(asked).toEqual(['site s', 'history-pages s', 'sites']);
  asked.length = 0;
  first().say('site', { id: 's', revision: 4, listed: true });
  jest.advanceTimersByTime(1000);
  expect(asked).toEqual(['sites']);
});

test('after a break everything on screen is asked for once', () => {
  first().say('ready');
  expect(asked).toEqual([]);
  first().say('error');
  first().say('ready');
  expect(asked).toEqual(['site', 'sites']);
});

test('refused, or kept back by a proxy: it asks now and then, and tries again', () => {
  first().readyState = Source.CLOSED;
  first().say('error');
  jest.advanceTimersByTime(30_000);
  expect(asked).toEqual(['site', 'sites']);
  expect(Source.all).toHaveLength(2);
  // Connected, and not a word: nothing will come this way.
  jest.advanceTimersByTime(8000);
  expect(last().closed).toBe(true);
  jest.advanceTimersByTime(30_000);
  expect(asked).toHaveLength(4);
  expect(Source.all).toHaveLength(3);
});

test('out of sight it holds no line, and asks no more', () => {
  first().say('ready');
  sight = 'hidden';
  look();
  expect(first().closed).toBe(true);
  jest.advanceTimersByTime(300_000);
  expect(asked).toEqual([]);
  sight = 'visible';
  look();
  last().say('ready');
  expect(asked).toEqual(['site', 'sites']);
});
