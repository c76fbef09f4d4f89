/** From a model to its numeric system: places, masses, joints, drives, loads. */
import { type Diagnosis, Refusal } from '../diagnosis';
import '../elements';
import { PRESCRIPTIONS, type Prescribed } from '../elements/drives/drive';
import type { Assembly, CouplingKind, DriveInfo, GaugeKind, Channel, JointInfo, JointKind, JointSides, LoadKind, Outline, ShapeKind } from '../elements/families';
import { freedomOf } from '../elements/freedoms';
import { Along, Turned, type Course } from '../equations/constraints';
import type { DrivenCourse } from '../equations/courses';
import { Coupled } from '../equations/coupled';
import type { Force } from '../equations/forces';
import { Tracked } from '../equations/tracked';
import { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import type { Program } from '../formula/program';
import { cube } from '../quantity/elementary';
import { type MassProperties, NO_MASS, combine, withDensity } from '../geometry/mass';
import type { Mesh } from '../geometry/solid';
import { type Mat3, type Vec3, add, apply, applyT, column, mul, norm, quaternion, scaleM, sub, transpose, triad, unit } from '../geometry/vector';
import type { Model } from '../model/document';
import type { Family } from '../model/families';
import { type Layout, layOut } from '../model/layout';
import { type Resolution, type ResolvedElement, resolve } from '../model/resolve';
import { DriveLedger, type Ledgers, LoadLedger, StartLedger, closingError, kineticEnergy, ledgerStates } from './ledger';
import { type Group, System } from './system';

export interface BodyInfo {
  name: string;
  mass: number;
  /** About the centre of mass, body axes, kg·m². */
  inertia: Mat3;
  /** Centre of mass in the body's axes, m. */
  centre: Vec3;
  /** As drawn. */
  origin: Vec3;
  turn: Mat3;
}

/** A shape ready to draw: mesh in ground axes as drawn. */
export interface ShapeInfo {
  name: string;
  body: string;
  mesh: Mesh;
  mass: MassProperties;
}

export interface Mechanism {
  model: Model;
  resolution: Resolution;
  layout: Layout;
  bodies: readonly BodyInfo[];
  shapes: readonly ShapeInfo[];
  joints: readonly JointInfo[];
  drives: readonly (DriveInfo & { course: DrivenCourse; prescribes: Prescribed })[];
  couplings: readonly { name: string; coordinates: readonly Tracked[] }[];
  system: System;
  ledgers: Ledgers;
  assembly: Assembly;
  /** Angles that count whole turns. */
  angles: readonly Freedom[];
  /** Characteristic size, m. */
  size: number;
  /** Evaluates a gauge's declaration. @throws Refusal */
  channel(gauge: string): Channel;
  gauges: readonly string[];
  /** Loads in outline, by name. */
  outlines: readonly { load: string; outline: Outline }[];
}

export interface Built {
  resolution: Resolution;
  /** Present unless an error stands in the way. */
  mechanism: Mechanism | undefined;
  diagnoses: Diagnosis[];
  /** What can be drawn even when the mechanism is not complete. */
  shapes: readonly ShapeInfo[];
}

const still: Course = { f: 0, f1: 0, f2: 0, at() {} };

/** Builds what can be built and says what stands in the way. Never throws for a fault of the model. */
export function build(model: Model): Built {
  const resolution = resolve(model);
  const diagnoses = [...resolution.diagnoses];
  const layout = layOut(resolution);
  const { elements } = resolution;
  /** Values as the element's own declaration takes them; `resolve` has checked each against its field. */
  const v = (e: ResolvedElement) => e.values as Record<string, never>;

  /** Runs one element's set-up; a refusal is noted against the element. */
  const attempt = <T>(e: ResolvedElement, make: () => T): T | undefined => {
    try {
      return make();
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      for (const d of error.diagnoses) {
        const known = diagnoses.some((x) => x.code === d.code && x.message === d.message && d.element !== undefined && x.element?.name === d.element.name);
        if (!known) diagnoses.push({ path: [e.family, e.index], element: { family: e.family, name: e.name }, ...d });
      }
      return undefined;
    }
  };

  // Places, with their faults, before anything that hangs on them.
  for (const p of elements.points) attempt(p, () => layout.point(p.name));
  for (const b of elements.bodies) attempt(b, () => layout.body(b.name));

  const density = new Map(elements.materials.map((m) => [m.name, (m.values as { density: number }).density]));
  const bodyMaterial = new Map(elements.bodies.map((b) => [b.name, (b.values as { material?: string }).material]));
  const drawing = { point: layout.point, body: layout.body, ground: model.ground };
  const shapes = elements.shapes.flatMap((s): ShapeInfo[] => {
    const made = attempt(s, () => (s.kind as ShapeKind).solid(v(s), drawing));
    if (!made) return [];
    const { body, material: named } = s.values as { body: string; material?: string };
    const material = named ?? bodyMaterial.get(body);
    const mass = material === undefined ? NO_MASS : withDensity(made.mass, density.get(material) ?? 0);
    return [{ name: s.name, body, mesh: made.mesh, mass }];
  });

  const bodies = elements.bodies.flatMap((b): BodyInfo[] => attempt(b, () => [bodyInfo(b, layout, shapes)]) ?? []);
  for (const b of bodies) diagnoses.push(...massFaults(b, model));

  const names = [...bodies.map((b) => b.name), model.ground];
  const index = (name: string): number => {
    const i = names.indexOf(name);
    if (i < 0) throw new Refusal([{ code: 'body-unusable', severity: 'error', message: `The body “${name}” is in error.`, element: { family: 'bodies', name } }]);
    return i;
  };
  const poseOf = (i: number) => bodies[i] ?? { origin: [0, 0, 0] as Vec3, turn: layout.body(model.ground).turn, centre: [0, 0, 0] as Vec3 };
  const place = (point: string, body: string): Vec3 => {
    const b = poseOf(index(body));
    return sub(applyT(b.turn, sub(layout.point(point), b.origin)), b.centre);
  };
  const direction = (d: Vec3, body: string): Vec3 => applyT(poseOf(index(body)).turn, d);

  const joints = elements.joints.flatMap((j): JointInfo[] => attempt(j, () => [jointInfo(j)]) ?? []);

  function jointInfo(j: ResolvedElement): JointInfo {
    const kind = j.kind as JointKind;
    const values = j.values as { bodies: [string, string]; at: [string, string?]; axis?: Vec3; axisIn?: string; cross?: Vec3 };
    const [first, second] = values.bodies;
    if (first === second) throw new Refusal([{ code: 'joint-one-body', severity: 'error', message: `It connects “${first}” with itself.`, remedy: 'Choose two different bodies.' }]);
    const [pa, pb] = values.at;
    const axis = apply(layout.body(values.axisIn ?? model.ground).turn, values.axis ?? [0, 0, 1]);
    const frame = triad(axis);
    const [a, b] = [index(first), index(second)];
    const inBody = (i: number): Mat3 => mul(transpose(poseOf(i).turn), frame);
    const cross = values.cross && unit(applyT(poseOf(b).turn, apply(layout.body(values.axisIn ?? model.ground).turn, values.cross)));
    const drawn = norm(sub(layout.point(pb ?? pa), layout.point(pa)));
    const sides: JointSides = { a, b, sa: place(pa, first), sb: place(pb ?? pa, second), fa: inBody(a), fb: inBody(b), second: cross, drawn };
    const freedoms = new Map(kind.freedoms.map((type) => [type, new Freedom(type, freedomEquation(sides, type, still))]));
    return { name: j.name, kind, sides, bodies: [first, second], constraints: kind.equations(sides, v(j)), freedoms };
  }

  const jointNamed = (name: string): JointInfo => {
    const j = joints.find((x) => x.name === name);
    if (!j) throw new Refusal([{ code: 'joint-unusable', severity: 'error', message: `The joint “${name}” is in error or switched off.`, element: { family: 'joints', name } }]);
    return j;
  };

  const drives = elements.drives.flatMap((d) => attempt(d, () => {
    const values = d.values as { joint: string; freedom: string; prescribes: Prescribed; value: Program };
    const joint = jointNamed(values.joint);
    const freedom = freedomOf(joint, values.freedom, 'to drive');
    const { type } = freedom;
    const course = PRESCRIPTIONS[values.prescribes].course(values.value, freedom);
    return [{ name: d.name, joint, freedom, type, course, prescribes: values.prescribes, constraint: freedomEquation(joint.sides, type, course) }];
  }) ?? []);

  const forces: { name: string; force: Force }[] = [];
  const masses = Float64Array.from(bodies, (b) => b.mass);
  const inertias = Float64Array.from(bodies.flatMap((b) => [...b.inertia]));
  const kinetic = (K: Kinematics) => kineticEnergy(K, masses, inertias);
  const potential = (K: Kinematics, t: number) => forces.reduce((s, f) => s + (f.force.energy?.(K, t) ?? 0), 0);
  const loadLedgers: LoadLedger[] = [];
  const ledgers: Ledgers = {
    start: new StartLedger((K) => kinetic(K) + potential(K, 0)),
    loads: loadLedgers,
    drives: drives.map((d) => new DriveLedger(d.name, d.freedom, d.constraint)),
    kinetic,
  };
  const byName = <T extends { name: string }>(list: readonly T[], name: string, family: Family): T => {
    const found = list.find((x) => x.name === name);
    if (!found) throw new Refusal([{ code: 'element-unusable', severity: 'error', message: `“${name}” is in error or switched off.`, element: { family, name } }]);
    return found;
  };
  const assembly: Assembly = {
    energy: {
      kinetic, potential,
      closing: (K) => closingError(ledgers, K),
      stored: (load, K, t) => byName(forces, load, 'loads').force.energy?.(K, t) ?? 0,
      fed: (load, K, t) => byName(loadLedgers, load, 'loads').fed(K, t),
      work: (drive, K) => byName(ledgers.drives, drive, 'drives').work(K),
    },
    ...drawing, index, place, direction, bodies, forces, joint: jointNamed,
    drive(name) {
      const d = drives.find((x) => x.name === name);
      if (!d) throw new Refusal([{ code: 'drive-unusable', severity: 'error', message: `The drive “${name}” is in error or switched off.`, element: { family: 'drives', name } }]);
      return d;
    },
    drivesOn: (joint) => drives.filter((d) => d.joint.name === joint).map((d) => d.constraint),
    home: (body) => {
      const b = poseOf(index(body));
      return sub([0, 0, 0], b.centre);
    },
  };
  const couplings = elements.couplings.flatMap((c) => attempt(c, () => {
    const terms = (c.kind as CouplingKind).relation(v(c), assembly);
    const coordinates = terms.map((t) => new Tracked(t.freedom));
    return [{ name: c.name, coordinates, constraint: new Coupled(coordinates, terms.map((t) => t.factor)), joints: terms.map((t) => joints.findIndex((j) => j.name === t.joint)) }];
  }) ?? []);
  for (const l of elements.loads) {
    const force = attempt(l, () => (l.kind as LoadKind).force(v(l), assembly));
    if (!force) continue;
    forces.push({ name: l.name, force });
    loadLedgers.push(new LoadLedger(l.name, force, bodies.length));
  }
  for (const g of elements.gauges) attempt(g, () => (g.kind as GaugeKind).channel(v(g), assembly));

  if (diagnoses.some((d) => d.severity === 'error')) return { resolution, mechanism: undefined, diagnoses, shapes };

  const groups: Group[] = [
    ...joints.map((j): Group => ({ name: j.name, family: 'joints', a: j.sides.a, b: j.sides.b, rows: j.constraints.reduce((s, c) => s + c.rows, 0), constraints: j.constraints })),
    ...couplings.map((c): Group => ({ name: c.name, family: 'couplings', a: c.constraint.a, b: c.constraint.b, others: c.constraint.more.flat(), rows: 1, constraints: [c.constraint], after: c.joints })),
    ...drives.map((d): Group => ({ name: d.name, family: 'drives', a: d.joint.sides.a, b: d.joint.sides.b, rows: 1, constraints: [d.constraint], after: [joints.indexOf(d.joint)] })),
  ];
  const system = new System(
    bodies.length,
    masses,
    inertias,
    groups,
    forces.map((f) => f.force),
    [...drives.map((d) => d.course), ...couplings.flatMap((c) => c.coordinates), ...forces.flatMap((f) => f.force.extra ?? []), ...ledgerStates(ledgers)],
  );
  for (const d of ledgers.drives) d.multipliers = system.multipliers;
  draw(system, bodies);
  const angles = joints.flatMap((j) => [...j.freedoms.values()].filter((f) => f.type === 'rotation'));
  const reach = [...elements.points.map((p) => layout.point(p.name)), ...bodies.map((b) => add(b.origin, apply(b.turn, b.centre)))];
  const size = Math.max(1e-3, ...reach.map((p) => Math.max(...p.map((x, k) => Math.abs(x - reach[0]![k]!)))));
  const gaugeOf = new Map(elements.gauges.map((g) => [g.name, g]));
  const mechanism: Mechanism = {
    model, resolution, layout, bodies, shapes, joints, drives, couplings: couplings.map((c) => ({ name: c.name, coordinates: c.coordinates })), system, ledgers, assembly, angles, size,
    gauges: elements.gauges.map((g) => g.name),
    outlines: elements.loads.map((l) => ({ load: l.name, outline: (l.kind as LoadKind).outline(v(l), assembly) })),
    channel(name) {
      const g = gaugeOf.get(name);
      if (!g) throw new Refusal([{ code: 'gauge-unusable', severity: 'error', message: `The gauge “${name}” is in error or switched off.`, element: { family: 'gauges', name } }]);
      return (g.kind as GaugeKind).channel(v(g), assembly);
    },
  };
  return { resolution, mechanism, diagnoses, shapes };
}

/** The equation that measures or drives a freedom of a joint. */
function freedomEquation(s: JointSides, type: 'rotation' | 'translation', course: Course): Turned | Along {
  return type === 'rotation'
    ? new Turned(s.a, column(s.fa, 0), column(s.fa, 1), column(s.fa, 2), s.b, column(s.fb, 0), course)
    : new Along(s.a, column(s.fa, 2), s.sa, s.b, s.sb, course);
}

function bodyInfo(b: ResolvedElement, layout: Layout, shapes: readonly ShapeInfo[]): BodyInfo {
  const v = b.values as { mass?: number; centre?: Vec3; inertia?: Vec3; products?: Vec3 };
  const pose = layout.body(b.name);
  const own = combine(shapes.filter((s) => s.body === b.name).map((s) => s.mass));
  const back = transpose(pose.turn);
  const shape = { mass: own.mass, centre: own.mass > 0 ? apply(back, sub(own.centre, pose.origin)) : ([0, 0, 0] as Vec3), inertia: mul(mul(back, own.inertia), pose.turn) };
  const mass = v.mass ?? shape.mass;
  const centre = v.centre ?? shape.centre;
  let inertia = shape.mass > 0 ? scaleM(shape.inertia, mass / shape.mass) : shape.inertia;
  if (v.inertia) {
    const [xy, yz, zx] = v.products ?? [0, 0, 0];
    inertia = [v.inertia[0], xy, zx, xy, v.inertia[1], yz, zx, yz, v.inertia[2]];
  }
  return { name: b.name, mass, centre, inertia, origin: pose.origin, turn: pose.turn };
}

/** Bodies without mass or with an impossible inertia make the equations singular: refused by name. */
function massFaults(b: BodyInfo, model: Model): Diagnosis[] {
  const index = model.bodies.findIndex((x) => x.name === b.name);
  const at = (field: string): Pick<Diagnosis, 'path' | 'element'> => ({ path: ['bodies', index, field], element: { family: 'bodies' as Family, name: b.name } });
  if (!(b.mass > 0)) {
    return [{ code: 'mass-zero', severity: 'error', message: 'The body has no mass.', why: 'A free body without mass has no equation of motion.', remedy: 'Give it a shape with a material, or type in mass and inertia.', ...at('mass') }];
  }
  const [xx, xy, xz, , yy, yz, , , zz] = b.inertia;
  const minor = xx * yy - xy * xy;
  const det = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
  const scale = Math.max(xx, yy, zz);
  if (!(xx > 0 && minor > 1e-14 * scale * scale && det > 1e-20 * cube(scale))) {
    return [{ code: 'inertia-zero', severity: 'error', message: 'The body has mass, but its moment of inertia is zero or negative about some axis.', why: 'It could spin up without any torque.', remedy: 'Give it a shape with a material, or type in its inertia.', ...at('inertia') }];
  }
  if (xx + yy < zz * (1 - 1e-9) || yy + zz < xx * (1 - 1e-9) || zz + xx < yy * (1 - 1e-9)) {
    return [{ code: 'inertia-triangle', severity: 'warning', message: 'No real body has this inertia: one moment is larger than the sum of the other two.', remedy: 'Check the typed values and their axes.', ...at('inertia') }];
  }
  return [];
}

/** Puts the system's bodies where they are drawn, at rest. */
export function draw(system: System, bodies: readonly BodyInfo[]): void {
  const { K } = system;
  bodies.forEach((b, i) => {
    K.r.set(add(b.origin, apply(b.turn, b.centre)), 3 * i);
    K.q.set(quaternion(b.turn), 4 * i);
  });
  K.v.fill(0);
  K.w.fill(0);
  K.z.fill(0);
  K.orient();
}
