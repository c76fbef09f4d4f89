/** A made-up machine of many rockers in rows: as many bodies and shapes as are asked for. */
export function manyRockers(bodies: number, shapes: number): object {
  const across = Math.ceil(Math.sqrt(bodies));
  const place = (i: number) => [`${(i % across) * 120} mm`, `${Math.floor(i / across) * 60} mm`, 0];
  const points: object[] = [], list: object[] = [], solids: object[] = [], joints: object[] = [];
  for (let i = 0; i < bodies; i++) {
    points.push({ name: `Foot ${i}`, at: place(i) }, { name: `Head ${i}`, body: `Rocker ${i}`, at: ['reach', 0, 0] });
    list.push({ name: `Rocker ${i}`, origin: `Foot ${i}`, material: 'Steel' });
    solids.push({ name: `Bar ${i}`, kind: 'link', body: `Rocker ${i}`, from: `Foot ${i}`, to: `Head ${i}` });
    if (i < shapes - bodies) solids.push({ name: `Weight ${i}`, kind: 'cylinder', body: `Rocker ${i}`, from: `Head ${i}`, to: `Far ${i}`, radius: '9 mm' });
    if (i < shapes - bodies) points.push({ name: `Far ${i}`, body: `Rocker ${i}`, at: ['reach', '15 mm', 0] });
    joints.push({ name: `Pin ${i}`, kind: 'revolute', bodies: ['Frame', `Rocker ${i}`], at: [`Foot ${i}`], axis: [0, 1, 0] });
  }
  return {
    format: 'vim-pivot-model', version: 1, name: 'Rows of rockers', ground: 'Frame', run: { until: '1 s', every: '10 ms', accuracy: 1e-5 }, parameters: [{ name: 'reach', value: '80 mm' }], points,
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }], bodies: list, shapes: solids, joints, loads: [{ name: 'Gravity', kind: 'gravity' }],
  };
}

/** So many instances of one kit of two bodies, in rows of their own values. */
export function manyInstances(count: number): object {
  const kit = {
    parameters: [{ name: 'reach', value: '80 mm' }],
    points: [{ name: 'Foot' }, { name: 'Head', at: ['reach', 0, 0] }, { name: 'Far', at: ['2*reach', 0, 0] }],
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    bodies: [{ name: 'Frame', kind: 'mount' }, { name: 'Rocker', origin: 'Foot', aim: 'Head', material: 'Steel' }, { name: 'Finger', origin: 'Head', aim: 'Far', material: 'Steel' }],
    shapes: [{ name: 'Bar', kind: 'link', body: 'Rocker', from: 'Foot', to: 'Head' }, { name: 'Tip', kind: 'link', body: 'Finger', from: 'Head', to: 'Far', width: '10 mm' }],
    joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Frame', 'Rocker'], at: ['Foot'], axis: [0, 1, 0] }, { name: 'Knuckle', kind: 'revolute', bodies: ['Rocker', 'Finger'], at: ['Head'], axis: [0, 1, 0] }],
  };
  const across = Math.ceil(Math.sqrt(count));
  return {
    format: 'vim-pivot-model', version: 1, name: 'Rows of fingers', ground: 'Frame', run: { until: '1 s', every: '10 ms', accuracy: 1e-5 }, loads: [{ name: 'Gravity', kind: 'gravity' }],
    kits: [{ name: 'Finger', content: kit }],
    instances: Array.from({ length: count }, (_, i) => ({ name: `Finger ${String.fromCharCode(65 + (i % 26))}${Math.floor(i / 26)}`, kind: 'single', kit: 'Finger', at: [`${(i % across) * 250} mm`, `${Math.floor(i / across) * 60} mm`, 0] })),
  };
}
