import type { Program } from './program';

/** A formula brought in from zero: s(t/T) f(t) with s = x³ (10 − 15 x + 6 x²). @param time T, s */
export const eased = (law: Program, time: number): Program =>
  law.with((g, f, t) => {
    const T = g.constant(time),
      x = g.least(g.one, g.most(g.zero, g.divide(t, T))),
      s = g.add(g.constant(10), g.multiply(x, g.subtract(g.multiply(g.constant(6), x), g.constant(15))));
    return { x: g.multiply(g.multiply(g.multiply(g.square(x), x), s), f), kinks: [g.subtract(t, T)] };
  });
