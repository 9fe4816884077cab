import fc from 'fast-check';
import {
  applyCommand,
  COMMAND_NAMES,
  COMMANDS,
  type Command,
  type CommandName,
  type Value,
} from '../commands';
import { layBounce } from '../bounce';
import { takeLoop } from '../loops';
import { READY_MAPS, sectionOf, spanOver, type Pattern, type Song } from '../model';
import { allIds } from '../pattern';
import { anyMeter, anyPattern, anyPiece, anySong } from './arbitraries';

/** A song, or one that plays a recorded loop or a bounced place too: its kit has pieces that no other kit has. */
export const anyWorkedSong: fc.Arbitrary<Song> = fc
  .tuple(anySong, fc.nat(3))
  .map(([song, n]) => (n === 0 ? withLoop(song) : n === 1 ? withBounce(song) : song));

function withBounce(song: Song): Song {
  const [place] = song.places;
  const bounce = { id: 'bounced', place: place?.id ?? '', hash: 'e'.repeat(64) };
  const laid = layBounce(song, { ...bounce, frames: 96_000, lead: 0 });
  return typeof laid === 'string' ? song : laid;
}

function withLoop(song: Song): Song {
  const taken = takeLoop(song, {
    id: 'loop',
    name: 'shed',
    hash: 'd'.repeat(64),
    bars: 1,
    bpm: 120,
    slices: (['kick', 'snare', 'hat', 'other'] as const).map((kind, n) => ({
      from: n * 24_000,
      to: (n + 1) * 24_000,
      kind,
      velocity: 90 + n,
    })),
    transcribed: false,
  }) as Song;
  const [section, ...others] = taken.sections;
  return { ...taken, sections: [{ ...section, spans: [spanOver('loop', 'span')] }, ...others] };
}

/** Names of things in songs that `anySong` makes, and of some that are not there. */
const NAMES: Readonly<Record<string, fc.Arbitrary<string>>> = {
  pattern: fc.constantFrom('a', 'b', 'c', 'loop', 'bounced', 'gone'),
  hit: fc.tuple(fc.constantFrom('a', 'b', 'c', 'loop'), fc.nat(12)).map(([p, i]) => `${p}-${i}`),
  piece: fc.oneof({ weight: 6, arbitrary: anyPiece }, fc.constantFrom('loop-kick', 'loop-hat')),
  section: fc.constantFrom('s-a', 's-b', 's-c', 'gone'),
  place: fc.constantFrom('at-0', 'at-1', 'at-2', 'new-1', 'gone'),
  holder: fc.constantFrom('s-a', 's-b', 'at-0', 'at-1', 'a', 'song', 'gone'),
  span: fc.constantFrom('span', 'laid', 'gone'),
  guide: fc.constantFrom('bass', 'gone'),
  feel: fc.constantFrom('feel-a', 'of a', 'of b', 'gone'),
  offcut: fc.constantFrom('removed-a', 'removed-b', 'gone'),
  layout: fc.constantFrom('one', 'families', 'pieces', 'notes', 'new-1', 'gone'),
  track: fc.constantFrom('kick', 'snare', 'hihat', 'hats', 'drums', 'other', 'snare rim', 'new-1'),
  layer: fc.constantFrom('layer', 'gone'),
  bus: fc.constantFrom('room', 'echo', 'gone'),
  new: fc.oneof(fc.uuid(), fc.constantFrom('new-1', 'a', 'laid')),
};

/** A span of any role and anchor that plays some of the patterns of `anySong`. */
export const anySpan = fc
  .record({
    pieces: fc.oneof(fc.constant('all' as const), fc.array(anyPiece, { maxLength: 3 })),
    offset: fc.constantFrom(0, 480),
    mode: fc.constantFrom('replace' as const, 'add' as const),
    role: fc.constantFrom('groove' as const, 'fill' as const, 'change' as const),
    lies: fc.constantFrom(
      { anchor: 'start' as const, from: 0, to: 960 },
      { anchor: 'start' as const, from: 960, to: 20_000 },
      { anchor: 'end' as const, from: -1920, to: 0 },
      { anchor: 'end' as const, from: -9000, to: -480 },
      { anchor: 'whole' as const, from: 0, to: 0 },
    ),
    pattern: fc.constantFrom('a', 'b', 'c'),
  })
  .map(({ lies, pattern, ...rest }) => spanOver(pattern, 'laid', { ...rest, ...lies }));

const anyDynamics = fc.record({
  threshold: fc.integer({ min: -60, max: 0 }),
  ratio: fc.integer({ min: 1, max: 20 }),
  attack: fc.constantFrom(0.0002, 0.01, 0.2),
  release: fc.constantFrom(0.01, 2),
  gain: fc.integer({ min: 0, max: 24 }),
});

