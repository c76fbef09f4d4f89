import type { Diagnosis } from '../../diagnosis';
import { type Mat3, type Vec3, IDENTITY, add, apply, mul, sub, toRollPitchYaw, transpose } from '../../geometry/vector';
import type { Mechanism } from '../../system/mechanism';
import { GIVES } from './stops';
import { type Pose, refuse, tidy, vector } from './xml';

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
