/** Loads along lines between points: spring-dampers, a force, a cable led over pulleys. Tension is positive: it pulls the ends together. */
import type { Ex } from '../../expressions/arithmetic';
import type { Graph } from '../../expressions/graph';
import { type VectorEx, dot, minus, norm } from '../../expressions/vectors';
import { type BodyEx, place, velocity } from '../stated/body';
import { linear, madeOnce, tabled } from './elastic';
import { forceLaw } from './law';

/** Length of a line between two places, m, and its rate; a line of no length has no direction. */
function line(g: Graph, a: BodyEx, sa: VectorEx, b: BodyEx, sb: VectorEx): { length: Ex; rate: Ex } {
  const d = minus(g, place(g, b, sb), place(g, a, sa)),
    length = norm(g, d),
    along = d.map((x) => g.choose(g.zero, length, g.divide(x, length), g.zero)) as unknown as VectorEx;
  return { length, rate: dot(g, along, minus(g, velocity(g, b, sb), velocity(g, a, sa))) };
}

/** A force of a magnitude taken in. */
export const lineForce = forceLaw({
  name: 'force along a line',
  bodies: 2,
  numbers: { sa: 'vector', sb: 'vector' },
  inputs: 1,
  does: (g, [a, b], { sa, sb }, [magnitude]) => ({
    works: [[g.negate(magnitude!), line(g, a!, sa, b!, sb).rate]],
    tells: () => ({ effort: [magnitude!] }),
  }),
});

/** In which sense a spring acts. */
export type Sense = 'both' | 'tension' | 'compression';

/** Spring and damper: k (l − l₀) + c l̇ + preload, or by a table; what pulls only, or pushes only, never does the other. */
const springOf = (only: Sense) =>
  madeOnce((table) =>
    forceLaw({
      name: `spring, ${only}`,
      bodies: 2,
      numbers: { sa: 'vector', sb: 'vector', free: 'number', stiffness: 'number', preload: 'number', damping: 'number', slack: 'number' },
      inputs: 0,
      does(g, [a, b], { sa, sb, free, stiffness, preload, damping, slack }) {
        const { length, rate } = line(g, a!, sa, b!, sb),
          x = g.subtract(length, free),
          spring = table ? tabled(table, preload) : linear(stiffness, preload),
          elastic = spring.effort(g, x),
          pull = g.add(elastic, g.multiply(damping, rate)),
          tension =
            only === 'both'
              ? pull
              : only === 'tension'
                ? g.choose(g.zero, elastic, g.most(g.zero, pull), g.zero)
                : g.choose(elastic, g.zero, g.least(g.zero, pull), g.zero),
          acting = only === 'compression' ? g.negate(elastic) : elastic,
          stored = spring.energy(g, x);
        return {
          works: [[g.negate(tension), rate]],
          stored: only === 'both' ? stored : g.choose(g.zero, acting, g.subtract(stored, slack), g.zero),
          corners: only === 'both' ? [] : [acting],
          tells: () => ({ effort: [tension], deflection: [x], rate: [rate] }),
        };
      },
    }),
  );
export const spring: Readonly<Record<Sense, ReturnType<typeof springOf>>> = {
  both: springOf('both'),
  tension: springOf('tension'),
  compression: springOf('compression'),
};
/** Energy at the deflection without effort, where a one-sided spring begins to act, J. */
export const slackEnergy = (stiffness: number, preload: number, tabled: boolean): number =>
  !tabled && stiffness > 0 ? (-0.5 * preload * preload) / stiffness : 0;

/** A cable without mass over small smooth pulleys: one tension all along, max(0, k (l − l₀) + c l̇), and none when slack. */
const cableThrough = (places: number) =>
  forceLaw({
    name: `cable through ${places} points`,
    bodies: places,
    numbers: {
      free: 'number',
      stiffness: 'number',
      damping: 'number',
      ...Object.fromEntries(Array.from({ length: places }, (_, i) => [`s${i}`, 'vector' as const])),
    } as { free: 'number'; stiffness: 'number'; damping: 'number' },
    inputs: 0,
    does(g, bodies, n) {
      const at = n as unknown as Readonly<Record<string, VectorEx>>,
        runs = bodies.slice(1).map((b, i) => line(g, bodies[i]!, at[`s${i}`]!, b, at[`s${i + 1}`]!)),
        sum = (list: readonly Ex[]) => list.reduce((x, y) => g.add(x, y), g.zero),
        stretch = g.subtract(sum(runs.map((r) => r.length)), n.free),
        rate = sum(runs.map((r) => r.rate)),
        pull = g.add(g.multiply(n.stiffness, stretch), g.multiply(n.damping, rate)),
        tension = g.choose(g.zero, stretch, g.most(g.zero, pull), g.zero);
      return {
        works: [[g.negate(tension), rate]],
        stored: g.multiply(g.multiply(g.constant(0.5), n.stiffness), g.square(g.most(g.zero, stretch))),
        corners: [stretch],
        tells: () => ({ effort: [tension], deflection: [stretch], rate: [rate] }),
      };
    },
  });
const cables = new Map<number, ReturnType<typeof cableThrough>>();
/** Its law, by how many points it is led through. */
export function cable(places: number): ReturnType<typeof cableThrough> {
  const law = cables.get(places) ?? cableThrough(places);
  cables.set(places, law);
  return law;
}
