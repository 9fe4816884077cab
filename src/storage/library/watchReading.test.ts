import type { Progress, Resumed } from './reading';
import { PER_FILE, TO_STOP, watchReading, type Reader } from './watchReading';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

const FILES = ['a.mid', 'slow.mid', 'b.mid', 'slower.mid', 'c.mid'];
const none: Progress = { done: 0, total: 5, fresh: 0, duplicates: 0, unread: 0, unchanged: 0 };

/** Reads these files one by one, and never comes to the end of the slow ones. @param dies a file it dies at */
function readers(dies?: string) {
  const made: (Reader & { ended: boolean })[] = [];
  const start = (): Reader => {
    let cancelled = false;
    const reader = {
      ended: false,
      async read(
        tell: (progress: Progress, rows: []) => void,
        begun: (path?: string) => void,
        { progress = none, givenUp = new Map() }: Resumed,
      ) {
        for (const path of FILES.slice(progress.done)) {
          if (cancelled) break;
          const skipped = givenUp.has(path);
          if (!skipped) begun(path);
          if (!skipped && path.startsWith('slow')) await new Promise(() => {});
          if (!skipped && path === dies) throw new Error('The worker died.');
          const { done, fresh, unread } = progress;
          progress = { ...progress, done: done + 1 };
          if (skipped) progress.unread = unread + 1;
          else progress.fresh = fresh + 1;
          tell(progress, []);
        }
        begun();
        const unlisted = [...givenUp].map(([path, reason]) => ({
          path,
          reason,
          size: 1,
          modified: 1,
        }));
        return { progress, problems: [], unlisted };
      },
      pause: jest.fn(),
      resume: jest.fn(),
      cancel: () => void (cancelled = true),
      end: () => void (reader.ended = true),
    };
    made.push(reader);
    return reader;
  };
  return { start, made };
}

test('a file that takes too long is given up and named, and all others are read once', async () => {
  const { start, made } = readers();
  const tell = jest.fn();
  const reading = watchReading(start, tell);
  await jest.advanceTimersByTimeAsync(2 * PER_FILE);
  const { progress, unlisted } = await reading.result;
  expect(progress).toEqual({ ...none, done: 5, fresh: 3, unread: 2 });
  expect(unlisted.map(({ path }) => path)).toEqual(['slow.mid', 'slower.mid']);
  expect(unlisted[0].reason).toMatch(/longer than 15 seconds/);
  expect(tell).toHaveBeenCalledTimes(5);
  expect(made.map(({ ended }) => ended)).toEqual([true, true, true]);
});

test('a file that its reader dies at is given up and named, and all others are read once', async () => {
  const { start, made } = readers('b.mid');
  const reading = watchReading(start, () => {});
  await jest.advanceTimersByTimeAsync(2 * PER_FILE);
  const { progress, unlisted } = await reading.result;
  expect(progress).toEqual({ ...none, done: 5, fresh: 2, unread: 3 });
  expect(unlisted.find(({ path }) => path === 'b.mid')?.reason).toMatch(/broke off/);
  expect(made).toHaveLength(4);
});

test('stop stops in the middle of a file, and says where', async () => {
  const { start, made } = readers();
  const reading = watchReading(start, () => {});
  await jest.advanceTimersByTimeAsync(1);
  reading.cancel();
  await jest.advanceTimersByTimeAsync(TO_STOP);
  const { progress, problems } = await reading.result;
  expect(progress.done).toBe(1);
  expect(problems.join()).toMatch(/in the middle of “slow\.mid”/);
  expect(made[0].ended).toBe(true);
});

test('a reading that was paused is still so after a file was given up', async () => {
  const { start, made } = readers();
  const reading = watchReading(start, () => {});
  reading.pause();
  await jest.advanceTimersByTimeAsync(PER_FILE);
  expect(made).toHaveLength(2);
  expect(made[1].pause).toHaveBeenCalled();
  reading.cancel();
  await jest.advanceTimersByTimeAsync(TO_STOP);
  await reading.result;
});
