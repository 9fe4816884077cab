import type { Hertz } from '../time';
import { CHARACTER_IDS, type CharacterId, type SoundId } from '../model';
import { isPluck, pluckedString } from './pluck';
import { seeded } from '../random';
import { CHARACTERS, type Character } from './character';
import * as drums from './drums';
import * as hands from './hands';
import type { Recipe } from './recipe';
import { bodyOf, oneZone, type KitSound, type Layer } from './kitSound';

/** How many different strokes each sound has, so that a roll is not one sample repeated. */
export const ALTERNATES = 4;

interface SoundPlan {
  recipe: Recipe;
  /** Peak of a stroke at velocity 127, before its lane. */
  level: number;
}

/** The sounds of a kit by their note of General MIDI, and a few that it has no note for. */
function plansOf({ kick, snare, tom, crash, ride, hat }: Character): Record<SoundId, SoundPlan> {
  return {
    35: { recipe: kick(true), level: 0.86 },
    36: { recipe: kick(false), level: 0.98 },
    37: { recipe: drums.sideStick, level: 0.5 },
    38: { recipe: snare(0.15), level: 0.82 },
    39: { recipe: drums.clap, level: 0.5 },
    40: { recipe: snare(1), level: 0.8 },
    41: { recipe: tom(72), level: 0.66 },
    42: { recipe: hat(0), level: 0.98 },
    43: { recipe: tom(86), level: 0.66 },
    44: { recipe: hat(0, true), level: 0.6 },
    45: { recipe: tom(106), level: 0.66 },
    46: { recipe: hat(0.85), level: 0.8 },
    47: { recipe: tom(124), level: 0.64 },
    48: { recipe: tom(148), level: 0.62 },
    49: { recipe: crash(1, 49), level: 0.58 },
    50: { recipe: tom(172), level: 0.62 },
    51: { recipe: ride(1, 51), level: 0.88 },
    52: { recipe: crash(0.9, 52, { climb: 0.25, short: 0.5 }), level: 0.46 },
    53: { recipe: ride(1, 51, true), level: 0.68 },
    54: { recipe: hands.jingle(7600, 0.05, 5), level: 0.3 },
    55: { recipe: crash(0.5, 55, { climb: 0.5, short: 0.45 }), level: 0.42 },
    56: { recipe: hands.bell([562, 845, 1370], 0.06), level: 0.4 },
    57: { recipe: crash(1.15, 57), level: 0.58 },
    58: { recipe: hands.rattle(2600, 0.7, 28), level: 0.35 },
    59: { recipe: ride(0.88, 59), level: 0.8 },
    60: { recipe: hands.skin(392, 0.05, 0.7), level: 0.5 },
    61: { recipe: hands.skin(288, 0.07, 0.6), level: 0.52 },
    62: { recipe: hands.skin(246, 0.03, 1), level: 0.5 },
    63: { recipe: hands.skin(228, 0.13, 0.6), level: 0.52 },
    64: { recipe: hands.skin(172, 0.15, 0.5), level: 0.55 },
    65: { recipe: hands.skin(480, 0.12, 0.9), level: 0.5 },
    66: { recipe: hands.skin(340, 0.14, 0.9), level: 0.5 },
    67: { recipe: hands.bell([1010, 1530, 2480], 0.11), level: 0.34 },
    68: { recipe: hands.bell([742, 1120, 1830], 0.12), level: 0.34 },
    69: { recipe: hands.jingle(5600, 0.035, 4, 0.006), level: 0.3 },
    70: { recipe: hands.jingle(6400, 0.02, 3, 0.009), level: 0.28 },
    71: { recipe: hands.whistle(0.14), level: 0.24 },
    72: { recipe: hands.whistle(0.5), level: 0.24 },
    73: { recipe: hands.rattle(3100, 0.08, 90), level: 0.34 },
    74: { recipe: hands.rattle(2900, 0.32, 70), level: 0.34 },
    75: { recipe: hands.wood(2480), level: 0.4 },
    76: { recipe: hands.wood(1120), level: 0.42 },
    77: { recipe: hands.wood(830), level: 0.44 },
    78: { recipe: hands.skin(520, 0.06, 0.3), level: 0.36 },
    79: { recipe: hands.skin(410, 0.18, 0.2), level: 0.36 },
    80: { recipe: hands.bell([4180, 6720, 9100], 0.05), level: 0.24 },
    81: { recipe: hands.bell([4180, 6720, 9100], 0.6), level: 0.24 },
    128: { recipe: hat(0.45), level: 0.88 },
  };
}

const PLANS = Object.fromEntries(
  CHARACTER_IDS.map((id) => [id, plansOf(CHARACTERS[id])]),
) as Record<CharacterId, Record<SoundId, SoundPlan>>;

/** Notes outside General MIDI sound as a wood block that follows the note number. */
function planOf(note: SoundId, character: CharacterId): SoundPlan {
  return (
    PLANS[character][note] ?? { recipe: hands.wood(220 * 2 ** ((note % 48) / 16)), level: 0.4 }
  );
}

/**
 * Computes the strokes of one note of a kit. The same note, sample rate, kit and seed always give
 * the same samples.
 * @param sampleRate 8000 to 192000
 */
export function synthesise(
  note: SoundId,
  sampleRate: Hertz,
  character: CharacterId = 'warm',
  seed = 1,
): KitSound {
  if (isPluck(note)) {
    return oneZone(note, [[bodyOf(pluckedString(note, sampleRate), sampleRate)]]);
  }
  const plan = planOf(note, character);
  const alternates = Array.from({ length: ALTERNATES }, (_, i) => {
    const random = seeded(seed * 7919 + note * 101 + i);
    return plan.recipe({ sampleRate, random }).done();
  });
  // One factor for all alternates and both layers: their differences in level are part of the sound.
  const loudest = Math.max(...alternates.map(peakTogether));
  for (const { body, edge } of alternates) {
    scale(body, plan.level / loudest);
    scale(edge, plan.level / loudest);
  }
  const layers = alternates.map(({ body, edge }): Layer[] => [
    bodyOf(body, sampleRate),
    { left: edge, rate: sampleRate, curve: 'edge' },
  ]);
  return { ...oneZone(note, layers), varied: true };
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
