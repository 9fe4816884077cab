import type { Pattern, Song } from '../src/core';
import { emptySong, sectionOf, emptyPattern, USUAL_BUSES, type PieceId } from '../src/core/model';
import { placeHits } from '../src/core/pattern';
import { seeded } from '../src/core/random';

const PIECES = ['hihat', 'snare', 'kick', 'ride', 'tom-high', 'crash'];

/** A played pattern of eight bars with so many hits. */
function busyPattern(id: string, hits: number, seed: number): Pattern {
  const random = seeded(seed);
  const steps = 8 * 16;
  const placed = Array.from({ length: hits }, (_, i) => ({
    piece: PIECES[Math.floor(i / steps) % PIECES.length],
    hit: {
      id: `h${i}`,
      at: (i % steps) * 240,
      push: Math.round((random() - 0.5) * 30),
      velocity: 30 + Math.floor(random() * 90),
      articulation: 'usual',
    },
  }));
  return placeHits(emptyPattern({ id, name: id, bars: 8 }), placed);
}

/**
 * Sections of eight bars, each with a pattern of its own of 500 hits. Fifty of them, as it is when not
 * said, are 400 bars and 25,000 hits.
 */
export function longSong(count = 50): Song {
  const patterns = Array.from({ length: count }, (_, i) => busyPattern(`p${i}`, 500, i + 1));
  const sections = patterns.map((pattern) =>
    sectionOf(pattern, { id: `s-${pattern.id}`, name: pattern.name, kind: 'part' }),
  );
  const places = sections.map(({ id }) => ({ id: `at-${id}`, section: id, overlay: [] }));
  return { ...emptySong('long', 'long', 'x'), patterns, sections, places };
}

/** One pattern of 64 bars and some 6,000 hits, as the longest that Shape shows. */
export function longPattern(): Song {
  const random = seeded(9);
  const hits = Array.from({ length: 6000 }, (_, i) => ({
    piece: PIECES[i % PIECES.length],
    hit: {
      id: `h${i}`,
      at: Math.floor(i / PIECES.length) * 240,
      push: Math.round((random() - 0.5) * 30),
      velocity: 30 + Math.floor(random() * 90),
      articulation: 'usual',
    },
  }));
  const pattern = placeHits(emptyPattern({ id: 'x', name: 'Long', bars: 64 }), hits);
  return { ...emptySong('long-pattern', 'Long pattern', 'x'), patterns: [pattern] };
}

/** A minute at 120 bpm with 2,000 hits over twelve pieces. */
export function minute(): Song {
  const random = seeded(5);
  const pieces = [
    ...['crash', 'crash-2', 'ride', 'hihat', 'snare', 'tom-high', 'tom-low-mid'],
    ...['tom-high-floor', 'kick', 'clap', 'tambourine', 'cowbell'],
  ];
  const places = Array.from({ length: 12 * 480 }, (_, i) => i)
    .map((i) => ({ i, key: random() }))
    .sort((a, b) => a.key - b.key)
    .slice(0, 2000);
  const pattern = placeHits(
    emptyPattern({ id: 'minute', name: 'minute', bars: 30 }),
    places.map(({ i }) => ({
      piece: pieces[i % 12],
      hit: {
        id: `h${i}`,
        at: Math.floor(i / 12) * 240,
        push: 0,
        velocity: 40 + (i % 80),
        articulation: 'usual',
      },
    })),
  );
  const section = sectionOf(pattern, { id: 's', name: 's', kind: 'part' });
  return {
    ...emptySong('minute', 'minute', 'x'),
    patterns: [pattern],
    sections: [section],
    places: [{ id: 'a', section: 's', overlay: [] }],
  };
}

/**
 * A whole song: 300 sections that play sixty patterns of a few bars, 2,000 bars and 60,000 hits in all,
 * played as a drummer could, but for one moment of the first pattern.
 */
export function wovenSong(): Song {
  const patterns = Array.from({ length: 60 }, (_, n) => drummed(`p${n}`, n + 1, n === 0));
  const sections = Array.from({ length: 300 }, (_, i) => ({
    ...sectionOf(patterns[i % 60], { id: `s${i}`, name: `part ${i + 1}`, kind: 'part' }),
    bars: i % 3 === 0 ? 6 : 7,
  }));
  const places = sections.map(({ id }) => ({ id: `at-${id}`, section: id, overlay: [] }));
  return { ...emptySong('woven', 'woven', 'x'), patterns, sections, places };
}

/** Four bars of hats in sixteenths, a snare with ghosts and a kick: thirty hits a bar. */
function drummed(id: string, seed: number, wrong: boolean): Pattern {
  const random = seeded(seed);
  const hit = (piece: string, at: number, velocity: number) => ({
    piece,
    hit: {
      id: `${piece}-${at}`,
      at,
      push: Math.round((random() - 0.5) * 20),
      velocity,
      articulation: 'usual',
    },
  });
  const bars = [0, 1, 2, 3].flatMap((bar) => {
    const from = bar * 3840;
    const hats = Array.from({ length: 16 }, (_, i) =>
      hit('hihat', from + i * 240, 60 + (i % 4) * 9),
    );
    const snares = [4, 7, 9, 12, 15].map((i) =>
      hit('snare', from + i * 240, i % 8 === 4 ? 104 : 34),
    );
    const steps = Array.from({ length: 16 }, (_, i) => i).filter(() => random() < 0.56);
    return [...hats, ...snares, ...steps.map((i) => hit('kick', from + i * 240, 90))];
  });
  const extra = wrong ? [hit('crash', 960, 110), hit('ride', 960, 90)] : [];
  return placeHits(emptyPattern({ id, name: id, bars: 4 }), [...bars, ...extra]);
}

/** A song on a track a piece, each with tone, dynamics and drive, into a room and an echo. */
export function fullyMixed(song: Song, pieces: readonly PieceId[]): Song {
  const tone = {
    cut: { frequency: 60, gain: 0 },
    low: { frequency: 120, gain: 3 },
    mid: { frequency: 900, gain: -4 },
    high: { frequency: 6000, gain: 2 },
  };
  const strips = pieces.map((track) => ({
    track,
    level: 0.8,
    pan: 0.2,
    tone,
    dynamics: { threshold: -24, ratio: 4, attack: 0.005, release: 0.1, gain: 4 },
    drive: 0.3,
    sends: [
      { bus: 'room', level: 0.5 },
      { bus: 'echo', level: 0.3 },
    ],
  }));
  return {
    ...song,
    layout: 'pieces',
    mixes: [{ layout: 'pieces', strips, buses: USUAL_BUSES }],
  };
}
