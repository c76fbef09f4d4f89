import { z } from 'zod';
import { formatNumber } from '../../quantity/units';
import { modes as modesOf } from '../../solve/modes';
import type { Mode } from '../../solve/modes-found';
import { type Listed, analysis } from './analysis';
import { swung } from './shown';

const list = z.array(z.number());

export const modes = analysis({
  name: 'modes',
  label: 'Modes',
  ask: 'Find',
  help: 'Natural vibrations: frequency, damping and shape, what moves and where the energy is. What nothing pulls back is a mode of 0 Hz.',
  settings: {
    most: {
      type: 'count',
      label: 'How many at most',
      help: 'Of a large machine so many, the slowest.',
      default: 40,
      least: 1,
      most: 100_000,
    },
  },
  about: 'equilibrium',
  output: {
    bodies: z.array(z.string()).describe('In the order of the shapes.'),
    modes: z.array(
      z.strictObject({
        re: z.number().describe('Real part of the eigenvalue λ, 1/s.'),
        im: z.number().describe('Its imaginary part, 1/s.'),
        frequency: z.number().describe('Hz: |λ|/2π, the undamped natural frequency; the damped one is that times √(1 − damping²).'),
        damping: z.number().describe('Part of critical damping, −Re λ/|λ|.'),
        shape: z
          .strictObject({ re: list, im: list })
          .describe('Six numbers a body: velocity of the centre of mass in ground axes, angular velocity in its own.'),
        kinetic: z.array(z.strictObject({ body: z.string(), share: z.number() })).describe('Parts of the kinetic energy.'),
        elastic: z.array(z.strictObject({ load: z.string(), share: z.number() })).describe('Parts of the elastic energy.'),
      }),
    ),
  },
  *work({ m, t, of }) {
    yield 0;
    const found = modesOf(m, t, of.most),
      each = 6 * m.bodies.length;
    return {
      items: found.modes.map((x, i) => ({
        label: `Mode ${i + 1}: ${formatNumber(x.frequency, 4)} Hz`,
        detail: [
          behaviour(x),
          `moves ${first(x.kinetic, (k) => k.body)}`,
          ...(x.elastic.some(counts) ? [`stored in ${first(x.elastic, (k) => k.load)}`] : []),
        ].join('; '),
        lists: listsOf(x),
        shown: swung(m, x.shape.re, x.shape.im),
      })),
      table: {
        columns: [
          { name: 'frequency', unit: 'Hz' },
          { name: 'damping ratio', unit: '' },
          { name: 'eigenvalue, real', unit: '1/s' },
          { name: 'eigenvalue, imaginary', unit: '1/s' },
          ...m.bodies.map((b) => ({ name: `kinetic energy, ${b.name}`, unit: '' })),
          ...m.assembly.forces.map((f) => ({ name: `elastic energy, ${f.name}`, unit: '' })),
        ],
        rows: found.modes.map((x) => [
          ...[x.frequency, x.damping, x.re, x.im],
          ...m.bodies.map((b) => x.kinetic.find((k) => k.body === b.name)?.share ?? 0),
          ...m.assembly.forces.map((f) => x.elastic.find((k) => k.load === f.name)?.share ?? 0),
        ]),
      },
      data: {
        bodies: m.bodies.map((b) => b.name),
        modes: found.modes.map((x) => ({
          ...x,
          shape: { re: [...x.shape.re.subarray(0, each)], im: [...x.shape.im.subarray(0, each)] },
        })),
      },
      diagnoses: found.diagnoses,
    };
  },
});

/** Part of the energy from which on something is named. */
const counts = ({ share }: { share: number }): boolean => share > 0.02;
const percent = (share: number): string => `${Math.round(100 * share)} %`;
const first = <T extends { share: number }>(list: readonly T[], name: (x: T) => string): string =>
  list
    .filter(counts)
    .slice(0, 3)
    .map((k) => `${name(k)} ${percent(k.share)}`)
    .join(', ');

function behaviour({ re, im, frequency, damping }: Mode): string {
  if (im !== 0) return `damping ratio ${formatNumber(damping, 3)}`;
  if (frequency === 0) return 'free, does not swing';
  return re < 0 ? 'creeps back without swinging' : 'grows';
}

function listsOf({ re, im, kinetic, elastic }: Mode): Listed[] {
  const shares = (title: string, all: readonly (readonly [string, number])[]): Listed[] => {
    const rows = all.filter(([, share]) => share > 0.005).map(([name, share]) => [name, percent(share)] as const);
    return rows.length > 0 ? [{ title, rows }] : [];
  };
  return [
    { title: 'Eigenvalue', rows: [['λ', `${formatNumber(re, 5)}${im === 0 ? '' : ` ± ${formatNumber(im, 5)} i`} 1/s`]] },
    ...shares(
      'Kinetic energy',
      kinetic.map((k) => [k.body, k.share]),
    ),
    ...shares(
      'Elastic energy',
      elastic.map((k) => [k.load, k.share]),
    ),
  ];
}