const anyLayer = {
  id: fc.constantFrom('layer', 'other'),
  name: fc.string({ maxLength: 8 }),
  level: fc.integer({ min: 0, max: 4 }),
  tune: fc.integer({ min: -2400, max: 2400 }),
  velocities: fc.constantFrom([1, 127], [90, 127], [5, 2]),
};

/** Whole parts of a song, by what a command calls them. */
export const PARTS: Readonly<Record<string, fc.Arbitrary<unknown>>> = {
  hit: fc.record({
    piece: anyPiece,
    hit: fc.record({
      id: NAMES.hit,
      at: fc.nat(80).map((n) => n * 120),
      push: fc.integer({ min: -90, max: 90 }),
      velocity: fc.integer({ min: 1, max: 127 }),
      articulation: fc.constant('any'),
    }),
  }),
  pattern: anyPattern('fresh'),
  section: anyPattern('a').map((pattern) =>
    sectionOf(pattern, { id: 'fresh', name: 'fresh', kind: 'part' }),
  ),
  span: anySpan,
  guide: fc.record({
    id: fc.constantFrom('bass', 'riff'),
    name: fc.string(),
    at: fc.constantFrom(0, 3840),
    notes: fc.constant([{ at: 0, length: 240, note: 40, velocity: 90 }]),
    level: fc.constantFrom(0, 0.5),
  }),
  song: anySong,
  performance: fc.constant({
    done: [
      { at: 0, does: 'section', section: 's-a' },
      { at: 1920, does: 'section', section: 's-b' },
    ],
  }),
  'line of energy': fc.record({
    place: fc.constantFrom('at-0', 'at-1', 'gone'),
    points: fc.constantFrom(
      [],
      [{ at: 0, level: 0.4 }],
      [
        { at: 960, level: 1 },
        { at: 5, level: 0 },
      ],
    ),
  }),
  wish: fc.constantFrom<unknown>(
    { loose: 0.4, time: 'ride' },
    { feel: { of: 'family', family: 'Disco' }, seed: 7 },
    { highTime: undefined, without: ['crash'] },
    { follow: 9 },
  ),
  draft: anyPattern('draft-1').map((pattern) => ({
    patterns: [pattern],
    gone: ['b'],
    sections: [{ id: 's-a', spans: [spanOver('draft-1', 'draft-1')] }],
    places: [{ id: 'at-0', overlay: [], drafted: ['draft-join'] }],
  })),
  drummer: fc.record({
    lead: fc.constantFrom('right', 'left'),
    speed: fc.integer({ min: 2, max: 30 }),
  }),
  copied: anyPattern('a').map((pattern) => ({
    places: ['p', 'q'].map((id) => ({ id, section: 'copy', overlay: [] })),
    sections: [sectionOf(pattern, { id: 'copy', name: 'copy', kind: 'verse' })],
  })),
  tone: fc.record({
    cut: fc.constant({ frequency: 80, gain: 0 }),
    mid: fc.record({
      frequency: fc.integer({ min: 20, max: 20_000 }),
      gain: fc.integer({ min: -18, max: 18 }),
    }),
  }),
  'note map': fc.oneof(
    fc.constantFrom(...READY_MAPS),
    fc.record({
      name: fc.string({ maxLength: 8 }),
      notes: fc.dictionary(fc.constantFrom('kick/beater', 'snare/rim', 'gone'), fc.nat(127)),
      reads: fc.constantFrom({}, { 36: 'snare/centre' }, { 7: 'gone' }),
    }),
  ),
  dynamics: anyDynamics,
  layer: fc.oneof(
    fc.record({
      ...anyLayer,
      from: fc.constant('kit'),
      character: fc.constantFrom('warm', 'electronic'),
      sound: fc.constantFrom(36, 38),
    }),
    fc.record({
      ...anyLayer,
      from: fc.constant('files'),
      files: fc.constant([{ hash: 'a'.repeat(64), name: 'a.wav', velocities: [1, 127] }]),
      start: fc.nat(1000),
      fadeIn: fc.constantFrom(0, 0.1),
      fadeOut: fc.constantFrom(0, 0.1),
    }),
  ),
  strip: fc.record({
    track: fc.constantFrom('kick', 'gone'),
    level: fc.integer({ min: 0, max: 4 }),
    pan: fc.constantFrom(-1, 0, 0.5),
    dynamics: anyDynamics,
    drive: fc.constantFrom(0, 0.4, 1),
    sends: fc.constant([{ bus: 'room', level: 0.5 }]),
  }),
  offcut: fc.record({ id: fc.constantFrom('passed-x', 'passed-y'), why: fc.constant('passed') }),
};

/** Texts for values that ask for texts of a certain form. */
const TEXTS = [
  'x..x..',
  'xx',
  'snare/rim',
  'hihat/open',
  'kick/any',
  'a name',
  'open',
  'closed',
  'c'.repeat(64),
  '',
];

