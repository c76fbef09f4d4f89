/** Sentences of the / line, and what a selection can be made into. */
import '../../core/src/elements';
import { describe, expect, it } from 'vitest';
import { type Model, type RawElement } from '@vim-pivot/core/page';
import { EXAMPLES } from '../state/adding/examples';
import { offersFor } from '../state/adding/offers';
import { readSentence, stumbleOf } from '../state/adding/sentence';

const gate = EXAMPLES[0]!;
const read = (text: string, model: Model = gate): RawElement | undefined => readSentence(text, model)?.offer.element;

describe('a sentence', () => {
  it.each<[string, object]>([
    ['arm2 = 3*arm + 1 mm', { name: 'arm2', value: '3*arm + 1 mm' }],
    ['parameter arm2 = 3*arm + 1 mm', { name: 'arm2', value: '3*arm + 1 mm' }],
    ['Parameter gap2 2 mm', { name: 'gap2', value: '2 mm' }],
    ['point Tip at 10, 20, 30 mm', { name: 'Tip', at: ['10 mm', '20 mm', '30 mm'] }],
    [
      'revolute Hinge between Frame and Crank at Motor axis about y',
      { name: 'Hinge', kind: 'revolute', bodies: ['Frame', 'Crank'], at: ['Motor axis'], axis: [0, 1, 0] },
    ],
    ['pin between Crank and Rocker at Motor axis', { kind: 'revolute', bodies: ['Crank', 'Rocker'] }],
    ['drive Second motor on Rail slide 20 mm/s', { name: 'Second motor', joint: 'Rail slide', value: '20 mm/s' }],
    ['joint spring on Motor pin 2 N*m/rad', { kind: 'joint-spring', joint: 'Motor pin', stiffness: '2 N*m/rad' }],
    [
      'contact Bump between Coupler and Pusher stiffness 500 N/mm',
      { kind: 'contact', first: ['Coupler'], second: ['Pusher'], stiffness: '500 N/mm' },
    ],
    ['contact between Coupler, Rocker and Pusher', { kind: 'contact', first: ['Coupler', 'Rocker'], second: ['Pusher'] }],
    ['contact between C* and Pusher', { kind: 'contact', first: ['C*'], second: ['Pusher'] }],
    ['contact of Pusher', { kind: 'contact', first: ['Frame'], second: ['Pusher'] }],
    ['link bar Stay from Motor axis to Rocker foot', { name: '', kind: 'link', from: 'Motor axis', to: 'Rocker foot' }],
  ])('%s', (text, wanted) => expect(read(text)).toMatchObject(wanted));

  it.each([
    'frobnicate the widget',
    'revolute between Frame and Nobody at Motor axis',
    'drive on Motor pin 20 mm/s',
    'point Tip at 10, 20',
    '',
  ])('is not understood rather than guessed: “%s”', (text) => expect(read(text)).toBeUndefined());

  it.each<[string, object]>([
    ['point B at arm, 0, 0', { name: 'B', at: ['arm', 0, 0] }],
    ['point B at 2*arm + 10 mm, -arm, 0', { name: 'B', at: ['2*arm + 10 mm', '-arm', 0] }],
    [
      'drive M on Motor pin gate_speed * smoothstep(0 s, 0.4 s, t)',
      { name: 'M', joint: 'Motor pin', value: 'gate_speed * smoothstep(0 s, 0.4 s, t)' },
    ],
    ['cylinder Roller from Motor axis to Rocker foot radius 2*arm + 40 mm', { name: '', kind: 'cylinder', radius: '2*arm + 40 mm' }],
    ['drive Tilt on Motor pin 30 deg', { joint: 'Motor pin', prescribes: 'position', value: '30 deg' }],
    ['drive Start on Motor pin 3 rad/s^2', { prescribes: 'acceleration', value: '3 rad/s^2' }],
    ['hinge between ground and Crank at Motor axis', { kind: 'revolute', bodies: ['Frame', 'Crank'] }],
    ['slider between Frame and Pusher at Rail start along x', { kind: 'prismatic', axis: [1, 0, 0] }],
    ['translational between Frame and Pusher at Rail start', { kind: 'prismatic' }],
    ['joint spring on Motor pin stiffness = 2 N*m/rad damping 0.1 N*m*s/rad', { stiffness: '2 N*m/rad', damping: '0.1 N*m*s/rad' }],
  ])('takes formulas, labels and the words of the trade: %s', (text, wanted) => expect(read(text)).toMatchObject(wanted));
  it('takes what instances bring by name', () => {
    expect(readSentence('revolute between Frame and Left/Arm at Motor axis', gate, { bodies: ['Left/Arm'] })!.offer.element).toMatchObject({
      bodies: ['Frame', 'Left/Arm'],
    });
  });
  it.each<[string, string, RegExp]>([
    ['revolute between Frame and Nobody at Motor axis', 'Nobody', /Nothing here is called “Nobody”.*body \(Crank/],
    ['drive on Motor pin 20 mm/s', '20 mm/s', /“20 mm\/s” has no place in a drive/],
    ['point Tip at nowhere, 0, 0', 'nowhere', /called “nowhere”/],
    ['cylinder Roller from Motor axis to Rocker foot radius wide', 'wide', /no value for radius/],
    ['contact between Slat * and Pusher', 'Slat', /called “Slat”/],
    ['revolute Hinge between Frame and Crank', 'Crank', /A joint \(revolute\) cannot be made of just this.*point \(/],
  ])('says on which word it stumbled, and what could stand there: %s', (text, word, message) => {
    const found = stumbleOf(text, gate)!;
    expect(found.word).toBe(word);
    expect(found.message).toMatch(message);
  });
  it('says what is still needed', () => {
    expect(readSentence('screw between Frame and Crank at Motor axis', gate)!.preview).toContain('Still needed: Lead');
  });
});

describe('a selection', () => {
  const kinds = (...picked: [string, string][]) =>
    offersFor(
      gate,
      picked.map(([family, name]) => ({ family: family as never, name })),
    ).map((o) => `${o.kind.family}/${o.kind.kind}`);
  it('of two bodies and a point offers every joint, and of one body and a point its joints to the ground', () => {
    const two = kinds(['bodies', 'Crank'], ['bodies', 'Rocker'], ['points', 'Motor axis']);
    for (const k of ['revolute', 'spherical', 'prismatic', 'fixed']) expect(two).toContain(`joints/${k}`);
    const one = offersFor(gate, [
      { family: 'bodies', name: 'Crank' },
      { family: 'points', name: 'Motor axis' },
    ]).find((o) => o.kind.kind === 'revolute')!;
    expect(one.element.bodies).toEqual([gate.ground, 'Crank']);
    expect(one.effect).toBe('Takes 5 of 6 freedoms, leaves 1 (rotation).');
  });
  it('of a joint offers drives, springs, friction, stops and gauges', () => {
    expect(kinds(['joints', 'Motor pin'])).toEqual(
      expect.arrayContaining([
        'drives/drive',
        'loads/joint-spring',
        'loads/joint-friction',
        'loads/joint-stop',
        'starts/start',
        'gauges/joint',
        'gauges/reaction',
      ]),
    );
  });
  it('of things that share nothing offers nothing', () => {
    expect(kinds(['materials', gate.materials[0]!.name], ['joints', 'Motor pin'])).toEqual([]);
  });
});
