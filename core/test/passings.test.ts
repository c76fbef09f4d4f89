/** What passes through what in a run, though nothing holds it apart: found afterwards, and mended by the contact it offers. */
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement, Readings, runModel } from '../src';
import { areaAndVolume, inset } from '../src/geometry/inset';
import { box, sphere } from '../src/geometry/solid';
import { Passings, passedThrough } from '../src/passings';
import { BALL, FLOOR, G, machine, solids, touching, weight } from './touching';

function found(m: Model) {
  const ran = runModel(m),
    passings = new Passings(ran.mechanism);
  new Readings(ran.mechanism, ran.layout).read([passings.channel], ran.chunks);
  const looking = passings.look();
  for (let next = looking.next(); ; next = looking.next())
    if (next.done)
      return { list: next.value, measured: passings.measured, diagnoses: passedThrough(ran.mechanism, next.value, passings.complete) };
}
/** How deep a solid may overlap and still only touch: 5 % of twice its volume over its surface. */
const SKIN = { ball: (r: number) => (0.05 * 2 * r) / 3, slab: (0.05 * 2 * (200 * 20 * 0.1)) / (2 * (200 * 20 + 220 * 0.1)) };
const ball = (z: number, more: object = {}) => ({ at: [0, 0, z] as const, shape: BALL, ...more });
const floor = (balls: Parameters<typeof solids>[0], loads: RawElement[], run: object = { until: '0.4 s' }) =>
  machine(solids(balls, [FLOOR()]), [weight(0, -G), ...loads], Object.keys(balls), run);
const noContact = (m: Model): Model => ({ ...m, gauges: [] });

describe('Bodies that nothing holds apart', () => {
  it('are told when one falls through the other, at the time at which it is in it by more than their skins', () => {
    const { list } = found(noContact(floor({ Ball: ball(0.2) }, [])));
    expect(list).toHaveLength(1);
    expect(list[0]!.bodies).toEqual(['Ball', 'Ground']);
    const expected = Math.sqrt((2 * (0.15 + SKIN.ball(0.05) + SKIN.slab)) / G);
    // round faces of 32 facets lie in by half a percent of the radius
    expect(list[0]!.time).toBeGreaterThan(expected - 1e-4);
    expect(list[0]!.time).toBeLessThan(expected + 1e-3);
  });
  it('are told when the one rested on the other at the start', () => {
    expect(found(noContact(floor({ Ball: ball(0.05) }, []))).list[0]!.time).toBeLessThan(0.06);
  });
  it('are not told where they overlap from the start, only pass by, or do not move', () => {
    expect(found(noContact(floor({ Ball: ball(0.03) }, []))).list).toEqual([]);
    const by = (y: number) =>
      found(
        noContact(
          machine(
            solids({ One: { at: [0, 0, 0], shape: BALL, velocity: [3, 0, 0] }, Two: { at: [0.6, y, 0], shape: BALL } }),
            [],
            ['One', 'Two'],
            { until: '0.4 s' },
          ),
        ),
      ).list.length;
    expect(by(0.1005)).toBe(0);
    expect(by(0.09)).toBe(1);
    expect(by(-0.09)).toBe(1);
  });
  it('are told however fast and small one is and however thin the other: a pellet that is through between two records', () => {
    const shot = machine(
      solids({ Pellet: { at: [-1, 0.01, 0.02], shape: { kind: 'sphere', radius: '2 mm' }, velocity: [400, 0, 0] } }, [
        { kind: 'box', centre: 'Origin', length: '1 mm', depth: '100 mm', height: '100 mm' },
      ]),
      [],
      ['Pellet'],
      { until: '10 ms', every: '2 ms' },
    );
    const { list } = found(noContact(shot));
    expect(list).toHaveLength(1);
    expect(list[0]!.time).toBeCloseTo((1 - 0.0025) / 400, 5.5);
  });
  it('are told that spin: a bar that turns into a post', () => {
    const bar = machine(
      solids({ Bar: { at: [0, 0, 0], shape: { kind: 'box', length: '1 m', depth: '20 mm', height: '20 mm' }, spin: [0, 0, 40] } }, [
        { kind: 'cylinder', from: 'Low', to: 'High', radius: '10 mm' },
      ]),
      [],
      ['Bar'],
      { until: '0.1 s', every: '20 ms' },
    );
    const { list } = found({
      ...noContact(bar),
      points: [
        ...bar.points,
        { name: 'Low', at: [0, '0.45 m', '-0.1 m'] },
        { name: 'High', at: [0, '0.45 m', '0.1 m'] },
      ] as unknown as RawElement[],
    });
    // it comes by its side: a quarter turn, less half the width of both over the arm
    expect(list).toHaveLength(1);
    expect(40 * list[0]!.time).toBeCloseTo(Math.PI / 2 - 0.02 / 0.45, 2);
  });
  it('are not told where contact or a joint holds them', () => {
    expect(found(floor({ Ball: ball(0.2) }, [touching(['Ball'], ['Ground'], {})])).list).toEqual([]);
    const joined = noContact(floor({ Ball: ball(0.2) }, []));
    const joint = {
      name: 'Slide',
      kind: 'prismatic',
      bodies: ['Ball', 'Ground'],
      at: ['Ball middle'],
      axis: [0, 0, 1],
    } as unknown as RawElement;
    expect(found({ ...joined, joints: [joint] }).list).toEqual([]);
  });
});

