/** Formulas as TeX. */
import fc from 'fast-check';
import katex from 'katex';
import { describe, expect, it } from 'vitest';
import { D, shownUnit } from '../src';
import { typeset } from '../src/formula/typeset';
import { multiply } from '../src/quantity/dimension';

const names = new Set(['arm', 'weight_mass', 'm', 'omega']);
const tex = (f: string) => typeset(f, names);

describe('a formula is written as by hand', () => {
  it.each([
    ['a/b', '\\frac{\\mathrm{a}}{\\mathrm{b}}'],
    ['(1 + 2)*3', '\\left(1 + 2\\right) \\cdot 3'],
    ['1 - (2 - 3)', '1 - \\left(2 - 3\\right)'],
    ['1 - 2 - 3', '1 - 2 - 3'],
    ['(-m)^2', '\\left(-m\\right)^{2}'],
    ['weight_mass*arm^2', '\\text{weight mass} \\cdot \\text{arm}^{2}'],
    ['18 mm', '18 \\, \\mathrm{mm}'],
    ['9.81 m/s^2*arm', '9.81 \\, \\mathrm{m}/\\mathrm{s}^{2} \\cdot \\text{arm}'],
    ['9.81 N/kg*arm', '9.81 \\, \\mathrm{N}/\\mathrm{kg} \\cdot \\text{arm}'],
    ['1/s', '1/\\mathrm{s}'],
    ['arm/s', '\\frac{\\text{arm}}{\\mathrm{s}}'],
    ['sqrt(m/2)', '\\sqrt{\\frac{m}{2}}'],
    ['2*pi*omega', '2 \\cdot \\pi \\cdot \\omega'],
    ['{Torque, peak} * sin(m)', '\\text{Torque, peak} \\cdot \\sin\\left(m\\right)'],
  ])('%s', (formula, text) => expect(tex(formula)).toBe(text));

  it('of any shape, names and braces as they may be, is TeX that can be set', () => {
    const atom = fc.oneof(
      fc.constantFrom('arm', 'weight_mass', 'm', 'x1', '3', '0.25', '1e-7', '40 mm', '{Pin load}', '{50 % & more_of #it}'),
      fc.nat(99).map(String),
    );
    const { tree } = fc.letrec((tie) => ({
      tree: fc.oneof(
        { maxDepth: 5 },
        atom,
        fc
          .tuple(tie('tree'), fc.constantFrom('+', '-', '*', '/'), tie('tree'))
          .map(([a, o, b]) => `(${a as string}) ${o} (${b as string})`),
        tie('tree').map((a) => `-(${a as string})`),
        tie('tree').map((a) => `(${a as string})^2`),
        tie('tree').map((a) => `sqrt(${a as string})`),
        fc.tuple(tie('tree'), tie('tree')).map(([a, b]) => `max(${a as string}, ${b as string})`),
      ),
    }));
    fc.assert(
      fc.property(tree, (f) => {
        expect(katex.renderToString(tex(f as string), { throwOnError: true, strict: false })).toContain('katex');
      }),
      { numRuns: 150 },
    );
  });
});

it('an angle that a product leaves is not shown as a unit, one that divides is', () => {
  expect(shownUnit(multiply(D.torque, D.angularSpeed))).toBe('W');
  expect(shownUnit(D.torsionStiffness)).toBe('N·m/rad');
  expect(shownUnit(D.angularSpeed)).toBe('rpm');
});
