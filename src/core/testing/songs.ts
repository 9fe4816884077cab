import fc from 'fast-check';
import { applyCommand } from '../commands';
import {
  spanAtEnd,
  USUAL_BUSES,
  type Hit,
  type Place,
  type Section,
  type SectionStrip,
  type Song,
  type StripSetting,
} from '../model';
import { mapStrands } from '../pattern';
import { chooseLayout, READY_LAYOUTS, setStrip, stripsOf } from '../tracks';
import { sectionTicks } from '../weave';
import { anyCommand, anyWorkedSong } from './commands';

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

interface Parts {
  layout: string;
  strips: Partial<StripSetting>[];
  sections: Omit<SectionStrip, 'track'>[];
  hits: Partial<Hit>[];
  levels: number[];
  glide: boolean;
  fill: boolean;
}

const anyParts: fc.Arbitrary<Parts> = fc.record({
  layout: fc.constantFrom(...READY_LAYOUTS),
  strips: fc.array(anyStrip, { maxLength: 4 }),
  sections: fc.array(anySectionStrip, { maxLength: 3 }),
  hits: fc.array(anyHitChange, { minLength: 1, maxLength: 7 }),
  levels: fc.array(fc.constantFrom(0, 0.3, 0.7, 1), { maxLength: 4 }),
  glide: fc.boolean(),
  fill: fc.boolean(),
});

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

function withMixes(song: Song, { layout, strips, sections }: Parts): Song {
  const shown = chooseLayout(song, layout);
  if (typeof shown === 'string') return song;
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
    commands.reduce(applyCommand, withMixes(withForm(withTouches(song, parts.hits), parts), parts)),
  );
