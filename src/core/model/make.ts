import { barTicks, COMMON_TIME, type Meter } from '../time/meter';
import { DEFAULT_STEP } from '../time/steps';
import type { PieceId } from './pieces';
import {
  DYE_COUNT,
  SONG_FORMAT,
  type Pattern,
  type PatternKind,
  type Section,
  type Song,
} from './song';

/** The rows a new pattern opens with: a four-piece kit with two cymbals. */
export const USUAL_PIECES: readonly PieceId[] = [
  'crash',
  'ride',
  'hihat',
  'snare',
  'tom-high',
  'tom-low-mid',
  'tom-high-floor',
  'kick',
];

export interface NewPattern {
  id: string;
  name: string;
  kind?: PatternKind;
  meter?: Meter;
  bars?: number;
  dye?: number;
}

/** A pattern without hits, with the rows of a usual kit. */
export function emptyPattern(options: NewPattern): Pattern {
  const meter = options.meter ?? COMMON_TIME;
  return {
    id: options.id,
    name: options.name,
    kind: options.kind ?? 'groove',
    meter,
    length: barTicks(meter) * (options.bars ?? 1),
    step: DEFAULT_STEP,
    strands: USUAL_PIECES.map((piece) => ({ piece, hits: [] })),
    dye: (options.dye ?? 0) % DYE_COUNT,
  };
}

/** A section of whole bars that plays one pattern from its start to its end. */
export function sectionOf(
  pattern: Pattern,
  options: Pick<Section, 'id' | 'name' | 'kind'> & { bars?: number },
): Section {
  const bars = options.bars ?? Math.max(1, Math.ceil(pattern.length / barTicks(pattern.meter)));
  return {
    id: options.id,
    name: options.name,
    kind: options.kind,
    meter: pattern.meter,
    bars,
    spans: [
      {
        pieces: 'all',
        from: 0,
        to: bars * barTicks(pattern.meter),
        pattern: pattern.id,
        offset: 0,
        mode: 'replace',
      },
    ],
  };
}

/** A song with one empty pattern to write in and nothing laid out yet. */
export function emptySong(id: string, name: string, firstPatternId: string): Song {
  return {
    format: SONG_FORMAT,
    id,
    name,
    tempo: [{ at: 0, bpm: 120 }],
    places: [],
    sections: [],
    patterns: [emptyPattern({ id: firstPatternId, name: 'First beat' })],
  };
}

/** The dye fewest patterns of the song wear, so that neighbours on the cloth stay apart. */
export function nextDye(song: Song): number {
  const worn = new Array<number>(DYE_COUNT).fill(0);
  for (const pattern of song.patterns) worn[pattern.dye]++;
  return worn.indexOf(Math.min(...worn));
}

/** The guides as they are heard from a tick of the song on. */
function guidesFrom(song: Song, tick: number): Song['guides'] {
  return song.guides?.map((guide) => ({
    ...guide,
    at: 0,
    notes: guide.notes
      .map((note) => ({ ...note, at: guide.at + note.at - tick }))
      .filter(({ at }) => at >= 0),
  }));
}

/**
 * The whole song as it would be if it were nothing but one pattern, at the song's first tempo.
 * @param passes how often it is played
 * @param at where in the song it is heard: the guides are those from there on; absent is without guides
 */
export function songOfPattern(song: Song, pattern: Pattern, passes = 1, at?: number): Song {
  const length = pattern.length * passes;
  const bars = Math.max(1, Math.ceil(length / barTicks(pattern.meter)));
  const section: Section = {
    ...sectionOf(pattern, { id: 'whole', name: pattern.name, kind: 'part', bars }),
  };
  section.spans = [{ ...section.spans[0], to: length }];
  return {
    ...song,
    name: pattern.name,
    tempo: [{ at: 0, bpm: song.tempo[0].bpm }],
    sections: [section],
    places: [{ id: 'whole', section: 'whole', overlay: [] }],
    patterns: [pattern],
    guides: at === undefined ? undefined : guidesFrom(song, at),
    offcuts: undefined,
    origin: pattern.origin ?? song.origin,
  };
}
