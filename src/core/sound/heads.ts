import type { Hertz, Seconds } from '../time';
import { between } from '../random';
import { forceAt, type Contact, type Strength, type Struck, type T60 } from './struck';

/**
 * The modes of a round head: nodal diameters, nodal circles and pitch, as a multiple of the lowest.
 * Source: zeros of Bessel functions; Fletcher and Rossing, "The Physics of Musical Instruments", chapter 3.
 */
const MODES: readonly (readonly [diameters: number, zero: number])[] = [
  [0, 2.4048],
  [1, 3.8317],
  [2, 5.1356],
  [0, 5.5201],
  [3, 6.3802],
  [1, 7.0156],
  [4, 7.5883],
  [2, 8.4172],
  [0, 8.6537],
  [5, 8.7715],
  [3, 9.761],
  [6, 9.9361],
  [1, 10.1735],
  [4, 11.0647],
  [7, 11.0864],
  [2, 11.6198],
  [0, 11.7915],
  [5, 12.3386],
  [3, 13.0152],
  [1, 13.3237],
];

/** The Bessel function of the first kind, by its series; for arguments up to about 12. */
function bessel(order: number, x: number): number {
  let term = 1;
  for (let k = 1; k <= order; k++) term *= x / 2 / k;
  let sum = term;
  for (let k = 1; k < 40; k++) {
    term *= -((x / 2) ** 2) / (k * (k + order));
    sum += term;
  }
  return sum;
}

export interface Head {
  /** Of its lowest mode. */
  frequency: Hertz;
  /** How long its lowest mode rings. */
  t60: T60;
  /** How much sooner higher modes fall: T60 = T1 / (1 + loss (ratio - 1)^1.3). */
  loss: number;
  /** Modes above this are left out. */
  highest: Hertz;
  /** Where it is struck, from the middle (0) to the rim (1). */
  where: number;
  contact: Contact;
  /** Its pitch falls by this share of itself as the stroke dies away. */
  bend: { by: number; time: Seconds };
  /** How long the lowest mode takes to come up. */
  rise?: Seconds;
  level: number;
}

/** A head that is struck: its modes, those with nodal diameters as pairs that beat against each other. */
export function strikeHead(struck: Struck, head: Head): Struck {
  const { random } = struck.bench;
  // Nobody strikes the same spot twice.
  const where = head.where + between(random, -0.13, 0.13);
  for (const [diameters, zero] of MODES) {
    const ratio = zero / MODES[0][1];
    const frequency = head.frequency * ratio;
    if (frequency > head.highest) continue;
    // What is struck where a mode does not move does not sound it; and its halves cancel in the air.
    const moved = Math.abs(bessel(diameters, zero * where));
    const heard = (head.level * moved) / (1 + 0.6 * diameters);
    const strength: Strength = {
      soft: heard * forceAt(frequency, head.contact.soft),
      hard: heard * forceAt(frequency, head.contact.hard),
    };
    const t60 = head.t60 / (1 + head.loss * (ratio - 1) ** 1.3);
    const rise = ratio === 1 ? head.rise : undefined;
    if (diameters === 0) {
      struck.mode({ frequency, strength, t60, bend: head.bend, rise });
      continue;
    }
    const split = between(random, 0.005, 0.02) / 2;
    const half = { soft: strength.soft / 2, hard: strength.hard / 2 };
    for (const side of [1 - split, 1 + split]) {
      struck.mode({ frequency: frequency * side, strength: half, t60, bend: head.bend });
    }
  }
  return struck;
}

/** What a shell and its heads still say when the stroke is over: noise, lower bands longest. */
export function shellTail(
  struck: Struck,
  level: number,
  ring: number,
  contact: Contact = { soft: 0.00025, hard: 0.00006 },
): Struck {
  for (const { centre, share, t60 } of SHELL) {
    const q = 0.7;
    struck.noise({
      strength: {
        soft: level * share * forceAt(centre, contact.soft),
        hard: level * share * forceAt(centre, contact.hard),
      },
      t60: t60 * ring,
      soft: [{ kind: 'bandpass', frequency: centre, q }],
      rise: 0.004,
    });
  }
  return struck;
}

const SHELL: readonly { centre: Hertz; share: number; t60: T60 }[] = [
  { centre: 320, share: 1, t60: 0.9 },
  { centre: 1000, share: 0.8, t60: 0.65 },
  { centre: 2900, share: 0.5, t60: 0.45 },
  { centre: 6500, share: 0.35, t60: 0.3 },
];
