import { seeded } from '../random';
import { Latest } from '../memo';
import type { Hertz } from '../time';
import type { Stick } from './drums';
import { noiseField, plateField, type Field, type Plate } from './fields';
import { band, edge, type Recipe } from './recipe';
import { Struck, type BandShape, type Contact } from './struck';

interface FieldKey extends Plate {
  rate: Hertz;
  seed: number;
}

/** Fields are large: those of two plates are kept, since the ways of striking one follow each other. */
const plates = new Latest<FieldKey, Field>(2, 1);
const noises = new Latest<Hertz, Field>(1, 1);

function fieldOf(plate: Plate, rate: Hertz, seed: number): Field {
  const key = { ...plate, rate, seed };
  const isSame = (known: FieldKey) =>
    known.density === key.density &&
    known.low === key.low &&
    known.high === key.high &&
    known.rate === rate &&
    known.seed === seed;
  return plates.of('', isSame, key, () => plateField(plate, rate, seeded(seed)));
}

const noiseOf = (rate: Hertz): Field =>
  noises.of(
    '',
    (known) => known === rate,
    rate,
    () => noiseField(rate, seeded(1201)),
  );

const TIP: Contact = { soft: 0.0002, hard: 0.00004 };

/** How long a stick stays on metal when others stay longer. */
const on = ({ soft, hard }: Contact, { metal }: Stick): Contact => ({
  soft: soft * metal,
  hard: hard * metal,
});

/** Straight in the logarithm of the frequency, from one point to another and no further. */
function sloped(f: Hertz, [f1, a]: readonly [Hertz, number], [f2, b]: readonly [Hertz, number]) {
  const share = Math.max(0, Math.min(1, Math.log(f / f1) / Math.log(f2 / f1)));
  return a * (b / a) ** share;
}

export interface CymbalSound {
  size: number;
  ring: number;
  /** 0 is bright; 1 has hardly any top. */
  dark: number;
  stick: Stick;
}

const shade = (f: Hertz, dark: number) => 1 / (1 + (dark * f) / 4200);

/**
 * A crash: its low modes are there at once and fall, and the stroke's energy climbs from mode to mode
 * into the shimmer, which is loudest after the stroke is over. Source: Touzé, Chaigne and Ducceschi on
 * the wave turbulence of thin plates.
 * @param china how much faster it climbs, as the bent edge of a china makes it
 */
export const crash =
  ({ size, ring, dark, stick }: CymbalSound, { seed = 49, climb = 1, short = 1 } = {}): Recipe =>
  (bench) => {
    const long = ring * size ** 0.5 * short;
    const struck = new Struck(bench, Math.min(5, 4.6 * long));
    const field = fieldOf(
      { density: 70 * size, low: 240 / size, high: 19_000 },
      bench.sampleRate,
      seed,
    );
    const slowness = size ** 1.6 * climb;
    const shape =
      (noise: boolean) =>
      (f: Hertz): BandShape => {
        const slow = (f < 1600 ? 6.5 : sloped(f, [4000, 5.2], [12_000, 2.7])) * long;
        const level =
          sloped(f, [300, 1], [1200, 0.6]) * sloped(f, [3000, 1], [14_000, 0.62]) * shade(f, dark);
        const high = f > 1600;
        return {
          level: noise ? level * (f < 1600 ? 0.3 : 1.3) : level,
          slow: noise ? slow * 0.66 : slow,
          rise: high
            ? {
                hard: sloped(f, [2000, 0.022], [12_000, 0.05]) * slowness,
                soft: sloped(f, [2000, 0.03], [12_000, 0.08]) * slowness,
              }
            : { soft: 0.004, hard: 0.002 },
          fast: high ? undefined : { share: 1.7, t60: 0.2 },
        };
      };
    const contact = on({ soft: 0.00022, hard: 0.00004 }, stick);
    return struck
      .field(field, contact, shape(false))
      .field(noiseOf(bench.sampleRate), contact, shape(true))
      .noise({ strength: edge(0.7), t60: 0.03, soft: [band(900, 0.6)] });
  };

