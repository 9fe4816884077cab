import type { Hertz } from '../time';
import type { SoundId } from '../model';
import { FIRST_PLUCK, pluckedString } from './pluck';
import { seeded } from '../random';
import * as r from './recipes';
import { bodyOf, oneZone, type KitSound } from './kitSound';

/** How many different strokes each sound has, so that a roll is not one sample repeated. */
export const ALTERNATES = 4;

interface SoundPlan {
  recipe: r.Recipe;
  /** Peak of a stroke at velocity 127, before its lane. */
  level: number;
}

const PLANS: Readonly<Record<SoundId, SoundPlan>> = {
  35: { recipe: r.kick(46, 0.35), level: 0.86 },
  36: { recipe: r.kick(52, 0.8), level: 0.92 },
  37: { recipe: r.sideStick, level: 0.5 },
  38: { recipe: r.snare(0.25), level: 0.8 },
  39: { recipe: r.clap, level: 0.5 },
  40: { recipe: r.snare(1), level: 0.84 },
  41: { recipe: r.tom(72), level: 0.8 },
  42: { recipe: r.hat(0.035), level: 0.42 },
  43: { recipe: r.tom(86), level: 0.8 },
  44: { recipe: r.hat(0.03, 0.75), level: 0.34 },
  45: { recipe: r.tom(106), level: 0.76 },
  46: { recipe: r.hat(0.24), level: 0.44 },
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
  62: { recipe: r.skin(246, 0.03, 1), level: 0.5 },
  63: { recipe: r.skin(228, 0.13, 0.6), level: 0.52 },
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
  78: { recipe: r.skin(520, 0.06, 0.3), level: 0.36 },
  79: { recipe: r.skin(410, 0.18, 0.2), level: 0.36 },
  80: { recipe: r.bell([4180, 6720, 9100], 0.05), level: 0.24 },
  81: { recipe: r.bell([4180, 6720, 9100], 0.6), level: 0.24 },
  128: { recipe: r.hat(0.11), level: 0.43 },
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
    return oneZone(note, [[bodyOf(pluckedString(note, sampleRate), sampleRate)]]);
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
  return oneZone(
    note,
    alternates.map(({ body, edge }) => [
      bodyOf(body, sampleRate),
      { left: edge, rate: sampleRate, curve: 'edge' },
    ]),
  );
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
