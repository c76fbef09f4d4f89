/** A chain of hinged slats on two toothed wheels: what is counted while it is pulled tight. */
import { describe, expect, it } from 'vitest';
import { type RawElement, runModel } from '../src';
import { readModel } from '../src/model/file';

/** Teeth of a wheel, pitch and radius of a roller, mm. */
const [TEETH, PITCH, ROLLER] = [8, 100, 12];
const RADIUS = PITCH / (2 * Math.sin(Math.PI / TEETH));
/** Half the angle of a seat, and how long its flanks are, mm. */
const [SEAT, FLANK] = [(55 * Math.PI) / 180, 20];

/** Corners of a wheel whose rollers lie on both flanks of seats. */
const corners = Array.from({ length: TEETH }, (_, k) => {
  const t = (2 * Math.PI * k) / TEETH,
    foot = RADIUS - ROLLER / Math.sin(SEAT),
    put = (r: number, s: number) => [r * Math.cos(t) - s * Math.sin(t), r * Math.sin(t) + s * Math.cos(t)].map((x) => Number(x.toFixed(4)));
  return [
    put(foot + FLANK * Math.cos(SEAT), -FLANK * Math.sin(SEAT)),
    put(foot, 0),
    put(foot + FLANK * Math.cos(SEAT), FLANK * Math.sin(SEAT)),
  ];
}).flat();

function chain(slats: number, until: string) {
  const apart = ((slats - TEETH) / 2) * PITCH,
    wheel = (name: string) => ({
      ...{ name: `${name} teeth`, kind: 'extruded', body: name, at: `${name} middle`, corners, unit: 'mm' },
      ...{ x: [0, 0, 1], normal: [0, 1, 0], thickness: '60 mm' },
    });
  return readModel(
    JSON.stringify({
      ...{ format: 'vim-pivot-model', version: 1, name: 'Chain', run: { until, every: '5 ms' } },
      materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
      points: [
        { name: 'Drive axle', at: [`${apart / 2} mm`, 0, 0] },
        { name: 'Take-up axle', at: [`${-apart / 2} mm`, 0, 0] },
        { name: 'Anchor', at: [`${-apart / 2 - 350} mm`, 0, 0] },
        { name: 'Drive wheel middle', body: 'Drive wheel' },
        { name: 'Take-up wheel middle', body: 'Take-up wheel' },
        { name: 'Carriage middle', body: 'Carriage' },
      ],
      bodies: [
        { name: 'Drive wheel', origin: 'Drive axle', material: 'Steel' },
        { name: 'Take-up wheel', origin: 'Take-up axle', material: 'Steel' },
        { name: 'Carriage', origin: 'Take-up axle', mass: '4 kg', inertia: [0.02, 0.02, 0.02] },
      ],
      shapes: [wheel('Drive wheel'), wheel('Take-up wheel')],
      joints: [
        { name: 'Drive bearing', kind: 'revolute', bodies: ['Ground', 'Drive wheel'], at: ['Drive axle'], axis: [0, 1, 0] },
        { name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Carriage'], at: ['Take-up axle'], axis: [1, 0, 0] },
        { name: 'Take-up bearing', kind: 'revolute', bodies: ['Carriage', 'Take-up wheel'], at: ['Take-up axle'], axis: [0, 1, 0] },
      ],
      loads: [
        { name: 'Gravity', kind: 'gravity' },
        {
          ...{ name: 'Take-up', kind: 'spring', bodies: ['Ground', 'Carriage'], at: ['Anchor', 'Carriage middle'] },
          ...{ stiffness: '10 N/mm', damping: '0.5 N*s/mm', preload: '600 N' },
        },
        {
          ...{
            name: 'Contact',
            kind: 'contact',
            first: ['Chain */Slat'],
            by: ['Chain */Roller'],
            second: ['Drive wheel', 'Take-up wheel'],
          },
          ...{ stiffness: '200 N/mm', restitution: 0.2, sliding: 0.2 },
        },
      ],
      kits: [
        {
          name: 'Slat',
          content: {
            points: [
              { name: 'Hinge' },
              { name: 'Left', at: [0, 0, '-60 mm'] },
              { name: 'Right', at: [0, 0, '60 mm'] },
              { name: 'Middle', at: [`${PITCH / 2} mm`, '-26 mm', 0] },
            ],
            materials: [{ name: 'Beech', density: '720 kg/m^3' }],
            bodies: [{ name: 'Slat', origin: 'Hinge', material: 'Beech' }],
            shapes: [
              { name: 'Roller', kind: 'capsule', body: 'Slat', from: 'Left', to: 'Right', radius: `${ROLLER} mm` },
              { name: 'Board', kind: 'box', body: 'Slat', centre: 'Middle', length: '92 mm', depth: '14 mm', height: '300 mm' },
            ],
          },
        },
      ],
      instances: [
        {
          ...{ name: 'Chain', kind: 'path', kit: 'Slat', count: slats, through: ['Drive axle', 'Take-up axle'], ends: 'closed' },
          ...{ course: 'wheels', corner: `${RADIUS} mm`, spacing: 'even', normal: [0, 1, 0], joined: 'revolute' },
        },
      ],
      gauges: [
        { name: 'Closing', kind: 'energy', of: 'closing' },
        { name: 'All', kind: 'energy', of: 'kinetic' },
      ] as RawElement[],
    }),
  );
}

describe('A chain that is pulled tight on its wheels', () => {
  // places that begin to slide and come to rest again without end took six times as many
  const run = runModel(chain(16, '20 ms'));
  it('sticks and slides as often as it does, and no more', () => {
    const { status, statistics, happenings } = run.end;
    expect(status).toBe('done');
    expect(happenings.length).toBeGreaterThan(5);
    expect(statistics.limits.event).toBeLessThan(200);
    expect(statistics.evaluations).toBeLessThan(15_000);
  });
  it('closes its energy', () =>
    expect(Math.abs(run.gauge('Closing').at(-1)!)).toBeLessThan(1e-4 * Math.max(...run.gauge('All').map(Math.abs))));
});
