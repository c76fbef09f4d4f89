/** What a selection can be made into, read off the declarations. */
import { describe, expect, it } from 'vitest';
import { complete, kindsOf } from '@vim-pivot/core';
import sortingGate from '../../examples/sorting-gate.pivot.json';
import { fill, offersFor } from '../state/adding/offers';

const gate = complete(sortingGate as object);
const offered = (...picked: [family: 'points' | 'bodies' | 'joints' | 'shapes' | 'loads', name: string][]) =>
  offersFor(
    gate,
    picked.map(([family, name]) => ({ family, name })),
  );
const kinds = (...picked: Parameters<typeof offered>) => offered(...picked).map((o) => o.kind.kind);

describe('offers', () => {
  it('two points: a link bar with a body of its own, aimed from one to the other', () => {
    const link = offered(['points', 'Crank pin'], ['points', 'Rocker head']).find((o) => o.kind.kind === 'link')!;
    expect(link.element).toMatchObject({ from: 'Crank pin', to: 'Rocker head' });
    expect(link.body).toMatchObject({ origin: 'Crank pin', aim: 'Rocker head', material: gate.materials[0]!.name });
  });
  it('three points: a plate and a wire, but no link bar', () => {
    const found = kinds(['points', 'Crank pin'], ['points', 'Rocker head'], ['points', 'Rocker foot']);
    expect(found).toEqual(expect.arrayContaining(['plate', 'wire']));
    expect(found).not.toContain('link');
  });
  it('two bodies and a point: joints with their effect, and springs need two points', () => {
    const found = offered(['bodies', 'Crank'], ['bodies', 'Rocker'], ['points', 'Crank pin']);
    expect(found.find((o) => o.kind.kind === 'revolute')!.element).toMatchObject({ bodies: ['Crank', 'Rocker'], at: ['Crank pin'] });
    expect(found.map((o) => o.kind.kind)).not.toContain('spring');
  });
  it('a joint: drives, gauges, springs and stops on it', () => {
    expect(kinds(['joints', 'Motor pin'])).toEqual(expect.arrayContaining(['drive', 'joint', 'reaction', 'joint-spring', 'joint-stop']));
  });
  it('two shapes: joined in the body of the first, no new body', () => {
    const joined = offered(['shapes', 'Crank bar'], ['shapes', 'Coupler bar']).find((o) => o.kind.kind === 'combined')!;
    expect(joined.element).toMatchObject({ of: ['Crank bar', 'Coupler bar'], body: 'Crank' });
    expect(joined.body).toBeUndefined();
  });
  it('a load: what it tells of itself where it can, its energy, and its force on the body it acts on', () => {
    const [spring, gravity] = [offered(['loads', 'Return spring']), offered(['loads', 'Gravity'])];
    expect(spring.map((o) => o.kind.kind)).toEqual(expect.arrayContaining(['load', 'load-energy', 'load-force']));
    expect(spring.find((o) => o.kind.kind === 'load-force')!.element.body).toBe(
      (gate.loads.find((l) => l.name === 'Return spring')!.bodies as string[]).at(-1),
    );
    expect(gravity.map((o) => o.kind.kind)).not.toContain('load');
    expect(gravity.map((o) => o.kind.kind)).toContain('load-energy');
  });
  it('nothing picked offers nothing, and no kind takes what it has no place for', () => {
    expect(offersFor(gate, [])).toEqual([]);
    for (const k of kindsOf('gauges')) expect(fill(k, gate, [{ family: 'materials', name: gate.materials[0]!.name }])).toBeUndefined();
  });
});
