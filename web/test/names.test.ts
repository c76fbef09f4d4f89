/** Names made by the program. */
import { describe, expect, it } from 'vitest';
import { type Model, FAMILIES, kindsOf } from '@vim-pivot/core';
import { checkModel } from '@vim-pivot/core/file';
import sliding from '../../examples/templates/crank-and-slide.pivot.json';
import { bodyNameFor, nameFor } from '../state/document/names';
import { fill } from '../state/adding/offers';
import { renamed } from '../state/document/renaming';

const model = checkModel(sliding as object);
const kind = (family: (typeof FAMILIES)[number]['key'], k: string) => kindsOf(family).find((x) => x.kind === k)!;

describe('a name made by the program', () => {
  it.each([
    ['joints', 'revolute', { bodies: ['Crank', 'Rod'], at: ['Crank pin'] }, 'Crank to Rod'],
    ['gauges', 'joint', { joint: 'Rail slide' }, 'Rail slide travel'],
    ['gauges', 'joint', { joint: 'Motor pin' }, 'Motor pin angle'],
    ['gauges', 'reaction', { joint: 'Motor pin' }, 'Motor pin load'],
    ['gauges', 'drive', { drive: 'Motor' }, 'Motor torque'],
    ['gauges', 'distance', { bodies: ['Frame', 'Rod'], at: ['Motor axis', 'Rod end'] }, 'Motor axis to Rod end distance'],
    ['shapes', 'link', { body: 'Crank', from: 'Motor axis', to: 'Crank pin' }, 'Crank bar'],
    ['drives', 'drive', { joint: 'Motor pin' }, 'Motor pin drive'],
    ['starts', 'start', { joint: 'Motor pin' }, 'Motor pin start value'],
    ['points', 'point', {}, 'Point'],
  ] as const)('of %s %s says what it is', (family, k, fields, name) => {
    expect(nameFor(kind(family, k), { name: '', kind: k, ...fields } as never, model)).toBe(name);
  });
  it('a body made with its first shape is called after its points, the shape after the body', () => {
    const offer = fill(kind('shapes', 'link'), model, [
      { family: 'points', name: 'Motor axis' },
      { family: 'points', name: 'Rail start' },
    ])!;
    const body = bodyNameFor(offer.kind, offer.element);
    expect(body).toBe('Motor axis to Rail start');
    expect(nameFor(offer.kind, { ...offer.element, body }, model)).toBe('Motor axis to Rail start bar');
  });
  it('is there for every kind that can be offered, and never empty', () => {
    for (const { key } of FAMILIES)
      for (const k of kindsOf(key)) expect(nameFor(k, { name: '', kind: k.kind }, model).length).toBeGreaterThan(0);
  });
});

describe('when something is renamed', () => {
  const more: Model = {
    ...model,
    joints: model.joints.map((j) => (j.name === 'Crank to rod' ? { ...j, name: 'Crank to Rod' } : j)),
    gauges: [
      ...model.gauges,
      { name: 'Crank to Rod angle', kind: 'joint', joint: 'Crank to Rod' } as never,
      { name: 'Crank to Rod angle 2', kind: 'joint', joint: 'Crank to Rod' } as never,
    ],
  };
  it('names made from it follow, through joints to gauges; typed ones stay', () => {
    const next = renamed(more, 'bodies', 'Crank', 'Lever');
    expect(next.joints.map((j) => j.name)).toEqual(['Motor pin', 'Lever to Rod', 'Rod to block', 'Rail slide']);
    expect(next.shapes.map((s) => s.name)).toEqual(['Lever bar', 'Rod bar', 'Block solid']);
    expect(next.gauges.map((g) => g.name)).toEqual(['Travel', 'Motor torque', 'Lever to Rod angle', 'Lever to Rod angle 2']);
    expect(next.gauges.at(-1)!.joint).toBe('Lever to Rod');
    expect(renamed(next, 'bodies', 'Lever', 'Crank')).toEqual(more);
  });
});
