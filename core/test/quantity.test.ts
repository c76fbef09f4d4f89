/** Units against the definitions of the SI and of ISO 80000; numbers as they are shown; elementary functions against exact identities. */
import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import {
  D,
  type Dimension,
  compatible,
  divide,
  formatNumber,
  formatQuantity,
  identical,
  multiply,
  readUnit,
  shownUnit,
  unitNames,
  unitOf,
} from '../src';
import * as E from '../src/quantity/elementary';
import { fixed, localText, plainText, showComma, usesComma } from '../src/quantity/units';

const finite = (min: number, max: number) => fc.double({ min, max, noNaN: true, noDefaultInfinity: true });
const back = (text: string): number => Number(text.replace('−', '-'));

describe('units', () => {
  it.each<[string, number, Dimension]>([
    ['inch', 0.0254, D.length],
    ['ft', 12 * 0.0254, D.length],
    ['lb', 0.45359237, D.mass],
    ['lbf', 0.45359237 * 9.80665, D.force],
    ['deg', Math.PI / 180, D.angle],
    ['rev', 2 * Math.PI, D.angle],
    ['rpm', (2 * Math.PI) / 60, D.angularSpeed],
    ['kW*h', 3.6e6, D.energy],
    ['Wh', 3600, D.energy],
    ['N*m', 1, D.torque],
    ['N·mm', 1e-3, D.torque],
    ['N/mm', 1e3, D.stiffness],
    ['kg/m^3', 1, D.density],
    ['g/cm³', 1e3, D.density],
    ['km/h', 1 / 3.6, D.speed],
    ['mm/s²', 1e-3, D.acceleration],
    ['kg·mm²', 1e-6, D.inertia],
    ['1/s', 1, divide(D.none, D.time)],
    ['MPa*mm^2', 1, D.force],
    ['bar*cm^2', 10, D.force],
  ])('%s is %d in SI', (text, factor, dim) => {
    const u = readUnit(text)!;
    expect(Math.abs(u.factor / factor - 1)).toBeLessThan(1e-14);
    expect(compatible(u.dim, dim)).toBe(true);
  });
  it('products and quotients of any two multiply and divide, squares square', () => {
    const any = fc.constantFrom(...unitNames());
    fc.assert(
      fc.property(any, any, (a, b) => {
        const [x, y] = [unitOf(a)!, unitOf(b)!];
        const [product, ratio, square] = [readUnit(`${a}*${b}`)!, readUnit(`${a}/${b}`)!, readUnit(`${a}^2`)!];
        expect(product.factor).toBeCloseTo(x.factor * y.factor, 12);
        expect(Math.abs(ratio.factor / (x.factor / y.factor) - 1)).toBeLessThan(1e-14);
        expect(identical(product.dim, multiply(x.dim, y.dim))).toBe(true);
        expect(identical(ratio.dim, divide(x.dim, y.dim))).toBe(true);
        expect(Math.abs(square.factor / (x.factor * x.factor) - 1)).toBeLessThan(1e-14);
      }),
    );
  });
  it('what is none is none', () => {
    for (const text of ['furlong', 'mm^x', 'N//m', 'mm^1.5', 'N m', '2']) expect(readUnit(text), text).toBeUndefined();
  });
  it('every unit in which a quantity is shown can be read, and is of that quantity', () => {
    for (const d of Object.values(D)) {
      const unit = shownUnit(d),
        read = readUnit(unit);
      expect(read, unit).toBeDefined();
      expect(compatible(read!.dim, d), unit).toBe(true);
    }
  });
  it('a product that leaves an angle is shown as what it is: torque times angular speed is power', () => {
    expect(shownUnit(multiply(D.torque, D.angularSpeed))).toBe('W');
  });
});

