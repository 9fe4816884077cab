/** One tab may write a song; the others look on. */
export interface SongLock {
  /** Resolves once it is known whether this tab may write. */
  mine: Promise<boolean>;
  /** Resolves when this tab may write after all, because the other one let go. */
  later: Promise<void>;
  release(): void;
}

/** Asks for the right to write a song. Where the browser has no locks, every tab has it. */
export function lockSong(id: string): SongLock {
  if (typeof navigator === 'undefined' || !navigator.locks) {
    return { mine: Promise.resolve(true), later: new Promise(() => {}), release: () => {} };
  }
  const name = `verse-loom-song-${id}`;
  const waiting = new AbortController();
  let release = () => waiting.abort();
  const held = () => new Promise<void>((free) => (release = free));
  const mine = new Promise<boolean>((known) => {
    void navigator.locks
      .request(name, { ifAvailable: true }, (lock) => {
        known(lock !== null);
        return lock ? held() : undefined;
      })
      .catch(() => known(true));
  });
  const later = mine.then(
    (have) =>
      new Promise<void>((granted) => {
        if (have) return;
        navigator.locks
          .request(name, { signal: waiting.signal }, () => {
            granted();
            return held();
          })
          .catch(() => {});
      }),
  );
  return { mine, later, release: () => release() };
}
