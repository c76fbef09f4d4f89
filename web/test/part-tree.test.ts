/** The assembly of a file as rows, and STEP assemblies within assemblies read into it, whole and in pieces. */
import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { type Group, type Plate, writeStep } from '../../examples/tools/step';
import { ALL, type Row, assemblyRows, common, groupOf } from '../state/files/part-tree';
import { readParts } from '../workers/parts';
import { place, stepLeaves } from '../workers/step-tree';

const drawn = (rows: Row[], parts: readonly { path: readonly string[] }[]) =>
  rows.map((r) => '  '.repeat(r.depth) + ('group' in r ? `${r.label} (${r.parts.length})` : parts[r.part]!.path.at(-1)));

describe('rows', () => {
  it('two groups of one name stay apart; what stands alone at the top is told under one with the rest', () => {
    const parts = [
      { path: ['Cart', 'Wheel set', 'Rim'], nodes: [1, 2, 3] },
      { path: ['Cart', 'Wheel set', 'Rim'], nodes: [1, 4, 5] },
      { path: ['Cart', 'Wheel set', 'Tyre'], nodes: [1, 2, 6] },
      { path: ['Loose bolt'], nodes: [7] },
    ];
    const rows = assemblyRows(parts, 'File');
    expect(drawn(rows, parts)).toEqual([
      'File (4)',
      '  Cart (3)',
      '    Wheel set (2)',
      '      Rim',
      '      Tyre',
      '    Wheel set (1)',
      '      Rim',
      '  Loose bolt',
    ]);
    expect(rows[0]).toMatchObject({ group: ALL, parts: [0, 1, 2, 3] });
    expect(rows.filter((r) => 'part' in r).map((r) => r.above)).toEqual([[ALL, 1, 2], [ALL, 1, 2], [ALL, 1, 4], [ALL]]);
  });
  it('one part alone has no group', () =>
    expect(assemblyRows([{ path: ['Part'], nodes: [] }], 'File')).toEqual([{ part: 0, depth: 0, above: [] }]));
  it('what all parts become', () => {
    expect(common(['own', 'own', 'none'], [0, 1])).toBe('own');
    expect(common(['own', 'own', 'none'], [0, 2])).toBeUndefined();
    expect(groupOf('with -1')).toBe(ALL);
    expect(groupOf('ground')).toBeUndefined();
  });
});

describe('a STEP assembly in an assembly', () => {
  const plate = (name: string, y: number, places?: Plate['places']): Plate => {
    const corner = [0, 0] as const;
    return {
      name,
      colour: [0.3, 0.5, 0.4],
      start: corner,
      sides: [{ to: [40, 0] }, { to: [40, 30] }, { to: [0, 30] }, { to: corner }],
      holes: [],
      from: y,
      to: y + 6,
      ...(places ? { places } : {}),
    };
  };
  const at = (name: string, x: number) => ({ name, at: [x, 0, 0] as const, z: [0, 0, 1] as const, x: [1, 0, 0] as const });
  const cart: (Plate | Group)[] = [
    plate('Floor', 0),
    {
      name: 'Axles',
      of: [
        { name: 'Wheel set', of: [plate('Rim', 10), plate('Tyre', 20)], places: [at('front', 0), at('rear', 200)] },
        plate('Drawbar', 40),
      ],
    },
  ];
  const wasm = () => createRequire(import.meta.url).resolve('occt-import-js/dist/occt-import-js.wasm');
  const read = (piece: number) =>
    readParts('cart.step', new TextEncoder().encode(writeStep('Cart', cart)).buffer, () => undefined, { wasm, piece });

  it('is told leaf by leaf, with doubled quotes and letters beyond ASCII', () => {
    const leaves = stepLeaves(
      new TextEncoder().encode(
        writeStep("Smith''s cart", [{ name: 'R\\X2\\00E4\\X0\\der', of: [plate('Rim (8)', 0)] }, plate('Tyre; #7', 10)]),
      ),
    );
    expect(leaves?.map((l) => l.path)).toEqual([
      ["Smith's cart", 'Räder', 'Rim (8)'],
      ["Smith's cart", 'Tyre; #7'],
    ]);
    expect(stepLeaves(new TextEncoder().encode('hello'))).toBeUndefined();
    expect(stepLeaves(new TextEncoder().encode("#1=PRODUCT('x','not closed"))).toBeUndefined();
  });
  it('that contains itself, or goes on for ever, is not followed', () => {
    const of = (uses: string) =>
      new TextEncoder().encode(
        `#1=PRODUCT('A','A','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,#9);#4=PRODUCT_DEFINITION('','',#2,#9);${uses}`,
      );
    expect(stepLeaves(of("#5=NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','','',#3,#3,$);"))).toBeUndefined();
    expect(
      stepLeaves(of("#5=NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','','',#3,#4,$);#6=NEXT_ASSEMBLY_USAGE_OCCURRENCE('2','','',#4,#4,$);")),
    ).toBeUndefined();
    // doubled twenty times over: a million places
    const many = Array.from(
      { length: 20 },
      (_, k) =>
        `#${100 + k}=PRODUCT_DEFINITION('','',#2,#9);` +
        [0, 1].map((j) => `#${200 + 2 * k + j}=NEXT_ASSEMBLY_USAGE_OCCURRENCE('${2 * k + j}','','',#${100 + k},#${101 + k},$);`).join(''),
    ).join('');
    expect(stepLeaves(of(`${many}#120=PRODUCT_DEFINITION('','',#2,#9);`))).toBeUndefined();
  });
  it('where the names do not follow the tree, what the reader told is kept', () => {
    const raw = [
      { path: ['Cart', 'Tyre'], nodes: [0, 1] },
      { path: ['Cart', 'Rim'], nodes: [0, 2] },
    ];
    place(raw, [
      { path: ['Cart', 'Set', 'Rim'], nodes: [5, 6, 7] },
      { path: ['Cart', 'Set', 'Tyre'], nodes: [5, 6, 8] },
    ]);
    expect(raw.map((r) => r.nodes)).toEqual([
      [0, 1],
      [0, 2],
    ]);
  });
  it('a part of two solids has two surfaces wherever it occurs', () => {
    const leaves = [1, 2].map((k) => ({ path: ['Cart', `Set ${k}`, 'Rim'], nodes: [0, k, 10 + k] })),
      raw = Array.from({ length: 4 }, () => ({ path: ['Cart', 'Rim'], nodes: [0, 9] }));
    place(raw, leaves);
    expect(raw.map((r) => r.nodes[1])).toEqual([1, 1, 2, 2]);
  });
  it.each([
    ['at once', Infinity],
    ['in pieces', 500],
  ])(
    'keeps its tree, with each wheel set a group of its own: %s',
    async (_, piece) => {
      const { parts } = await read(piece);
      // pieces come in the order of the solids
      const rows = drawn(assemblyRows(parts, 'cart'), parts);
      expect([...rows].sort()).toEqual(
        [
          'Cart (6)',
          '  Axles (5)',
          '  Floor',
          '    Drawbar',
          '    Wheel set (front) (2)',
          '    Wheel set (rear) (2)',
          '      Rim',
          '      Rim',
          '      Tyre',
          '      Tyre',
        ].sort(),
      );
      expect(rows[0]).toBe('Cart (6)');
      const sets = parts.filter((p) => p.path.at(-1) === 'Rim').map((p) => p.nodes.at(-2));
      expect(new Set(sets).size).toBe(2);
      for (const p of parts.filter((x) => x.path.at(-1) === 'Tyre')) expect(sets).toContain(p.nodes.at(-2));
    },
    60_000,
  );
});
