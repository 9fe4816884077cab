import type { Hertz } from '../time/units';
import { pieceOf, type PieceId, type SoundId } from '../model/pieces';
import type { FilterSetting } from './biquad';
import { FIRST_PLUCK, pluckedString } from './pluck';
import { seeded } from './random';
import * as r from './recipes';
import { highpass } from './stroke';

/** How many different strokes each sound has, so that a roll is not one sample repeated. */
export const ALTERNATES = 4;

/** One way of striking one piece, computed: what the engine plays for a note of the kit. */
export interface KitSound {
  note: SoundId;
  /** Sounds of one group cut each other off; 0 is no group. */
  choke: number;
  alternates: { body: Float32Array; edge: Float32Array }[];
}

interface SoundPlan {
  recipe: r.Recipe;
  /** Peak of a stroke at velocity 127, before its strip. */
  level: number;
  choke?: number;
}

const HATS = 1;
const TRIANGLE = 2;
const CUICA = 3;
const CONGA = 4;

const PLANS: Readonly<Record<SoundId, SoundPlan>> = {
  35: { recipe: r.kick(46, 0.35), level: 0.86 },
  36: { recipe: r.kick(52, 0.8), level: 0.92 },
  37: { recipe: r.sideStick, level: 0.5 },
  38: { recipe: r.snare(0.25), level: 0.8 },
  39: { recipe: r.clap, level: 0.5 },
  40: { recipe: r.snare(1), level: 0.84 },
  41: { recipe: r.tom(72), level: 0.8 },
  42: { recipe: r.hat(0.035), level: 0.42, choke: HATS },
  43: { recipe: r.tom(86), level: 0.8 },
  44: { recipe: r.hat(0.03, 0.75), level: 0.34, choke: HATS },
  45: { recipe: r.tom(106), level: 0.76 },
  46: { recipe: r.hat(0.24), level: 0.44, choke: HATS },
  47: { recipe: r.tom(124), level: 0.74 },
  48: { recipe: r.tom(148), level: 0.72 },
  49: { recipe: r.crash(1), level: 0.5 },
  50: { recipe: r.tom(172), level: 0.72 },
  51: { recipe: r.ride(1), level: 0.46 },
  52: { recipe: r.crash(0.7, 1.4), level: 0.46 },
  53: { recipe: r.rideBell, level: 0.4 },
  54: { recipe: r.jingle(7600, 0.05, 5), level: 0.3 },
  55: { recipe: r.crash(0.42), level: 0.42 },
  56: { recipe: r.bell([562, 845, 1370], 0.06), level: 0.4 },
  57: { recipe: r.crash(1.12), level: 0.5 },
  58: { recipe: r.rattle(2600, 0.7, 28), level: 0.35 },
  59: { recipe: r.ride(0.88), level: 0.46 },
  60: { recipe: r.skin(392, 0.05, 0.7), level: 0.5 },
  61: { recipe: r.skin(288, 0.07, 0.6), level: 0.52 },
  62: { recipe: r.skin(246, 0.03, 1), level: 0.5, choke: CONGA },
  63: { recipe: r.skin(228, 0.13, 0.6), level: 0.52, choke: CONGA },
  64: { recipe: r.skin(172, 0.15, 0.5), level: 0.55 },
  65: { recipe: r.skin(480, 0.12, 0.9), level: 0.5 },
  66: { recipe: r.skin(340, 0.14, 0.9), level: 0.5 },
  67: { recipe: r.bell([1010, 1530, 2480], 0.11), level: 0.34 },
  68: { recipe: r.bell([742, 1120, 1830], 0.12), level: 0.34 },
  69: { recipe: r.jingle(5600, 0.035, 4), level: 0.3 },
  70: { recipe: r.jingle(6400, 0.02, 3), level: 0.28 },
  71: { recipe: r.whistle(0.14), level: 0.24 },
  72: { recipe: r.whistle(0.5), level: 0.24 },
  73: { recipe: r.rattle(3100, 0.08, 90), level: 0.34 },
  74: { recipe: r.rattle(2900, 0.32, 70), level: 0.34 },
  75: { recipe: r.wood(2480), level: 0.4 },
  76: { recipe: r.wood(1120), level: 0.42 },
  77: { recipe: r.wood(830), level: 0.44 },
  78: { recipe: r.skin(520, 0.06, 0.3), level: 0.36, choke: CUICA },
  79: { recipe: r.skin(410, 0.18, 0.2), level: 0.36, choke: CUICA },
  80: { recipe: r.bell([4180, 6720, 9100], 0.05), level: 0.24, choke: TRIANGLE },
  81: { recipe: r.bell([4180, 6720, 9100], 0.6), level: 0.24, choke: TRIANGLE },
  128: { recipe: r.hat(0.11), level: 0.43, choke: HATS },
};