describe('numbers as they are shown', () => {
  it('keep as many digits as asked for, and their sign', () => {
    fc.assert(
      fc.property(
        finite(-1e12, 1e12).filter((x) => x !== 0),
        fc.integer({ min: 2, max: 9 }),
        (x, digits) => {
          const shown = formatNumber(x, digits);
          expect(Math.abs(back(shown) / x - 1)).toBeLessThan(0.5000001 * 10 ** (1 - digits));
          expect(shown.startsWith('−')).toBe(x < 0);
        },
      ),
    );
  });
  it('zero, infinity and what is no number are words an engineer reads', () => {
    expect([0, -0, Infinity, -Infinity, NaN].map((x) => formatNumber(x))).toEqual(['0', '0', '∞', '−∞', 'not a number']);
    expect(formatNumber(1e6)).toBe('1.000e6');
    expect(formatNumber(-0.00001234)).toBe('−1.234e-5');
  });
  it('carry the unit, converted', () => {
    expect(formatQuantity(0.04, D.length)).toBe('40 mm');
    expect(formatQuantity(Math.PI, D.angle)).toBe('180 deg');
    expect(formatQuantity(10 * Math.PI, D.angularSpeed)).toBe('300 rpm');
    expect(formatQuantity(1500, D.stiffness, 'N/m')).toBe('1500 N/m');
    fc.assert(
      fc.property(finite(-1e3, 1e3), fc.constantFrom('mm', 'm', 'inch', 'km'), (x, unit) => {
        expect(back(formatQuantity(x, D.length, unit, 12).split(' ')[0]!) * readUnit(unit)!.factor).toBeCloseTo(x, 8);
      }),
    );
  });
});

describe('elementary functions', () => {
  it('are those of mathematics, to a unit or two in the last place', () => {
    const near = (a: number, b: number) => expect(Math.abs(a - b)).toBeLessThanOrEqual(4.5e-16 * Math.max(1, Math.abs(b)));
    fc.assert(
      fc.property(finite(-50, 50), (x) => {
        near(E.sin(x), Math.sin(x));
        near(E.cos(x), Math.cos(x));
        near(E.atan(x), Math.atan(x));
        expect(Math.abs(E.exp(x) / Math.exp(x) - 1)).toBeLessThan(1e-15);
        expect(Math.abs(E.sin(x) ** 2 + E.cos(x) ** 2 - 1)).toBeLessThan(4e-16);
      }),
    );
    fc.assert(
      fc.property(finite(-1, 1), (x) => {
        near(E.asin(x), Math.asin(x));
        near(E.acos(x), Math.acos(x));
      }),
    );
    fc.assert(
      fc.property(finite(1e-6, 1e6), finite(-4, 4), (x, n) => {
        near(E.ln(x), Math.log(x));
        expect(Math.abs(E.pow(x, n) / x ** n - 1)).toBeLessThan(1e-15);
      }),
    );
    // half a turn and minus half a turn are one direction
    fc.assert(
      fc.property(finite(-9, 9), finite(-9, 9), (y, x) => {
        expect(Math.abs(Math.sin((E.atan2(y, x) - Math.atan2(y, x)) / 2))).toBeLessThan(1e-15);
      }),
    );
  });
  it('whole powers are exact where doubles are', () => {
    for (let n = 0; n <= 30; n++) expect(E.integerPower(3, n)).toBe(Number(3n ** BigInt(n)));
    expect(E.integerPower(2, -10)).toBe(1 / 1024);
    expect(E.eighthRoot(256)).toBe(2);
  });
  it('a wrapped angle is the same angle, nearest to zero', () => {
    fc.assert(
      fc.property(finite(-100, 100), (x) => {
        const w = E.wrapAngle(x);
        expect(Math.abs(w)).toBeLessThanOrEqual(Math.PI + 1e-12);
        expect(Math.abs(Math.sin((x - w) / 2))).toBeLessThan(1e-13);
      }),
    );
  });
});

describe('where numbers have a decimal comma', () => {
  afterEach(() => showComma(false));
  it('they are shown and typed with one; the document keeps its points', () => {
    showComma(true);
    expect(formatQuantity(0.0125, D.length)).toBe('12,5 mm');
    expect(fixed(1.25, 1)).toMatch(/^1,[23]$/);
    for (const text of ['gate_speed * smoothstep(0 s, 0.4 s, t)', '66.5 mm', '1e-5', 'clamp(1, 2.5, t/1 s)', '2*arm + 0.25 mm'])
      expect(plainText(localText(text))).toBe(text);
    expect(localText('clamp(1,2.5,x)')).toBe('clamp(1, 2,5, x)');
    expect(plainText('0,0,100 mm')).toBe('0, 0, 100 mm');
    expect(plainText('smoothstep(0 s; 0,4 s; t)')).toBe('smoothstep(0 s, 0.4 s, t)');
  });
  it('is told by the language; elsewhere nothing changes', () => {
    expect(['de-DE', 'fr-FR', 'sv-SE', 'pt-BR'].every(usesComma)).toBe(true);
    expect(['en-GB', 'en-US', 'ja-JP', 'zh-CN'].some(usesComma)).toBe(false);
    expect(localText('1.5')).toBe('1.5');
    expect(plainText('1,5')).toBe('1,5');
  });
});
