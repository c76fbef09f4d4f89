import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { D, FormulaError, compile, readUnit, renameIn } from '../src';
import type { Dimension } from '../src';

const names: Record<string, { value: number; dim: Dimension }> = {
  arm: { value: 0.04, dim: D.length },
  speed: { value: 9, dim: D.angularSpeed },
  n: { value: 3, dim: D.none },
};
const scope = { lookup: (x: string) => (Object.hasOwn(names, x) ? names[x] : undefined), time: true, names: () => Object.keys(names) };
const value = (text: string, wanted?: Dimension, t = 0) => compile(text, scope, wanted).at(t).v;
const fault = (text: string, wanted?: Dimension) => {
  try {
    compile(text, scope, wanted);
  } catch (e) {
    if (e instanceof FormulaError) return e;
    throw e;
  }
  throw new Error(`${text} was accepted`);
};

describe('formulas', () => {
  it.each([
    ['40 mm', 0.04],
    ['2*arm + 10 mm', 0.09],
    ['90 rpm', 3 * Math.PI],
    ['-2^2', -4],
    ['2^-1', 0.5],
    ['2^3^2', 512],
    ['1/2 s', 0.5],
    ['7850 kg/m^3', 7850],
    ['5 N/mm', 5000],
    ['3 N*m/rad', 3],
    ['30°', Math.PI / 6],
    ['(1 + 2)*n', 9],
    ['max(arm, 50 mm)', 0.05],
    ['mod(-1 s, 3 s)', 2],
    ['mix(1 m, 3 m, 0.25)', 1.5],
    ['clamp(5, 0, n)', 3],
    ['atan2(1 m, 1 m)', Math.PI / 4],
    ['2 mm²', 2e-6],
    ['1e3 mm', 1],
  ])('%s = %d', (text, expected) => expect(value(text)).toBeCloseTo(expected, 12));

  it('checks dimensions where quantities meet and where they are wanted', () => {
    expect(fault('arm + 2 s').code).toBe('formula-dimension');
    expect(fault('sin(arm)').code).toBe('formula-dimension');
    expect(fault('arm', D.angle).message).toContain('a length (m)');
    expect(fault('2^arm').code).toBe('formula-dimension');
    expect(fault('90', D.angle).code).toBe('formula-unit-missing');
    expect(fault('90', D.angularSpeed).message).toContain('rpm');
    expect(value('0', D.length)).toBe(0);
    expect(value('sqrt(arm*arm)', D.length)).toBeCloseTo(0.04, 15);
    expect(value('speed*arm', D.speed)).toBeCloseTo(0.36, 15);
  });

  it('says what and where', () => {
    expect(fault('2*amr').message).toContain('“amr”');
    expect(fault('ARM*2').message).toContain('Did you mean “arm”');
    expect(fault('2 arm').message).toContain('Write a “*”');
    expect(fault('1 + ')).toMatchObject({ code: 'formula-syntax', at: 4 });
    expect(fault('1 + $')).toMatchObject({ code: 'formula-character', at: 4 });
    expect(fault('')).toMatchObject({ code: 'formula-empty' });
    expect(fault('sin(1, 2)').code).toBe('formula-arguments');
    expect(fault('1/0').code).toBe('formula-not-finite');
    expect(fault('('.repeat(500) + '1').code).toBe('formula-deep');
    expect(fault('-'.repeat(500) + '1').code).toBe('formula-deep');
    expect(fault('1+'.repeat(1500) + '1').code).toBe('formula-long');
  });

  it('names that every object has are no functions, constants or parameters', () => {
    for (const name of ['toString', 'constructor', 'hasOwnProperty', 'valueOf', '__proto__', 'isPrototypeOf']) {
      expect(() => compile(name, scope), name).toThrow(FormulaError);
      expect(() => compile(`${name}(1)`, scope), name).toThrow(FormulaError);
      expect(() => compile(`1 ${name}`, scope), name).toThrow(FormulaError);
    }
  });
  it('never fails otherwise than with a FormulaError', () => {
    const piece = fc.constantFrom('1', 'arm', 't', '+', '-', '*', '/', '^', '(', ')', ',', 'sin', 'mm', ' ', '.5', 'e', '°', '²', 'min');
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 14 }), (parts) => {
        try {
          compile(parts.join(''), scope).at(0.3);
        } catch (e) {
          expect(e).toBeInstanceOf(FormulaError);
        }
      }),
      { numRuns: 2000 },
    );
  });

  const smooth = [
    'sin(speed*t)',
    'exp(-t/(1 s))*cos(3 rad/s*t)',
    '(1 + t/(1 s))^2.5',
    'atan2(t + 1 s, 2 s)',
    '1/(1 + (t/(1 s))^2)',
    'sqrt(t + 1 s)/sqrt(1 s)',
    'smoothstep(0 s, 1 s, t)',
    'smootherstep(0 s, 1 s, t)',
    'log(2 + t/(1 s))',
    'tan(0.3*t/(1 s))',
    'asin(t/(3 s))',
    'acos(t/(3 s))',
    'atan(t/(2 s))',
    '2^(t/(1 s))',
    '(1 + t/(1 s))^(t/(1 s))',
    'mix(1, 4, t/(2 s))',
    'abs(t - 3 s)/(1 s)',
  ];
  it.each(smooth)('%s has exact first and second derivatives', (text) => {
    const p = compile(text, scope);
    for (const t of [0.1, 0.37, 0.8]) {
      const h = 2e-3;
      const [a, b, c, d, e] = [-2, -1, 0, 1, 2].map((k) => p.at(t + k * h).v) as [number, number, number, number, number];
      p.at(t);
      expect(p.d).toBeCloseTo((a - 8 * b + 8 * d - e) / (12 * h), 6);
      expect(p.dd).toBeCloseTo((-a + 16 * b - 30 * c + 16 * d - e) / (12 * h * h), 5);
    }
  });

  it('finds kinks and how large they are', () => {
    const kinks = compile('90 rpm * step(0.7 s, t) + 1 rpm*abs(t - 1.3 s)/(1 s)', scope).kinks(0, 2);
    expect(kinks.map((k) => Number(k.t.toFixed(9)))).toEqual([0.7, 1.3]);
    expect(kinks[0]!.jump[0]).toBeCloseTo(3 * Math.PI, 6);
    expect(kinks[1]!.jump[0]).toBeCloseTo(0, 6);
    expect(kinks[1]!.jump[1]).toBeCloseTo(Math.PI / 15, 6);
    expect(compile('smoothstep(0 s, 0.4 s, t)', scope).kinks(0, 1)[0]!.t).toBeCloseTo(0.4, 12);
  });

  it('renames a parameter and nothing else', () => {
    expect(renameIn('2*arm + armour - sin(arm)*3 m', 'arm', 'limb')).toBe('2*limb + armour - sin(limb)*3 m');
    expect(renameIn('half typed (arm', 'arm', 'limb')).toBe('half typed (arm');
  });

  it('reads unit expressions', () => {
    expect(readUnit('N/mm')!.factor).toBeCloseTo(1000, 9);
    expect(readUnit('kg·m²')!.dim).toEqual(D.inertia);
    expect(readUnit('furlong')).toBeUndefined();
  });
});
