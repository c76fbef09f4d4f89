/** What a file may hold, and how everything else is refused: with the place, the element and the reason. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Model, Refusal, check, complete, jsonPath, rename, runModel, writeModel } from '../src';
import { modelJsonSchema, readModel } from '../src/model/file';
import { doublePendulum } from './models';

const text = readFileSync('examples/sorting-gate.pivot.json', 'utf8');
const gate = () => readModel(text);
/** The example with one thing changed. */
const changed = (change: (m: Record<string, never>) => void): string => {
  const m = JSON.parse(text) as Record<string, never>;
  change(m);
  return JSON.stringify(m);
};
const refusal = (file: string) => {
  try {
    readModel(file);
  } catch (e) {
    if (e instanceof Refusal) return { ...e.diagnoses[0]!, at: jsonPath(e.diagnoses[0]!.path ?? []) };
    throw e;
  }
  throw new Error('the file was accepted');
};
const findings = (file: string) =>
  check(readModel(file))
    .diagnoses.filter((d) => d.severity === 'error')
    .map((d) => ({ ...d, at: jsonPath(d.path ?? []) }));
type Any = Record<string, any[]>;

describe('a file that is not a model is refused', () => {
  it.each([
    ['no JSON', '{"format": ', 'file-not-json'],
    ['another kind of file', '{"hello": 1}', 'file-not-model'],
    ['a list', '[1, 2]', 'file-not-model'],
    ['an unknown version', changed((m) => ((m as any).version = 99)), 'file-version'],
    ['a version that is no number', changed((m) => ((m as any).version = 'new')), 'file-version'],
  ])('%s', (_what, file, code) => expect(refusal(file).code).toBe(code));

  it('a number that is not finite cannot even be written; a missing one is named', () => {
    expect(refusal(text.replace('"7850 kg/m^3"', 'NaN')).code).toBe('file-not-json');
    expect(refusal(text.replace('"7850 kg/m^3"', 'null'))).toMatchObject({ at: '$.materials[0].density', element: { name: 'Steel' } });
    expect(refusal(text.replace('"7850 kg/m^3"', '1e999')).code).toBe('file-content');
  });

  it('unknown fields, kinds and wrong types are named with their place', () => {
    expect(refusal(changed((m) => ((m as Any).joints![2].stiff = 3)))).toMatchObject({
      at: '$.joints[2]',
      element: { family: 'joints', name: 'Coupler to rocker' },
    });
    expect(refusal(changed((m) => ((m as Any).joints![1].kind = 'hinge'))).message).toContain('hinge');
    expect(refusal(changed((m) => ((m as Any).points![0].at = [0, 0])))).toMatchObject({
      at: '$.points[0].at',
      element: { name: 'Motor axis' },
    });
    expect(refusal(changed((m) => ((m as Any).points![0].at = [0, true, 0])))).toMatchObject({ at: '$.points[0].at[1]' });
    expect(refusal(changed((m) => delete (m as Any).drives![0].value)).message).toContain('“value” is missing');
    expect(refusal(changed((m) => ((m as Any).bodies![1].name = 'Crank')))).toMatchObject({ code: 'name-clash', at: '$.bodies[1].name' });
    expect(refusal(changed((m) => ((m as Any).bodies![1].name = '<b>x</b>'))).at).toBe('$.bodies[1].name');
  });
});

