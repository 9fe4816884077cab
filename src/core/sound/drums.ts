import type { Hertz, Seconds } from '../time';
import { between } from '../random';
import type { FilterSetting } from '../model';
import { shellTail, strikeHead } from './heads';
import { Struck, type Contact } from './struck';
import { always, band, edge, highpass, lowpass, type Recipe } from './recipe';

/** What passes of a stroke's noise where what strikes stays so long: 1 / (1 + (2 f T)^2), see `forceAt`. */
const softened = (contact: Seconds): FilterSetting => lowpass(1 / (2 * contact), 0.5);

/** What a kit is struck with. */
export interface Stick {
  /** How much longer than a wooden stick it stays on a head, and on metal, as factors. */
  head: number;
  metal: number;
  /** How many bristles meet what is struck one after another; 1 is a stick. */
  bristles: number;
}

export const WOOD: Stick = { head: 1, metal: 1, bristles: 1 };
/** Bristles come down over this time. */
const BRUSHED: Seconds = 0.016;

/** The noise of what strikes: a beater, a stick, or each bristle of a brush. */
function contactNoise(
  struck: Struck,
  { bristles }: Stick,
  contact: Contact,
  level: number,
  t60: Seconds,
): Struck {
  const { random } = struck.bench;
  for (let i = 0; i < bristles; i++) {
    struck.noise({
      strength: { soft: level / Math.sqrt(bristles), hard: level / Math.sqrt(bristles) },
      t60,
      soft: [softened(contact.soft)],
      hard: [softened(contact.hard)],
      from: i === 0 ? 0 : between(random, 0, BRUSHED),
    });
  }
  return struck;
}

export interface KickSound {
  frequency: Hertz;
  ring: number;
  /** How hard the beater is: 1 is wood or plastic, 0 is lamb's wool. */
  click: number;
}

export const kick =
  ({ frequency, ring, click }: KickSound): Recipe =>
  (bench) => {
    const struck = new Struck(bench, 0.25 + 0.65 * ring);
    strikeHead(struck, {
      frequency,
      t60: 0.31 * ring,
      loss: 0.4,
      highest: 400,
      where: 0.12,
      contact: { soft: 0.006, hard: 0.0025 },
      bend: { by: 0.6, time: 0.018 },
      rise: 0.0035,
      level: 1,
    });
    struck.mode({
      frequency: 2.35 * frequency,
      strength: { soft: 0.2, hard: 0.45 },
      t60: 0.2 * ring,
      bend: { by: 0.2, time: 0.016 },
      rise: 0.002,
    });
    contactNoise(struck, WOOD, { soft: 0.0022, hard: 0.0003 }, 5.5 * click, 0.018);
    struck.noise({
      strength: edge(0.6 * click),
      t60: 0.02,
      soft: [band(3200, 0.8)],
    });
    return shellTail(struck, 0.075, ring).drive(1.1);
  };

export interface SnareSound {
  frequency: Hertz;
  ring: number;
  wires: number;
  stick: Stick;
}

