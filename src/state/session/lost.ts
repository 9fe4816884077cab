import type { Restored } from '@/storage/mirror';
import { notify } from '../notices/notices';

const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`;

const SAID = { dateStyle: 'long', timeStyle: 'short' } as const;

/** Says which songs the browser had lost and are back, or that they could not be put back. */
export function sayRestored(restored: Restored | 'failed'): void {
  notify(restored === 'failed' ? FAILED : sentenceOf(restored), 'error');
}

const FAILED =
  'This browser threw its storage away, and the copy beside it could not be put back to its end. The copy is still there: free some disk space and reload, and it is tried again.';

function sentenceOf({ songs, others, damaged, newest }: Restored): string {
  const when = newest && new Date(newest.changed).toLocaleString('en', SAID);
  return [
    `This browser threw its storage away. From the copy beside it ${counted(songs, 'song')} and ${counted(others, 'other thing')} are back.`,
    newest ? `Worked on last: “${newest.name}”, ${when}.` : '',
    damaged > 0
      ? `${counted(damaged, 'part')} of the copy could not be read: look through your songs, and open your last backup if one is missing.`
      : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** Says that changes of songs were found of which nothing else is left. */
export function sayOrphans(count: number): void {
  notify(
    `${counted(count, 'change')} of a song that is not in this browser any more ${count === 1 ? 'was' : 'were'} found. If you miss a song, open your last backup.`,
    'error',
  );
}