/** Notes outside General MIDI sound as a wood block that follows the note number. */
function planOf(note: SoundId): SoundPlan {
  return PLANS[note] ?? { recipe: r.wood(220 * 2 ** ((note % 48) / 16)), level: 0.4 };
}

/**
 * Computes the strokes of one note of the kit. The same note, sample rate and seed always give
 * the same samples.
 * @param sampleRate 8000 to 192000
 */
export function synthesise(note: SoundId, sampleRate: Hertz, seed = 1): KitSound {
  if (note >= FIRST_PLUCK) {
    const body = pluckedString(note, sampleRate);
    return { note, choke: 0, alternates: [{ body, edge: new Float32Array(0) }] };
  }
  const plan = planOf(note);
  const alternates = Array.from({ length: ALTERNATES }, (_, i) => {
    const random = seeded(seed * 7919 + note * 101 + i);
    const layers = plan.recipe({ sampleRate, random });
    return { body: layers.body.done(), edge: layers.edge.done() };
  });
  // One factor for all alternates and both layers: their differences in level are part of the sound.
  const loudest = Math.max(...alternates.map(peakTogether));
  for (const { body, edge } of alternates) {
    scale(body, plan.level / loudest);
    scale(edge, plan.level / loudest);
  }
  return { note, choke: plan.choke ?? 0, alternates };
}

function peakTogether({ body, edge }: { body: Float32Array; edge: Float32Array }): number {
  let peak = 1e-9;
  for (let i = 0; i < body.length; i++) {
    peak = Math.max(peak, Math.abs(body[i] + (i < edge.length ? edge[i] : 0)));
  }
  return peak;
}

function scale(buffer: Float32Array, by: number): void {
  for (let i = 0; i < buffer.length; i++) buffer[i] *= by;
}

/** Level, place in the stereo picture and tone of one strip of the mix. */
export interface StripSetting {
  /** Factor, 1 leaves the level as it is. */
  level: number;
  /** -1 is left, 1 is right, as the audience sees the kit. */
  pan: number;
  filters: FilterSetting[];
}

const PANS: Readonly<Record<PieceId, number>> = {
  crash: -0.4,
  'crash-2': 0.45,
  splash: -0.2,
  china: 0.55,
  ride: 0.35,
  'ride-2': 0.45,
  hihat: -0.35,
  'tom-high': -0.25,
  'tom-hi-mid': -0.12,
  'tom-low-mid': 0.08,
  'tom-low': 0.2,
  'tom-high-floor': 0.32,
  'tom-low-floor': 0.42,
  tambourine: 0.3,
  cowbell: -0.15,
  clap: 0.1,
};

/** The strip a piece is heard through as long as nobody has mixed it. */
export function usualStrip(piece: PieceId): StripSetting {
  const { family } = pieceOf(piece);
  const filters: Record<string, FilterSetting[]> = {
    kick: [highpass(28), { kind: 'peak', frequency: 340, q: 1, gain: -3 }],
    snare: [highpass(90), { kind: 'peak', frequency: 210, q: 1.2, gain: 1.5 }],
    toms: [highpass(50), { kind: 'peak', frequency: 420, q: 1, gain: -2.5 }],
    hats: [highpass(320), { kind: 'highshelf', frequency: 9000, q: 0.7, gain: -1 }],
    cymbals: [highpass(260), { kind: 'highshelf', frequency: 8500, q: 0.7, gain: -1.5 }],
  };
  return { level: 1, pan: PANS[piece] ?? 0, filters: filters[family] ?? [highpass(120)] };
}
