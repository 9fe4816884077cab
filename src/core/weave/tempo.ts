import type { Song } from '../model';
import { TempoMap, compileTempo, type TempoChange, type Ticks } from '../time';
import { laidPlaces, type LaidPlace } from './sections';

/**
 * All tempos of a song from its start on, each at its tick of the song. A section without tempos of
 * its own runs at the song's; a glide at the end of one goes to the first tempo of the next. A tempo at the very end
 * of the last place is what a glide goes to there.
 */
export function temposOfSong(song: Pick<Song, 'bpm' | 'places' | 'sections'>): TempoChange[] {
  const changes: TempoChange[] = [];
  const laid = laidPlaces(song);
  for (const { start, end, tempos, index } of laid) {
    const last = index === laid.length - 1;
    const here = tempos.length > 0 ? tempos : [{ at: 0, bpm: song.bpm }];
    for (const change of here) {
      if (start + change.at >= end + (last ? 1 : 0)) break;
      const before = changes.at(-1);
      if (before && before.bpm === change.bpm && !before.glide && !change.glide) continue;
      changes.push(change.at === 0 && start === 0 ? change : { ...change, at: start + change.at });
    }
  }
  return changes.length > 0 ? changes : [{ at: 0, bpm: song.bpm }];
}

let last: { places: unknown; sections: unknown; bpm: number; map: TempoMap }[] = [];

/** The tempo map of a song, kept for the few songs that were asked for last. */
export function tempoOfSong(song: Pick<Song, 'bpm' | 'places' | 'sections'>): TempoMap {
  const { bpm, places, sections } = song;
  const known = last.find(
    (one) => one.places === places && one.sections === sections && one.bpm === bpm,
  );
  if (known) return known.map;
  const map = new TempoMap(compileTempo(temposOfSong(song)));
  last = [{ places, sections, bpm, map }, ...last.slice(0, 3)];
  return map;
}

/** What decides the tempo within a place: while all of it is the same, so is the tempo. */
export function tempoKey(song: Song, laid: readonly LaidPlace[], index: number): unknown[] {
  const { tempos } = laid[index];
  const next = tempos.at(-1)?.glide && laid[index + 1];
  return [tempos, song.bpm, next ? next.tempos : undefined];
}

/** Beats a minute at a tick of the song. */
export function bpmAt(song: Song, tick: Ticks): number {
  return tempoOfSong(song).bpmAt(tick);
}

/**
 * The tempos of a song without glides: instead of each a tempo of its own on every step of it, the one that
 * the glide has there.
 * @param step ticks, more than 0
 */
export function steppedTempos(song: Song, step: Ticks): TempoChange[] {
  const tempos = temposOfSong(song);
  const map = tempoOfSong(song);
  return tempos.flatMap((change, i) => {
    const next = tempos[i + 1];
    if (!change.glide || !next) return [{ at: change.at, bpm: change.bpm }];
    const steps = Math.max(1, Math.ceil((next.at - change.at) / step));
    return Array.from({ length: steps }, (_, n) => {
      const at = change.at + n * step;
      return { at, bpm: map.bpmAt(at) };
    });
  });
}
