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
