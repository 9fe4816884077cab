import type { Hertz, Seconds } from '../time';
import { between } from '../random';
import { band, highpass, lowpass, Stroke, type Bench } from './stroke';

/**
 * The two layers of a stroke. The body sounds at every strength; the edge (stick, crack, shimmer)
 * comes in with velocity, so that a harder stroke is brighter and not only louder.
 */
export interface Layers {
  body: Stroke;
  edge: Stroke;
}

export type Recipe = (bench: Bench) => Layers;

export const kick =
  (tune: Hertz, click: number): Recipe =>
  (bench) => ({
    body: new Stroke(bench, 0.55)
      .mode({ frequency: tune, level: 1, decay: 0.13, drop: 2.4, dropTime: 0.018 })
      .mode({ frequency: tune * 1.6, level: 0.25, decay: 0.05, drop: 1.5, dropTime: 0.012 })
      .noise({ level: 0.12, decay: 0.012, filters: [lowpass(900)] })
      .drive(1.6),
    edge: new Stroke(bench, 0.12)
      .noise({ level: click * 0.7, decay: 0.006, filters: [band(2600, 0.8)] })
      .mode({ frequency: 1900, level: 0.25 * click, decay: 0.006 })
      .mode({ frequency: tune * 2.2, level: 0.5, decay: 0.03, drop: 1, dropTime: 0.01 }),
  });

export const snare =
  (rim: number): Recipe =>
  (bench) => ({
    body: new Stroke(bench, 0.42)
      .mode({ frequency: 186, level: 0.55, decay: 0.07, drop: 0.22, dropTime: 0.012 })
      .mode({ frequency: 334, level: 0.32, decay: 0.05, drop: 0.1, dropTime: 0.01 })
      .noise({ level: 0.95, decay: 0.085, filters: [highpass(900), lowpass(7200)], swell: 0.0015 })
      .noise({ level: 0.16, decay: 0.16, filters: [band(2300, 0.7)] }),
    edge: new Stroke(bench, 0.34)
      .noise({ level: 0.9, decay: 0.045, filters: [highpass(2600)] })
      .noise({ level: 0.5, decay: 0.009, filters: [band(1500, 0.9)] })
      .mode({ frequency: 520, level: 0.2 + 0.5 * rim, decay: 0.035 + 0.03 * rim })
      .mode({ frequency: 1720, level: 0.5 * rim, decay: 0.03 }),
  });

export const sideStick: Recipe = (bench) => ({
  body: new Stroke(bench, 0.16)
    .mode({ frequency: 430, level: 0.35, decay: 0.022 })
    .mode({ frequency: 1680, level: 0.8, decay: 0.014 })
    .noise({ level: 0.4, decay: 0.005, filters: [band(2400, 1.4)] }),
  edge: new Stroke(bench, 0.1)
    .mode({ frequency: 2650, level: 0.7, decay: 0.01 })
    .noise({ level: 0.7, decay: 0.004, filters: [highpass(3200)] }),
});

/** @param decay how long the cymbals ring against each other: short when closed */
export const hat =
  (decay: Seconds, dark = 1): Recipe =>
  (bench) => {
    const length = Math.min(1.6, decay * 8 + 0.06);
    return {
      body: new Stroke(bench, length)
        .plate({ low: 2900 * dark, high: 12500, partials: 18, level: 0.45, decay })
        .noise({ level: 0.5, decay, filters: [highpass(6200 * dark), lowpass(14500)] })
        .noise({ level: 0.35, decay: 0.006, filters: [band(4200 * dark, 0.8)] }),
      edge: new Stroke(bench, length)
        .noise({ level: 0.8, decay: decay * 0.8, filters: [highpass(8500)] })
        .noise({ level: 0.6, decay: 0.004, filters: [highpass(3800)] }),
    };
  };

