import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { byTrackOrder, pieceOf } from '../model';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { applyCommand } from '../commands';
import { cloth, clothByFamily } from './cloth';
import {
  barAround,
  laidPlaces,
  placeName,
  positionAt,
  songBars,
  songTicks,
  tickOfBar,
} from './sections';
import { timeline } from './timeline';
import { firstStartOf, patternTickAt } from './where';

const [song] = demoSongs();
/** Songs as they are after some changes: with overlays, odd meters and gaps. */
const anyWoven = fc
  .tuple(anyWholeSong, fc.array(anyCommand, { maxLength: 8 }))
  .map(([start, commands]) => commands.reduce(applyCommand, start));

describe('the cloth', () => {
  test('has every hit of the song once, each in a row of its piece', () => {
    fc.assert(
      fc.property(anyWoven, (woven) => {
        const { rows } = cloth(woven);
        expect(rows.flatMap(({ hits }) => hits)).toHaveLength(timeline(woven).length);
        for (const { piece, hits } of rows)
          expect(hits.every((hit) => hit.piece === piece)).toBe(true);
      }),
    );
  });

  test('has its rows in staff order and its cells side by side, within the song', () => {
    fc.assert(
      fc.property(anyWoven, (woven) => {
        const { rows, length } = cloth(woven);
        const pieces = rows.map(({ piece }) => piece);
        expect(pieces).toEqual([...pieces].sort(byTrackOrder(woven)));
        for (const { cells } of rows) {
          for (const { from, to } of cells) {
            expect(from).toBeLessThan(to);
            expect(from).toBeGreaterThanOrEqual(0);
            expect(to).toBeLessThanOrEqual(length);
          }
        }
      }),
    );
  });

  test('says of each hit which pattern it comes from', () => {
    for (const { cells, hits } of cloth(song).rows) {
      for (const hit of hits) {
        const under = cells.filter(({ from, to }) => hit.home >= from && hit.home < to);
        expect(under.map(({ pattern }) => pattern)).toContain(hit.pattern);
      }
    }
  });

  test('marks what is laid over one place only', () => {
    const laid = laidPlaces(song).find(({ place }) => place.overlay.length > 0)!;
    const [span] = laid.place.overlay;
    const cells = cloth(song).rows.flatMap((row) => row.cells);
    const overlay = cells.filter((cell) => cell.overlay && cell.pattern === span.pattern);
    expect(overlay.some(({ from }) => from >= laid.start && from < laid.end)).toBe(true);
    expect(cells.filter((cell) => !cell.overlay).length).toBeGreaterThan(overlay.length);
  });

  test('by family has the same hits in fewer rows', () => {
    const [fine, coarse] = [cloth(song), clothByFamily(song)];
    expect(coarse.rows.length).toBeLessThan(fine.rows.length);
    expect(coarse.rows.flatMap(({ hits }) => hits)).toHaveLength(timeline(song).length);
    const families = coarse.rows.map(({ piece }) => pieceOf(piece).family);
    expect(new Set(families).size).toBe(families.length);
  });

  test('is the same picture as long as the song is the same', () => {
    expect(cloth(song)).toBe(cloth(song));
    expect(clothByFamily(song)).toBe(clothByFamily(song));
  });
});

describe('places of the song', () => {
  test('lie end to end, and their bars are counted through', () => {
    fc.assert(
      fc.property(anyWoven, (woven) => {
        const laid = laidPlaces(woven);
        let [tick, bar] = [0, 0];
        for (const { start, end, firstBar, section } of laid) {
          expect([start, firstBar]).toEqual([tick, bar]);
          tick = end;
          bar += section.bars;
        }
        expect([songTicks(woven), songBars(woven)]).toEqual([tick, bar]);
      }),
    );
  });

  test('a bar begins where it is said to, and any tick in it is in that bar', () => {
    for (let bar = 1; bar <= songBars(song); bar++) {
      const from = tickOfBar(song, bar);
      expect(positionAt(song, from)).toEqual(expect.objectContaining({ bar, beat: 1 }));
      const around = barAround(song, from + 7);
      expect(around.from).toBe(from);
      expect(positionAt(song, around.to - 1).bar).toBe(bar);
    }
  });

  test('are numbered where a section comes back, and not where it comes once', () => {
    const names = laidPlaces(song).map((laid) => placeName(song, laid));
    expect(new Set(names).size).toBe(names.length);
    expect(names).toEqual(expect.arrayContaining(['intro', 'chorus 1', 'chorus 3', 'bridge']));
  });

  test('a pattern is found where it is played first, at its own time', () => {
    for (const pattern of song.patterns) {
      const start = firstStartOf(song, pattern.id);
      const played = timeline(song).filter((hit) => hit.pattern === pattern.id);
      if (played.length === 0) continue;
      expect(start).toBeLessThanOrEqual(played[0].home);
      const inPattern = patternTickAt(song, pattern, played[0].home);
      expect(inPattern).toBeGreaterThanOrEqual(0);
      expect(inPattern).toBeLessThan(pattern.length);
    }
  });
});
