/** The Map's graph with what instances bring: folded, unfolded, and what is picked inside them. */
import { describe, expect, it } from 'vitest';
import { type Model, complete, kitContent } from '@vim-pivot/core';
import { expand } from '../../core/src/model/expand';
import { graphOf } from '../state/map/mechanism-graph';
import { offersFor } from '../state/adding/offers';

const arm = {
  name: 'Arm',
  content: kitContent('Arm', {
    points: [{ name: 'Top' }, { name: 'End', body: 'Fore', at: ['0.5 m', 0, 0] }, { name: 'Elbow', at: ['0.5 m', 0, 0] }],
    bodies: [
      { name: 'Root', kind: 'mount' },
      { name: 'Upper', origin: 'Top', mass: 1 },
      { name: 'Fore', origin: 'Elbow', mass: 1 },
    ],
    joints: [
      { name: 'Shoulder', kind: 'revolute', bodies: ['Root', 'Upper'], at: ['Top'], axis: [0, 1, 0] },
      { name: 'Elbow pin', kind: 'revolute', bodies: ['Upper', 'Fore'], at: ['Elbow'], axis: [0, 1, 0] },
    ],
  }),
};
const machine = complete({
  format: 'vim-pivot-model',
  version: 1,
  name: 'Arms',
  ground: 'Frame',
  kits: [arm],
  points: [{ name: 'Hook', at: [1, 0, 0] }],
  bodies: [{ name: 'Load', origin: 'Hook', mass: 3 }],
  instances: [
    { name: 'Left', kit: 'Arm', kind: 'single' },
    { name: 'Right', kit: 'Arm', kind: 'single', at: [0, '1 m', 0] },
  ],
  joints: [{ name: 'Grip', kind: 'spherical', bodies: ['Left/Fore', 'Load'], at: ['Hook'] }],
  loads: [{ name: 'Push', kind: 'force', body: 'Left/Fore', at: 'Hook', force: ['1 N', 0, 0] }],
} as object) as Model;

const whole = expand(machine).model,
  added = <F extends 'bodies' | 'points' | 'joints'>(f: F) => whole[f].slice(machine[f].length);
const within = {
  homes: Object.fromEntries(added('points').map((p) => [p.name, String(p.body ?? whole.ground)])),
  joints: added('joints').map((j) => ({ name: j.name, kind: String(j.kind), bodies: j.bodies as unknown as [string, string] })),
};
const graph = (...unfolded: string[]) =>
  graphOf(
    machine,
    added('bodies').map((b) => b.name),
    within,
    new Set(unfolded),
  );
const ends = (id: string, g = graph()) =>
  g.links.find((l) => l.id === id) &&
  [g.links.find((l) => l.id === id)!.a, g.links.find((l) => l.id === id)!.b].map((n) => g.nodes.find((x) => x.id === n)!.name);

describe('the graph', () => {
  it('has one node for an instance, joined to the rest by what joins its bodies to it', () => {
    const { nodes, links } = graph();
    expect(nodes.map((n) => [n.name, n.folded])).toEqual([
      ['Frame', undefined],
      ['Load', undefined],
      ['Left', 2],
      ['Right', 2],
    ]);
    expect(ends('Grip')).toEqual(['Left', 'Load']);
    expect(ends('Left/Shoulder')).toEqual(['Frame', 'Left']);
    expect(links.length).toBe(3); // both elbow pins are inside
  });
  it('unfolds one instance into its bodies and joints, and leaves the other folded', () => {
    const g = graph('Left');
    expect(g.nodes.map((n) => n.name)).toEqual(['Frame', 'Load', 'Right', 'Left/Upper', 'Left/Fore']);
    expect(g.nodes.filter((n) => n.of === 'Left').length).toBe(2);
    expect(ends('Left/Elbow pin', g)).toEqual(['Left/Upper', 'Left/Fore']);
    expect(ends('Grip', g)).toEqual(['Left/Fore', 'Load']);
    expect(g.nodes.find((n) => n.name === 'Left/Fore')!.loads).toEqual(['Push']);
  });
  it('joints that a folded instance brings to the same body are one line that says how many', () => {
    const twice = {
      ...within,
      joints: [...within.joints, { name: 'Left/Stay', kind: 'Ball', bodies: ['Frame', 'Left/Fore'] as [string, string] }],
    };
    const { links } = graphOf(
      machine,
      added('bodies').map((b) => b.name),
      twice,
      new Set(),
    );
    expect(links.find((l) => l.id === 'Left/Shoulder')!.joints).toEqual(['Left/Shoulder', 'Left/Stay']);
  });
  it('every node is its own, whatever bodies and instances are called', () => {
    const same = { ...machine, bodies: [...machine.bodies, { name: 'Left' }] } as Model;
    const { nodes } = graphOf(
      same,
      added('bodies').map((b) => b.name),
      within,
      new Set(),
    );
    expect(new Set(nodes.map((n) => n.id)).size).toBe(nodes.length);
  });
});

describe('points inside instances', () => {
  it('are joined like any other: to the body they are fixed in, and to a body picked with them', () => {
    const one = offersFor(
      machine,
      [
        { family: 'points', name: 'Left/End' },
        { family: 'points', name: 'Right/End' },
      ],
      within.homes,
    );
    expect(one.find((o) => o.kind.kind === 'spring')!.element).toMatchObject({ bodies: ['Left/Fore', 'Right/Fore'] });
    const two = offersFor(
      machine,
      [
        { family: 'bodies', name: 'Load' },
        { family: 'points', name: 'Right/End' },
      ],
      within.homes,
    );
    expect(two.find((o) => o.kind.kind === 'spherical')!.element).toMatchObject({ bodies: ['Right/Fore', 'Load'], at: ['Right/End'] });
  });
  it('a body and a point of another are joined to each other, not to the ground', () => {
    const own = complete({
      ...machine,
      kits: [],
      instances: [],
      joints: [],
      loads: [],
      bodies: [{ name: 'A' }, { name: 'B' }],
      points: [{ name: 'P', body: 'A' }, { name: 'G' }],
    } as object);
    expect(
      offersFor(own, [
        { family: 'bodies', name: 'B' },
        { family: 'points', name: 'P' },
      ]).find((o) => o.kind.kind === 'revolute')!.element.bodies,
    ).toEqual(['A', 'B']);
    expect(
      offersFor(own, [
        { family: 'bodies', name: 'B' },
        { family: 'points', name: 'G' },
      ]).find((o) => o.kind.kind === 'revolute')!.element.bodies,
    ).toEqual([own.ground, 'B']);
  });
});
