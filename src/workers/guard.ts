import * as Comlink from 'comlink';

/** The work was ended before it came to its end. */
export class Ended extends Error {
  override name = 'Ended';
}

/** A worker that is watched: whoever waits for it learns that it died or was ended. */
export interface Guarded<W> {
  /** Asks it for something. Fails when it dies, or is ended, before it answers. */
  ask<T>(what: (remote: Comlink.Remote<W>) => Promise<T>): Promise<T>;
  /** Ends it, and what it is at. */
  end(): void;
  /** Fails when it is gone, and never comes to anything else. */
  gone: Promise<never>;
}

/** Watches over a worker. Every worker of the page that is asked for anything is asked by way of this. */
export function guarded<W>(worker: Worker): Guarded<W> {
  const remote = Comlink.wrap<W>(worker);
  let fail!: (error: Error) => void;
  const gone = new Promise<never>((_, reject) => (fail = reject));
  // It may go while nobody waits for it.
  gone.catch(() => {});
  const end = (error: Error) => {
    fail(error);
    worker.terminate();
  };
  worker.onerror = () => end(new Error('The worker died.'));
  worker.onmessageerror = () => end(new Error('What the worker answered could not be read.'));
  return {
    ask: (what) => Promise.race([what(remote), gone]),
    end: () => end(new Ended('The work was ended.')),
    gone,
  };
}

/** Keeps a worker between jobs; when it dies, whoever asks next gets a new one. */
export function kept<W>(create: () => Worker): () => Guarded<W> {
  let known: Guarded<W> | undefined;
  return () => {
    if (known) return known;
    const made = guarded<W>(create());
    made.gone.catch(() => {
      if (known === made) known = undefined;
    });
    known = made;
    return made;
  };
}

/** Work of a worker that was begun for it alone. */
export interface Aside<T> {
  /** Fails with `Ended` once it is cancelled. */
  result: Promise<T>;
  cancel(): void;
}

/** Begins a worker for one job; what it needed is given back with it. */
export function aside<W, T>(
  worker: Worker,
  job: (remote: Comlink.Remote<W>) => Promise<T>,
): Aside<T> {
  const { ask, end } = guarded<W>(worker);
  return { result: ask(job).finally(end), cancel: end };
}
