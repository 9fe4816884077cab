/** Half the width of the filter, in samples of the coarser of both rates. */
const REACH = 16;

/**
 * The same samples read faster or slower.
 * Source: windowed sinc interpolation as in J. O. Smith, "Digital audio resampling", 2002, with a Hann window.
 * @param rate how many samples of the input pass in one of the output: 2 is an octave up
 */
export function resampled(samples: Float32Array, rate: number): Float32Array {
  if (rate === 1 || samples.length === 0) return samples;
  const out = new Float32Array(Math.max(1, Math.floor(samples.length / rate)));
  // Where it is read faster, what lies above half the new rate is left out.
  const band = Math.min(1, 1 / rate);
  const reach = REACH / band;
  for (let i = 0; i < out.length; i++) {
    const middle = i * rate;
    const from = Math.max(0, Math.ceil(middle - reach));
    const to = Math.min(samples.length - 1, Math.floor(middle + reach));
    let sum = 0;
    for (let n = from; n <= to; n++) sum += samples[n] * sinc((n - middle) * band, REACH);
    out[i] = sum * band;
  }
  return out;
}

function sinc(x: number, reach: number): number {
  if (x === 0) return 1;
  const angle = Math.PI * x;
  return (Math.sin(angle) / angle) * (0.5 + 0.5 * Math.cos(angle / reach));
}
