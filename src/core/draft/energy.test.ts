import fc from 'fast-check';
import { checkSong, songWith, type Song, levelAt } from '../model';
import { laidPlaces, layForm, lengthen, movePlaces, readForm } from '../weave';
import { energyOf, proposedEnergy, saidChange, setEnergy, strokeOfEnergy } from './energy';

const song: Song = layForm(
  songWith({ id: 'song', name: 'Song' }),
  readForm('intro 4, verse 8, chorus 8, verse 8, break 4, chorus 8, outro 4').parts,
).song;
const end = laidPlaces(song).at(-1)!.end;
const levelsOf = (kind: string, of: Song) => {
  const kinds = laidPlaces(of).map(({ section }) => section.kind);
  return energyOf(of).flatMap(({ points }, i) => (kinds[i] === kind ? [points[0].level] : []));
};

test('the form proposes verses lower than choruses, and the last chorus highest', () => {
  const proposed = setEnergy(song, proposedEnergy(song));
  const [verses, choruses] = ['verse', 'chorus'].map((kind) => levelsOf(kind, proposed));
  expect(Math.max(...verses)).toBeLessThan(Math.min(...choruses));
  const all = energyOf(proposed).flatMap(({ points }) => points.map(({ level }) => level));
  expect(choruses.at(-1)).toBeGreaterThanOrEqual(Math.max(...all) - 0.05);
  expect(levelsOf('break', proposed)[0]).toBeLessThan(Math.min(...verses));
  // What is not drawn lies as it would be proposed.
  expect(energyOf(song).map(({ points }) => points)).toEqual(
    energyOf(proposed).map(({ points }) => points),
  );
  expect(energyOf(song).some(({ drawn }) => drawn)).toBe(false);
});

const anyStroke = fc.array(
  fc.record({
    tick: fc.integer({ min: 0, max: end }),
    level: fc.double({ min: 0, max: 1, noNaN: true }),
  }),
  { minLength: 1, maxLength: 60 },
);

test('one stroke draws the line where it goes, and leaves it elsewhere', () => {
  fc.assert(
    fc.property(anyStroke, anyStroke, (first, second) => {
      const before = setEnergy(song, strokeOfEnergy(song, first));
      const after = setEnergy(before, strokeOfEnergy(before, second));
      expect(checkSong(after)).toEqual([]);
      const at = (of: Song, tick: number) => {
        const line = energyOf(of).find(({ start, end: to }) => tick >= start && tick < to)!;
        return levelAt(line.points, tick - line.start);
      };
      const ticks = second.map(({ tick }) => tick).sort((a, b) => a - b);
      const [from, to] = [ticks[0], ticks.at(-1)!];
      for (let tick = 0; tick < end; tick += 1920) {
        if (tick < from - 3840 || tick > to + 3840) {
          expect(Math.abs(at(after, tick) - at(before, tick))).toBeLessThan(0.04);
        }
      }
      // What was drawn once, and not drawn over, is where it was drawn.
      const once = second.filter(
        ({ tick }) => tick < end && second.filter((other) => other.tick === tick).length === 1,
      );
      for (const { tick, level } of once) {
        expect(Math.abs(at(after, tick) - level)).toBeLessThan(0.03);
      }
    }),
  );
});

test('the line goes with its places, and takes no harm when a section gets shorter', () => {
  const drawn = setEnergy(
    song,
    strokeOfEnergy(song, [
      { tick: 0, level: 1 },
      { tick: end, level: 0 },
    ]),
  );
  const moved = movePlaces(drawn, [drawn.places[1].id], 3);
  const ofPlace = (of: Song) => of.places.find(({ id }) => id === drawn.places[1].id)!.energy;
  expect(ofPlace(moved)).toEqual(ofPlace(drawn));
  const shorter = lengthen(drawn, drawn.places[1].section, 2, 'go on') as Song;
  expect(checkSong(shorter)).toEqual([]);
  expect(energyOf(shorter)[1].points[0]).toEqual(energyOf(drawn)[1].points[0]);
});

test.each([
  [0.35, 'energy rises by a third into chorus 2'],
  [-0.2, 'energy falls by a quarter into chorus 2'],
  [0.01, 'leads into chorus 2'],
])('a change of %d is said: %s', (change, said) => {
  expect(saidChange(change, 'chorus 2')).toBe(said);
});
