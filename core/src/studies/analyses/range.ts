import { z } from 'zod';
import { D } from '../../quantity/dimension';
import { formatQuantity, readUnit } from '../../quantity/units';
import { type RangeEnd, range as follow } from '../../solve/ranges';
import type { Mechanism } from '../../system/mechanism';
import { type Item, analysis } from './analysis';

const element = z.strictObject({ family: z.string(), name: z.string() }).describe('Family and name of an element.');
const end = z.strictObject({
  at: z.number().describe('In `unit`.'),
  end: z.string().describe('What ends it there.'),
  binds: element.optional(),
  posture: z.array(z.number()).describe('Seven numbers a body: position of its centre of mass, m, and quaternion.'),
});

export const range = analysis({
  name: 'range',
  label: 'Range',
  ask: 'Follow',
  help: 'How far a joint goes either way, without the drives, and what ends it: a dead centre, a stop, a lock.',
  settings: {
    joint: {
      type: 'name',
      label: 'Joint',
      help: 'The joint that is followed; of a joint that turns and slides, one of both.',
      names: ({ m }) => coordinates(m).map((c) => c.called),
    },
  },
  undriven: true,
  output: { unit: z.string(), start: z.number().describe('In `unit`.'), lower: end, upper: end },
  *work({ m, model, of }) {
    yield 0;
    const { joint, freedom } = coordinates(m).find((c) => c.called === of.joint)!,
      driven = model.drives.some((d) => !d.off),
      { start, lower, upper } = follow(m, joint, freedom),
      [dim, unit] = freedom.type === 'rotation' ? [D.angle, 'deg'] : [D.length, 'mm'],
      shown = (x: number) => x / readUnit(unit)!.factor,
      item = (label: string, x: RangeEnd): Item => ({
        label: `${label}: ${formatQuantity(x.at, dim, unit, 4)}`,
        detail: `${x.end}${x.binds ? `; there ${x.binds.name} takes over` : ''}`,
        shown: { frames: x.posture },
        ...(driven ? {} : { start: [{ joint, freedom: freedom.type, position: x.at }] }),
      }),
      told = ({ at, posture, ...x }: RangeEnd) => ({ ...x, at: shown(at), posture: [...posture] });
    return {
      items: [item('Lower end', lower), item('Upper end', upper)],
      table: {
        columns: [
          { name: 'end', unit: '' },
          { name: of.joint, unit },
          { name: 'what ends it', unit: '' },
        ],
        rows: [
          ['lower', shown(lower.at), lower.end],
          ['upper', shown(upper.at), upper.end],
        ],
      },
      data: { unit, start: shown(start), lower: told(lower), upper: told(upper) },
      diagnoses: [],
    };
  },
});

/** Coordinates of joints, each as it is called: by its joint, and of a further one by what it is. */
const coordinates = (m: Mechanism) =>
  m.joints.flatMap((j) =>
    [...j.freedoms].map(([type, freedom], i) => ({ joint: j.name, called: i === 0 ? j.name : `${j.name} (${type})`, freedom })),
  );
