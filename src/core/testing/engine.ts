import { Engine, compileLoop, compileScore, compileDesk, type Score } from '../engine';
import {
  BY_PIECE,
  DEFAULT_KIT,
  emptyPattern,
  emptySong,
  sectionOf,
  type DrumBus,
  type Hit,
  type Kit,
  type Song,
} from '../model';
import { placeHits } from '../pattern';
import type { KitSound } from '../sound';
import type { Hertz, TempoChange, Ticks } from '../time';

export const RATE: Hertz = 48_000;

/** A sound of one sample, so that a stroke can be found to the sample. */
export function spike(note: number, level = 0.5): KitSound {
  const left = new Float32Array(1200);
  left[0] = level;
  return oneLayer(note, left);
}

/** A tone that lasts a second, to hear it being cut off. */
export function tone(note: number): KitSound {
  return oneLayer(note, new Float32Array(RATE).fill(0.3));
}

/** A sound whose alternates can be told apart by the height of their one sample. */
export function numbered(note: number): KitSound {
  const alternates = [0.1, 0.2, 0.3, 0.4].map((level) => spike(note, level).zones[0].alternates[0]);
  return { note, zones: [{ velocities: [1, 127], alternates }] };
}

export function oneLayer(note: number, left: Float32Array, rate = RATE): KitSound {
  const layers = [{ left, rate, curve: 'body' as const }];
  return { note, zones: [{ velocities: [1, 127], alternates: [layers] }] };
}

export const struck = (piece: string, at: Ticks, push = 0, change: Partial<Hit> = {}) => ({
  piece,
  hit: { id: `${piece}${at}`, at, push, velocity: 127, articulation: 'usual', ...change },
});

/** The usual kit without tone and all in the middle: what comes out is what the strokes put in. */
const BARE_KIT: Kit = {
  name: 'bare',
  pieces: DEFAULT_KIT.pieces.map((piece) => ({
    ...piece,
    level: 1,
    pan: 0,
    filters: [],
    room: 0,
  })),
};

/** A song of one section that plays these hits, in the middle and without tone. */
export function bareSong(
  hits: ReturnType<typeof struck>[],
  { tempos = [], bars = 2 }: { tempos?: readonly TempoChange[]; bars?: number } = {},
): Song {
  const pattern = placeHits(emptyPattern({ id: 'p', name: 'p', bars }), hits);
  const song = emptySong('s', 's', 'p');
  return {
    ...song,
    mixes: song.mixes.map((mix) => ({ ...mix, drums: BARE_BUS })),
    kit: BARE_KIT,
    layout: BY_PIECE.id,
    patterns: [pattern],
    sections: [{ ...sectionOf(pattern, { id: 'a', name: 'a', kind: 'verse' }), tempos }],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
}

/** A score with a loop of it, as the page hands it over. */
export function cued(song: Song, loop?: { from: Ticks; to: Ticks }) {
  const score: Score = compileScore(song);
  return { score, ...(loop && { loop: compileLoop(score, loop.from, loop.to) }) };
}

export function engineWith(
  song: Song,
  sounds: readonly KitSound[],
  loop?: { from: Ticks; to: Ticks },
): Engine {
  const engine = new Engine(RATE);
  for (const sound of sounds) engine.load(sound);
  engine.setDesk(compileDesk(song));
  engine.setScore(cued(song, loop));
  return engine;
}

/** A bus that changes nothing that is not over full scale. */
export const BARE_BUS: DrumBus = { ceiling: 0 };

/** Engines whose limiter has looked ahead already. */
const ahead = new WeakSet<Engine>();

/** Both sides of so many seconds, from the first sample that was struck on. */
export function bothSides(engine: Engine, seconds: number) {
  if (!ahead.has(engine)) {
    ahead.add(engine);
    engine.process(new Float32Array(engine.delay), new Float32Array(engine.delay), engine.delay);
  }
  const left = new Float32Array(Math.round(seconds * RATE));
  const right = new Float32Array(left.length);
  engine.process(left, right, left.length);
  return { left, right };
}

export const run = (engine: Engine, seconds: number) => bothSides(engine, seconds).left;

/** The largest sample, whatever its sign. */
export const peak = (samples: Float32Array) =>
  samples.reduce((top, x) => Math.max(top, Math.abs(x)), 0);

/** Where spikes are. */
export function onsets(samples: Float32Array): number[] {
  const found: number[] = [];
  samples.forEach((x, i) => {
    if (Math.abs(x) > 0.01) found.push(i);
  });
  return found;
}

/** The largest step between two samples: what a click is. */
export const jump = (samples: Float32Array) =>
  samples.reduce((top, x, i) => (i === 0 ? 0 : Math.max(top, Math.abs(x - samples[i - 1]))), 0);
