/** A large STEP file read in pieces gives what it gives when it is read at once. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { geometryOf } from '@vim-pivot/core';
import { writeStep } from '../../examples/tools/step';
import { type ImportedPart, readParts } from '../workers/parts';
import { piecesOf } from '../workers/step-pieces';

const wasm = () => createRequire(import.meta.url).resolve('occt-import-js/dist/occt-import-js.wasm');
const told: string[] = [];
const read = (bytes: Uint8Array, piece: number) =>
  readParts('assembly.step', Uint8Array.from(bytes).buffer, (t) => told.push(t), { wasm, facets: 24, piece });
const bytesOf = (text: string) => new TextEncoder().encode(text);
/** What a part is, but for its triangles: names, colour, mass and where it stands. */
function nature(p: ImportedPart): { name: string; colour: string | undefined; numbers: number[] } {
  const { mass } = geometryOf(p.positions, p.indices);
  return { name: p.path.join('/'), colour: p.colour, numbers: [mass.mass, ...mass.centre] };
}
function compare(whole: readonly ImportedPart[], pieces: readonly ImportedPart[]): void {
  const order = (list: readonly ImportedPart[]) =>
    list.map(nature).sort((a, b) => a.name.localeCompare(b.name) || a.numbers[1]! - b.numbers[1]! || a.numbers[3]! - b.numbers[3]!);
  const [a, b] = [order(whole), order(pieces)];
  expect(b.map((p) => [p.name, p.colour])).toEqual(a.map((p) => [p.name, p.colour]));
  a.forEach((p, i) =>
    p.numbers.forEach((x, k) =>
      expect(Math.abs(x - b[i]!.numbers[k]!), `${p.name} ${k}`).toBeLessThan(
        0.01 * Math.max(1, Math.abs(p.numbers[0]!) * (k === 0 ? 1 : 0)),
      ),
    ),
  );
}

describe('in pieces', () => {
  it('the sorting gate, a part at a time: same tree, colours, masses and places, same shared axes', async () => {
    const bytes = readFileSync('examples/sorting-gate.step');
    const whole = await read(bytes, Infinity),
      pieces = await read(bytes, 1000);
    expect(told).toContain('Turning solids into triangles: 6 of 6');
    expect(pieces.empty).toEqual([]);
    compare(whole.parts, pieces.parts);
    const pairs = (r: typeof whole) =>
      r.axes
        .map((a) =>
          a.parts
            .map((i) => r.parts[i]!.path.at(-1))
            .sort()
            .join(),
        )
        .sort();
    expect(pairs(pieces)).toEqual(pairs(whole));
  }, 120_000);

  it('an assembly with parts that occur several times, turned', async () => {
    const corner = [0, 0] as const;
    const plates = Array.from({ length: 4 }, (_, k) => ({
      name: `Slat (${k}), it's; #${k}`.replaceAll("'", "''"),
      colour: [0.1 * k, 0.5, 0.3] as const,
      start: corner,
      sides: [{ to: [20 + 10 * k, 0] as const }, { to: [20 + 10 * k, 30] as const }, { to: [0, 30] as const }, { to: corner }],
      holes: [{ at: [10, 15] as const, radius: 4 }],
      from: 0,
      to: 6,
      places: Array.from({ length: 5 }, (_x, j) => ({
        name: `Slat ${k}-${j}`,
        at: [100 * j, 15 * k, 60 * k] as const,
        z: j % 2 ? ([1, 0, 0] as const) : ([0, 0, 1] as const),
        x: j % 2 ? ([0, 1, 0] as const) : ([1, 0, 0] as const),
      })),
    }));
    const bytes = bytesOf(writeStep('Slat rack', plates)),
      whole = await read(bytes, Infinity),
      pieces = await read(bytes, 30_000);
    expect(whole.parts).toHaveLength(20);
    compare(whole.parts, pieces.parts);
  }, 120_000);
});

describe('a file is left whole', () => {
  const gate = readFileSync('examples/sorting-gate.step'),
    text = gate.toString('latin1');
  it.each<[string, Uint8Array, number]>([
    ['when it is small', gate, gate.length],
    [
      'when one solid is all there is',
      bytesOf("DATA;\n#1=AXIS2_PLACEMENT_3D('',#2,$,$);\n#2=CARTESIAN_POINT('',(0.,0.,0.));\n#3=MANIFOLD_SOLID_BREP('',#2);\nENDSEC;"),
      10,
    ],
    ['when it is cut short', gate.subarray(0, 3000), 1000],
    ['when a text is not closed', bytesOf(text.replace("'Crank'", "'Crank")), 1000],
    ['when it is no such file', bytesOf('hello '.repeat(100)), 10],
    [
      'when something that holds the assembly together speaks of a solid',
      bytesOf(
        text.replace('ENDSEC;\nEND-ISO', `#999999=PRODUCT('x','','',(${/(#\d+)=MANIFOLD_SOLID_BREP/.exec(text)![1]}));\nENDSEC;\nEND-ISO`),
      ),
      1000,
    ],
  ])('%s', (_, bytes, most) => {
    expect(piecesOf(bytes, most)).toBeUndefined();
  });
});

it('each piece names no entity it does not hold, and all solids come once', () => {
  const pieces = piecesOf(readFileSync('examples/sorting-gate.step'), 1000)!,
    solids: string[] = [];
  for (let i = 0; i < pieces.count; i++) {
    const text = Buffer.from(pieces.piece(i))
        .toString('latin1')
        .replace(/'[^']*'/g, ''),
      defined = new Set([...text.matchAll(/^(#\d+)=/gm)].map((m) => m[1]));
    for (const [r] of text.matchAll(/#\d+/g)) expect(defined.has(r), `${r} in piece ${i}`).toBe(true);
    solids.push(...[...text.matchAll(/(#\d+)=MANIFOLD_SOLID_BREP/g)].map((m) => m[1]!));
  }
  expect(solids).toHaveLength(6);
  expect(new Set(solids).size).toBe(6);
});
