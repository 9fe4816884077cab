import fc from 'fast-check';
import { applyCommand } from '../commands';
import {
  layoutOf,
  READY_MAPS,
  spanAtEnd,
  USUAL_BUSES,
  type Guide,
  type Hit,
  type Place,
  type Section,
  type SectionStrip,
  type SoundLayer,
  type Song,
  type Span,
  type StripSetting,
} from '../model';
import { mapStrands } from '../pattern';
import {
  chokePiece,
  chooseLayout,
  joinTracks,
  putLayer,
  putOnTrack,
  READY_LAYOUTS,
  setPieceSound,
  setStrip,
  stripsOf,
} from '../tracks';
import { laidPlaces, linkPlace, sectionTicks, setLock, setMeant, setMeterAt } from '../weave';
import { anyPiece } from './arbitraries';
import { anyCommand, anySpan, anyWorkedSong, PARTS } from './commands';

/** Figures and touches of a single hit; most hits have none. */
const anyHitChange: fc.Arbitrary<Partial<Hit>> = fc.oneof(
  { weight: 6, arbitrary: fc.constant({}) },
  fc.constantFrom<Partial<Hit>>(
    { choke: 300 },
    { pan: -0.5 },
    { tune: 200 },
    { reverse: true },
    { swell: 960 },
    { room: 0.6, echo: 0.3 },
    { cycle: { of: 2, on: [2] } },
    { burst: { strokes: 3, room: 240, slope: 0.5 } },
    { flam: { strokes: 1, lead: 25, softness: 0.4 } },
  ),
);

const anyLevel = fc.constantFrom(0.25, 0.5, 1, 1.5);
const anySends = fc
  .subarray([...USUAL_BUSES])
  .map((buses) => buses.map(({ id }, i) => ({ bus: id, level: 0.2 + i / 2 })));

/** A track that is mixed: each part often enough to meet the others. */
const anyStrip: fc.Arbitrary<Partial<StripSetting>> = fc.record(
  {
    level: anyLevel,
    pan: fc.constantFrom(-1, 0, 0.4),
    mute: fc.constant(true as const),
    solo: fc.constant(true as const),
    flip: fc.constant(true as const),
    drive: fc.constant(0.3),
    dry: fc.constant(0.5),
    sends: anySends,
    dynamics: fc.constant({ threshold: -20, ratio: 3, attack: 0.01, release: 0.1, gain: 2 }),
  },
  { requiredKeys: [] },
);

/** The mix of a track in one section, with a ramp or at once. */
const anySectionStrip: fc.Arbitrary<Omit<SectionStrip, 'track'>> = fc.record(
  {
    level: anyLevel,
    pan: fc.constantFrom(-0.5, 1),
    mute: fc.boolean(),
    sends: anySends,
    ramp: fc.constantFrom(1, 2, 4),
  },
  { requiredKeys: [] },
);

/** Parts that a kit may be given beside its usual sounds. */
interface KitParts {
  layers: { piece: string; layer: SoundLayer }[];
  chokes: { piece: string; group: number }[];
  pieces: { piece: string; level: number; pan: number; room: number }[];
  map: Song['noteMap'];
}

const anyKitParts: fc.Arbitrary<KitParts> = fc.record({
  layers: fc.array(fc.record({ piece: anyPiece, layer: PARTS.layer as fc.Arbitrary<SoundLayer> }), {
    maxLength: 2,
  }),
  chokes: fc.array(fc.record({ piece: anyPiece, group: fc.constantFrom(0, 3) }), { maxLength: 3 }),
  pieces: fc.array(
    fc.record({
      piece: anyPiece,
      level: anyLevel,
      pan: fc.constantFrom(-1, 0.2),
      room: fc.constantFrom(0, 1),
    }),
    { maxLength: 3 },
  ),
  map: fc.constantFrom(...READY_MAPS),
});

/** Parts that stand beside the music, and marks on it. */
interface Marks {
  overlays: Span[];
  guides: Guide[];
  /** Tracks that are joined, by their number, and one piece that is put on the first. */
  joined: number[];
  moved: string;
  locks: ('section' | 'place' | 'pattern' | 'none')[];
  isMeant: boolean;
  isLinked: boolean;
  /** A meter from the second bar on. */
  meter: { beats: number; unit: number } | undefined;
  wish: Section['wishes'];
}

