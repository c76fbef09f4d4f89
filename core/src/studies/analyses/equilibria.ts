import { z } from 'zod';
import type { Channel } from '../../elements/declarations';
import { D } from '../../quantity/dimension';
import { formatQuantity, readUnit, shownUnit } from '../../quantity/units';
import { soughtEquilibria } from '../../solve/equilibria';
import { freeMotions } from '../../solve/motions';
import { readPresent } from '../../solve/present';
import { SmallMotions, vanishes } from '../../solve/small-motions';
import type { Mechanism } from '../../system/mechanism';
import { type Item, analysis } from './analysis';
import { postureOf } from './shown';

const value = (name: string) => z.array(z.strictObject({ [name]: z.string(), value: z.number().nullable(), unit: z.string() }));

export const equilibria = analysis({
  name: 'equilibria',
  label: 'Equilibria',
  ask: 'Find',
  help:
    'Postures in which all loads are in equilibrium, with their stability and stiffness: with proof that there are no others where there is one degree of ' +
    'freedom, or up to three, of which joints may close a loop; else those found from several starts.',
  settings: {
    starts: {
      type: 'count',
      label: 'Further starts',
      help: 'Postures from which they are sought, besides the assembled one.',
      default: 12,
      least: 0,
      most: 10_000,
    },
  },
  output: {
    complete: z
      .boolean()
      .describe('Whether it is proved that there are no others, as far as was looked: the notes say how far, or why not.'),
    equilibria: z.array(
      z.strictObject({
        stable: z.boolean(),
        neutral: z.array(z.string()).describe('Freedoms along which nothing pulls back.'),
        held: z.array(z.string()).describe('Frictions that hold it there.'),
        energy: z.number().describe('Stored, J.'),
        iterations: z.number(),
        joints: value('joint').describe('Where the coordinates of joints stand.'),
        gauges: value('gauge').describe('What gauges read there, at rest.'),
        stiffness: value('motion').describe('What a displacement by each free motion calls up against it.'),
        state: z
          .array(z.number())
          .describe(
            'State of all bodies: position of the centre of mass (m) and quaternion of each, then velocities (m/s) and angular velocities (rad/s, own axes), then further states.',
          ),
      }),
    ),
  },
  *work({ m, t, of }) {
    const { list, complete, diagnoses } = yield* soughtEquilibria(m, t, of.starts),
      found = list.map((e) => {
        m.system.K.load(e.y);
        m.system.linearise();
        return { ...e, ...told(m, t), posture: postureOf(m), start: startAt(m) };
      }),
      names = found[0];
    return {
      items: found.map((e, i): Item => ({
        label: `Equilibrium ${i + 1}: ${e.stable ? 'stable' : 'unstable'}`,
        detail: [
          ...e.joints.slice(0, FEW).map(read),
          `stored ${formatQuantity(e.energy, D.energy, 'J', 4)}`,
          ...(e.neutral.length > 0 ? [`nothing pulls back along ${e.neutral.join(', ')}`] : []),
          ...(e.held.length > 0 ? [`held by friction: ${e.held.join(', ')}`] : []),
        ].join('; '),
        lists: [
          { title: 'Joints', rows: e.joints.map(row) },
          { title: 'Stiffness', rows: e.stiffness.map(row) },
          { title: 'Gauges', rows: e.gauges.map(row) },
        ].filter((l) => l.rows.length > 0),
        shown: { frames: e.posture },
        ...(e.start.length > 0 ? { start: e.start } : {}),
      })),
      table: {
        columns: [
          { name: 'stable', unit: '' },
          { name: 'energy', unit: 'J' },
          ...[...(names?.joints ?? []), ...(names?.gauges ?? [])].map(({ name, unit }) => ({ name, unit })),
        ],
        rows: found.map((e) => [e.stable ? 'yes' : 'no', e.energy, ...[...e.joints, ...e.gauges].map((x) => x.value)]),
      },
      data: {
        complete,
        equilibria: found.map(({ stable, neutral, held, energy, iterations, y, ...e }) => ({
          ...{ stable, neutral, held, energy, iterations },
          joints: e.joints.map(as('joint')),
          gauges: e.gauges.map(as('gauge')),
          stiffness: e.stiffness.map(as('motion')),
          state: [...y],
        })),
      },
      diagnoses,
    };
  },
});

/** Joints that are told of a posture in its line, at most. */
const FEW = 3;

interface Told {
  readonly name: string;
  /** In `unit`. */
  readonly value: number;
  readonly unit: string;
}
const row = ({ name, value: x, unit }: Told): [string, string] => [
  name,
  Number.isFinite(x) ? formatQuantity(x * readUnit(unit)!.factor, readUnit(unit)!.dim, unit, 5) : 'no value',
];
const read = (x: Told): string => row(x).join(' ');
const as =
  (key: string) =>
  ({ name, value: x, unit }: Told) => ({ [key]: name, value: Number.isFinite(x) ? x : null, unit });
const inUnit = (name: string, x: number, unit: string): Told => ({ name, value: x / readUnit(unit)!.factor, unit });

/** Part of a turn, or of the machine's size, to which postures are known. */
const FINE = 1e-12;
const known = (x: number, size: number): number => (Math.abs(x) < FINE * size ? 0 : x);

/** What is to be told of the posture in K, at rest. */
function told(m: Mechanism, t: number): { joints: Told[]; gauges: Told[]; stiffness: Told[] } {
  const { K } = m.system,
    joints = m.joints.flatMap((j) =>
      [...j.freedoms].map(([type, f], i) =>
        inUnit(
          i === 0 ? j.name : `${j.name} (${type})`,
          known(f.value(K), type === 'rotation' ? 1 : m.size),
          type === 'rotation' ? 'deg' : 'mm',
        ),
      ),
    ),
    channels = m.gauges.map((name) => ({ name, channel: m.channel(name) })).filter(({ channel }: { channel: Channel }) => !channel.after),
    stiffness = stiffnessAt(m, t),
    values = readPresent(
      m,
      t,
      channels.map((c) => c.channel),
    );
  return {
    ...{ joints, stiffness },
    gauges: channels.map(({ name, channel: { unit, dim } }, i) => inUnit(name, values[i]!, unit ?? shownUnit(dim))),
  };
}

/** xᵀ K x along each free motion, whose leader goes by 1. */
function stiffnessAt(m: Mechanism, t: number): Told[] {
  if (m.system.own.list.length > 0) return [];
  const of = new SmallMotions(m).at(t);
  return freeMotions(m).map(({ name, shape, leads }) => {
    const k = of.form('posture', shape, shape),
      turns = 'freedom' in leads ? leads.freedom.type === 'rotation' : leads.entry % 6 >= 3;
    return inUnit(name, vanishes(k) ? 0 : k.value, shownUnit(turns ? D.torsionStiffness : D.stiffness));
  });
}

/** Start positions of joints that lead to the posture in K. */
function startAt(m: Mechanism): NonNullable<Item['start']> {
  return freeMotions(m).flatMap(({ leads }) => {
    if (!('freedom' in leads)) return [];
    const j = m.joints.find((x) => [...x.freedoms.values()].includes(leads.freedom));
    return j ? [{ joint: j.name, freedom: leads.freedom.type, position: leads.freedom.value(m.system.K) }] : [];
  });
}
