import type { Hertz, Seconds } from '../time';
import { between } from '../random';
import { always, band, edge, highpass, type Recipe } from './recipe';
import { Struck } from './struck';

/** A T60 for a time constant: what falls to a thousandth falls by 6.9 times its constant. */
const rung = (decay: Seconds): Seconds => decay * Math.log(1000);

/** Small discs or beads that strike one after another: tambourine, cabasa, maracas. */
export const jingle =
  (tone: Hertz, decay: Seconds, discs: number, rise: Seconds = 0.002): Recipe =>
  (bench) => {
    const { random } = bench;
    const struck = new Struck(bench, decay * 6 + 0.08);
    for (let disc = 0; disc < discs; disc++) {
      struck.noise({
        strength: always(0.8),
        t60: rung(decay * between(random, 0.6, 1.1)),
        soft: [band(tone * between(random, 0.8, 1.3), 2.4), highpass(3000)],
        from: between(random, 0, 0.012) * disc * 0.6,
        rise,
      });
    }
    return struck.noise({
      strength: edge(0.5),
      t60: rung(decay * 0.6),
      soft: [highpass(8200)],
      rise,
    });
  };

/** Struck metal with few partials: cowbell, agogo, triangle. Frequencies in hertz. */
export const bell =
  (partials: readonly Hertz[], decay: Seconds): Recipe =>
  (bench) => {
    const struck = new Struck(bench, Math.min(2.5, decay * 6 + 0.05));
    partials.forEach((frequency, i) =>
      struck.mode({
        frequency,
        strength: always(0.6 / (1 + i * 0.5)),
        t60: rung(decay / (1 + i * 0.3)),
      }),
    );
    return struck
      .drive(1.3)
      .noise({ strength: edge(0.6), t60: rung(0.008), soft: [band(partials[0] * 4, 0.8)] });
  };

/** A small head played by hand or stick: bongo, conga, timbale, cuica. */
export const skin =
  (tune: Hertz, decay: Seconds, slap: number): Recipe =>
  (bench) =>
    new Struck(bench, Math.min(1, decay * 7 + 0.05))
      .mode({
        frequency: tune,
        strength: always(0.9),
        t60: rung(decay),
        bend: { by: 0.08, time: 0.02 },
      })
      .mode({ frequency: tune * 2.3, strength: always(0.25), t60: rung(decay * 0.4) })
      .mode({ frequency: tune * 3.6, strength: edge(0.3), t60: rung(0.03) })
      .noise({ strength: always(0.3 * slap), t60: rung(0.01), soft: [band(1500, 0.8)] })
      .noise({ strength: edge(slap), t60: rung(0.014), soft: [band(2600, 0.7)] });

/** Struck wood: claves, wood block, and any note that has no sound of its own. */
export const wood =
  (tune: Hertz): Recipe =>
  (bench) =>
    new Struck(bench, 0.24)
      .mode({ frequency: tune, strength: always(0.8), t60: rung(0.03) })
      .mode({ frequency: tune * 1.51, strength: always(0.3), t60: rung(0.016) })
      .mode({ frequency: tune * 2.74, strength: edge(0.3), t60: rung(0.01) })
      .noise({ strength: edge(0.6), t60: rung(0.003), soft: [band(tune * 2, 1)] });

/** A row of quick scrapes or rattles: guiro, vibraslap. */
export const rattle =
  (tone: Hertz, length: Seconds, rate: Hertz): Recipe =>
  (bench) => {
    const struck = new Struck(bench, length + 0.1);
    for (let n = 0; n < length * rate; n++) {
      const from = Math.max(0, (n + between(bench.random, -0.2, 0.2)) / rate);
      const level = 0.7 * (1 - n / (length * rate)) + 0.1;
      struck.noise({ strength: always(level), t60: rung(0.005), soft: [band(tone, 2)], from });
    }
    return struck.noise({ strength: edge(0.3), t60: rung(0.01), soft: [highpass(3500)] });
  };

export const whistle =
  (length: Seconds): Recipe =>
  (bench) =>
    new Struck(bench, length)
      .mode({ frequency: 2350, strength: always(0.5), t60: rung(length * 0.7) })
      .mode({ frequency: 2412, strength: always(0.4), t60: rung(length * 0.7) })
      .noise({ strength: always(0.2), t60: rung(length * 0.5), soft: [band(2400, 3)] })
      .noise({ strength: edge(0.3), t60: rung(0.03), soft: [highpass(3000)] });
