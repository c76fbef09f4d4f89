import { z } from 'zod';
import { freeMotions } from '../../solve/motions';
import { analysis } from './analysis';
import { played } from './shown';

export const motions = analysis({
  name: 'motions',
  label: 'Degrees of freedom',
  ask: 'Find',
  help: 'Every motion that is left free, played by itself. Names tell which joint or body leads.',
  settings: {},
  about: 'start',
  output: {
    motions: z.array(
      z.strictObject({
        name: z.string(),
        shape: z
          .array(z.number())
          .describe('Six numbers a body: velocity of the centre of mass in ground axes, angular velocity in its own.'),
      }),
    ),
  },
  *work({ m }) {
    yield 0;
    const found = freeMotions(m);
    return {
      items: found.map((f) => ({ label: f.name, detail: '', shown: played(m, f.shape) })),
      table: {
        columns: [
          { name: 'motion', unit: '' },
          { name: 'body', unit: '' },
          ...['vx', 'vy', 'vz'].map((name) => ({ name, unit: 'm/s' })),
          ...['wx', 'wy', 'wz'].map((name) => ({ name, unit: 'rad/s' })),
        ],
        rows: found.flatMap((f) => m.bodies.map((b, i) => [f.name, b.name, ...f.shape.subarray(6 * i, 6 * i + 6)])),
      },
      data: { motions: found.map((f) => ({ name: f.name, shape: [...f.shape.subarray(0, 6 * m.bodies.length)] })) },
      diagnoses: [],
    };
  },
});
