/** One body on a joint of every kind there is. */
import { type RawElement, kindsOf } from '../src';
import { model } from './models';

const e = (list: object[]) => list as RawElement[];
const body = { name: 'Rotor', mass: 1.3, centre: [0.1, -0.05, 0.2], inertia: [0.02, 0.03, 0.025] };

/** An oval round “Here” in the plane square to an axis, through it, and the place of a roller that touches it. */
function rim(axis: readonly number[]) {
  const n = Math.hypot(...axis),
    z = axis.map((x) => x / n);
  const s = Math.abs(z[0]!) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const raw = [s[1]! * z[2]! - s[2]! * z[1]!, s[2]! * z[0]! - s[0]! * z[2]!, s[0]! * z[1]! - s[1]! * z[0]!];
  const x = raw.map((v) => v / Math.hypot(...raw)),
    y = [z[1]! * x[2]! - z[2]! * x[1]!, z[2]! * x[0]! - z[0]! * x[2]!, z[0]! * x[1]! - z[1]! * x[0]!];
  const here = [0.1, 0.2, 0.3],
    centre = here.map((h, k) => h - 0.4 * x[k]!);
  const at = (r: number, q: number, angle: number) => centre.map((c, k) => c + r * Math.cos(angle) * x[k]! + q * Math.sin(angle) * y[k]!);
  return [
    { name: 'Roller', at: at(0.45, 0.3, 0) },
    ...Array.from({ length: 12 }, (_, i) => ({ name: `Rim ${i}`, at: at(0.4, 0.25, (2 * Math.PI * i) / 12) })),
  ];
}

/** One body on one joint of a kind, its axis in any direction. */
export function oneJoint(kind: string, axis: readonly number[], extra: object = {}) {
  const second = [axis[1]!, -axis[0]!, 0];
  const cross = Math.hypot(...second) > 0.1 ? second : [0, axis[2]!, -axis[1]!];
  const fields = kindsOf('joints').find((k) => k.kind === kind)!.fields;
  return model(`One ${kind}`, {
    run: { until: 0.5, every: 0.01, accuracy: 'through' in fields ? 1e-7 : 1e-6 },
    points: e([{ name: 'Here', at: [0.1, 0.2, 0.3] }, { name: 'There', at: [0.5, 0.1, 0.2] }, ...rim(axis)]),
    bodies: e([{ ...body, origin: 'There', rotation: ['20 deg', '-30 deg', '40 deg'], spin: [1, -2, 0.5], velocity: [0.3, 0.2, -0.1] }]),
    joints: e([
      {
        name: 'Joint',
        kind,
        bodies: ['Ground', 'Rotor'],
        at: kind === 'distance' ? ['Here', 'There'] : kind === 'cam' ? ['Roller'] : ['Here'],
        ...('axis' in fields ? { axis } : {}),
        ...('cross' in fields ? { cross } : {}),
        ...('lead' in fields ? { lead: '30 mm' } : {}),
        ...('through' in fields
          ? {
              through: rim(axis)
                .slice(1)
                .map((p) => p.name),
              closed: 'closed',
            }
          : {}),
        ...(kind === 'cam' ? { radius: 0.05 } : {}),
        ...extra,
      },
    ]),
    loads: e([{ name: 'Gravity', kind: 'gravity' }]),
    gauges: e([
      { name: 'Energy', kind: 'energy' },
      { name: 'Kinetic', kind: 'energy', of: 'kinetic' },
    ]),
  });
}
