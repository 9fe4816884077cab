import type { CharacterId } from '../model';
import type { Hertz } from '../time';
import * as metal from './cymbals';
import * as drums from './drums';
import { WOOD, type KickSound, type SnareSound, type Stick } from './drums';
import * as electronic from './electronic';
import * as hands from './hands';
import type { Recipe } from './recipe';

/** How the pieces of a drum kit are computed in one kit; hand percussion is the same in all. */
export interface Character {
  /** @param soft the second kick of General MIDI is a softer one */
  kick(soft: boolean): Recipe;
  snare(rim: number): Recipe;
  tom(frequency: Hertz): Recipe;
  crash(size: number, seed: number, china?: { climb: number; short: number }): Recipe;
  ride(size: number, seed: number, bell?: boolean): Recipe;
  hat(open: number, pedal?: boolean): Recipe;
}

/** What makes one drum kit differ from another, as factors of the usual one. */
interface Built {
  kick: KickSound;
  snare: Omit<SnareSound, 'stick'>;
  toms: number;
  cymbals: { size: number; ring: number; dark: number };
  hats: { tight: number; dark: number; ring: number };
  stick?: Stick;
}

function built({ kick, snare, toms, cymbals, hats, stick = WOOD }: Built): Character {
  const plates = { ...cymbals, stick };
  return {
    kick: (soft) =>
      drums.kick(
        soft ? { ...kick, frequency: kick.frequency * 0.9, click: kick.click * 0.45 } : kick,
      ),
    snare: (rim) => drums.snare({ ...snare, stick }, rim),
    tom: (frequency) => drums.tom({ frequency, ring: toms, stick }),
    crash: (size, seed, china) =>
      metal.crash({ ...plates, size: cymbals.size * size }, { seed, ...china }),
    ride: (size, seed, bell = false) =>
      metal.ride({ ...plates, size: cymbals.size * size }, { seed, bell }),
    hat: (open, pedal = false) => metal.hat({ size: 1, ...hats, stick }, open, { pedal }),
  };
}

const BRUSH: Stick = { head: 3.5, metal: 3, bristles: 14 };
const PALM: Stick = { head: 6, metal: 6, bristles: 1 };

const warm: Built = {
  kick: { frequency: 50, ring: 1, click: 0.8 },
  snare: { frequency: 186, ring: 1, wires: 1 },
  toms: 1,
  cymbals: { size: 1, ring: 1, dark: 0 },
  hats: { tight: 1, dark: 0, ring: 1 },
};

/** A box that is struck by hand, congas for toms, jingles and a shaker for metal. */
const handPercussion: Character = {
  ...built({
    ...warm,
    snare: { frequency: 240, ring: 0.5, wires: 0.3 },
    cymbals: { size: 0.62, ring: 0.5, dark: 0.4 },
    stick: PALM,
  }),
  kick: (soft) => drums.kick({ frequency: soft ? 70 : 80, ring: 0.6, click: soft ? 0.1 : 0.3 }),
  tom: (frequency) => hands.skin(frequency * 1.7, 0.11, 0.6),
  hat: (open, pedal) =>
    pedal ? hands.jingle(5200, 0.03, 4, 0.006) : hands.jingle(6600, 0.02 + 0.16 * open, 4, 0.008),
};

const circuits: Character = {
  kick: (soft) => electronic.kick(soft ? 44 : 52, soft ? 0.3 : 1),
  snare: electronic.snare,
  tom: electronic.tom,
  crash: (size, _, china) =>
    electronic.metal(1.5 * size * (china?.short ?? 1), { bright: 0.6, noise: 0.5, rise: 0.003 }),
  ride: (size, _, bell) =>
    electronic.metal(0.9 * size, {
      pitch: bell ? 1.5 : 1.2,
      bright: bell ? 0.6 : 0.85,
      noise: 0.08,
    }),
  hat: (open, pedal) => electronic.metal(pedal ? 0.06 : 0.07 + 0.62 * open ** 1.4),
};

/** All kits, by what a song calls them. */
export const CHARACTERS: Readonly<Record<CharacterId, Character>> = {
  warm: built(warm),
  tight: built({
    kick: { frequency: 56, ring: 0.6, click: 1 },
    snare: { frequency: 215, ring: 0.55, wires: 1 },
    toms: 0.5,
    cymbals: { size: 0.88, ring: 0.6, dark: 0.4 },
    hats: { tight: 1.35, dark: 0.1, ring: 0.8 },
  }),
  brushes: built({
    kick: { frequency: 48, ring: 1.1, click: 0.35 },
    snare: { frequency: 198, ring: 0.8, wires: 1.25 },
    toms: 0.9,
    cymbals: { size: 1, ring: 0.9, dark: 0.8 },
    hats: { tight: 1, dark: 0.8, ring: 0.9 },
    stick: BRUSH,
  }),
  big: built({
    kick: { frequency: 44, ring: 1.5, click: 0.8 },
    snare: { frequency: 172, ring: 1.35, wires: 1 },
    toms: 1.35,
    cymbals: { size: 1.15, ring: 1.25, dark: 0 },
    hats: { tight: 0.85, dark: 0, ring: 1.1 },
  }),
  electronic: circuits,
  hands: handPercussion,
};
