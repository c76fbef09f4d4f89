import { refuse } from '../../diagnosis';
import { type Sets, contactOf } from '../../equations/contact/contacts';
import { quantity, ref, refs, vector } from '../../model/fields';
import type { Table } from '../../formula/table';
import { D } from '../../quantity/dimension';
import { pow } from '../../quantity/elementary';
import { sampled } from '../declarations';
import { usable } from '../usable';
import { load } from './load';
import { atMostOne } from './restitution';

/** Depths over which it is drawn, in reference depths. */
const DRAWN = 4;

export const contact = load({
  kind: 'contact',
  label: 'Contact',
  needs: 'contacts',
  tells: ['effort', 'deflection'],
  touches: true,
  help: 'Solids that touch, press on one another, bounce, slide and stick: every body of one set with every body of the other, but for those that a joint joins. What two contacts name belongs to the later one.',
  fields: {
    first: refs('bodies', 1, 500, 'Bodies', 'Bodies of one set, by all their shapes. “Slat *” stands for all that are called so.', {
      patterns: true,
    }),
    second: refs('bodies', 1, 500, 'With', 'Bodies of the other set; the ground may be among them.', { patterns: true }),
    by: refs('shapes', 1, 500, 'By shapes', 'Only these shapes of the first set touch. Left out: all.', { patterns: true, optional: true }),
    on: refs('shapes', 1, 500, 'On shapes', 'Only these shapes of the other set are touched. Left out: all.', {
      patterns: true,
      optional: true,
    }),
    stiffness: quantity(
      D.stiffness,
      'Stiffness',
      'Force per depth, at each place that touches. With an exponent: at the reference depth.',
      {
        range: 'positive',
        default: '1000 N/mm',
      },
    ),
    exponent: quantity(D.none, 'Exponent', 'Force grows with this power of the depth: 1 for a spring, 1.5 for round faces (Hertz).', {
      range: 'positive',
      default: 1,
    }),
    depth: quantity(D.length, 'Reference depth', 'Depth at which the stiffness holds, where there is an exponent.', {
      range: 'positive',
      default: '0.1 mm',
    }),
    curve: ref('tables', 'Force curve', 'Table of force over depth, from 0 at 0 on; counts instead of the stiffness.', { optional: true }),
    restitution: quantity(
      D.none,
      'Restitution',
      'Speed after an impact beside that before it: 0 where nothing comes back, 1 where nothing is lost.',
      {
        default: 0.5,
        range: 'not negative',
      },
    ),
    static: quantity(D.none, 'Static friction', 'Coefficient while both stick. Left out: that of sliding.', {
      optional: true,
      range: 'not negative',
    }),
    sliding: quantity(D.none, 'Sliding friction', 'Coefficient while they slide.', { default: 0, range: 'not negative' }),
    rolling: quantity(
      D.length,
      'Rolling resistance',
      'Lever arm: a moment of this times the normal force resists rolling, and holds what rests.',
      { default: 0, range: 'not negative' },
    ),
    spinning: quantity(D.length, 'Spinning resistance', 'Lever arm of the moment that resists spinning about the normal.', {
      default: 0,
      range: 'not negative',
    }),
    runs: vector(D.speed, 'Surface speed', 'How fast surfaces of the second set run, as belts do, in the axes of their bodies.', {
      default: [0, 0, 0],
    }),
  },
  force(v, m, name) {
    atMostOne(v.restitution, name);
    if (v.exponent < 1)
      refuse({
        code: 'exponent-small',
        message: 'The exponent is less than 1.',
        why: 'The force would grow without bound at the first touch.',
        remedy: 'Choose 1, or 1.5 for round faces.',
        element: { family: 'loads', name },
      });
    return contactOf({
      name,
      first: v.first,
      second: v.second,
      ...(v.by ? { by: v.by } : {}),
      ...(v.on ? { on: v.on } : {}),
      machine: m,
      later: m.later(name) as readonly Sets[],
      stiffness: v.stiffness * pow(v.depth, 1 - v.exponent),
      exponent: v.exponent,
      curve: v.curve === undefined ? undefined : m.table(v.curve, D.length, D.force),
      restitution: v.restitution,
      friction: { static: v.static ?? v.sliding, sliding: v.sliding, rolling: v.rolling, spinning: v.spinning, runs: v.runs },
    });
  },
  characteristic: (v, m, name) => ({
    x: 'depth',
    y: 'force',
    dims: [D.length, D.force],
    points: pointsOf(v, v.curve === undefined ? undefined : m.table(v.curve, D.length, D.force)),
    says: mayTouch(usable(m.forces, name, 'loads').force.touches?.pairs.length ?? 0),
  }),
  outline: (v, m) => ({ type: 'none', at: { body: m.index(v.first[0]!), at: [0, 0, 0] } }),
});

const mayTouch = (pairs: number): string => (pairs === 1 ? 'One pair of bodies may touch.' : `${pairs} pairs of bodies may touch.`);

const pointsOf = (v: { stiffness: number; exponent: number; depth: number }, curve: Table | undefined): [number, number][] =>
  curve
    ? sampled(0, curve.x[curve.length - 1]!, (x) => curve.at(x).f)
    : sampled(0, DRAWN * v.depth, (x) => v.stiffness * v.depth * pow(x / v.depth, v.exponent));