describe('a model that cannot be run is refused with the place and the reason', () => {
  it.each<[string, (m: Any) => void, string, string]>([
    ['missing reference', (m) => (m.joints![0].at = ['Nowhere']), 'reference-missing', '$.joints[0].at[0]'],
    ['cyclic formula', (m) => (m.parameters![1].value = 'coupler_length/3'), 'formula-cycle', '$.parameters[2].value'],
    ['wrong dimension', (m) => (m.shapes![0].width = '3 kg'), 'formula-dimension', '$.shapes[0].width'],
    ['angle for a length', (m) => (m.points![1].at[0] = '30 deg'), 'formula-dimension', '$.points[1].at[0]'],
    ['negative mass', (m) => (m.bodies![0].mass = '-2 kg'), 'value-range', '$.bodies[0].mass'],
    ['no mass', (m) => delete m.bodies![5].material, 'mass-zero', '$.bodies[5].mass'],
    ['negative inertia', (m) => Object.assign(m.bodies![0], { mass: 1, inertia: [1, -1, 1] }), 'inertia-negative', '$.bodies[0].inertia'],
    ['zero axis', (m) => (m.joints![0].axis = [0, 0, 0]), 'direction-zero', '$.joints[0].axis'],
    ['one body twice', (m) => (m.joints![0].bodies = ['Crank', 'Crank']), 'joint-one-body', '$.joints[0]'],
    ['parameter named as a unit', (m) => m.parameters!.push({ name: 'mm', value: 3 }), 'name-reserved', '$.parameters[9].name'],
    ['a shape without length', (m) => (m.shapes![0].to = 'Motor axis'), 'shape-flat', '$.shapes[0]'],
    ['places in a circle', (m) => (m.points![0].body = 'Crank'), 'layout-cycle', '$.points[0]'],
    ['speed that jumps', (m) => (m.drives![0].value = 'gate_speed*step(1 s, t)'), 'drive-jump', '$.drives[0].value'],
    [
      'position with a corner',
      (m) => Object.assign(m.drives![0], { prescribes: 'position', value: '90 deg*max(0, t/(1 s) - 1)' }),
      'drive-jump',
      '$.drives[0].value',
    ],
    ['drive on a weld', (m) => (m.drives![0].joint = 'Yoke weld'), 'freedom-missing', '$.drives[0]'],
    ['two drives on one freedom', (m) => m.drives!.push({ ...m.drives![0], name: 'Second motor' }), 'drive-fight', '$.drives[0]'],
    ['lengths that cannot close', (m) => (m.parameters![2].value = '900 mm'), 'assembly-open', '$.joints[2]'],
    ['division by zero', (m) => (m.parameters![0].value = '1 rpm/0'), 'formula-not-finite', '$.parameters[0].value'],
    ['a recording interval of nothing', (m) => ((m as any).run.every = '0 s'), 'value-range', '$.run.every'],
  ])('%s', (_what, change, code, at) => {
    const found = findings(changed(change as never));
    expect(found.map((d) => d.code)).toContain(code);
    const d = found.find((x) => x.code === code)!;
    expect(d.at).toBe(at);
    expect(d.message.length).toBeGreaterThan(15);
  });

  it('says which joint stays open and by how much', () => {
    const d = findings(changed((m) => ((m as Any).parameters![2].value = '900 mm'))).find((x) => x.code === 'assembly-open')!;
    expect(d.element?.name).toMatch(/Coupler to rocker|Crank to coupler|Rocker pin|Motor pin/);
    expect(d.message).toMatch(/\d.* mm/);
  });

  it('tells a cycle by all its names', () => {
    const d = findings(changed((m) => ((m as Any).parameters![1].value = 'coupler_length/3'))).find((x) => x.code === 'formula-cycle')!;
    expect(d.message).toContain('coupler_length');
    expect(d.message).toContain('arm');
  });
});

