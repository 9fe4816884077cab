import type { Dynamics } from '../model';
import { levelAfter, ratioReaching } from '../sound';
import { RATE } from '../testing/engine';
import { BLOCK } from './block';
import { Compressor } from './compressor';

const setting: Dynamics = { threshold: -20, ratio: 4, attack: 0.01, release: 0.1, gain: 0 };
const dB = (factor: number) => 20 * Math.log10(Math.abs(factor));

/** Lets a steady value through for so long. @returns what comes out */
function through(compressor: Compressor, value: number, seconds: number): Float32Array {
  const blocks = Math.round((seconds * RATE) / BLOCK);
  const out = new Float32Array(blocks * BLOCK).fill(value);
  for (let n = 0; n < blocks; n++) {
    const side = out.subarray(n * BLOCK, (n + 1) * BLOCK);
    compressor.process(side, side.slice(), [side], BLOCK);
  }
  return out;
}

const made = (dynamics = setting) => {
  const compressor = new Compressor(RATE);
  compressor.take(dynamics, true);
  return compressor;
};

test.each([-50, -24, -20, -17, -10, -3, 0])(
  'holds a steady level of %p dB to its curve',
  (level) => {
    const raised = { ...setting, gain: 5 };
    const out = through(made(raised), 10 ** (level / 20), 1);
    expect(dB(out[out.length - 1])).toBeCloseTo(levelAfter(raised, level), 2);
  },
);

test('its curve is straight away from the threshold, with the ratio above it', () => {
  expect(levelAfter(setting, -40)).toBe(-40);
  expect(levelAfter(setting, 0) - levelAfter(setting, -8)).toBeCloseTo(8 / 4, 9);
});

test('the ratio for a wanted level reaches it', () => {
  const ratio = ratioReaching(-15, setting);
  expect(levelAfter({ ...setting, ratio }, 0)).toBeCloseTo(-15, 9);
});

test('is 63 % of the way after its attack, and after its release lets go of as much', () => {
  const compressor = made();
  const wanted = 15; // 20 dB over at 4 to 1.
  const into = through(compressor, 1, 1);
  const attack = Math.round(setting.attack * RATE);
  expect(dB(into[attack - 1])).toBeCloseTo(-wanted * (1 - Math.exp(-1)), 1);
  expect(dB(into[into.length - 1])).toBeCloseTo(-wanted, 2);
  // Soft again: the attack, which comes after, is a tenth of the release.
  const out = through(compressor, 0.001, 1);
  const release = Math.round((setting.release + setting.attack) * RATE);
  expect(dB(out[release] / 0.001)).toBeCloseTo(-wanted * Math.exp(-1), 0);
  expect(dB(out[out.length - 1] / 0.001)).toBeCloseTo(0, 2);
  expect(compressor.takeReduction()).toBeCloseTo(wanted, 1);
  expect(compressor.takeReduction()).toBe(0);
});

test('what is silent for a while is as if silence had been worked on', () => {
  const [one, other] = [made(), made()];
  for (const compressor of [one, other]) through(compressor, 1, 0.2);
  through(one, 0, 0.064);
  other.pass(0.064 * RATE);
  const [a, b] = [one, other].map((compressor) => through(compressor, 0.5, 0.01));
  expect(dB(a[0] / b[0])).toBeCloseTo(0, 1);
});

test('taking it out, or putting it in, steps nowhere', () => {
  const compressor = made({ ...setting, gain: 12 });
  through(compressor, 0.5, 0.5);
  compressor.take(undefined, false);
  const left = through(compressor, 0.5, 0.02);
  expect(compressor.isIdle).toBe(true);
  expect(left[left.length - 1]).toBe(0.5);
  compressor.take({ ...setting, gain: 12 }, false);
  const back = through(compressor, 0.01, 0.02);
  const steps = [...left.slice(1)].map((x, i) => Math.abs(x - left[i]));
  expect(Math.max(...steps)).toBeLessThan(0.01);
  expect(dB(back[0] / 0.01)).toBeLessThan(0.2);
  expect(dB(back[back.length - 1] / 0.01)).toBeCloseTo(12, 1);
});