const anyMarks: fc.Arbitrary<Marks> = fc.record({
  overlays: fc.array(anySpan, { maxLength: 4 }),
  guides: fc
    .array(PARTS.guide as fc.Arbitrary<Guide>, { maxLength: 2 })
    .map((guides) => guides.map((guide, i) => ({ ...guide, id: `guide-${i}` }))),
  joined: fc.array(fc.nat(9), { maxLength: 3 }),
  moved: anyPiece,
  locks: fc.array(fc.constantFrom('section', 'place', 'pattern', 'none', 'none', 'none'), {
    maxLength: 1,
  }),
  isMeant: fc.boolean(),
  isLinked: fc.boolean(),
  meter: fc.constantFrom(undefined, { beats: 3, unit: 4 }, { beats: 7, unit: 8 }),
  wish: fc.constantFrom(undefined, { loose: 0.4 }, { without: ['crash'], seed: 7 }),
});

interface Parts extends Marks {
  kit: KitParts;
  layout: string;
  strips: Partial<StripSetting>[];
  sections: Omit<SectionStrip, 'track'>[];
  hits: Partial<Hit>[];
  levels: number[];
  glide: boolean;
  fill: boolean;
}

const anyMixed: fc.Arbitrary<Omit<Parts, keyof Marks>> = fc.record({
  kit: anyKitParts,
  layout: fc.constantFrom(...READY_LAYOUTS),
  strips: fc.array(anyStrip, { maxLength: 4 }),
  sections: fc.array(anySectionStrip, { maxLength: 3 }),
  hits: fc.array(anyHitChange, { minLength: 1, maxLength: 7 }),
  levels: fc.array(fc.constantFrom(0, 0.3, 0.7, 1), { maxLength: 4 }),
  glide: fc.boolean(),
  fill: fc.boolean(),
});

const anyParts: fc.Arbitrary<Parts> = fc
  .tuple(anyMixed, anyMarks)
  .map(([mixed, marks]) => ({ ...mixed, ...marks }));

/** The song after a change, or as it was where the change is refused. */
const orSame = (song: Song, after: Song | string): Song =>
  typeof after === 'string' ? song : after;

/** Does a change for each part, one after another. */
const withEach = <T>(
  song: Song,
  parts: readonly T[],
  change: (now: Song, part: T) => Song | string,
) => parts.reduce((now, part) => orSame(now, change(now, part)), song);

function withKit(song: Song, { layers, chokes, pieces, map }: KitParts): Song {
  const designed = withEach(song, layers, (now, { piece, layer }) => putLayer(now, piece, layer));
  const choked = withEach(designed, chokes, (now, one) => chokePiece(now, one.piece, one.group));
  const heard = withEach(choked, pieces, (now, { piece, ...sound }) =>
    setPieceSound(now, piece, sound),
  );
  return { ...heard, noteMap: map };
}

/** A layout of its own: some tracks joined, and a piece on another track than before. */
function withOwnLayout(song: Song, { joined, moved }: Marks): Song {
  const [first] = layoutOf(song).tracks;
  const together = withEach(song, joined, (now, n) => {
    const { tracks } = layoutOf(now);
    return joinTracks(now, tracks[n % tracks.length].id, tracks[0].id, 'own');
  });
  return together === song
    ? song
    : orSame(together, putOnTrack(together, { piece: moved }, first.id, 'own'));
}

