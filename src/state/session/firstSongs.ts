import { clothByFamily } from '@/core/weave';
import { demoSongs } from '@/demo';
import { headOf } from '@/storage/songs';
import type { FirstSong, Stretch } from './firstVisit';

let told: readonly FirstSong[] | undefined;

/** The songs of a first visit, told by the server: they are there to be opened before anything is loaded. */
export function firstSongs(): readonly FirstSong[] {
  return (told ??= tell());
}

function tell(): FirstSong[] {
  const share = (ticks: number, of: number) => Math.round((ticks / of) * 10_000) / 10_000;
  return demoSongs().map((song) => {
    const { rows, length } = clothByFamily(song);
    return {
      head: headOf(song, 0),
      rows: rows.map(({ cells }) =>
        cells.map(({ from, to, dye }): Stretch => [
          share(from, length),
          share(to - from, length),
          dye,
        ]),
      ),
    };
  });
}
