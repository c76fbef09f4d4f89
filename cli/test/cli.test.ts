import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

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
});