/** @param rim how much of the rim is struck with it, 0 to 1 */
export const snare =
  ({ frequency, ring, wires, stick }: SnareSound, rim: number): Recipe =>
  (bench) => {
    const { random } = bench;
    const struck = new Struck(bench, 0.35 + 0.4 * ring + 0.25 * rim);
    const contact = { soft: 0.003 * stick.head, hard: 0.0005 * stick.head };
    // Both heads and the air between them are one: the lowest mode is a pair.
    const pair = [
      { frequency, level: 1, t60: 0.26 * ring },
      { frequency: 1.77 * frequency, level: 0.62, t60: 0.22 * ring },
    ];
    for (const { frequency: f, level, t60 } of pair) {
      const strength = { soft: level * 0.8, hard: level };
      struck.mode({ frequency: f, strength, t60, bend: { by: 0.09, time: 0.012 } });
    }
    for (const ratio of [2.7, 3.6, 4.6, 5.9, 7.4, 9.4, 12]) {
      const strayed = ratio * frequency * between(random, 0.99, 1.01);
      const level = ((0.21 + 0.5 * rim) * between(random, 0.6, 1.4)) / (1 + 0.12 * ratio);
      struck.mode({
        frequency: strayed,
        strength: { soft: level * 0.16, hard: level },
        t60: between(random, 0.3, 0.55) * ring * (1 + 1.6 * rim),
        phase: random() * 6.28,
      });
    }
    contactNoise(struck, stick, contact, 3.2 * stick.head ** 0.6, 0.014);
    // The wires lie on the lower head and leave it with each of its swings, as long as they are thrown.
    const sway = 2 * Math.PI * frequency;
    const gate = (at: Seconds) => {
      const depth = 0.35 * Math.exp(-at / 0.06);
      const slopes = Math.exp(-at / 0.03) + 0.3 * Math.exp(-at / (0.085 * ring)) - 0.012;
      return Math.max(0, slopes) * (1 - depth + depth * Math.max(0, Math.sin(sway * at)));
    };
    struck.noise({
      strength: { soft: 1.5 * wires, hard: 1.5 * wires },
      t60: 9,
      soft: [highpass(900), lowpass(3000, 0.6), lowpass(3000, 0.6)],
      hard: [highpass(1000), lowpass(7400, 0.6)],
      rise: 0.0012,
      gate,
    });
    return shellTail(struck, 0.045, ring * 0.8).drive(0.8);
  };

export const sideStick: Recipe = (bench) =>
  new Struck(bench, 0.22)
    .mode({ frequency: 430, strength: always(0.35), t60: 0.15 })
    .mode({ frequency: 1680, strength: always(0.8), t60: 0.1 })
    .mode({ frequency: 2650, strength: edge(0.5), t60: 0.07 })
    .noise({ strength: always(0.5), t60: 0.03, soft: [band(2400, 1.4)] })
    .noise({ strength: edge(0.5), t60: 0.03, soft: [highpass(3200)] });

export interface TomSound {
  frequency: Hertz;
  ring: number;
  stick: Stick;
}

export const tom =
  ({ frequency, ring, stick }: TomSound): Recipe =>
  (bench) => {
    const struck = new Struck(bench, 0.3 + 1.1 * ring * (90 / frequency) ** 0.3);
    const stray = between(bench.random, 0.75, 1.3) * stick.head;
    const contact = { soft: 0.0045 * stray, hard: 0.0007 * stray };
    strikeHead(struck, {
      frequency,
      t60: 1.05 * ring * (90 / frequency) ** 0.4,
      loss: 0.75,
      highest: 1500,
      where: 0.32,
      contact,
      bend: { by: 0.2, time: 0.045 },
      rise: 0.002,
      level: 1,
    });
    contactNoise(struck, stick, contact, 3.4 * stick.head ** 0.6, 0.02);
    return shellTail(struck, 0.17, ring, { soft: 0.0014, hard: 0.00009 }).drive(0.9);
  };

export const clap: Recipe = (bench) => {
  const struck = new Struck(bench, 0.42);
  const { random } = bench;
  // Hands do not meet at once: the last of them is the loudest, and the room answers.
  [0, 0.009, 0.019, 0.028].forEach((t, i) => {
    const from = t + between(random, 0, 0.0025);
    const filters = [band(between(random, 1050, 1400), 1.1)];
    struck.noise({
      strength: always(0.35 + 0.12 * i),
      t60: 0.04,
      soft: filters,
      from,
      rise: 0.0008,
    });
  });
  return struck
    .noise({ strength: always(0.5), t60: 0.45, soft: [band(1350, 0.9)], from: 0.03, rise: 0.001 })
    .noise({ strength: edge(0.4), t60: 0.3, soft: [highpass(2600)], from: 0.029, rise: 0.001 });
};
