import type { Pattern, Place, Section, SectionKind, Song, Span } from '@/core';
import { SONG_FORMAT } from '@/core';
import { barTicks, type Meter } from '@/core/time/meter';
import { bassLine } from './bass';
import { played, type Part } from './played';

const SEVEN: Meter = { beats: 7, unit: 8 };
const FOUR: Meter = { beats: 4, unit: 4 };

const PARTS: Part[] = [
  {
    id: 'verse',
    name: 'Verse, lamp trimmed',
    dye: 0,
    lines: {
      hihat: '7.5.7.5.7.4.7.5.|7.5.7.5.7.5.7...',
      'hihat:open': '................|..............6.',
      snare: '....8..2.2..8...|....8..2.2..8..3',
      kick: '8......5..7.....|8.....5...7..4..',
    },
  },
  {
    id: 'intro',
    name: 'Intro, fog bell',
    kind: 'intro',
    dye: 6,
    lines: {
      'ride:bell': '7.......5.......|7.......5..4....',
      'hihat:pedal': '....5.......5...|....5.......5...',
      'snare:side-stick': '............5...|............5..3',
      kick: '7.........5.....|7.........5...4.',
    },
  },
  {
    id: 'chorus',
    name: 'Chorus, breakers',
    dye: 1,
    lines: {
      crash: '9...............|................|................|................',
      ride: '....6.5.7.5.6.5.|7.5.6.5.7.5.6.5.|7.5.6.5.7.5.6.5.|7.5.6.5.7.5.....',
      'ride:bell': '................|................|................|............7...',
      snare: '....9.......9...|....9.......9..2|....9.......9...|....9..2.2..9.f.',
      kick: '9......6..8.....|8..5..7...8.....|9......6..8.....|8..5..7...8...5.',
      tambourine: '4.6.4.6.4.6.4.6.|4.6.4.6.4.6.4.6.|4.6.4.6.4.6.4.6.|4.6.4.6.4.6.4.6.',
    },
  },
  {
    id: 'hull',
    name: 'Kick, rolling hull',
    dye: 5,
    lines: {
      kick: '9..5..7.8.....6.|8..5..7...8..66.',
    },
  },
  {
    id: 'bridge',
    name: 'Bridge in seven',
    dye: 4,
    meter: SEVEN,
    lines: {
      crash: '8.............|..............',
      ride: '..5.7.5.7.5.5.|7...7.5.7.5.5.',
      snare: '........8.....|..2.....8.....',
      'tom-high-floor': '............6.|..........5.7.',
      kick: '8...6.....7...|8.....5...7...',
    },
  },
  {
    id: 'tide',
    name: 'Breakdown, low tide',
    dye: 3,
    lines: {
      'hihat:pedal': '....4.......4...|....4.......4...',
      'snare:side-stick': '........6.......|........6.....3.',
      'tom-low-mid': '......4.........|......4.....5...',
      'tom-high-floor': '6..4......5..4..|6..4......5.....',
      kick: '7...............|7.........4.....',
    },
  },
  {
    id: 'outro',
    name: 'Outro, lamp out',
    kind: 'ending',
    dye: 9,
    lines: {
      'ride:bell': '6.......5.......|5.......4.......',
      'hihat:pedal': '....4.......4...|....4.......3...',
      'snare:side-stick': '............4...|............3...',
      kick: '6.........4.....|5...............',
    },
  },
  {
    id: 'gull',
    name: 'Fill, gull drop',
    kind: 'fill',
    dye: 7,
    lines: {
      hihat: '6.5.............',
      snare: '....7.56........',
      'tom-high': '........78......',
      'tom-low-mid': '..........67....',
      'tom-high-floor': '............7.89',
      kick: '8.......6.....7.',
    },
  },
  {
    id: 'beats',
    name: 'Fill, two beats',
    kind: 'fill',
    dye: 2,
    lines: {
      snare: '6.678...',
      'tom-high-floor': '.....787',
      kick: '7...7...',
    },
  },
  {
    id: 'swell',
    name: 'Fill, long swell',
    kind: 'fill',
    dye: 8,
    lines: {
      snare: '2334445556677889',
      'tom-high-floor': '3...4...5...6...',
      kick: '5.......6.......',
    },
  },
  {
    id: 'one',
    name: 'Crash on one',
    kind: 'fill',
    dye: 10,
    lines: { crash: '8...............' },
  },
  {
    id: 'last',
    name: 'Ending, last wave',
    kind: 'ending',
    dye: 11,
    lines: {
      'crash-2': '8...............',
      ride: '7...............',
      kick: '8...............',
    },
  },
];

