import { tabs, type TabChannel } from './channel';

/** What is had or waited for by one tab at a time. */
export interface Lock {
  /** Resolves once it is known whether this tab may write. */
  mine: Promise<boolean>;
  /** Resolves when this tab may write after all, because the other one let go. */
  later: Promise<void>;
  release(): void;
}

/** One tab may write a song; the others look on. */
export interface SongLock extends Lock {
  /** Whether this tab had that right when its page was loaded anew: then it may wait for itself. */
  mineBefore: boolean;
}

/** Which song this tab may write, as its next page finds it. */
const HELD = 'verse-loom-held';

/** Asks for the right to write a song. */
export function lockSong(id: string): SongLock {
  const locks = typeof navigator === 'undefined' ? undefined : navigator.locks;
  const lock = locks ? lockByBrowser(locks, id) : lockByAsking(tabs(), id);
  const mineBefore = held() === id;
  let gone = false;
  const note = () => {
    if (!gone) held(id);
  };
  void lock.mine.then((mine) => (mine ? note() : undefined));
  void lock.later.then(note);
  return {
    ...lock,
    mineBefore,
    release() {
      gone = true;
      if (held() === id) held('');
      lock.release();
    },
  };
}

/** Reads the note of this tab, or writes it. A browser that keeps none for a tab is one that forgets it. */
function held(id?: string): string | null {
  try {
    if (id !== undefined) sessionStorage.setItem(HELD, id);
    return sessionStorage.getItem(HELD);
  } catch {
    return null;
  }
}

function lockByBrowser(locks: LockManager, id: string): Lock {
  const name = `verse-loom-song-${id}`;
  const waiting = new AbortController();
  let release = () => waiting.abort();
  const hold = () => new Promise<void>((free) => (release = free));
  const mine = new Promise<boolean>((known) => {
    void locks
      .request(name, { ifAvailable: true }, (lock) => {
        known(lock !== null);
        return lock ? hold() : undefined;
      })
      .catch(() => known(true));
  });
  const later = mine.then(
    (have) =>
      new Promise<void>((granted) => {
        if (have) return;
        locks
          .request(name, { signal: waiting.signal }, () => {
            granted();
            return hold();
          })
          .catch(() => {});
      }),
  );
  return { mine, later, release: () => release() };
}

/** Who has a song answers within this time, in ms. */
const ANSWER_MS = 400;
/** Who waits for it asks again after this time: a tab that was killed could not say that it is gone. */
const AGAIN_MS = 2000;

/**
 * The right to write a song where the browser keeps no locks, as on a plain http address by name: the
 * tabs ask each other. Of two that ask at one moment, the one with the lower name has it.
 */
export function lockByAsking(
  channel: Pick<TabChannel, 'tell' | 'listen'>,
  id: string,
  { answer = ANSWER_MS, again = AGAIN_MS } = {},
): Lock {
  const from = Math.random().toString(36).slice(2);
  let state: 'asking' | 'waiting' | 'mine' | 'gone' = 'asking';
  let timer: ReturnType<typeof setTimeout>;
  let grant: () => void;
  let know: (mine: boolean) => void;
  const later = new Promise<void>((resolve) => (grant = resolve));
  const mine = new Promise<boolean>((resolve) => (know = resolve));
  const take = () => {
    if (state === 'gone') return;
    if (state === 'waiting') grant();
    state = 'mine';
    know(true);
    channel.tell({ says: 'mine', id, from });
  };
  const ask = () => {
    timer = setTimeout(take, answer);
    channel.tell({ says: 'ask', id, from });
  };
  const wait = () => {
    clearTimeout(timer);
    state = 'waiting';
    know(false);
    timer = setTimeout(ask, again);
  };
  const end = channel.listen((word) => {
    if (word.id !== id || !('from' in word) || word.from === from) return;
    if (state === 'mine') {
      if (word.says === 'ask') channel.tell({ says: 'mine', id, from });
    } else if (word.says === 'mine' || (word.says === 'ask' && word.from < from)) {
      wait();
    } else if (word.says === 'free') {
      clearTimeout(timer);
      ask();
    }
  });
  ask();
  return {
    mine,
    later,
    release() {
      end();
      clearTimeout(timer);
      if (state === 'mine') channel.tell({ says: 'free', id, from });
      state = 'gone';
    },
  };
}
