import {
  emptyPattern,
  freeSounds,
  nextDye,
  type Articulation,
  type Family,
  type Hit,
  type Kit,
  type KitPiece,
  type Pattern,
  type PieceId,
  type SampleHash,
  type Song,
} from '../model';
import { placeHits } from '../pattern';
import { gainOf } from '../sound';
import { barTicks, COMMON_TIME, PPQ, type Hertz, type Samples, type Velocity } from '../time';
import { withPieces } from '../tracks';
import { kindsOfSlices, type SliceKind } from './kinds';
import { stretchLayer } from './stretchLayer';

/** The rate of everything that is kept and played. */
const RATE: Hertz = 48_000;

/** One stroke of a loop: what of the file it is, and what it seems to be. */
export interface Slice {
  from: Samples;
  to: Samples;
  kind: SliceKind;
  velocity: Velocity;
}

/** A loop as it is taken into a song. */
export interface SlicedLoop {
  /** The id of the new pattern, and the beginning of those of new pieces. */
  id: string;
  name: string;
  hash: SampleHash;
  bars: number;
  bpm: number;
  slices: readonly Slice[];
  /** Played by the song's own kit: the file is not heard. */
  transcribed: boolean;
}

export const MOST_SLICES = 128;

/** What a kind is called, struck as, and written as in MIDI; and the piece of a usual kit that plays it. */
const KINDS: Readonly<
  Record<
    SliceKind,
    { name: string; family: Family; note: number; piece: string; head: Articulation['head'] }
  >
> = {
  kick: { name: 'Kick', family: 'kick', note: 36, piece: 'kick', head: 'dot' },
  snare: { name: 'Snare', family: 'snare', note: 38, piece: 'snare', head: 'dot' },
  hat: { name: 'Hat', family: 'hats', note: 42, piece: 'hihat', head: 'cross' },
  other: { name: 'Other', family: 'percussion', note: 39, piece: 'clap', head: 'triangle' },
};

/** Where a sample of a loop lies, in whole ticks at its own tempo, and which sample a tick is. */
const tickAt = (at: Samples, bpm: number) => Math.round((at / RATE / 60) * bpm * PPQ);
const sampleAt = (tick: number, bpm: number) => Math.round(((tick * 60) / bpm / PPQ) * RATE);

/** How hard a stroke is struck whose loudest moment is this share of the loudest of all. */
function velocityOf(share: number): Velocity {
  const louder = (v: number) => gainOf({ left: NONE, rate: RATE, curve: 'body' }, v);
  let velocity = SOFTEST;
  while (velocity < 127 && louder(velocity) < share) velocity++;
  return velocity;
}

const NONE = new Float32Array(0);
/** Softer slices could not be raised to what they were. */
const SOFTEST = 12;

/** A first stroke so soon after the start begins at the start. */
const AT_ONCE: Samples = RATE / 50;

/** Cuts a loop at marks, and says of each slice what it seems to be and how hard it is struck. */
export function slicesAt(samples: Float32Array, marks: readonly Samples[], bpm: number): Slice[] {
  // Marks lie where ticks do, so that what is cut there is played there.
  const onTicks = marks.map((mark) => sampleAt(tickAt(mark, bpm), bpm));
  const starts = [...new Set(onTicks)].filter((at) => at >= 0 && at < samples.length);
  starts.sort((a, b) => a - b);
  // What begins a moment after the file does begins with it.
  if (starts[0] < AT_ONCE) starts[0] = 0;
  // What comes before the first stroke belongs to the loop, unless it is silence.
  if (starts[0] !== 0 && peakOf(samples.subarray(0, starts[0] ?? samples.length)) > 0.001) {
    starts.unshift(0);
  }
  const kept = starts.slice(0, MOST_SLICES);
  const parts = kept.map((from, n) => samples.subarray(from, kept[n + 1] ?? samples.length));
  const peaks = parts.map(peakOf);
  const loudest = Math.max(1e-9, ...peaks);
  const kinds = kindsOfSlices(samples, kept, RATE);
  return kept.map((from, n) => ({
    from,
    to: kept[n + 1] ?? samples.length,
    kind: kinds[n],
    velocity: velocityOf(peaks[n] / loudest),
  }));
}

function peakOf(samples: Float32Array): number {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  return peak;
}

