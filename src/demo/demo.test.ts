import { checkSong, timeline } from '@/core';
import { laidPlaces, songBars } from '@/core/weave';
import { demoSongs } from '.';

describe.each(demoSongs().map((song) => [song.name, song] as const))('%s', (_, song) => {
  test('is a sound song', () => {
    expect(checkSong(song)).toEqual([]);
  });

  test('is played by a hand: no two bars of backbeat are alike to the tick', () => {
    const snares = timeline(song).filter((hit) => hit.piece === 'snare' && hit.velocity > 90);
    expect(new Set(snares.map((hit) => hit.tick - hit.home)).size).toBeGreaterThan(4);
    expect(new Set(snares.map((hit) => hit.velocity)).size).toBeGreaterThan(4);
  });

  test('asks for no third hand', () => {
    const hands = timeline(song).filter(
      (hit) => !['kick', 'tambourine'].includes(hit.piece) && hit.articulation !== 'pedal',
    );
    // The grace strokes of a flam or drag take the other hand.
    const together = new Map<number, Map<string, number>>();
    for (const { home, place, hit } of hands) {
      const struck = together.get(home) ?? new Map<string, number>();
      together.set(home, struck.set(place + hit, Math.min(2, (struck.get(place + hit) ?? 0) + 1)));
    }
    for (const struck of together.values()) {
      expect([...struck.values()].reduce((sum, n) => sum + n)).toBeLessThanOrEqual(2);
    }
  });
});

test('the first demo song has the parts a song has, with a fill into each next one', () => {
  const [song] = demoSongs();
  const kinds = laidPlaces(song).map(({ section }) => section.kind);
  expect(kinds.filter((kind) => kind === 'verse')).toHaveLength(3);
  expect(kinds.filter((kind) => kind === 'chorus')).toHaveLength(3);
  expect(kinds).toEqual(expect.arrayContaining(['intro', 'bridge', 'outro']));
  expect(songBars(song)).toBe(64);
  expect(song.patterns.length).toBeGreaterThanOrEqual(6);
  const joins = laidPlaces(song).slice(0, -1);
  for (const { place } of joins) {
    expect(place.overlay.some(({ anchor, to }) => anchor === 'end' && to === 0)).toBe(true);
  }
});
