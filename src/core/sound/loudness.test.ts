import { integratedLoudness } from './loudness';

const sine = (seconds: number, level: number, rate: number, frequency = 997) =>
  Float32Array.from(
    { length: seconds * rate },
    (_, i) => level * Math.sin((2 * Math.PI * frequency * i) / rate),
  );

test.each([44_100, 48_000, 96_000])(
  'a full sine of 997 Hz on one side is -3.01 LUFS, at %i Hz',
  (rate) => {
    const tone = sine(2, 1, rate);
    const silence = new Float32Array(tone.length);
    expect(integratedLoudness(tone, silence, rate)).toBeCloseTo(-3.01, 1);
    expect(integratedLoudness(tone, tone, rate)).toBeCloseTo(0, 1);
  },
);

test('pauses do not make music softer', () => {
  const rate = 48_000;
  const tone = sine(6, 0.1, rate);
  const broken = new Float32Array(12 * rate);
  broken.set(tone);
  const loud = integratedLoudness(tone, tone, rate);
  expect(loud).toBeCloseTo(-20, 1);
  expect(integratedLoudness(broken, broken, rate)).toBeCloseTo(loud, 0);
});

test('silence has no loudness, and neither has less than a block', () => {
  expect(integratedLoudness(new Float32Array(96_000), new Float32Array(96_000), 48_000)).toBe(
    -Infinity,
  );
  expect(integratedLoudness(sine(0.2, 1, 48_000), sine(0.2, 1, 48_000), 48_000)).toBe(-Infinity);
});
