/** The round step (1, 2, 5 of a power of ten) of a grid whose lines are some pixels apart. */
export function stepFor(length: number): number {
  const power = 10 ** Math.floor(Math.log10(length));
  return [1, 2, 5, 10].map((k) => k * power).find((s) => s >= length * 0.999)!;
}