/** Puts a sliced loop into a song: a piece for each kind of slice, and a pattern that plays them as they stood. */
export function takeLoop(song: Song, loop: SlicedLoop): Song | string {
  const { id, name, bars, slices, transcribed } = loop;
  if (slices.length === 0)
    return 'There is no stroke in this loop: lower the threshold, or set a mark.';
  if (slices.some(({ from, to }) => to <= from)) return 'A slice ends before it begins.';
  if (song.patterns.some((pattern) => pattern.id === id)) return song;
  const ways = slices.map(({ kind }, n) => ({ kind, way: `slice-${n + 1}` }));
  const pattern = patternOf(song, loop, (n) =>
    transcribed
      ? { piece: usualPiece(ways[n].kind, song.kit) }
      : { piece: `${id}-${ways[n].kind}`, way: ways[n].way },
  );
  if (transcribed) return { ...song, patterns: [...song.patterns, pattern(song)] };
  const first = freeSounds(song.kit, slices.length);
  if (first === undefined) return 'The kit has no room for so many more sounds.';
  const kinds = [...new Set(slices.map(({ kind }) => kind))];
  const pieces = kinds.map((kind) => pieceOf(kind, loop, first, name));
  if (song.kit.pieces.some((piece) => pieces.some((one) => one.id === piece.id))) return song;
  const after = withPieces(song, pieces);
  if (bars <= 0) return 'A loop has a bar at least.';
  return { ...after, patterns: [...after.patterns, pattern(after)] };
}

function patternOf(
  song: Song,
  { id, name, bars, bpm, slices }: SlicedLoop,
  strikes: (n: number) => { piece: string; way?: string },
): (song: Song) => Pattern {
  const empty = emptyPattern({ id, name, bars, dye: nextDye(song) });
  const end = barTicks(COMMON_TIME) * bars;
  const hits = slices.flatMap(({ from, velocity }, n) => {
    const at = tickAt(from, bpm);
    const { piece, way = '' } = strikes(n);
    const step = Math.round(at / SIXTEENTH) * SIXTEENTH;
    // What would lie past the end lies at it, as a late stroke of its last step.
    const home = Math.min(step, end - SIXTEENTH);
    const hit: Hit = {
      id: `${id}-${n + 1}`,
      at: home,
      push: at - home,
      velocity,
      articulation: way,
    };
    return at < end ? [{ piece, hit }] : [];
  });
  return ({ kit }) =>
    placeHits(
      { ...empty, strands: [] },
      hits.map(({ piece, hit }) => ({ piece, hit: struck(piece, hit, kit) })),
      kit,
    );
}

const SIXTEENTH = PPQ / 4;

/** The piece of a kit that plays a kind of slice: the usual one, one of its family, or the first there is. */
function usualPiece(kind: SliceKind, { pieces }: Kit): PieceId {
  const { piece, family } = KINDS[kind];
  const found =
    pieces.find(({ id }) => id === piece) ?? pieces.find((one) => one.family === family);
  return (found ?? pieces[0]).id;
}

/** A hit that is struck in the usual way of its piece, where no way was said. */
function struck(piece: string, hit: Hit, { pieces }: Song['kit']): Hit {
  if (hit.articulation !== '') return hit;
  const usual = pieces.find(({ id }) => id === piece)?.articulations[0].id ?? 'struck';
  return { ...hit, articulation: usual };
}

function pieceOf(kind: SliceKind, loop: SlicedLoop, first: number, name: string): KitPiece {
  const { family, note, head, name: called } = KINDS[kind];
  const own = loop.slices.flatMap((slice, n) => (slice.kind === kind ? [{ ...slice, n }] : []));
  return {
    id: `${loop.id}-${kind}`,
    name: `${called}, ${name}`,
    family,
    articulations: own.map(({ n }) => ({
      id: `slice-${n + 1}`,
      name: `slice ${n + 1}`,
      note,
      head,
      sound: first + n,
    })),
    level: 1,
    pan: 0,
    filters: [],
    room: 0,
    design: {
      bare: true,
      layers: own.map(({ n, ...slice }) =>
        stretchLayer(`slice-${n + 1}`, { hash: loop.hash, name }, slice, `slice ${n + 1}`),
      ),
    },
  };
}