describe('checks', () => {
  it('finds the mobility and the redundant directions of the six-bar', () => {
    const { mobility, diagnoses } = check(gate());
    expect(mobility).toMatchObject({ joints: 1, free: 0, redundant: 6 });
    expect(mobility!.details.join(' ')).toContain('Coupler to rocker holds translation along y');
    // usual in a plane: one quiet note, no alarm
    const [note, ...more] = diagnoses.filter((d) => d.code.endsWith('redundant'));
    expect(more).toEqual([]);
    expect(note).toMatchObject({
      code: 'planar-redundant',
      severity: 'note',
      message: 'Planar loops: 6 redundant constraints; loads across the plane are not unique.',
    });
  });
  it('makes planar loops exact by one change: no redundant constraint is left, and the motion and the loads in the plane stay', () => {
    const before = gate(),
      { fix } = check(before).diagnoses.find((d) => d.code === 'planar-redundant')!;
    const after = {
      ...before,
      joints: before.joints.map((j) => ({
        ...j,
        ...Object.fromEntries(fix!.changes.filter((c) => c.name === j.name).map((c) => [c.field!, c.value])),
      })),
    } as Model;
    expect(check(after).mobility).toMatchObject({ joints: 1, free: 0, redundant: 0 });
    expect(check(after).diagnoses.filter((d) => d.code.endsWith('redundant'))).toEqual([]);
    const [one, two] = [before, after].map((m) => runModel(m, { until: 0.5, every: 0.05 }));
    for (const g of ['Pusher travel', 'Crank torque', 'Rocker pin load']) {
      const [a, b] = [one!.gauge(g), two!.gauge(g)],
        size = Math.max(...[...a].map(Math.abs));
      a.forEach((x, i) => expect(Math.abs(x - b[i]!)).toBeLessThan(1e-6 * size));
    }
  });
  it('a loop that holds more than its plane explains is an alarm still', () => {
    // a second bar beside the first, all pins: one redundant constraint lies in the plane
    const points = [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
      [0.5, 0],
      [0.5, 1],
    ].map(([x, y], i) => ({ name: `P${i}`, at: [x!, y!, 0] }));
    const bar = (name: string, a: number) => ({ name, origin: `P${a}`, mass: 1, inertia: [0.1, 0.1, 0.1] });
    const m = complete({
      format: 'vim-pivot-model',
      version: 1,
      name: 'Parallel',
      ground: 'Ground',
      run: { until: 1, every: 0.1, accuracy: 1e-5 },
      points,
      bodies: [bar('A', 0), bar('B', 1), bar('Top', 2), bar('C', 4)],
      joints: [
        ['Ground', 'A', 0],
        ['Ground', 'B', 1],
        ['A', 'Top', 2],
        ['B', 'Top', 3],
        ['Ground', 'C', 4],
        ['C', 'Top', 5],
      ].map(([a, b, p]) => ({ name: `J${String(p)}`, kind: 'revolute', bodies: [a, b], at: [`P${String(p)}`] })),
    });
    expect(check(m).mobility).toMatchObject({ joints: 1, redundant: 7 });
    expect(
      check(m)
        .diagnoses.filter((d) => d.severity === 'warning')
        .map((d) => d.code),
    ).toContain('joint-redundant');
  });

  it('switches off what hangs on something switched off', () => {
    const m = gate();
    m.bodies.find((b) => b.name === 'Pusher')!.off = true;
    const { built, mobility } = check(m);
    expect(built.diagnoses.filter((d) => d.severity === 'error')).toEqual([]);
    expect(built.mechanism!.joints.map((j) => j.name)).not.toContain('Rail slide');
    expect(mobility!.joints).toBe(2);
  });

  it('names a body tied to nothing', () => {
    const m = gate();
    m.joints = m.joints.filter((j) => !['Push rod to pusher', 'Rail slide'].includes(j.name));
    m.gauges = m.gauges.filter((g) => g.joint !== 'Rail slide');
    expect(check(m).diagnoses.find((d) => d.code === 'body-loose')?.element?.name).toBe('Pusher');
  });
});

describe('files', () => {
  it('are stable under save', () => {
    const once = writeModel(gate());
    expect(writeModel(readModel(once))).toBe(once);
    expect(readModel(once)).toEqual(gate());
  });

  it('keep every value they were given', () => {
    const m = doublePendulum();
    expect(readModel(writeModel(m))).toEqual(m);
  });

  it('have a JSON Schema with every kind', () => {
    const schema = JSON.stringify(modelJsonSchema());
    for (const kind of ['revolute', 'prismatic', 'cylindrical', 'spherical', 'fixed', 'link', 'plate', 'gravity', 'spring', 'reaction'])
      expect(schema).toContain(`"${kind}"`);
  });

  it('rename follows through references and formulas', () => {
    let m: Model = rename(gate(), 'parameters', 'arm', 'throw_arm');
    m = rename(m, 'bodies', 'Crank', 'Flywheel');
    m = rename(m, 'bodies', 'Frame', 'Bedplate');
    m = rename(m, 'points', 'Crank pin', 'Throw pin');
    const out = writeModel(m);
    expect(out).not.toMatch(/"Crank"|"Crank pin"|"Frame"|[^_]arm\b/);
    expect(out).toContain('3*throw_arm + 10 mm');
    expect(check(m).mobility).toMatchObject({ joints: 1, free: 0 });
  });
});

it('the reference page and the schema are what the declarations say', async () => {
  const { execFileSync } = await import('node:child_process');
  execFileSync('npx', ['tsx', 'core/tools/write-docs.ts', '--check'], { stdio: 'pipe' });
});
