import fc from 'fast-check';
import { type Song } from '../model';
import { mapStrands } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { setMeant } from './links';
import { editAt } from './reach';
import { sameAgain } from './sameAgain';
import { demoSongs } from '../../demo';
import { barLinesOf } from './links';
import { laidPlaces } from './sections';
import { timeline } from './timeline';

/** The strokes and the length of each bar of a song, as a text; empty for a silent bar. */
function barsOf(song: Song): string[] {
  const laid = laidPlaces(song);
  const lines = laid.flatMap(({ start, section }) =>
    barLinesOf(section)
      .slice(0, -1)
      .map((line) => start + line),
  );
  const end = laid.at(-1)?.end ?? 0;
  return lines.map((from, i) => {
    const to = lines[i + 1] ?? end;
    const last = i === lines.length - 1;
    const played = timeline(song)
      .filter(({ home }) => home >= from && (home < to || last))
      .map(
        (h) =>
          `${Math.round((h.home - from) * 8)} ${Math.round((h.tick - h.home) * 8)} ${h.piece} ${h.velocity}`,
      )
      .sort()
      .join(',');
    return played && `${to - from}: ${played}`;
  });
}

test('a run is the same to the note as the bars it names, and every bar that comes again is in one', () => {
  fc.assert(
    fc.property(anyWholeSong, (song) => {
      const { runs, same, sounding } = sameAgain(song);
      const bars = barsOf(song);
      const inRun = new Set<number>();
      let counted = 0;
      for (const { from, bars: count, as, meant } of runs) {
        // What is the same on purpose is listed, and not counted.
        if (!meant) counted += count;
        expect(as).toBeLessThan(from);
        for (let i = 0; i < count; i++) {
          // Strokes before the song's start are heard at it, in the first bar only.
          if (as + i > 0) expect(bars[from + i]).toBe(bars[as + i]);
          expect(inRun.has(from + i)).toBe(false);
          inRun.add(from + i);
        }
      }
      expect(same).toBe(counted);
      expect(sounding).toBe(bars.filter((bar) => bar !== '').length);
      bars.forEach((bar, i) => {
        if (bar !== '' && bars.indexOf(bar) < i) expect(inRun.has(i)).toBe(true);
      });
      const sizes = runs.map((run) => run.bars);
      expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
    }),
  );
});

test('what is meant does not count, and a changed bar is no repeat any more', () => {
  const [song] = demoSongs();
  const { id: section } = song.sections.find(({ kind }) => kind === 'chorus')!;
  const twice: Song = {
    ...song,
    places: [song.places[0], ...['x', 'y'].map((id) => ({ id, section, overlay: [] }))],
  };
  const before = sameAgain(twice);
  expect(before.runs[0]).toMatchObject({ from: 12, bars: 8, as: 4, meant: false });
  expect(sameAgain(setMeant(twice, ['x', 'y'], true)).same).toBeLessThanOrEqual(3);
  const changed = editAt(twice, { place: 'y', from: 0, to: 1e6 }, 'place', (woven) =>
    mapStrands(woven, ({ hits }) =>
      hits.map((hit) => ({ ...hit, velocity: (hit.velocity % 127) + 1 })),
    ),
  ) as Song;
  expect(sameAgain(changed).same).toBeLessThan(before.same);
});
