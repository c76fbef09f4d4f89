/** Postures to look at: of a free motion, and of a swing. */
import { TWO_PI, cos, sin } from '../../quantity/elementary';
import type { Mechanism } from '../../system/mechanism';
import { extent } from '../../solve/reduced';
import type { Shown } from './analysis';

const FRAMES = 24;
/** How far what moves most goes, in parts of the machine's size or rad; in a swing. */
const REACH = 0.35;
const SWING = 0.3;

/** The posture of all bodies in K, seven numbers each. */
export function postureOf({ system, bodies }: Mechanism): Float64Array {
  const y = new Float64Array(system.size);
  system.K.store(y);
  return y.slice(0, 7 * bodies.length);
}

/** Postures along a free motion from one side to the other, the joints kept closed. K is left as it was. */
export function played(m: Mechanism, shape: Float64Array): Shown {
  const { system } = m,
    { K } = system,
    home = new Float64Array(K.whole.size),
    step = REACH / FRAMES / Math.max(1e-12, extent(system, shape, m.size));
  K.storeWhole(home);
  const side = (sense: number): Float64Array[] => {
    K.loadWhole(home);
    const list: Float64Array[] = [],
      way = shape.slice();
    for (let i = 0; i < FRAMES; i++) {
      K.displace(way, sense * step);
      system.linearise();
      if (system.projectPositions(0) > 1e-7) break;
      list.push(postureOf(m));
      // go on in the direction it has taken: the shape brought onto the constraints here
      system.linearise();
      for (let b = 0; b < system.bodies; b++)
        for (let k = 0; k < 3; k++) {
          K.v[3 * b + k] = way[6 * b + k]!;
          K.w[3 * b + k] = way[6 * b + 3 + k]!;
        }
      system.projectVelocities(0);
      for (let b = 0; b < system.bodies; b++)
        for (let k = 0; k < 3; k++) {
          way[6 * b + k] = K.v[3 * b + k]!;
          way[6 * b + 3 + k] = K.w[3 * b + k]!;
        }
    }
    return list;
  };
  const back = side(-1).reverse(),
    forth = side(1);
  K.loadWhole(home);
  const frames = joined([...back, postureOf(m), ...forth]);
  system.linearise();
  return { frames, swing: true };
}

/** Postures over one swing of a complex shape. K is left as it was. */
export function swung(m: Mechanism, re: Float64Array, im: Float64Array): Shown {
  const { system } = m,
    { K } = system,
    state = new Float64Array(K.whole.size),
    size = SWING / Math.max(extent(system, re, m.size), extent(system, im, m.size), 1e-12);
  K.storeWhole(state);
  const home = postureOf(m),
    list = Array.from({ length: 2 * FRAMES }, (_, i) => {
      const a = (TWO_PI * i) / (2 * FRAMES);
      K.loadWhole(state);
      K.displace(
        re.map((x, k) => x * cos(a) - im[k]! * sin(a)),
        size,
      );
      system.linearise();
      system.projectPositions(0);
      return postureOf(m);
    });
  K.loadWhole(state);
  system.linearise();
  return { frames: joined(list), home };
}

function joined(list: readonly Float64Array[]): Float64Array {
  const n = list[0]?.length ?? 0,
    out = new Float64Array(n * list.length);
  list.forEach((y, i) => out.set(y, n * i));
  return out;
}
