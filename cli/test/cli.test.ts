import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { complete } from '@vim-pivot/core';
import { zipSync } from 'fflate';
import { ANALYSES } from '@vim-pivot/core/analyses';
import { OUTPUTS } from '../src/outputs';
import { page, schema } from '../tools/write-docs';
import { pack } from '@vim-pivot/core/project';

const dir = mkdtempSync(join(tmpdir(), 'pivot-'));
const gate = 'examples/sorting-gate.pivot.json';

function pivot(...args: string[]): { code: number; out: string; err: string } {
  const { status, stdout, stderr } = spawnSync('node', ['cli/bin/pivot.mjs', ...args], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
    maxBuffer: 1e8,
  });
  return { code: status ?? -1, out: stdout, err: stderr };
}

const file = (name: string, model: object) => {
  const path = join(dir, `${name}.pivot.json`);
  writeFileSync(path, JSON.stringify({ format: 'vim-pivot-model', version: 1, name, ...model }));
  return path;
};
const swing = () =>
  file('swing', {
    run: { until: 1, every: 0.1 },
    points: [{ name: 'O' }],
    bodies: [{ name: 'Bob', mass: 1, centre: [0.5, 0, 0], inertia: [0.01, 0.01, 0.01] }],
    tables: [
      {
        name: 'push',
        from: 's',
        to: 'N*m',
        data: [
          [0, 0],
          [1, 0],
        ],
      },
    ],
    joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Bob'], at: ['O'] }],
    loads: [
      { name: 'Gravity', kind: 'gravity', acceleration: [0, -9.81, 0] },
      { name: 'Push', kind: 'torque', body: 'Bob', magnitude: 'push(t)' },
    ],
    gauges: [{ name: 'angle', kind: 'joint', joint: 'Pin' }],
  });

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

  it('finds modes, equilibria and the range of a joint', () => {
    const f = swing();
    const modes = JSON.parse(pivot('modes', f, '--json').out) as { modes: { frequency: number }[] };
    expect(modes.modes[0]!.frequency).toBeCloseTo(Math.sqrt((9.81 * 0.5) / (0.25 + 0.01)) / (2 * Math.PI), 6);
    const { equilibria } = JSON.parse(pivot('equilibria', f, '--json').out) as { equilibria: { stable: boolean }[] };
    expect(equilibria.map((x) => x.stable)).toEqual([true, false]);
    expect(pivot('range', f, 'Pin').out).toContain('comes round');
    expect(pivot('range', f, 'Nothing')).toMatchObject({ code: 1 });
  });

  it('makes a linear system about the equilibrium: matrices, poles, zeros, and how it answers to swings', () => {
    const f = swing(),
      csv = join(dir, 'response.csv'),
      [w2, I] = [(9.81 * 0.5) / 0.26, 0.26];
    const said = JSON.parse(
      pivot('linear', f, '--in', 'Push', '--out', 'angle', '--from', '0.1 Hz', '--to', '1 Hz', '--points', '3', '--csv', csv, '--json').out,
    ) as { A: number[][]; B: number[][]; C: number[][]; poles: { re: number; im: number }[]; response: { values: { re: number }[][] }[] };
    OUTPUTS.linear!.parse(said);
    expect(said.A[1]![0]).toBeCloseTo(-w2, 8);
    expect(said.B[1]![0]).toBeCloseTo(1 / I, 8);
    expect(said.poles.map((p) => Math.abs(p.im))).toEqual([expect.closeTo(Math.sqrt(w2), 7), expect.closeTo(Math.sqrt(w2), 7)]);
    expect(said.response[0]!.values[0]![0]!.re).toBeCloseTo(1 / I / (w2 - (0.2 * Math.PI) ** 2), 8);
    expect(readFileSync(csv, 'utf8').trim().split('\n')).toHaveLength(4);
    const words = pivot('linear', f, '--in', 'Push', '--out', 'angle', '--at', '0.3 s');
    expect(words).toMatchObject({ code: 0 });
    expect(words.out).toContain('States: Pin turns; Pin turns, rate');
    for (const wrong of [
      ['--in', 'Nobody', '--out', 'angle'],
      ['--in', 'Push', '--out', 'Nothing'],
      ['--in', 'Push', '--out', 'angle', '--from', '1 Hz'],
      ['--in', 'Push', '--out', 'angle', '--from', '2 Hz', '--to', '1 Hz'],
      ['--in', 'Push', '--out', 'angle', '--at', '1 s', '--as-drawn'],
      ['--in', 'Push', '--out', 'angle', '--from', '1 kg', '--to', '1 Hz'],
    ])
      expect(pivot('linear', f, ...wrong)).toMatchObject({ code: 1 });
  });

  it('tells what moves the scores of a run, in the units of each, and writes how gauges change over it', () => {
    const [mass, stiffness, start, until] = [2, 50, 0.3, 0.7],
      w = Math.sqrt(stiffness / mass),
      f = file('swung', {
        run: { until, every: 0.01, accuracy: 1e-9 },
        points: [{ name: 'O' }],
        bodies: [{ name: 'Block', mass, inertia: [1, 1, 1] }],
        joints: [{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'] }],
        starts: [{ name: 'Pull', joint: 'Slide', position: `${1000 * start} mm` }],
        loads: [{ name: 'Spring', kind: 'joint-spring', joint: 'Slide', stiffness }],
        gauges: [{ name: 'x', kind: 'joint', joint: 'Slide' }],
        scores: [{ name: 'End', gauge: 'x', of: 'final' }],
      }),
      csv = join(dir, 'moves.csv'),
      said = JSON.parse(pivot('run', f, '--sensitivity', '--sensitivity-csv', csv, '--json').out) as {
        sensitivities: { number: string; moves: { score: string; unit: string; slope: number; percent: number }[] }[];
      };
    OUTPUTS.run!.parse(said);
    const of = (name: string) => said.sensitivities.find((x) => x.number === name)!.moves[0]!;
    // x = x₀ cos ωt, in mm: by x₀ in mm, by the mass in kg
    expect(of('Pull, position')).toMatchObject({ score: 'End', unit: 'mm' });
    expect(of('Pull, position').slope).toBeCloseTo(Math.cos(w * until), 7);
    expect(of('Pull, position').percent).toBeCloseTo(Math.sign(Math.cos(w * until)), 7);
    expect(of('Block, mass').slope).toBeCloseTo((1000 * start * Math.sin(w * until) * w * until) / (2 * mass), 4);
    const [head, ...rows] = readFileSync(csv, 'utf8').trim().split('\n');
    expect(head).toContain('d(x)/d(Spring, stiffness)');
    expect(rows).toHaveLength(71);
    const words = pivot('run', f, '--sensitivity', 'Spring');
    expect(words).toMatchObject({ code: 0 });
    expect(words.out).toMatch(/what moves End .*\n\s+[-+][\d.]+ % +Spring, stiffness/);
    expect(words.out).not.toContain('Block, mass');
    expect(pivot('run', f, '--sensitivity', 'Nothing')).toMatchObject({ code: 1 });
  });

  it('makes static runs, takes measured rows for a table, and starts from the state of another run', () => {
    const f = swing(),
      rows = join(dir, 'rows.csv'),
      state = join(dir, 'state.json');
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
      run: { until: 3, every: 0.1 },
      points: [{ name: 'O' }],
      bodies: [{ name: 'Block', mass: 1, inertia: [1, 1, 1] }],
      joints: [{ name: 'Slide', kind: 'prismatic', bodies: ['Ground', 'Block'], at: ['O'] }],
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
    const positions = Float32Array.from([0, 0, 0, 0.1, 0, 0, 0, 0.1, 0, 0, 0, 0.1]),
      indices = Uint32Array.from([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]);
    const model = complete({
      format: 'vim-pivot-model',
      version: 1,
      name: 'Wedge',
      ground: 'Ground',
      run: { until: '0.1 s', every: '1 ms', accuracy: 1e-5 },
      materials: [{ name: 'Steel', density: 7850 }],
      loads: [{ name: 'Gravity', kind: 'gravity' }],
      points: [{ name: 'O' }],
      bodies: [{ name: 'Wedge', material: 'Steel' }],
      joints: [{ name: 'Pin', kind: 'revolute', bodies: ['Ground', 'Wedge'], at: ['O'], axis: [0, 1, 0] }],
      gauges: [{ name: 'Angle', kind: 'joint', joint: 'Pin' }],
      shapes: [
        { name: 'Part', kind: 'mesh', body: 'Wedge', geometry: 'abcdef0123456789' },
        { name: 'Bore', kind: 'sphere', body: 'Wedge', centre: 'O', radius: '20 mm' },
        { name: 'Whole', kind: 'combined', body: 'Wedge', of: ['Part'], less: ['Bore'] },
      ],
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

describe('what is printed', () => {
  const model = (more: object, name = 'bad') => {
    const path = join(dir, `${name}.pivot.json`);
    writeFileSync(path, JSON.stringify({ format: 'vim-pivot-model', version: 1, name, ...more }));
    return path;
  };
  it.each(['check', 'run', ...ANALYSES.map((a) => a.name)])(
    '%s --json is what its schema says, for every example that can be asked',
    (command) => {
      const asked: Record<string, readonly string[]> = {
        run: ['--until', '0.3 s', '--every', '50 ms'],
        equilibria: ['--starts', '2'],
        range: ['Motor pin'],
        linear: ['--in', 'Motor', '--out', 'Pusher travel', '--from', '1 Hz', '--to', '100 Hz', '--points', '3'],
      };
      for (const file of ['sorting-gate', 'shaker-head', 'hoist-hook', 'slot-cam']) {
        const { out } = pivot(command, `examples/${file}.pivot.json`, ...(asked[command] ?? []), '--json'),
          said = JSON.parse(out) as { status?: string };
        OUTPUTS[said.status === 'refused' ? 'refused' : command]!.parse(said);
      }
    },
  );
  it.each(ANALYSES.map((a) => [a.name, a] as const))('%s says its options, and writes what it found as a table', (name, a) => {
    const help = pivot(name, '--help').out.replaceAll(/\s+/g, ' ');
    for (const [key, s] of Object.entries(a.settings)) {
      expect(help).toContain(key);
      expect(help.toLowerCase()).toContain(s.help.toLowerCase());
    }
    const csv = join(dir, `${name}.csv`),
      more = { range: ['Pin'], linear: ['--in', 'Push', '--out', 'angle', '--from', '1 Hz', '--to', '9 Hz', '--points', '4'] }[name] ?? [];
    expect(pivot(name, swing(), ...more, '--csv', csv)).toMatchObject({ code: 0 });
    const [head, ...rows] = readFileSync(csv, 'utf8').trim().split('\n');
    expect(rows.length).toBeGreaterThan(0);
    const cells = (line: string) => line.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/).length;
    for (const r of rows) expect(cells(r)).toBe(cells(head!));
  });
  it('the reference is what the declarations say', () => {
    expect(readFileSync('docs/command-line.md', 'utf8')).toBe(page());
    expect(readFileSync('docs/command-line.schema.json', 'utf8')).toBe(schema());
  });
  it('is words, whatever is asked: no trace of a program, no word of a library, nothing longer than 300 characters', () => {
    const file = (name: string, text: string | Uint8Array) => {
      const path = join(dir, name);
      writeFileSync(path, text);
      return path;
    };
    const list = file('list.json', '[]'),
      nothing = file('null.json', 'null'),
      cut = file('cut.json', '{"state":[1,'),
      words = file('words.json', '{"state":["a"]}'),
      folder = join(dir, 'folder');
    mkdirSync(folder, { recursive: true });
    const zip = file('blanks.pivot.zip', zipSync({ 'model.pivot.json': [new Uint8Array(70e6).fill(32), { level: 9 }] }));
    const calls: string[][] = [
      ...[list, nothing, cut, words, folder, join(dir, 'absent.json')].map((f) => ['run', gate, '--start', f]),
      ['run', gate, '--until', '0.1 s', '--csv', join(dir, 'no', 'such', 'folder.csv')],
      ['run', gate, '--until', '0.1 s', '--save-state', folder],
      ['equilibria', gate, '--starts', 'NaN'],
      ['equilibria', gate, '--starts', '-1'],
      ['equilibria', gate, '--starts', '1e99'],
      ['run', gate, '--every', '1e-9 s'],
      ['run', gate, '--every', '0 s'],
      ['run', gate, '--accuracy', 'NaN'],
      ['run', gate, '--table', 'nothing'],
      ['run', gate, '--table', `x=${list}`],
      ['check', zip],
      ['check', folder],
      ['check', list],
      ['check', nothing],
      ['check', cut],
      ['check', file('zip.zip', 'hello')],
      ['check', model({ points: [{ name: 'O', at: true }] })],
      ['check', model({ points: [{ name: 'O', at: [1, 2] }] }, 'short')],
      ['check', model({ points: [{ name: 7 }] }, 'seven')],
      ['check', model({ points: 7 }, 'number')],
      ['check', model({ joints: [{ name: 'J', kind: 'revolute', bodies: true, at: null }] }, 'joint')],
      ['check', model({ run: { until: false } }, 'until')],
      ['check', model({ bodies: [null] }, 'empty')],
      ['check', model({ bodies: [{ name: 'B', mass: { a: 1 } }] }, 'mass')],
      ['check', model({ parameters: [{ name: 'p'.repeat(5000), value: 1 }] }, 'long')],
      ['check', model({ kits: [{ name: 'K', content: 7 }] }, 'kit')],
      ['range', gate, 'No such joint'],
    ];
    for (const call of calls) {
      const { code, out, err } = pivot(...call),
        said = `${out}${err}`;
      expect(code, call.join(' ')).toBe(1);
      expect(said, call.join(' ')).not.toMatch(
        /\n\s+at |node:internal|\.ts:\d|TypeError|RangeError|expected \w+, received|Invalid input|reading '|undefined|\[object|ENOENT|ERR_/,
      );
      expect(said.trim().length, call.join(' ')).toBeGreaterThan(10);
      for (const line of out.split('\n')) expect(line.length, line.slice(0, 80)).toBeLessThan(900);
    }
  });
  it('shows control and direction characters of names by their number', () => {
    const { out } = pivot('check', model({ bodies: [{ name: 'A\u001b[31mB\u202eC' }] }, 'control'));
    expect(out).not.toMatch(/[\u001b\u202e]/);
    expect(out).toContain('A\\u{1b}[31mB\\u{202e}C');
  });
  it('ends quietly when its reader has gone', async () => {
    const child = spawn('node', ['cli/bin/pivot.mjs', 'equilibria', 'examples/hoist-hook.pivot.json', '--json'], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    child.stdout.destroy();
    let err = '';
    child.stderr.on('data', (d: Buffer) => (err += d.toString()));
    await new Promise((r) => child.on('close', r));
    expect(err).toBe('');
  });
  it('asks before it records a great deal', () => {
    const { code, out } = pivot('run', gate, '--every', '1e-9 s');
    expect(code).toBe(1);
    expect(out).toMatch(/would record 4\.00e9 records, about .* GB/);
    expect(out).toContain('--yes');
  });
});

describe('pivot run', () => {
  it('prints scores, workings and limits, and gives SI units when asked', () => {
    const { out } = pivot('run', 'examples/shaker-head.pivot.json', '--until', '1 s', '--every', '2 ms');
    expect(out).toMatch(/score +Spin-up torque, mean +[\d.]+ N·m/);
    expect(out).toMatch(/working +Torque to spin up +[\d.]+ N·m/);
    const file = join(dir, 'limits.pivot.json'),
      raw = JSON.parse(readFileSync(gate, 'utf8')) as { limits?: object[] };
    writeFileSync(
      file,
      JSON.stringify({
        ...raw,
        limits: [
          { name: 'Reach', gauge: 'Pusher travel', high: '1 mm' },
          { name: 'Far', gauge: 'Pusher travel', high: '10 m' },
        ],
      }),
    );
    const csv = join(dir, 'si.csv'),
      said = JSON.parse(pivot('run', file, '--until', '1 s', '--csv', csv, '--si', '--json').out) as {
        limits: { name: string; kept: boolean; unit: string }[];
        gauges: { gauge: string; unit: string }[];
      };
    expect(said.limits).toMatchObject([
      { name: 'Reach', kept: false, unit: 'mm' },
      { name: 'Far', kept: true },
    ]);
    expect(said.gauges.find((g) => g.gauge === 'Pusher travel')!.unit).toBe('m');
    expect(readFileSync(csv, 'utf8').split('\n')[0]).toContain('Pusher travel [m]');
  });
  it('says which gauge is not a number, leaves its cells empty and ends with 1', () => {
    const file = join(dir, 'nan.pivot.json'),
      csv = join(dir, 'nan.csv'),
      raw = JSON.parse(readFileSync(gate, 'utf8')) as { gauges: object[] };
    writeFileSync(
      file,
      JSON.stringify({
        ...raw,
        gauges: [{ name: 'Ratio', kind: 'formula', value: '0 / ({Pusher travel} - {Pusher travel})' }].concat(raw.gauges as never),
      }),
    );
    const { code, out } = pivot('run', file, '--until', '0.01 s', '--csv', csv);
    expect(code).toBe(1);
    expect(out).toMatch(/Ratio: It is not a number at t = 0 s/);
    expect(readFileSync(csv, 'utf8')).not.toMatch(/NaN|Infinity/);
  });
});