/** Ticks that music is made of. */
const TICKS = [0, 40, 120, 160, 240, 320, 480, 960, 1920, 3840, 7680];

/** Anything that a value may be. */
function anyOf({ shape, optional }: Value<unknown>): fc.Arbitrary<unknown> {
  const made = ofShape(shape);
  return optional ? fc.option(made, { nil: undefined }) : made;
}

function ofShape(shape: Value<unknown>['shape']): fc.Arbitrary<unknown> {
  switch (shape.kind) {
    case 'number': {
      const [low, high] = shape.limits;
      const musical = [low, high, ...TICKS, ...TICKS.map((n) => -n)];
      const inside = musical.filter((n) => n >= low && n <= high);
      const whole = fc.integer({ min: Math.ceil(low), max: Math.floor(high) });
      const wide = high - low > 5000 ? fc.constantFrom(...inside) : whole;
      return shape.whole
        ? fc.oneof(wide, whole)
        : fc.oneof(
            { weight: 4, arbitrary: wide },
            { weight: 1, arbitrary: fc.double({ min: low, max: high, noNaN: true }) },
          );
    }
    case 'choice':
      return fc.constantFrom(...shape.options);
    case 'text': {
      const fitting = TEXTS.filter((one) => !shape.fits || shape.fits.test(one));
      return shape.fits
        ? fc.constantFrom(...fitting)
        : fc.oneof(fc.string(), fc.constantFrom(...TEXTS));
    }
    case 'flag':
      return fc.boolean();
    case 'id':
      return NAMES[shape.of];
    case 'list':
      return fc.array(anyOf(shape.of), { maxLength: Math.min(8, shape.most) });
    case 'record':
      return fc.record(
        Object.fromEntries(Object.entries(shape.parts).map(([name, of]) => [name, anyOf(of)])),
      );
    case 'part':
      return PARTS[shape.name] ?? anyMeter;
  }
}

/** Commands of one name, with values that are as they must be. */
export function anyCommandOf(type: CommandName): fc.Arbitrary<Command> {
  const { values } = COMMANDS[type];
  const told = Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, anyOf(value)]),
  );
  return fc.record({ type: fc.constant(type), ...told }) as unknown as fc.Arbitrary<Command>;
}

/** Commands of every sort; some of them name things that are not there. */
export const anyCommand: fc.Arbitrary<Command> = fc.oneof(...COMMAND_NAMES.map(anyCommandOf));

/** What is done to chosen hits. */
export const HIT_COMMANDS = COMMAND_NAMES.filter((name) => COMMANDS[name].needsHits);
export const anyHitCommand: fc.Arbitrary<Command> = fc.oneof(...HIT_COMMANDS.map(anyCommandOf));

/** Values that no one means: what a damaged file or a mistake elsewhere would say. */
export const anyHostile: fc.Arbitrary<unknown> = fc.oneof(
  fc.constantFrom<unknown>(
    NaN,
    Infinity,
    -Infinity,
    -0,
    0.5,
    1e-6,
    1e12,
    2 ** 53,
    1e308,
    -1,
    10_000,
    null,
    undefined,
    '',
    'gone',
    '__proto__',
    true,
    [],
    {},
    [null],
    ['a-0', 'a-0', '', null],
    { beats: 3, unit: 5 },
    { percent: NaN, unit: 0 },
    { id: 'x' },
  ),
  fc.anything({ maxDepth: 2 }),
);

/** Commands of one name in which any of the values may be hostile. */
export function anyHostileCommandOf(type: CommandName): fc.Arbitrary<Command> {
  const { values } = COMMANDS[type];
  const told = Object.fromEntries(
    Object.entries(values).map(([name, value]) => [
      name,
      fc.oneof({ weight: 2, arbitrary: anyOf(value) }, { weight: 1, arbitrary: anyHostile }),
    ]),
  );
  return fc.record({ type: fc.constant(type), ...told }) as unknown as fc.Arbitrary<Command>;
}

/** The song of one pattern, for working on the pattern with commands. */
export function songAround(song: Song, pattern: Pattern): Song {
  return { ...song, patterns: [pattern], sections: [], places: [] };
}

/** A pattern to which several things were done. */
export const anyWorkedPattern: fc.Arbitrary<Pattern> = fc
  .tuple(anySong, anyPattern(), fc.array(fc.tuple(anyHitCommand, fc.nat(4)), { maxLength: 6 }))
  .map(([song, pattern, works]) => {
    const worked = works.reduce(
      (now, [command, every]) => {
        const ids = [...allIds(now.patterns[0])].filter((_, i) => i % (every + 1) === 0);
        return applyCommand(now, { ...command, pattern: pattern.id, ids } as Command);
      },
      songAround(song, pattern),
    );
    return worked.patterns[0];
  });
