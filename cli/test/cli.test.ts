import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { complete } from '@vim-pivot/core';
import { pack } from '@vim-pivot/core/project';

const dir = mkdtempSync(join(tmpdir(), 'pivot-'));
const gate = 'examples/sorting-gate.pivot.json';

function pivot(...args: string[]): { code: number; out: string } {
  try {
    return { code: 0, out: execFileSync('npx', ['pivot', ...args], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }) };
  } catch (e) {
    const f = e as { status: number; stdout: string };
    return { code: f.status, out: f.stdout };
  }
}

describe('pivot', () => {
  it('runs the sorting gate and writes its curves', () => {
    const csv = join(dir, 'out.csv');
    const { code, out } = pivot('run', gate, '--until', '0.5 s', '--every', '1 ms', '--csv', csv);
    expect(code).toBe(0);
    expect(out).toContain('done at t = 0.5 s');
    const lines = readFileSync(csv, 'utf8').trim().split('\n');
    expect(lines[0]).toContain('Pusher travel [mm]');
    expect(lines.length).toBe(502);
    expect(Number(lines[501]!.split(',')[0])).toBe(0.5);
  });

  it('checks a good model with exit code 0 and a bad one with 1, in words and as JSON', () => {
    expect(pivot('check', gate)).toMatchObject({ code: 0 });
    const bad = join(dir, 'bad.pivot.json');
    writeFileSync(bad, readFileSync(gate, 'utf8').replace('"arm", "value": "60 mm"', '"arm", "value": "60 kg"'));
    const words = pivot('check', bad);
    expect(words.code).toBe(1);
    expect(words.out).toContain('$.parameters[2].value');
    const json = pivot('check', bad, '--json');
    expect(json.code).toBe(1);
    expect((JSON.parse(json.out) as { diagnoses: { code: string }[] }).diagnoses.map((d) => d.code)).toContain('formula-dimension');
  });

  it('refuses bad options and missing files in words', () => {
    expect(pivot('run', gate, '--until', '4 kg')).toMatchObject({ code: 1 });
    expect(pivot('run', gate, '--until', '4 kg').out).toContain('--until');
    expect(pivot('check', join(dir, 'absent.json')).out).toContain('cannot be read');
    expect(pivot('check', 'package.json')).toMatchObject({ code: 1 });
  });

  const file = (name: string, model: object) => {
    const path = join(dir, `${name}.pivot.json`);
    writeFileSync(path, JSON.stringify({ format: 'vim-pivot-model', version: 1, name, ...model }));
    return path;
  };
  const swing = () => file('swing', {
    run: { until: 1, every: 0.1 }, points: [{ name: 'O' }], bodies: [{ name: 'Bob', mass: 1, centre: [0.5, 0, 0], inertia: [0.01, 0.01, 0.01] }],
    tables: [{ name: 'push', from: 's', to: 'N*m', data: [[0, 0], [1, 0]] }],
    joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Bob'], at: ['O'] }],
    loads: [{ name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] }, { name: 'Push', kind: 'torque', body: 'Bob', magnitude: 'push(t)' }], gauges: [{ name: 'angle', kind: 'joint', joint: 'Pin' }],
  });

  it('finds modes, equilibria and the range of a joint', () => {
    const f = swing();
    const modes = JSON.parse(pivot('modes', f, '--json').out) as { modes: { frequency: number }[] };
    expect(modes.modes[0]!.frequency).toBeCloseTo(Math.sqrt((9.81 * 0.5) / (0.25 + 0.01)) / (2 * Math.PI), 6);
    const { equilibria } = JSON.parse(pivot('equilibria', f, '--json').out) as { equilibria: { stable: boolean }[] };
    expect(equilibria.map((x) => x.stable)).toEqual([true, false]);
    expect(pivot('range', f, 'Pin').out).toContain('comes round');
    expect(pivot('range', f, 'Nothing')).toMatchObject({ code: 1 });
  });

  it('makes static runs, takes measured rows for a table, and starts from the state of another run', () => {
    const f = swing(), rows = join(dir, 'rows.csv'), state = join(dir, 'state.json');
    const final = (out: string) => (JSON.parse(out) as { gauges: { final: number }[] }).gauges[0]!.final;
    expect(final(pivot('run', f, '--analysis', 'static', '--json').out)).toBeCloseTo(-90, 6);
    writeFileSync(rows, 't,N*m\n0,2\n1,2\n');
    const pushed = pivot('run', f, '--analysis', 'static', '--table', `push=${rows}`, '--json');
    expect(final(pushed.out)).toBeCloseTo(-90 + (Math.asin(2 / (9.81 * 0.5)) * 180) / Math.PI, 5);
    const whole = final(pivot('run', f, '--until', '0.6 s', '--json').out);
    expect(pivot('run', f, '--until', '0.3 s', '--save-state', state).code).toBe(0);
    expect(final(pivot('run', f, '--until', '0.3 s', '--start', state, '--json').out)).toBeCloseTo(whole, 3);
  });

  it('ends a run that divides by zero with exit code 1 and says where', () => {
    const f = file('zero', {
      run: { until: 3, every: 0.1 }, points: [{ name: 'O' }], bodies: [{ name: 'Block', mass: 1, inertia: [1, 1, 1] }], joints: [{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'] }],
      loads: [{ name: 'Push', kind: 'force', body: 'Block', at: 'O', magnitude: '1 N*s / (2 s - t)' }],
    });
    const { code, out } = pivot('run', f, '--json');
    expect(code).toBe(1);
    const { status, diagnoses } = JSON.parse(out) as { status: string; diagnoses: { time: number; message: string }[] };
    expect(status).toBe('failed');
    expect(diagnoses[0]!.time).toBeCloseTo(2, 2);
  });
});

describe('project files', () => {
  it('with imported geometry and joined shapes are checked and run', () => {
    const positions = Float32Array.from([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0, 0, 0, 0.1]), indices = Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]);
    const model = complete({
      format: 'vim-pivot-model', version: 1, name: 'Wedge', ground: 'Ground', run: { until: '0.1 s', every: '1 ms', accuracy: 1e-5 }, materials: [{ name: 'Steel', density: 7850 }], loads: [{ name: 'Gravity', kind: 'gravity' }], points: [{ name: 'O' }],
      bodies: [{ name: 'Wedge', material: 'Steel' }], joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Wedge'], at: ['O'], axis: [0, 1, 0] }], gauges: [{ name: 'Angle', kind: 'joint', joint: 'Pin' }],
      shapes: [{ name: 'Part', kind: 'mesh', body: 'Wedge', geometry: 'abcdef0123456789' }, { name: 'Bore', kind: 'sphere', body: 'Wedge', centre: 'O', radius: '20 mm' }, { name: 'Whole', kind: 'combined', body: 'Wedge', of: ['Part'], less: ['Bore'] }],
    });
    const file = join(dir, 'wedge.pivot.zip');
    writeFileSync(file, pack({ model, runs: [], geometry: [{ id: 'abcdef0123456789', positions, indices }] }));
    expect(pivot('check', file)).toMatchObject({ code: 0 });
    const { code, out } = pivot('run', file);
    expect(code).toBe(0);
    expect(out).toContain('done at t = 0.1 s');
    writeFileSync(join(dir, 'cut.pivot.zip'), readFileSync(file).subarray(0, 200));
    expect(pivot('check', join(dir, 'cut.pivot.zip')).code).toBe(1);
  });
});
