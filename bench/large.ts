/** A made-up machine of many rockers in rows: as many bodies and shapes as are asked for. */
export function manyRockers(bodies: number, shapes: number): object {
  const across = Math.ceil(Math.sqrt(bodies));
  const place = (i: number) => [`${(i % across) * 120} mm`, `${Math.floor(i / across) * 60} mm`, 0];
  const points: object[] = [],
    list: object[] = [],
    solids: object[] = [],
    joints: object[] = [];
  for (let i = 0; i < bodies; i++) {
    points.push({ name: `Foot ${i}`, at: place(i) }, { name: `Head ${i}`, body: `Rocker ${i}`, at: ['reach', 0, 0] });
    list.push({ name: `Rocker ${i}`, origin: `Foot ${i}`, material: 'Steel' });
    solids.push({ name: `Bar ${i}`, kind: 'link', body: `Rocker ${i}`, from: `Foot ${i}`, to: `Head ${i}` });
    if (i < shapes - bodies)
      solids.push({ name: `Weight ${i}`, kind: 'cylinder', body: `Rocker ${i}`, from: `Head ${i}`, to: `Far ${i}`, radius: '9 mm' });
    if (i < shapes - bodies) points.push({ name: `Far ${i}`, body: `Rocker ${i}`, at: ['reach', '15 mm', 0] });
    joints.push({ name: `Pin ${i}`, kind: 'revolute', bodies: ['Frame', `Rocker ${i}`], at: [`Foot ${i}`], axis: [0, 1, 0] });
  }
  return {
    format: 'vim-pivot-model',
    version: 1,
    name: 'Rows of rockers',
    ground: 'Frame',
    run: { until: '1 s', every: '10 ms', accuracy: 1e-5 },
    parameters: [{ name: 'reach', value: '80 mm' }],
    points,
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    bodies: list,
    shapes: solids,
    joints,
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  };
}

/** So many instances of one kit of two bodies, in rows of their own values. */
export function manyInstances(count: number): object {
  const kit = {
    parameters: [{ name: 'reach', value: '80 mm' }],
    points: [{ name: 'Foot' }, { name: 'Head', at: ['reach', 0, 0] }, { name: 'Far', at: ['2*reach', 0, 0] }],
    materials: [{ name: 'Steel', density: '7850 kg/m^3' }],
    bodies: [
      { name: 'Frame', kind: 'mount' },
      { name: 'Rocker', origin: 'Foot', aim: 'Head', material: 'Steel' },
      { name: 'Finger', origin: 'Head', aim: 'Far', material: 'Steel' },
    ],
    shapes: [
      { name: 'Bar', kind: 'link', body: 'Rocker', from: 'Foot', to: 'Head' },
      { name: 'Tip', kind: 'link', body: 'Finger', from: 'Head', to: 'Far', width: '10 mm' },
    ],
    joints: [
      { name: 'Pin', kind: 'revolute', bodies: ['Frame', 'Rocker'], at: ['Foot'], axis: [0, 1, 0] },
      { name: 'Knuckle', kind: 'revolute', bodies: ['Rocker', 'Finger'], at: ['Head'], axis: [0, 1, 0] },
    ],
  };
  const across = Math.ceil(Math.sqrt(count));
  return {
    format: 'vim-pivot-model',
    version: 1,
    name: 'Rows of fingers',
    ground: 'Frame',
    run: { until: '1 s', every: '10 ms', accuracy: 1e-5 },
    loads: [{ name: 'Gravity', kind: 'gravity' }],
    kits: [{ name: 'Finger', content: kit }],
    instances: Array.from({ length: count }, (_, i) => ({
      name: `Finger ${String.fromCharCode(65 + (i % 26))}${Math.floor(i / 26)}`,
      kind: 'single',
      kit: 'Finger',
      at: [`${(i % across) * 250} mm`, `${Math.floor(i / across) * 60} mm`, 0],
    })),
  };
}

/** A bumpy ball as binary STL: two triangles for each of `round` by `round` places, 50 bytes each. */
export function bumpyBall(round: number): Uint8Array {
  const bytes = new Uint8Array(84 + 50 * 2 * round * (round - 1)),
    view = new DataView(bytes.buffer);
  view.setUint32(80, 2 * round * (round - 1), true);
  const corner = (i: number, j: number) => {
    const a = ((i % round) / round) * 2 * Math.PI,
      b = (j / round) * Math.PI,
      r = 50 + 2 * Math.sin(9 * a) * Math.sin(5 * b);
    return [r * Math.sin(b) * Math.cos(a), r * Math.sin(b) * Math.sin(a), r * Math.cos(b)];
  };
  let at = 84;
  const triangle = (...corners: number[][]) => {
    at += 12;
    for (const c of corners)
      for (const x of c) {
        view.setFloat32(at, x, true);
        at += 4;
      }
    at += 2;
  };
  for (let i = 0; i < round; i++)
    for (let j = 0; j < round; j++) {
      if (j < round - 1) triangle(corner(i, j), corner(i, j + 1), corner(i + 1, j + 1));
      if (j > 0) triangle(corner(i, j), corner(i + 1, j + 1), corner(i + 1, j));
    }
  return bytes;
}
