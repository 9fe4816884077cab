import {
  songWith,
  spanAtEnd,
  spanOver,
  type Pattern,
  type Place,
  type Section,
  type SectionKind,
  type Song,
  type Span,
  neutralStrip,
  usualMix,
  type Mix,
  type StripSetting,
} from '@/core/model';
import { barTicks, type Meter } from '@/core/time';
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

function section(
  id: string,
  name: string,
  kind: SectionKind,
  bars: number,
  meter: Meter,
  pattern: string,
): Section {
  const spans = [spanOver(pattern, 'span')];
  return { id, name, kind, bars, meters: [{ bar: 0, meter }], tempos: [], spans };
}

const factor = (decibels: number) => 10 ** (decibels / 20);
const strip = (track: string, decibels: number, more: Partial<StripSetting> = {}) => ({
  ...neutralStrip(track),
  level: factor(decibels),
  ...more,
});
const room = (level: number) => [{ bus: 'room', level }];

/** Cymbals behind the drums, toms in the room, the tambourine beside the kit, and the kick with a firm low end. */
const MIX: Mix = {
  ...usualMix('pieces'),
  strips: [
    strip('crash', -2.5, { sends: room(0.1), tone: { cut: { frequency: 220, gain: 0 } } }),
    strip('hihat', -3, { pan: 0.1, tone: { cut: { frequency: 300, gain: 0 } } }),
    ...['tom-high', 'tom-low-mid', 'tom-high-floor'].map((tom) =>
      strip(tom, 1.5, { sends: room(0.25) }),
    ),
    strip('kick', 1, { tone: { low: { frequency: 70, gain: 2.5 } } }),
    strip('tambourine', -6, { pan: 0.15, sends: room(0.15) }),
  ],
};

/** A song about a light that has to be seen: 64 bars, with a bridge in seven. */
export function saltmarshSignal(id: string): Song {
  const patterns: Pattern[] = PARTS.map((part, i) => played(part, 31 + i * 17));
  const bar = barTicks(FOUR);
  const chorus = section('chorus', 'chorus', 'chorus', 8, FOUR, 'chorus');
  const hull = { role: 'change', pieces: ['kick'], from: 4 * bar } as const;
  chorus.spans.push(spanOver('hull', 'hull', { ...hull, pieces: [...hull.pieces] }));
  const outro: Section = {
    ...section('outro', 'outro', 'outro', 6, FOUR, 'outro'),
    // The band slows down over the last two bars, as a band does.
    tempos: [
      { at: 0, bpm: 104 },
      { at: 4 * bar, bpm: 98 },
      { at: 4.5 * bar, bpm: 90 },
      { at: 5 * bar, bpm: 76 },
    ],
  };
  outro.spans.push(spanAtEnd('last', 'last', bar));
  const sections = [
    section('intro', 'intro', 'intro', 4, FOUR, 'intro'),
    section('verse', 'verse', 'verse', 8, FOUR, 'verse'),
    chorus,
    section('bridge', 'bridge', 'bridge', 6, SEVEN, 'bridge'),
    section('low', 'verse, low tide', 'verse', 8, FOUR, 'tide'),
    outro,
  ];
  const fill = (pattern: string): Span =>
    spanAtEnd(pattern, 'fill', patterns.find((p) => p.id === pattern)!.length);
  const crashOnOne: Span = {
    ...spanOver('one', 'crash', { role: 'change', pieces: ['crash'], mode: 'add' }),
    anchor: 'start',
    to: bar,
  };
  const plan: [section: string, overlay: Span[]][] = [
    ['intro', [fill('beats')]],
    ['verse', [fill('gull'), crashOnOne]],
    ['chorus', [fill('beats')]],
    ['verse', [fill('swell'), crashOnOne]],
    ['chorus', [fill('gull')]],
    ['bridge', [fill('beats')]],
    ['low', [fill('swell')]],
    ['chorus', [fill('beats')]],
    ['outro', []],
  ];
  const places: Place[] = plan.map(([sectionId, overlay], i) => ({
    id: `place-${i + 1}`,
    section: sectionId,
    overlay,
  }));
  const song: Song = {
    ...songWith({ id, name: 'Saltmarsh Signal', bpm: 104 }, patterns),
    places,
    sections,
    mixes: [MIX],
  };
  return { ...song, guides: [bassLine(song)] };
}
