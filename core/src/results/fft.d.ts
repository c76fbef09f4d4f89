/** Fast Fourier transform of lengths that are powers of two; complex numbers as pairs. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    realTransform(out: ArrayLike<number>, data: ArrayLike<number>): void;
  }
}