export const ride =
  ({ size, ring, dark, stick }: CymbalSound, { seed = 51, bell = false } = {}): Recipe =>
  (bench) => {
    const struck = new Struck(bench, 3.4 * ring);
    const field = fieldOf(
      { density: 66 * size, low: 280 / size, high: 17_000 },
      bench.sampleRate,
      seed,
    );
    // The tip sounds a cluster near 3 kHz, the ping, over the wash.
    const cluster = (f: Hertz) => 1 + 1.6 * Math.exp(-((Math.log2(f / 3000) / 0.7) ** 2));
    const shape = (f: Hertz): BandShape => ({
      level:
        (bell
          ? sloped(f, [300, 0.3], [1300, 1]) * sloped(f, [4000, 1], [14_000, 0.25])
          : sloped(f, [300, 0.35], [1500, 0.6]) *
            cluster(f) *
            sloped(f, [4000, 1], [14_000, 0.3])) * shade(f, dark),
      slow: bell
        ? sloped(f, [600, 5], [9000, 2.2]) * ring
        : sloped(f, [800, 3.4], [12_000, 1]) * ring,
      fast: { share: bell ? 0.8 : 0.9, t60: 0.16 },
    });
    struck.field(field, on(TIP, stick), shape);
    for (const [frequency, level] of bell ? BELL_STICK : RIDE_STICK) {
      struck.noise({
        strength: { soft: (level * 0.08) / stick.metal, hard: level / stick.metal },
        t60: 0.03,
        soft: [band(frequency, 0.9)],
      });
    }
    if (bell) {
      for (const [ratio, level] of [
        [1, 1],
        [1.52, 0.7],
        [2.24, 0.8],
        [3.1, 0.5],
        [4.2, 0.4],
      ]) {
        struck.mode({
          frequency: (860 / size) * ratio,
          strength: { soft: level * 1.2, hard: level * 2 },
          t60: (4.2 * ring) / ratio ** 0.4,
          phase: bench.random() * 6.28,
        });
      }
    }
    return struck;
  };

/** The bursts of the stick on it: where each has its middle, and how strong it is. */
const RIDE_STICK = [
  [5200, 3],
  [8200, 2.4],
] as const;
const BELL_STICK = [
  [4600, 5],
  [7600, 5],
] as const;

export interface HatSound extends CymbalSound {
  /** How tightly the closed pair lies on each other: above 1 is shorter. */
  tight: number;
}

/** How long hats ring at an openness of 0 to 1, in all bands. */
export const hatRing = (open: number) => 0.31 * 14 ** (open ** 1.25);

/** @param open 0 is closed, 1 is as far open as they go; `pedal` closes them by foot, without a stick */
export const hat =
  (
    { size, ring, dark, tight, stick }: HatSound,
    open: number,
    { pedal = false, seed = 42 } = {},
  ): Recipe =>
  (bench) => {
    const t60 = (hatRing(open) * (open < 0.3 ? 1 / tight : ring)) / (pedal ? 1.2 : 1);
    const struck = new Struck(bench, Math.min(3.4, t60 * 1.1 + 0.12));
    const field = fieldOf(
      { density: 75 * size, low: 170 / size, high: 19_500 },
      bench.sampleRate,
      seed,
    );
    const contact = on({ soft: 0.0001, hard: 0.00003 }, stick);
    const shape =
      (noise: boolean) =>
      (f: Hertz): BandShape => ({
        level:
          sloped(f, [300, 0.2], [1600, 0.3]) *
          sloped(f, [2500, 1], [7500, 2.6]) *
          sloped(f, [9000, 1], [16_000, 0.6]) *
          shade(f, dark) *
          (noise ? 0.6 : 1),
        slow: f > 9000 && open > 0.3 ? t60 * 0.5 : t60,
        rise: pedal ? { soft: 0.009, hard: 0.009 } : undefined,
        fast: open > 0.3 ? { share: 0.8, t60: 0.12 } : { share: 1.2, t60: 0.05 },
      });
    struck
      .field(field, contact, shape(false))
      .field(noiseOf(bench.sampleRate), contact, shape(true));
    if (pedal) {
      for (const frequency of [150, 320])
        struck.mode({ frequency, strength: { soft: 0.5, hard: 0.9 }, t60: 0.13, rise: 0.009 });
      return struck;
    }
    return struck.noise({
      strength: { soft: 1 / stick.metal, hard: 1.7 / stick.metal },
      t60: 0.02,
      soft: [band(3800, 0.7)],
      hard: [band(5200, 0.6)],
    });
  };
