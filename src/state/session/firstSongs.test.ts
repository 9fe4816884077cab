import { laidPlaces } from '@/core/weave';
import { demoSongs } from '@/demo';
import { firstSongs } from './firstSongs';

test('a first visit is told the demo, each song with a picture as long as it is', () => {
  const told = firstSongs();
  expect(told.map(({ head }) => head.name)).toEqual(demoSongs().map(({ name }) => name));
  told.forEach(({ head, rows }, i) => {
    expect(head).toMatchObject({ demo: true, patterns: demoSongs()[i].patterns.length });
    expect(rows.length).toBeGreaterThan(2);
    const ends = rows.flatMap((cells) => cells.map(([from, length]) => from + length));
    expect(Math.max(...ends)).toBeCloseTo(1, 3);
    for (const [from, length, dye] of rows.flat()) {
      expect(from).toBeGreaterThanOrEqual(0);
      expect(length).toBeGreaterThan(0);
      expect(dye).toBeLessThan(12);
    }
    expect(laidPlaces(demoSongs()[i]).length).toBeGreaterThan(1);
  });
  expect(JSON.stringify(told).length).toBeLessThan(20_000);
});
