import { TabChannel } from './channel';
import { lockByAsking, lockSong } from './lock';

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
  const quick = { answer: 30, again: 60 };
  let tabs: TabChannel[];
  const ask = (id = 'a') => {
    const tab = new TabChannel('lock test');
    tabs.push(tab);
    return lockByAsking(tab, id, quick);
  };
  beforeEach(() => (tabs = []));
  afterEach(() => tabs.forEach((tab) => tab.close()));

  test('the first has it, the second when the first lets go', async () => {
    const first = ask();
    expect(await first.mine).toBe(true);
    const second = ask();
    expect(await second.mine).toBe(false);
    expect(await within(second.later, 150)).toBe('not yet');
    first.release();
    expect(await second.later).toBeUndefined();
    expect(await ask('b').mine).toBe(true);
    second.release();
  });

  test('of two that ask at one moment one has it', async () => {
    const both = [ask(), ask()];
    const mine = await Promise.all(both.map((lock) => lock.mine));
    expect(mine.filter(Boolean)).toHaveLength(1);
    both.forEach((lock) => lock.release());
  });

  test('of a tab that was killed it is taken over', async () => {
    const first = ask();
    await first.mine;
    const second = ask();
    await second.mine;
    tabs[0].close();
    expect(await second.later).toBeUndefined();
    second.release();
  });
});

test('where it refuses them, a song can still be written', async () => {
  browser({ request: () => Promise.reject(new Error('not here')) });
  expect(await lockSong('a').mine).toBe(true);
});