export const tom =
  (tune: Hertz): Recipe =>
  (bench) => {
    const decay = between(bench.random, 0.95, 1.05) * 0.16 * (120 / tune) ** 0.45;
    return {
      body: new Stroke(bench, 0.9)
        .mode({ frequency: tune, level: 0.95, decay, drop: 0.35, dropTime: 0.035 })
        .mode({ frequency: tune * 1.59, level: 0.3, decay: decay * 0.55, drop: 0.2 })
        .mode({ frequency: tune * 2.14, level: 0.14, decay: decay * 0.35 })
        .noise({ level: 0.22, decay: 0.03, filters: [lowpass(1800)] })
        .drive(1.2),
      edge: new Stroke(bench, 0.2)
        .noise({ level: 0.8, decay: 0.012, filters: [band(1900, 0.7)] })
        .mode({ frequency: tune * 2.65, level: 0.35, decay: 0.04, drop: 0.2 }),
    };
  };

/** @param size 1 is a sixteen-inch crash; smaller is higher and shorter */
export const crash =
  (size: number, trash = 0): Recipe =>
  (bench) => {
    const ring = 0.75 * size;
    return {
      body: new Stroke(bench, 2.6 * size)
        .plate({ low: 340 / size, high: 9000, partials: 44, level: 0.5, decay: ring })
        .noise({ level: 0.4, decay: ring * 0.75, filters: [band(3400, 0.4)], swell: 0.008 })
        .noise({ level: 0.25, decay: ring * 0.5, filters: [highpass(7500)], swell: 0.004 })
        .drive(1 + trash),
      edge: new Stroke(bench, 1.6 * size)
        .noise({ level: 0.9, decay: ring * 0.3, filters: [highpass(5200)] })
        .noise({ level: 0.6, decay: 0.03, filters: [band(1400, 0.6)] }),
    };
  };

export const ride =
  (tune: number): Recipe =>
  (bench) => ({
    body: new Stroke(bench, 2.4)
      .plate({ low: 620 * tune, high: 8600, partials: 30, level: 0.34, decay: 0.7 })
      .mode({ frequency: 3150 * tune, level: 0.24, decay: 0.16 })
      .mode({ frequency: 4680 * tune, level: 0.2, decay: 0.11 })
      .noise({ level: 0.09, decay: 0.6, filters: [band(6200, 0.5)], swell: 0.02 })
      .noise({ level: 0.4, decay: 0.006, filters: [band(5200, 0.9)] }),
    edge: new Stroke(bench, 1.2)
      .noise({ level: 0.4, decay: 0.25, filters: [highpass(5600)] })
      .noise({ level: 0.7, decay: 0.005, filters: [highpass(4000)] }),
  });

export const rideBell: Recipe = (bench) => {
  const body = new Stroke(bench, 2.2);
  [
    [760, 0.3],
    [1180, 0.26],
    [1640, 0.34],
    [2370, 0.22],
    [3360, 0.2],
    [4540, 0.12],
  ].forEach(([frequency, level], i) =>
    body.mode({ frequency, level, decay: 0.5 / (1 + i * 0.18) }),
  );
  return {
    body: body
      .plate({ low: 900, high: 8000, partials: 12, level: 0.16, decay: 0.6 })
      .noise({ level: 0.7, decay: 0.004, filters: [highpass(3000)] }),
    edge: new Stroke(bench, 0.6)
      .noise({ level: 0.5, decay: 0.006, filters: [highpass(3600)] })
      .mode({ frequency: 5620, level: 0.3, decay: 0.16 }),
  };
};

export const clap: Recipe = (bench) => {
  const body = new Stroke(bench, 0.4);
  const hands = [0, 0.009, 0.019, 0.028].map((t) => t + between(bench.random, 0, 0.0025));
  for (const from of hands) {
    body.noise({ level: 0.6, decay: 0.006, filters: [band(1250, 1.1)], from });
  }
  body.noise({ level: 0.5, decay: 0.07, filters: [band(1350, 0.9)], from: 0.03 });
  return {
    body,
    edge: new Stroke(bench, 0.3).noise({
      level: 0.5,
      decay: 0.05,
      filters: [highpass(2600)],
      from: 0.028,
    }),
  };
};

