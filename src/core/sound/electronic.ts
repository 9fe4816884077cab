import type { Hertz, Seconds } from '../time';
import { always, band, edge, highpass, lowpass, type Recipe } from './recipe';
import { Struck } from './struck';

/** Drums as circuits make them: sines that fall, noise, and six pulses through a band for metal. */

export const kick =
  (frequency: Hertz, click: number): Recipe =>
  (bench) =>
    new Struck(bench, 0.75)
      .mode({
        frequency,
        strength: { soft: 0.8, hard: 1 },
        t60: 0.62,
        bend: { by: 3.2, time: 0.022 },
        rise: 0.0008,
      })
      .noise({ strength: edge(0.5 * click), t60: 0.012, soft: [lowpass(5200)] })
      .drive(1.4);

export const snare =
  (rim: number): Recipe =>
  (bench) =>
    new Struck(bench, 0.42)
      .mode({
        frequency: 182,
        strength: { soft: 0.55, hard: 0.7 },
        t60: 0.16,
        bend: { by: 0.25, time: 0.01 },
      })
      .mode({ frequency: 331, strength: { soft: 0.3, hard: 0.5 }, t60: 0.12 })
      .mode({ frequency: 1780, strength: { soft: 0, hard: 0.5 * rim }, t60: 0.06 })
      .noise({
        strength: { soft: 0.4, hard: 0.75 },
        t60: 0.32,
        soft: [highpass(1100), lowpass(5200)],
        hard: [highpass(1400), lowpass(9500)],
      });

export const tom =
  (frequency: Hertz): Recipe =>
  (bench) =>
    new Struck(bench, 0.8)
      .mode({
        frequency,
        strength: { soft: 0.85, hard: 1 },
        t60: 0.6 * (110 / frequency) ** 0.3,
        bend: { by: 0.9, time: 0.03 },
        rise: 0.001,
      })
      .noise({ strength: { soft: 0.03, hard: 0.12 }, t60: 0.08, soft: [band(900, 0.6)] });

/** The pitches of six pulses that have nothing in common, in hertz. */
const PULSES: readonly Hertz[] = [263, 400, 421, 474, 587, 845];

/** @param t60 how long it sounds */
export const metal =
  (t60: Seconds, { pitch = 1, bright = 1, noise = 0.25, rise = 0 } = {}): Recipe =>
  (bench) => {
    const { sampleRate, random } = bench;
    const phases = PULSES.map(() => random());
    const steps = PULSES.map((f) => (f * pitch * 2.1) / sampleRate);
    const gate = (at: Seconds) => {
      const i = Math.round(at * sampleRate);
      let sum = 0;
      for (let n = 0; n < steps.length; n++) sum += (phases[n] + steps[n] * i) % 1 < 0.5 ? 1 : -1;
      return sum / 3;
    };
    return new Struck(bench, Math.min(2.5, t60 * 1.1 + 0.05))
      .pulses({
        gate,
        strength: { soft: 0.55, hard: 1 },
        t60,
        rise,
        filters: [band(7600 * bright, 0.9), highpass(5200 * bright)],
      })
      .noise({
        strength: { soft: 0.4 * noise, hard: noise },
        t60,
        soft: [band(7000 * bright, 0.7)],
        rise,
      })
      .noise({ strength: always(0.05), t60: 0.02, soft: [band(4000, 0.8)] });
  };
