/** What a ready-made sheet brings into every example, and files of curves. */
import { readFileSync, readdirSync } from 'node:fs';
import { parquetReadObjects } from 'hyparquet';
import { describe, expect, it } from 'vitest';
import { build } from '@vim-pivot/core';
import { checkModel } from '@vim-pivot/core/file';
import { READY } from '../state/readings/sheets';
import { curvesParquet } from '../state/readings/motion-files';

describe('every ready-made sheet', () => {
  const examples = readdirSync('examples').filter((f) => f.endsWith('.pivot.json'));
  it.each(READY.map((r) => [r.label, r] as const))('%s reads in every example that has what it needs', (_label, ready) => {
    let made = 0;
    for (const file of examples) {
      const model = checkModel(JSON.parse(readFileSync(`examples/${file}`, 'utf8')));
      const sheet = ready.make(model);
      if (!sheet) continue;
      made++;
      const taken = new Set(model.gauges.map((g) => g.name));
      const whole = {
        ...model,
        gauges: [...model.gauges, ...sheet.gauges.filter((g) => !taken.has(g.name))],
        scores: [...model.scores, ...(sheet.scores ?? [])],
        sheets: [{ name: 'S' }],
        tiles: sheet.tiles.map((t) => ({ ...t, sheet: 'S' })),
      } as never;
      expect(
        build(whole)
          .diagnoses.filter((d) => d.element && ['gauges', 'scores', 'tiles', 'sheets'].includes(d.element.family))
          .map((d) => `${file}: ${d.element!.name}: ${d.message}`),
      ).toEqual([]);
      // tiles do not lie on one another
      const cells = sheet.tiles.flatMap((t) => {
        const [x, y, w, h] = t.place[0]!;
        return Array.from({ length: w * h }, (_, i) => `${x + (i % w)},${y + Math.floor(i / w)}`);
      });
      expect(new Set(cells).size).toBe(cells.length);
    }
    expect(made).toBeGreaterThan(examples.length / 2);
  });
});

it('a Parquet file of curves has the unit in the name of each column, and all digits', async () => {
  const time = Float64Array.from([0, 0.1, 0.2]),
    values = Float64Array.from([1 / 3, 1e-9, -2]);
  const file = await curvesParquet([
    { gauge: 'Travel', dim: [1, 0, 0, 0, 0, 0], unit: 'mm', positive: '', time, values },
    { gauge: 'Ratio', dim: [0, 0, 0, 0, 0, 0], unit: '', positive: '', time, values },
  ]);
  const rows = (await parquetReadObjects({ file })) as Record<string, number>[];
  expect(Object.keys(rows[0]!)).toEqual(['Time [s]', 'Travel [mm]', 'Ratio']);
  rows.forEach((r, i) => {
    expect(r['Travel [mm]']).toBeCloseTo(1000 * values[i]!, 12);
    expect(r.Ratio).toBe(values[i]);
  });
});
