import { TabChannel, type Word } from './channel';
import { lockByAsking, lockSong, type Lock } from './lock';

/** The browser's lock manager, as far as it is used: one holder, the others wait in line. */
class Locks {
  private held = new Set<string>();
  private line: { name: string; run: () => void }[] = [];

  async request(
    name: string,
    options: { ifAvailable?: boolean; signal?: AbortSignal },
    run: (lock: object | null) => Promise<void> | undefined,
  ): Promise<void> {
    if (this.held.has(name)) {
      if (options.ifAvailable) return run(null);
      await new Promise<void>((go, stop) => {
        this.line.push({ name, run: go });
        options.signal?.addEventListener('abort', () => stop(new Error('given up')));
      });
    }
    this.held.add(name);
    await run({});
    this.held.delete(name);
    const next = this.line.findIndex((waiting) => waiting.name === name);
    if (next >= 0) this.line.splice(next, 1)[0].run();
  }
}

const browser = (locks: unknown) =>
  Object.defineProperty(globalThis, 'navigator', { value: { locks }, configurable: true });
const within = <T>(promise: Promise<T>, ms = 20) =>
  Promise.race([promise, new Promise<'not yet'>((late) => setTimeout(() => late('not yet'), ms))]);

beforeEach(() => browser(new Locks()));
afterAll(() => browser(undefined));

test('the first tab may write a song, the second looks on until the first lets go', async () => {
  const first = lockSong('a');
  expect(await first.mine).toBe(true);
  const second = lockSong('a');
  expect(await second.mine).toBe(false);
  expect(await within(second.later)).toBe('not yet');
  first.release();
  expect(await within(second.later)).toBeUndefined();
});

test('other songs are free', async () => {
  await lockSong('a').mine;
  expect(await lockSong('b').mine).toBe(true);
});

test('a tab that stops waiting does not get the song later', async () => {
  const first = lockSong('a');
  await first.mine;
  const second = lockSong('a');
  await second.mine;
  await within(second.later);
  second.release();
  first.release();
  expect(await within(second.later)).toBe('not yet');
});

describe('where the browser has no locks, the tabs ask each other', () => {
  type Line = Pick<TabChannel, 'tell' | 'listen'> & { dead?: boolean };
  let tabs: Set<{ line: Line; hear: (word: Word) => void }>;
  /** A line on which every word arrives at once, so that only the clock decides; and the clock is ours. */
  const line = (): Line => {
    const own: Line = {
      tell: (word) => {
        for (const tab of [...tabs]) if (tab.line !== own && !tab.line.dead) tab.hear(word);
      },
      listen: (hear) => {
        const tab = { line: own, hear };
        tabs.add(tab);
        return () => void tabs.delete(tab);
      },
    };
    return own;
  };
  const ask = (id = 'a', on = line()) => lockByAsking(on, id);
  /** Whether a promise has come about after so many milliseconds. */
  const after = async (promise: Promise<unknown>, ms: number) => {
    let come = false;
    void promise.then(() => (come = true));
    await jest.advanceTimersByTimeAsync(ms);
    return come;
  };
  const known = async ({ mine }: Lock) => {
    await jest.advanceTimersByTimeAsync(500);
    return mine;
  };
  beforeEach(() => {
    tabs = new Set();
    jest.useFakeTimers();
  });
  afterEach(() => jest.useRealTimers());

  test('the first has it, the second when the first lets go', async () => {
    const first = ask();
    expect(await known(first)).toBe(true);
    const second = ask();
    expect(await known(second)).toBe(false);
    expect(await after(second.later, 60_000)).toBe(false);
    first.release();
    expect(await after(second.later, 500)).toBe(true);
    expect(await known(ask('b'))).toBe(true);
  });

  test('of two that ask at one moment one has it, and the other after it', async () => {
    const both = [ask(), ask()];
    const mine = await Promise.all(both.map(known));
    expect(mine.filter(Boolean)).toHaveLength(1);
    const [winner, other] = mine[0] ? both : [both[1], both[0]];
    winner.release();
    expect(await after(other.later, 3000)).toBe(true);
  });

  test('of a tab that was killed it is taken over', async () => {
    const on = line();
    await known(ask('a', on));
    const second = ask();
    expect(await known(second)).toBe(false);
    on.dead = true;
    expect(await after(second.later, 3000)).toBe(true);
  });
});

test('words between tabs arrive, and what is no word does not', async () => {
  const [one, other] = [new TabChannel('words'), new TabChannel('words')];
  const heard: Word[] = [];
  const last = new Promise<void>((done) => {
    other.listen((word) => {
      heard.push(word);
      if (word.says === 'deleted') done();
    });
  });
  const words = [{ says: 'hello', id: 'a' }, { says: 'rename', id: 'a' }, { id: 3 }, null, 7];
  for (const word of words) one.tell(word as never);
  one.tell({ says: 'rename', id: 'a', name: 'Kelp' });
  one.tell({ says: 'deleted', id: 'a' });
  await last;
  expect(heard.map(({ says }) => says)).toEqual(['rename', 'deleted']);
  for (const line of [one, other]) line.close();
});

test('a page loaded anew knows the song its tab had, another tab does not', async () => {
  const tab = new Map<string, string>();
  const notes = {
    getItem: (key: string) => tab.get(key) ?? null,
    setItem: (key: string, value: string) => tab.set(key, value),
  };
  Object.defineProperty(globalThis, 'sessionStorage', { value: notes, configurable: true });
  const first = lockSong('a');
  expect(first.mineBefore).toBe(false);
  await first.mine;
  expect(lockSong('b').mineBefore).toBe(false);
  const anew = lockSong('a');
  expect([anew.mineBefore, await anew.mine]).toEqual([true, false]);
  first.release();
  expect(lockSong('a').mineBefore).toBe(false);
  tab.clear();
  expect(lockSong('a').mineBefore).toBe(false);
});

test('where it refuses them, a song can still be written', async () => {
  browser({ request: () => Promise.reject(new Error('not here')) });
  expect(await lockSong('a').mine).toBe(true);
});
