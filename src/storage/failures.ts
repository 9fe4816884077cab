/** Storage that has not answered within this time is taken as failed, in ms. */
const PATIENCE_MS = 3000;

/** Says that storage did not answer in time. What was asked of it may still come about. */
export class NoAnswer extends Error {
  override name = 'NoAnswer';
}

/** What a promise gives, or a `NoAnswer` when it does not come in time. */
export function withinPatience<T>(asked: PromiseLike<T>, ms = PATIENCE_MS): Promise<T> {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<never>((_, fail) => {
    timer = setTimeout(() => fail(new NoAnswer('Storage does not answer')), ms);
  });
  return Promise.race([Promise.resolve(asked), late]).finally(() => clearTimeout(timer));
}

const KEEP = 'Your changes are on screen only: keep this tab open, and save the song as a file.';

/** The names of an error and of the one inside it. */
const namesOf = (error: unknown): string[] =>
  [error, (error as { inner?: unknown } | undefined)?.inner].map(
    (e) => (e as { name?: string } | undefined)?.name ?? '',
  );

/** A failed reading in words: what happened, and what to do. */
export function whyNotRead(error: unknown): string {
  return namesOf(error).includes('NoAnswer')
    ? 'This browser’s storage does not answer. What was asked for is shown as soon as it does; closing other tabs of Verse Loom may help.'
    : 'This browser does not let Verse Loom store songs (a private window, or storage switched off).';
}

/** A failed write in words: what happened, what is kept, what to do. */
export function whyNot(error: unknown): string {
  const names = namesOf(error);
  if (names.includes('QuotaExceededError')) {
    return `Not saved: this browser’s storage is full. ${KEEP} Emptying the bin, deleting songs or freeing disk space helps; saving is tried again by itself.`;
  }
  if (names.includes('NoAnswer')) {
    return `Not saved: this browser’s storage does not answer. ${KEEP} Closing other tabs of Verse Loom may help; saving is tried again by itself.`;
  }
  return `Not saved: this browser does not let Verse Loom store songs (a private window, or storage switched off). ${KEEP}`;
}
