/** Loads on one body: weight, a force at a point, a torque with its reaction, drag, lift of a float. */
import type { Ex } from '../../expressions/arithmetic';
import { cross, dot, minus, norm, plus, times } from '../../expressions/vectors';
import { direction, place, spin, velocity } from '../stated/body';
import { forceLaw } from './law';

/** Weight: stores −m g·r. */
export const weight = forceLaw({
  name: 'weight',
  bodies: 1,
  numbers: { mass: 'number', fall: 'vector' },
  inputs: 0,
  does: (g, [body], { mass, fall }) => ({ potential: g.negate(g.multiply(mass, dot(g, fall, body!.r))) }),
});

/** Weight of a body with its shares of what has mass between bodies: of their centres of mass, and moments fixed in it. */
export const weightWithShares = forceLaw({
  name: 'weight with shares',
  bodies: 1,
  numbers: { mass: 'number', moment: 'vector', fall: 'vector' },
  inputs: 0,
  does: (g, [body], { mass, moment, fall }) => ({
    potential: g.negate(g.add(g.multiply(mass, dot(g, fall, body!.r)), dot(g, fall, direction(g, body!, moment)))),
  }),
});

/** Weight by an acceleration that changes: its direction given, its strength taken in. */
export const changingWeight = forceLaw({
  name: 'changing weight',
  bodies: 1,
  numbers: { mass: 'number', along: 'vector' },
  inputs: 1,
  does: (g, [body], { mass, along }, [strength]) => ({ works: [[g.multiply(mass, strength!), dot(g, along, body!.v)]] }),
});

export const changingWeightWithShares = forceLaw({
  name: 'changing weight with shares',
  bodies: 1,
  numbers: { mass: 'number', moment: 'vector', along: 'vector' },
  inputs: 1,
  does: (g, [body], { mass, moment, along }, [strength]) => ({
    works: [[strength!, dot(g, along, plus(g, times(g, mass, body!.v), direction(g, body!, cross(g, body!.w, moment))))]],
  }),
});

/** A force of a magnitude taken in, at a point of a body; its direction fixed in the ground, or in that body. */
const pointForce = (turning: boolean) =>
  forceLaw({
    name: turning ? 'force that turns with its body' : 'force',
    bodies: 1,
    numbers: { at: 'vector', along: 'vector' },
    inputs: 1,
    does: (g, [body], { at, along }, [magnitude]) => ({
      works: [[magnitude!, dot(g, turning ? direction(g, body!, along) : along, velocity(g, body!, at))]],
      tells: () => ({ effort: [magnitude!] }),
    }),
  });
export const forceInGround = pointForce(false);
export const forceInBody = pointForce(true);

/** A torque of a magnitude taken in, its reaction on the second body; its axis fixed in the ground, or in the first body. */
const torque = (turning: boolean) =>
  forceLaw({
    name: turning ? 'torque that turns with its body' : 'torque',
    bodies: 2,
    numbers: { axis: 'vector' },
    inputs: 1,
    does: (g, [body, reaction], { axis }, [magnitude]) => ({
      works: [[magnitude!, dot(g, turning ? direction(g, body!, axis) : axis, minus(g, spin(g, body!), spin(g, reaction!)))]],
      tells: () => ({ effort: [magnitude!] }),
    }),
  });
export const torqueInGround = torque(false);
export const torqueInBody = torque(true);

/** Resistance of a medium that moves with a speed taken in: −(c₁ + c₂ |u|) u with u = v − wind. */
export const drag = forceLaw({
  name: 'drag',
  bodies: 1,
  numbers: { at: 'vector', linear: 'number', quadratic: 'number', along: 'vector' },
  inputs: 1,
  does(g, [body], { at, linear, quadratic, along }, [wind]) {
    const v = velocity(g, body!, at),
      u = minus(g, v, times(g, wind!, along)),
      c = g.add(linear, g.multiply(quadratic, norm(g, u)));
    return { works: u.map((x, k) => [g.negate(g.multiply(c, x)), v[k as 0]] as const) };
  },
});

/** A ball-shaped float: lift ρ g times the volume of the cap below the surface. */
export const buoyancy = forceLaw({
  name: 'buoyancy',
  bodies: 1,
  numbers: { at: 'vector', radius: 'number', weight: 'number', up: 'vector', level: 'number' },
  inputs: 0,
  does(g, [body], { at, radius: r, weight, up, level }) {
    const c = (x: number) => g.constant(x),
      product = (...list: readonly Ex[]) => list.reduce((a, b) => g.multiply(a, b), g.one);
    // depth of its lowest point below the surface, and as far as it is within the ball
    const deep = g.add(g.subtract(level, dot(g, up, place(g, body!, at))), r),
      across = g.multiply(c(2), r),
      d = g.least(across, g.most(g.zero, deep)),
      cap = g.multiply(c(Math.PI / 3), g.subtract(product(r, d, d, d), g.divide(product(d, d, d, d), c(4)))),
      whole = product(c((4 / 3) * Math.PI), r, r, r);
    return { potential: g.multiply(weight, g.add(cap, g.multiply(whole, g.most(g.zero, g.subtract(deep, across))))) };
  },
});