/** Spans over sections and places in turn, locks, links, guides, wishes, and a meter from a second bar on. */
function withMarks(song: Song, marks: Marks): Song {
  const { overlays, guides, locks, isMeant, isLinked, meter, wish } = marks;
  const over = (index: number, of: number) =>
    overlays
      .map((span, n) => ({ ...span, id: `over-${n}` }))
      .filter((_, n) => Math.floor(n / 2) % of === index);
  const [section] = song.sections;
  const metered = meter && section ? setMeterAt(song, section.id, 1, meter) : song;
  const laid: Song = {
    ...metered,
    guides,
    sections: metered.sections.map((one, i) => ({
      ...one,
      spans: [...one.spans, ...over(i, 3).filter((_, n) => n % 2 === 1)],
      ...(wish && i === 0 && { wishes: wish }),
    })),
    places: metered.places.map((one, i) => ({
      ...one,
      overlay: [...one.overlay, ...over(i, 2).filter((_, n) => n % 2 === 0)],
    })),
  };
  const [one, other] = laidPlaces(laid);
  const linked = isLinked && other ? linkPlace(laid, other.place.id, one.section.id, true) : laid;
  const meant = isMeant && one ? setMeant(linked, [one.place.id], true) : linked;
  return withEach(meant, locks, (now, of) => {
    if (of === 'none' || !one) return now;
    const id = { section: one.section.id, place: one.place.id, pattern: now.patterns[0].id }[of];
    return setLock(now, of, id, true);
  });
}

/** Has the strokes of a song carry these, one after another, over and over. */
function withTouches(song: Song, changes: readonly Partial<Hit>[]): Song {
  let n = 0;
  const patterns = song.patterns.map((pattern) =>
    mapStrands(pattern, ({ hits }) =>
      hits.map((hit) => ({ ...hit, ...changes[n++ % changes.length] })),
    ),
  );
  return { ...song, patterns };
}

function withMixes(song: Song, parts: Parts): Song {
  const { layout, strips, sections } = parts;
  const shown = withOwnLayout(orSame(song, chooseLayout(song, layout)), parts);
  const tracks = stripsOf(shown).map(({ track }) => track);
  const mixed = strips.reduce((now, { sends, ...strip }, i) => {
    const track = tracks[i % tracks.length];
    const after = setStrip(now, track, strip);
    if (typeof after === 'string') return now;
    if (!sends) return after;
    return {
      ...after,
      mixes: after.mixes.map((mix) => ({
        ...mix,
        strips: mix.strips.map((one) => (one.track === track ? { ...one, sends } : one)),
      })),
    };
  }, shown);
  const own = (i: number): Section['mix'] => {
    const here = sections.filter((_, n) => n % mixed.sections.length === i);
    const told = here.map((strip, n) => ({ track: tracks[n % tracks.length], ...strip }));
    const heard = told.filter((strip) => Object.keys(strip).some((key) => !/track|ramp/.test(key)));
    return heard.length > 0 ? { strips: heard } : undefined;
  };
  return {
    ...mixed,
    sections: mixed.sections.map((section, i) => {
      const mix = own(i);
      return mix ? { ...section, mix } : section;
    }),
  };
}

function withForm(song: Song, { levels, glide, fill }: Parts): Song {
  const sections = song.sections.map((section, i): Section => {
    if (!glide || i !== 1) return section;
    const half = Math.round(sectionTicks(section) / 2);
    return {
      ...section,
      tempos: [
        { at: 0, bpm: 90, glide: true },
        { at: half, bpm: 140 },
      ],
    };
  });
  const places = song.places.map((place, i): Place => {
    const section = sections.find(({ id }) => id === place.section)!;
    const end = sectionTicks(section);
    const energy = levels.map((level, n) => ({ at: Math.round((n * end) / 4), level }));
    const span = spanAtEnd('c', `fill-${i}`, Math.min(1920, end));
    return {
      ...place,
      ...(fill && i % 2 === 0 && { overlay: [...place.overlay, span], drafted: [span.id] }),
      ...(energy.length > 0 && i % 3 < 2 && { energy }),
    };
  });
  return { ...song, sections, places };
}

/**
 * Songs that hold everything a song can hold, each part often enough to meet the others: mixes of layouts with
 * mute, solo, sends and dynamics, values of sections with ramps, hits with every touch and figure, energy, drafted
 * marks, overlays, tempos that glide, recorded loops and bounces; and what random commands make of all that.
 */
export const anyWholeSong: fc.Arbitrary<Song> = fc
  .tuple(anyWorkedSong, anyParts, fc.array(anyCommand, { maxLength: 6 }))
  .map(([song, parts, commands]) =>
    commands.reduce(
      applyCommand,
      withMarks(
        withMixes(withForm(withTouches(withKit(song, parts.kit), parts.hits), parts), parts),
        parts,
      ),
    ),
  );
