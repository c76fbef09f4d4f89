/** Curves as CSV and back: units in the header, names that would upset a spreadsheet, numbers to twelve digits. */
import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { D } from '../src';
import { readCells, readColumns, readCsv, writeCsv } from '../src/formats/csv';

const finite = fc.double({ min: -1e9, max: 1e9, noNaN: true }).map((x) => (Math.abs(x) < 1e-200 ? 0 : x));

describe('written', () => {
  it('a column a gauge in its unit, the unit in the header', () => {
    const text = writeCsv(Float64Array.of(0, 0.5), [
      { name: 'Travel', dim: D.length, values: Float64Array.of(0.01, -0.02) },
      { name: 'Torque', dim: D.torque, unit: 'N*mm', values: Float64Array.of(1, 2) },
      { name: 'Share', dim: D.none, values: Float64Array.of(0.25, 1) },
    ]);
    expect(text).toBe('Time [s],Travel [mm],Torque [N*mm],Share\n0,10,1000,0.25\n0.5,-20,2000,1\n');
  });
  it('names with commas, quotes and line ends come back; what a spreadsheet would take for a formula is text', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string({ maxLength: 20 }), fc.constantFrom('a, b', '"q"', 'two\nlines', '=1+1', '@SUM(A1)', '-x', '+x')), {
          minLength: 1,
          maxLength: 5,
        }),
        (names) => {
          const text = writeCsv(
            Float64Array.of(0),
            names.map((name) => ({ name, dim: D.none, values: Float64Array.of(1) })),
          );
          const [head] = Papa.parse<string[]>(text.trimEnd()).data;
          expect(head!.length).toBe(names.length + 1);
          head!
            .slice(1)
            .forEach((h, i) => expect(h.replace(/^'/, '').replace(/\r/g, '')).toBe(names[i]!.replace(/^'/, '').replace(/\r/g, '')));
          for (const h of head!) expect(h).not.toMatch(/^[=@+-]/);
        },
      ),
    );
  });
  it('numbers keep twelve digits, half of the last one', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(finite, finite), { minLength: 1, maxLength: 30 }), (rows) => {
        const text = writeCsv(
          Float64Array.from(rows, (r) => r[0]),
          [{ name: 'v', dim: D.none, values: Float64Array.from(rows, (r) => r[1]) }],
        );
        const back = readCsv(text);
        expect(back.length).toBe(rows.length);
        rows.forEach((r, i) => r.forEach((x, k) => expect(Math.abs(back[i]![k]! - x)).toBeLessThanOrEqual(5e-12 * Math.abs(x))));
      }),
    );
  });
});

describe('read', () => {
  it('with or without a header, with commas, semicolons or tabs', () => {
    for (const text of ['0,1\n2,3', 'time,speed\n0,1\n2,3\n', 't;n\n0;1\n2;3', 't\tn\n0\t1\n2\t3\n\n'])
      expect(readCsv(text), JSON.stringify(text)).toEqual([
        [0, 1],
        [2, 3],
      ]);
  });
  it('further columns are left alone', () =>
    expect(readCsv('0,1,9\n2,3,9')).toEqual([
      [0, 1],
      [2, 3],
    ]));
  it.each([
    ['a word among the numbers', '0,1\n2,x\n4,5', /Row 2/],
    ['a row too short', '0,1\n2', /Row 2/],
    ['two headers', 'a,b\nc,d\n1,2', /Row 2/],
    ['nothing between commas is no zero', 'a,b\n0,1\n2,', /Row 3/],
  ])('%s is told with its row', (_, text, words) => {
    expect(() => readCsv(text)).toThrow(words);
  });
});

it('cells of a clipboard are read with their quotes, lines and tabs within them', () => {
  expect(readCells('Name\tx\r\n"A ""1"""\t"2\n3"\r\n')).toEqual([
    ['Name', 'x'],
    ['A "1"', '2\n3'],
  ]);
  expect(readCells('1,5\t2')).toEqual([['1,5', '2']]);
});

describe('a file of curves', () => {
  it('is read with the names of its header, decimal commas and all', () => {
    expect(readColumns('Time [s];Tip [mm]\n0;1,5\n0,1;-2,25')).toEqual({
      names: ['Time [s]', 'Tip [mm]'],
      columns: [Float64Array.of(0, 0.1), Float64Array.of(1.5, -2.25)],
    });
    expect(readColumns('0,1\n1,2').names).toEqual(['time', 'curve 1']);
  });
  it.each([
    ['1\n2', /fewer than two/],
    ['t,a\n0,1\n1,x', /Row 3 is not 2 numbers/],
    ['t,a\n0,1\n0,2', /row 3 the time does not go on/],
    ['t,a', /fewer than two/],
    ['t,a\n0,1\n1,', /Row 3/],
  ])('%j is refused in words', (text, words) => {
    expect(() => readColumns(text)).toThrow(words);
  });
});
