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
  const table = TABLE;
  const stretch = band * FINE;
  const last = samples.length - 1;
  for (let i = 0; i < out.length; i++) {
    const middle = i * rate;
    const low = middle - reach;
    const high = middle + reach;
    const from = low > 0 ? (low | 0) + 1 : 0;
    const to = high < last ? high | 0 : last;
    let sum = 0;
    for (let n = from; n <= to; n++) {
      const apart = n < middle ? middle - n : n - middle;
      const place = apart * stretch;
      const at = place | 0;
      const value = table[at];
      sum += samples[n] * (value + (table[at + 1] - value) * (place - at));
    }
    out[i] = sum * band;
  }
  return out;
}

/** So many values of the filter are kept between two samples. */
const FINE = 256;

/** The windowed sinc from its middle on. */
const TABLE = Float64Array.from({ length: REACH * FINE + 2 }, (_, i) => {
  const x = i / FINE;
  if (i === 0) return 1;
  if (x >= REACH) return 0;
  const angle = Math.PI * x;
  return (Math.sin(angle) / angle) * (0.5 + 0.5 * Math.cos(angle / REACH));
});
