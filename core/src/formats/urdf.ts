/**
 * URDF, the open description of robots as trees of links and joints (wiki.ros.org/urdf/XML), read and written. Links become bodies with the mass,
 * centre and inertia they state; joints stand where the tree puts them at its zero position.
 */
import { XMLParser } from 'fast-xml-parser';
import { Refusal, type Diagnosis } from '../diagnosis';
import {
  type Mat3,
  type Vec3,
  IDENTITY,
  add,
  apply,
  fromRollPitchYaw,
  mul,
  scale,
  sub,
  toRollPitchYaw,
  transpose,
} from '../geometry/vector';
import { type Model, type RawElement, complete } from '../model/document';
import type { Mechanism } from '../system/mechanism';

interface Pose {
  at: Vec3;
  turn: Mat3;
}
type Node = Record<string, unknown>;

const list = (x: unknown): Node[] => (x === undefined || x === '' ? [] : ((Array.isArray(x) ? x : [x]) as Node[]));
const one = (x: unknown): Node | undefined => list(x)[0];
const text = (n: Node | undefined, key: string): string | undefined => (n?.[`@${key}`] === undefined ? undefined : String(n[`@${key}`]));
const clean = (s: string): string =>
  s
    .replace(/[\p{C}<>"“”]/gu, ' ')
    .trim()
    .slice(0, 80) || 'part';
const refuse = (message: string): never => {
  throw new Refusal([{ code: 'urdf', severity: 'error', message }]);
};

function numbers(s: string | undefined, count: number, what: string, fallback: readonly number[]): number[] {
  if (s === undefined) return [...fallback];
  const v = s.trim().split(/\s+/).map(Number);
  if (v.length !== count || v.some((x) => !Number.isFinite(x)))
    refuse(`${what} needs ${count} number${count === 1 ? '' : 's'}, not “${s.slice(0, 60)}”.`);
  return v;
}
function poseOf(n: Node | undefined, what: string): Pose {
  const o = one(n?.origin);
  return {
    at: numbers(text(o, 'xyz'), 3, `The origin of ${what}`, [0, 0, 0]) as unknown as Vec3,
    turn: fromRollPitchYaw(numbers(text(o, 'rpy'), 3, `The origin of ${what}`, [0, 0, 0]) as unknown as Vec3),
  };
}
const then = (a: Pose, b: Pose): Pose => ({ at: add(a.at, apply(a.turn, b.at)), turn: mul(a.turn, b.turn) });
const tidy = (x: number): number => Number(x.toPrecision(12)) + 0;
const vector = (v: readonly number[]): number[] => v.map(tidy);

const KINDS: Readonly<Record<string, string>> = {
  fixed: 'fixed',
  revolute: 'revolute',
  continuous: 'revolute',
  prismatic: 'prismatic',
  planar: 'planar',
};

/**
 * A limit of travel becomes a stop that gives so much (rad or m) under the rated effort, or under this effort where none is stated; beyond this range
 * there is none. Damping: s.
 */
const GIVES = 0.01,
  RATED = { torque: 100, force: 1000 },
  ENDLESS = 1e6,
  SLOWS = 1e-3;

/** @returns the model, and what of the file it leaves out. @throws Refusal */
export function readUrdf(source: string): { model: Model; left: Diagnosis[] } {
  if (source.length > 30e6) refuse('The file is larger than 30 MB.');
  if (/<!(DOCTYPE|ENTITY)/i.test(source)) refuse('The file declares entities of its own, which are not read.');
  let robot: Node | undefined;
  try {
    robot = (new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', processEntities: false }).parse(source) as Node).robot as
      Node | undefined;
  } catch (e) {
    refuse(`The file is no XML: ${e instanceof Error ? e.message : 'it is damaged'}.`);
  }
  if (!robot) return refuse('The file describes no robot.');
  const links = new Map(list(robot.link).map((l) => [text(l, 'name') ?? refuse('A link has no name.'), l]));
  const joints = list(robot.joint).map((j) => {
    const name = text(j, 'name') ?? refuse('A joint has no name.'),
      parent = text(one(j.parent), 'link'),
      child = text(one(j.child), 'link');
    if (!parent || !child || !links.has(parent) || !links.has(child))
      refuse(`The joint “${clean(name)}” refers to a link that is not there.`);
    return { name, j, parent: parent!, child: child!, type: text(j, 'type') ?? '' };
  });
  const above = new Map(joints.map((j) => [j.child, j]));
  if (above.size < joints.length) refuse('A link hangs on two joints: that is no tree.');
  const roots = [...links.keys()].filter((l) => !above.has(l));
  if (roots.length !== 1)
    refuse(roots.length === 0 ? 'The links hang on each other in a circle.' : `The file has ${roots.length} roots; a robot has one.`);
  const root = roots[0]!;
  const poses = new Map<string, Pose>([[root, { at: [0, 0, 0], turn: IDENTITY }]]);
  for (let left = joints, grown = true; left.length > 0;) {
    if (!grown) refuse('The links hang on each other in a circle.');
    const next = left.filter((j) => !poses.has(j.parent));
    for (const j of left) if (poses.has(j.parent)) poses.set(j.child, then(poses.get(j.parent)!, poseOf(j.j, `joint “${clean(j.name)}”`)));
    grown = next.length < left.length;
    left = next;
  }

  const left: Diagnosis[] = [];
  const skip = (name: string, what: string) =>
    left.push({ code: 'urdf-left-out', severity: 'note', message: `“${clean(name)}”: ${what} is left out.` });
  const m = complete({
    format: 'vim-pivot-model',
    version: 1,
    name: clean(text(robot, 'name') ?? 'Robot'),
    ground: clean(root),
    run: { until: '2 s', every: '1 ms', accuracy: 1e-5 },
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  });
  const put = (family: 'points' | 'bodies' | 'shapes' | 'joints' | 'loads' | 'couplings', e: object) => m[family].push(e as RawElement);
  for (const [name, l] of links) {
    const pose = poses.get(name)!,
      body = clean(name);
    const rotation = vector(toRollPitchYaw(pose.turn));
    if (name !== root) {
      put('points', { name: `${body} frame`, at: vector(pose.at) });
      const inertial = one(l.inertial);
      const own = poseOf(inertial, `the inertia of “${body}”`);
      const mass = numbers(text(one(inertial?.mass), 'value'), 1, `The mass of “${body}”`, [0])[0]!;
      const i = one(inertial?.inertia);
      const part = (k: string) => numbers(text(i, k), 1, `The inertia of “${body}”`, [0])[0]!;
      const [xx, yy, zz, xy, yz, zx] = ['ixx', 'iyy', 'izz', 'ixy', 'iyz', 'ixz'].map(part) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      const J = mul(mul(own.turn, [xx, xy, zx, xy, yy, yz, zx, yz, zz]), transpose(own.turn));
      put('bodies', {
        name: body,
        origin: `${body} frame`,
        ...(rotation.some((x) => x !== 0) ? { rotation } : {}),
        ...(inertial
          ? {
              mass,
              centre: vector(own.at),
              inertia: vector([J[0], J[4], J[8]]),
              ...([J[1], J[5], J[2]].some((x) => Math.abs(x) > 1e-15) ? { products: vector([J[1], J[5], J[2]]) } : {}),
            }
          : {}),
      });
    }
    list(l.visual).forEach((v, k) => {
      const g = one(v.geometry),
        at = poseOf(v, `a shape of “${body}”`),
        label = `${body} shape${k > 0 ? ` ${k + 1}` : ''}`;
      const home = name === root ? {} : { body };
      const point = (suffix: string, p: Vec3) => {
        put('points', { name: `${label} ${suffix}`, ...home, at: vector(p) });
        return `${label} ${suffix}`;
      };
      const [box, cylinder, sphere] = [one(g?.box), one(g?.cylinder), one(g?.sphere)];
      if (sphere)
        put('shapes', {
          name: label,
          kind: 'sphere',
          body,
          centre: point('middle', at.at),
          radius: numbers(text(sphere, 'radius'), 1, label, [0])[0]!,
        });
      else if (cylinder) {
        const half = numbers(text(cylinder, 'length'), 1, label, [0])[0]! / 2,
          axis = apply(at.turn, [0, 0, 1]);
        put('shapes', {
          name: label,
          kind: 'cylinder',
          body,
          from: point('start', sub(at.at, scale(axis, half))),
          to: point('end', add(at.at, scale(axis, half))),
          radius: numbers(text(cylinder, 'radius'), 1, label, [0])[0]!,
        });
      } else if (box) {
        const [x, y, z] = numbers(text(box, 'size'), 3, label, [0, 0, 0]) as [number, number, number];
        put('shapes', {
          name: label,
          kind: 'extruded',
          body,
          at: point('middle', at.at),
          unit: 'm',
          corners: [
            [-x / 2, -y / 2],
            [x / 2, -y / 2],
            [x / 2, y / 2],
            [-x / 2, y / 2],
          ],
          x: vector(apply(at.turn, [1, 0, 0])),
          normal: vector(apply(at.turn, [0, 0, 1])),
          thickness: z,
        });
      } else skip(name, 'a mesh from another file');
    });
  }
  for (const { name, j, parent, child, type } of joints) {
    if (type === 'floating') continue;
    const kind = KINDS[type] ?? refuse(`The joint “${clean(name)}” is of the type “${clean(type)}”, which URDF does not have.`);
    const axis = numbers(text(one(j.axis), 'xyz'), 3, `The axis of “${clean(name)}”`, [1, 0, 0]);
    put('joints', {
      name: clean(name),
      kind,
      bodies: [clean(parent), clean(child)],
      at: [`${clean(child)} frame`],
      ...(kind === 'fixed' ? {} : { axis: vector(axis), axisIn: clean(child) }),
    });
    const damping = numbers(text(one(j.dynamics), 'damping'), 1, `The damping of “${clean(name)}”`, [0])[0]!;
    if (damping > 0 && kind !== 'fixed' && kind !== 'planar')
      put('loads', {
        name: `${clean(name)} damping`,
        kind: 'joint-spring',
        joint: clean(name),
        damping: kind === 'prismatic' ? `${damping} N*s/m` : `${damping} N*m*s/rad`,
      });
    if (kind !== 'revolute' && kind !== 'prismatic') continue;
    const turns = kind === 'revolute',
      per = turns ? 'rad' : 'm',
      effort = turns ? 'N*m' : 'N',
      joint = clean(name);
    const friction = numbers(text(one(j.dynamics), 'friction'), 1, `The friction of “${joint}”`, [0])[0]!;
    if (friction > 0)
      put('loads', { name: `${joint} friction`, kind: 'joint-friction', joint, static: 0, sliding: 0, preload: `${friction} ${effort}` });
    const limit = one(j.limit);
    if (limit && type !== 'continuous') {
      const end = (which: string) => numbers(text(limit, which), 1, `The limit of “${joint}”`, [0])[0]!;
      const lower = end('lower'),
        upper = end('upper'),
        rated = end('effort');
      if (!(lower < upper)) skip(name, 'a limit of travel that leaves none');
      else if (upper - lower < ENDLESS) {
        const stiffness = (rated > 0 ? rated : turns ? RATED.torque : RATED.force) / GIVES;
        put('loads', {
          name: `${joint} stop`,
          kind: 'joint-stop',
          joint,
          lower: `${lower} ${per}`,
          upper: `${upper} ${per}`,
          stiffness: `${tidy(stiffness)} ${effort}/${per}`,
          damping: `${tidy(stiffness * SLOWS)} ${effort}*s/${per}`,
        });
        left.push({
          code: 'urdf-stop',
          severity: 'note',
          message: `“${joint}”: its limit of travel stands as a stop that gives ${GIVES} ${per} under ${rated > 0 ? 'its rated effort' : `${turns ? RATED.torque : RATED.force} ${effort}`}.`,
          element: { family: 'loads', name: `${joint} stop` },
        });
      }
    }
    const mimic = one(j.mimic),
      leader = joints.find((x) => x.name === text(mimic, 'joint'));
    if (!mimic) continue;
    const led = leader && KINDS[leader.type],
      part = (which: string, usual: number) => numbers(text(mimic, which), 1, `What “${joint}” follows`, [usual])[0]!;
    if (!leader || (led !== 'revolute' && led !== 'prismatic')) refuse(`The joint “${joint}” follows a joint that is not there.`);
    else if (part('offset', 0) !== 0) skip(name, 'that it follows another joint with an offset');
    else
      put('couplings', {
        name: `${joint} follows`,
        kind: 'coupler',
        first: joint,
        second: clean(leader.name),
        ratio: led === kind ? part('multiplier', 1) : `${part('multiplier', 1)} ${per}/${led === 'revolute' ? 'rad' : 'm'}`,
      });
  }
  return { model: m, left };
}

/** What the format can say of a joint besides where it is: friction, damping, limits, and which it follows. What it cannot say is told. */
function saidOf(m: Mechanism): {
  of: (joint: Mechanism['joints'][number], type: string) => { type: string; xml: string };
  left: Diagnosis[];
} {
  const { loads, couplings } = m.resolution.elements,
    said = new Set<string>();
  type V = Readonly<Record<string, number | string | undefined>>;
  const find = (kind: string, joint: string, plain: (v: V) => boolean): V | undefined => {
    const e = loads.find((l) => l.kind.kind === kind && (l.values as V).joint === joint && plain(l.values as V));
    if (e) said.add(e.name);
    return e?.values as V | undefined;
  };
  const of = (j: Mechanism['joints'][number], type: string) => {
    const freedom = j.freedoms.size === 1 ? [...j.freedoms.values()][0] : undefined;
    if (!freedom) return { type, xml: '' };
    const zero = freedom.value(m.system.K); // the file's zero is the posture written
    const damping = find('joint-spring', j.name, (v) => v.stiffness === 0 && v.preload === 0 && typeof v.damping === 'number')?.damping;
    const friction = find('joint-friction', j.name, (v) => v.static === 0 && v.sliding === 0 && typeof v.preload === 'number')?.preload;
    const stop = find(
      'joint-stop',
      j.name,
      (v) => typeof v.lower === 'number' && typeof v.upper === 'number' && typeof v.stiffness === 'number',
    );
    const slides = type === 'prismatic',
      endless = slides ? { lower: -1e9, upper: 1e9, stiffness: 1e9 / GIVES } : undefined;
    const { lower, upper, stiffness } = (stop ?? endless ?? {}) as { lower?: number; upper?: number; stiffness?: number };
    const coupling = couplings.find((c) => c.kind.kind === 'coupler' && (c.values as V).first === j.name && !(c.values as V).third);
    if (coupling) said.add(coupling.name);
    const follows = coupling?.values as V | undefined,
      shift = stop ? zero : 0;
    return {
      type: stop && !slides ? 'revolute' : type,
      xml:
        (lower === undefined
          ? ''
          : `\n    <limit lower="${tidy(lower - shift)}" upper="${tidy(upper! - shift)}" effort="${tidy(stiffness! * GIVES)}" velocity="1e9"/>`) +
        (damping === undefined && friction === undefined
          ? ''
          : `\n    <dynamics${damping === undefined ? '' : ` damping="${tidy(damping as number)}"`}${friction === undefined ? '' : ` friction="${tidy(friction as number)}"`}/>`) +
        (follows ? `\n    <mimic joint="${escape(String(follows.second))}" multiplier="${tidy(follows.ratio as number)}"/>` : ''),
    };
  };
  const left: Diagnosis[] = [];
  return {
    of,
    get left() {
      for (const e of [...loads, ...couplings])
        if (!said.has(e.name) && e.kind.weighs === undefined)
          left.push({
            code: 'urdf-left-out',
            severity: 'note',
            message: `“${e.name}” (${e.kind.label.toLowerCase()}) is not in the file: URDF has no words for it.`,
            element: { family: e.family, name: e.name },
          });
      return left;
    },
  };
}
const escape = (s: string): string => s.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');

/**
 * @returns the text of a URDF file of the machine as assembled in K, and what of the machine is not in it.
 * @throws Refusal when it is no tree of such joints
 */
export function writeUrdf(m: Mechanism): { text: string; left: Diagnosis[] } {
  const said = saidOf(m);
  const { K } = m.system;
  const pose = (i: number): Pose => {
    const b = m.bodies[i];
    if (!b) return { at: [0, 0, 0], turn: IDENTITY };
    const turn = Array.from(K.A.subarray(9 * i, 9 * i + 9)) as unknown as Mat3;
    return { at: sub([K.r[3 * i]!, K.r[3 * i + 1]!, K.r[3 * i + 2]!], apply(turn, b.centre)), turn };
  };
  const within = (a: Pose, b: Pose): Pose => ({ at: apply(transpose(a.turn), sub(b.at, a.at)), turn: mul(transpose(a.turn), b.turn) });
  const origin = (p: Pose) => `<origin xyz="${vector(p.at).join(' ')}" rpy="${vector(toRollPitchYaw(p.turn)).join(' ')}"/>`;
  // a link's frame stands where its joint does, as the format asks
  const frames = new Map<number, Pose>([[m.bodies.length, { at: [0, 0, 0], turn: IDENTITY }]]);
  const out: string[] = [];
  let rest = [...m.joints];
  for (let grown = true; grown && rest.length > 0;) {
    grown = false;
    for (const j of rest) {
      const { a, b, sa, sb } = j.sides;
      const type = { fixed: 'fixed', revolute: 'continuous', prismatic: 'prismatic', planar: 'planar' }[j.kind.kind];
      if (!type) refuse(`URDF has no joint like “${j.name}” (${j.kind.label.toLowerCase()}).`);
      if (frames.has(a) && frames.has(b)) refuse(`“${j.name}” closes a loop; URDF describes trees.`);
      if (!frames.has(a) && !frames.has(b)) continue;
      const [from, to, s, f] = frames.has(a) ? [a, b, sb, j.sides.fb] : [b, a, sa, j.sides.fa];
      const body = pose(to),
        com: Vec3 = add(body.at, apply(body.turn, m.bodies[to]!.centre));
      const frame: Pose = { at: add(com, apply(body.turn, s)), turn: body.turn };
      frames.set(to, frame);
      const sign = from === a ? 1 : -1;
      const axis = vector([f[2], f[5], f[8]].map((x) => sign * x));
      const more = said.of(j, type!);
      out.push(
        `  <joint name="${escape(j.name)}" type="${more.type}">\n    <parent link="${escape(nameOf(from))}"/>\n    <child link="${escape(nameOf(to))}"/>\n    ${origin(within(frames.get(from)!, frame))}${type === 'fixed' ? '' : `\n    <axis xyz="${axis.join(' ')}"/>`}${more.xml}\n  </joint>`,
      );
      rest = rest.filter((x) => x !== j);
      grown = true;
    }
  }
  const loose = m.bodies.filter((_, i) => !frames.has(i));
  if (loose.length > 0) refuse(`“${loose[0]!.name}” hangs on nothing that leads to “${m.model.ground}”; URDF describes one tree.`);
  function nameOf(i: number): string {
    return m.bodies[i]?.name ?? m.model.ground;
  }
  const links = m.bodies.map((b, i) => {
    const com = within(frames.get(i)!, { at: [K.r[3 * i]!, K.r[3 * i + 1]!, K.r[3 * i + 2]!], turn: pose(i).turn }),
      I = b.inertia;
    return `  <link name="${escape(b.name)}">\n    <inertial>\n      ${origin(com)}\n      <mass value="${tidy(b.mass)}"/>\n      <inertia ixx="${tidy(I[0])}" ixy="${tidy(I[1])}" ixz="${tidy(I[2])}" iyy="${tidy(I[4])}" iyz="${tidy(I[5])}" izz="${tidy(I[8])}"/>\n    </inertial>\n  </link>`;
  });
  const text = `<?xml version="1.0"?>\n<robot name="${escape(m.model.name)}">\n  <link name="${escape(m.model.ground)}"/>\n${links.join('\n')}\n${out.join('\n')}\n</robot>\n`;
  return { text, left: said.left };
}
