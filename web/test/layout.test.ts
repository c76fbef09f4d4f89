/** The Map's layout: nothing overlaps, and a small edit moves nothing that was there. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { NODE, arranged, layOut } from '../state/map/layout';

const graph = fc.integer({ min: 2, max: 30 }).chain((n) =>
  fc.tuple(
    fc.constant(Array.from({ length: n }, (_, i) => `Body ${i}`)),
    fc
      .array(fc.tuple(fc.integer({ min: 0, max: n - 1 }), fc.integer({ min: 0, max: n - 1 })), { maxLength: 50 })
      .map((list) => list.filter(([a, b]) => a !== b).map(([a, b]) => [`Body ${a}`, `Body ${b}`] as const)),
  ),
);
const overlap = (m: Map<string, { x: number; y: number }>) =>
  [...m.values()].some((p, i, all) => all.some((q, k) => k > i && Math.abs(p.x - q.x) < NODE.width && Math.abs(p.y - q.y) < NODE.height));

it('puts every body somewhere, none over another', () => {
  fc.assert(
    fc.property(graph, ([nodes, edges]) => {
      const m = arranged(nodes, edges);
      expect([...m.keys()]).toEqual(nodes);
      expect(overlap(m)).toBe(false);
    }),
    { numRuns: 60 },
  );
});

it('keeps what is there where it is when a body is added or taken away', () => {
  fc.assert(
    fc.property(graph, ([nodes, edges]) => {
      const before = layOut(nodes, edges, new Map());
      const more = layOut([...nodes, 'New'], [...edges, [nodes[0]!, 'New']], before);
      for (const n of nodes) expect(more.get(n)).toEqual(before.get(n));
      expect(overlap(more)).toBe(false);
      const fewer = layOut(
        nodes.slice(1),
        edges.filter(([a, b]) => a !== nodes[0] && b !== nodes[0]),
        before,
      );
      for (const n of nodes.slice(1)) expect(fewer.get(n)).toEqual(before.get(n));
    }),
    { numRuns: 60 },
  );
});