/** Small discs or beads that strike one after another: tambourine, cabasa, maracas. */
export const jingle =
  (tone: Hertz, decay: Seconds, discs: number): Recipe =>
  (bench) => {
    const body = new Stroke(bench, decay * 6 + 0.08);
    for (let disc = 0; disc < discs; disc++) {
      const from = between(bench.random, 0, 0.012) * disc * 0.6;
      const filters = [band(tone * between(bench.random, 0.8, 1.3), 2.4), highpass(3000)];
      body.noise({ level: 0.8, decay: decay * between(bench.random, 0.6, 1.1), filters, from });
    }
    return {
      body,
      edge: new Stroke(bench, decay * 5).noise({
        level: 0.5,
        decay: decay * 0.6,
        filters: [highpass(8200)],
      }),
    };
  };

/** Struck metal with few partials: cowbell, agogo, triangle. Frequencies in hertz. */
export const bell =
  (partials: readonly Hertz[], decay: Seconds): Recipe =>
  (bench) => {
    const body = new Stroke(bench, Math.min(2.5, decay * 6));
    partials.forEach((frequency, i) =>
      body.mode({ frequency, level: 0.6 / (1 + i * 0.5), decay: decay / (1 + i * 0.3) }),
    );
    return {
      body: body.drive(1.3),
      edge: new Stroke(bench, 0.15).noise({
        level: 0.6,
        decay: 0.008,
        filters: [band(partials[0] * 4, 0.8)],
      }),
    };
  };

/** A small head played by hand or stick: bongo, conga, timbale, cuica. */
export const skin =
  (tune: Hertz, decay: Seconds, slap: number): Recipe =>
  (bench) => ({
    body: new Stroke(bench, Math.min(1, decay * 7))
      .mode({ frequency: tune, level: 0.9, decay, drop: 0.08, dropTime: 0.02 })
      .mode({ frequency: tune * 2.3, level: 0.25, decay: decay * 0.4 })
      .noise({ level: 0.3 * slap, decay: 0.01, filters: [band(1500, 0.8)] }),
    edge: new Stroke(bench, 0.15)
      .noise({ level: slap, decay: 0.014, filters: [band(2600, 0.7)] })
      .mode({ frequency: tune * 3.6, level: 0.3, decay: 0.03 }),
  });

/** Struck wood: claves, wood block, and any note that has no sound of its own. */
export const wood =
  (tune: Hertz): Recipe =>
  (bench) => ({
    body: new Stroke(bench, 0.22)
      .mode({ frequency: tune, level: 0.8, decay: 0.03 })
      .mode({ frequency: tune * 1.51, level: 0.3, decay: 0.016 }),
    edge: new Stroke(bench, 0.1)
      .noise({ level: 0.6, decay: 0.003, filters: [band(tune * 2, 1)] })
      .mode({ frequency: tune * 2.74, level: 0.3, decay: 0.01 }),
  });

/** A row of quick scrapes or rattles: guiro, vibraslap. */
export const rattle =
  (tone: Hertz, length: Seconds, rate: Hertz): Recipe =>
  (bench) => {
    const body = new Stroke(bench, length + 0.1);
    for (let n = 0; n < length * rate; n++) {
      const from = (n + between(bench.random, -0.2, 0.2)) / rate;
      const level = 0.7 * (1 - n / (length * rate)) + 0.1;
      body.noise({ level, decay: 0.005, filters: [band(tone, 2)], from: Math.max(0, from) });
    }
    return {
      body,
      edge: new Stroke(bench, 0.1).noise({ level: 0.3, decay: 0.01, filters: [highpass(3500)] }),
    };
  };

export const whistle =
  (length: Seconds): Recipe =>
  (bench) => ({
    body: new Stroke(bench, length)
      .mode({ frequency: 2350, level: 0.5, decay: length * 0.7 })
      .mode({ frequency: 2412, level: 0.4, decay: length * 0.7 })
      .noise({ level: 0.2, decay: length * 0.5, filters: [band(2400, 3)] }),
    edge: new Stroke(bench, 0.1).noise({ level: 0.3, decay: 0.03, filters: [highpass(3000)] }),
  });