const span = (pattern: string, from: number, to: number, rest: Partial<Span> = {}): Span => ({
  pieces: 'all',
  from,
  to,
  pattern,
  offset: 0,
  mode: 'replace',
  ...rest,
});

function section(
  id: string,
  name: string,
  kind: SectionKind,
  bars: number,
  meter: Meter,
  pattern: string,
): Section {
  return { id, name, kind, meter, bars, spans: [span(pattern, 0, bars * barTicks(meter))] };
}

/** A song about a light that has to be seen: 64 bars, with a bridge in seven. */
export function saltmarshSignal(id: string): Song {
  const patterns: Pattern[] = PARTS.map((part, i) => played(part, 31 + i * 17));
  const bar = barTicks(FOUR);
  const chorus = section('chorus', 'chorus', 'chorus', 8, FOUR, 'chorus');
  chorus.spans.push(span('hull', 4 * bar, 8 * bar, { pieces: ['kick'] }));
  const outro = section('outro', 'outro', 'outro', 6, FOUR, 'outro');
  outro.spans.push(span('last', 5 * bar, 6 * bar));
  const sections = [
    section('intro', 'intro', 'intro', 4, FOUR, 'intro'),
    section('verse', 'verse', 'verse', 8, FOUR, 'verse'),
    chorus,
    section('bridge', 'bridge', 'bridge', 6, SEVEN, 'bridge'),
    section('low', 'verse, low tide', 'verse', 8, FOUR, 'tide'),
    outro,
  ];
  const ticksOf = (sectionId: string) => {
    const { meter, bars } = sections.find((s) => s.id === sectionId)!;
    return barTicks(meter) * bars;
  };
  const atEnd = (sectionId: string, pattern: string): Span => {
    const to = ticksOf(sectionId);
    return span(pattern, to - patterns.find((p) => p.id === pattern)!.length, to);
  };
  const crashOnOne = span('one', 0, bar, { pieces: ['crash'], mode: 'add' });
  const plan: [section: string, overlay: Span[]][] = [
    ['intro', [atEnd('intro', 'beats')]],
    ['verse', [atEnd('verse', 'gull'), crashOnOne]],
    ['chorus', [atEnd('chorus', 'beats')]],
    ['verse', [atEnd('verse', 'swell'), crashOnOne]],
    ['chorus', [atEnd('chorus', 'gull')]],
    ['bridge', [atEnd('bridge', 'beats')]],
    ['low', [atEnd('low', 'swell')]],
    ['chorus', [atEnd('chorus', 'beats')]],
    ['outro', []],
  ];
  const places: Place[] = plan.map(([sectionId, overlay], i) => ({
    id: `place-${i + 1}`,
    section: sectionId,
    overlay,
  }));
  const end = places.reduce((sum, place) => sum + ticksOf(place.section), 0);
  const song: Song = {
    format: SONG_FORMAT,
    id,
    name: 'Saltmarsh Signal',
    // The band slows down over the last two bars, as a band does.
    tempo: [
      { at: 0, bpm: 104 },
      { at: end - 2 * bar, bpm: 98 },
      { at: end - 1.5 * bar, bpm: 90 },
      { at: end - bar, bpm: 76 },
    ],
    places,
    sections,
    patterns,
  };
  return { ...song, guides: [bassLine(song)] };
}
