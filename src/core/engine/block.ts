/** The engine works in blocks of at most this many frames, as the Web Audio rendering quantum. */
export const BLOCK = 128;

/** Index of the first value that is not below `value`. */
export function firstFrom(sorted: Float64Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
