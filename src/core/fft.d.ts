/** What is used of the package `fft.js`, which brings no types. Arrays are complex: re, im, re, im ... */
declare module 'fft.js' {
  export default class FFT {
    /** @param size a power of two, above 1 */
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: ArrayLike<number>, data: ArrayLike<number>): void;
    realTransform(out: ArrayLike<number>, data: ArrayLike<number>): void;
    inverseTransform(out: ArrayLike<number>, data: ArrayLike<number>): void;
    completeSpectrum(spectrum: ArrayLike<number>): void;
  }
}