describe('What is offered', () => {
  const three = () =>
    noContact(floor({ 'Ball 1': ball(0.2), 'Ball 2': { ...ball(0.4), at: [1, 0, 0.4] }, 'Ball 3': { ...ball(0.5), at: [2, 0, 0.3] } }, []));
  it('is one row for all that went through the same body, and with it nothing does', () => {
    const m = three(),
      { diagnoses } = found(m);
    expect(diagnoses).toHaveLength(1);
    expect(diagnoses[0]!.message).toMatch(/^“Ball 1” passed through “Ground” at 0\.17\d s, and 2 other bodies later\.$/);
    expect(diagnoses[0]!.severity).toBe('warning');
    const { changes, again } = diagnoses[0]!.fix!;
    expect(again).toBe(true);
    const mended = { ...m, loads: [...m.loads, changes[0]!.add as RawElement] },
      ran = found(mended);
    expect(ran.list).toEqual([]);
    expect(runModel(mended).end.happenings.filter((h) => /meets/.test(h.message)).length).toBeGreaterThan(2);
  });
  it('is no more than a note where joints guide both: links may be drawn through one another', () => {
    const m = noContact(floor({ Ball: ball(0.2) }, [])),
      rails = { name: 'Rail at', at: [3, 0, 0.2] },
      guide = { name: 'Guide', kind: 'prismatic', bodies: ['Ball', 'Rail'], at: ['Ball middle'], axis: [0, 0, 1] };
    const { diagnoses } = found({
      ...m,
      points: [...m.points, rails] as RawElement[],
      bodies: [...m.bodies, { name: 'Rail', origin: 'Rail at', mass: '1 kg' }] as unknown as RawElement[],
      joints: [{ name: 'Held', kind: 'fixed', bodies: ['Ground', 'Rail'], at: ['Rail at'] }, guide] as unknown as RawElement[],
    });
    expect(diagnoses.map((d) => d.severity)).toEqual(['note']);
  });
  it('takes a name that is free', () => {
    const m = three();
    const named = { ...m, loads: [...m.loads, { name: 'Contact', kind: 'gravity', acceleration: [0, 0, 0] } as unknown as RawElement] };
    expect(found(named).diagnoses[0]!.fix!.changes[0]!.name).toBe('Contact 2');
  });
  it('ends where very many come near one another, and says so', () => {
    const names = Array.from({ length: 260 }, (_, i) => `Ball ${i + 1}`),
      crowd = Object.fromEntries(
        names.map((n, i) => [
          n,
          { at: [(i % 16) * 0.12, Math.floor(i / 16) * 0.12, 0.3] as const, shape: BALL, velocity: [Math.sin(i), Math.cos(i), 0] },
        ]),
      ),
      m = noContact(machine(solids(crowd), [weight(0, -G)], [], { until: '0.5 s', every: '5 ms', accuracy: 1e-4 })),
      { measured, diagnoses } = found(m);
    expect(measured).toBeLessThan(11_000);
    expect(diagnoses.map((d) => d.code)).toContain('passings-unfinished');
    expect(diagnoses.map((d) => d.code)).toContain('passed-through');
  });
  it('costs distances only while bodies are near: none at all for what stays away', () => {
    expect(found(noContact(floor({ Ball: ball(9) }, []))).measured).toBeLessThan(400);
    const far = machine(
      solids({ One: { at: [0, 0, 0], shape: BALL, velocity: [3, 0, 0] }, Two: { at: [0, 1, 0], shape: BALL, velocity: [3, 0, 0] } }),
      [],
      ['One', 'Two'],
      { until: '2 s' },
    );
    expect(found(noContact(far)).measured).toBe(0);
  });
});

describe('A surface drawn in', () => {
  it('has lost as much all round: a box by its sides, a ball by its radius', () => {
    const b = box([0.1, 0.2, 0.3], [0.4, 0.5, 0.6]).surface(),
      in1 = inset({ corners: b.positions, indices: b.indices }, 0.01);
    expect(areaAndVolume(in1).volume).toBeCloseTo(0.38 * 0.48 * 0.58, 9);
    const s = sphere([0, 0, 0], 0.1).surface(64),
      in2 = inset({ corners: s.positions, indices: s.indices }, 0.01);
    for (let i = 0; i < in2.corners.length; i += 3)
      expect(Math.hypot(in2.corners[i]!, in2.corners[i + 1]!, in2.corners[i + 2]!)).toBeCloseTo(0.09, 3);
    expect(areaAndVolume({ corners: b.positions, indices: b.indices })).toEqual({
      area: expect.closeTo(2 * (0.2 + 0.24 + 0.3), 9) as number,
      volume: expect.closeTo(0.12, 9) as number,
    });
  });
});
