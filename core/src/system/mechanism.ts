/** From a model to its numeric system: places, masses, joints, drives, loads. */
import { type Diagnosis, Refusal } from '../diagnosis';
import '../elements';
import { FRAME_FREEDOMS, type FrameFreedom, PRESCRIPTIONS, type Prescribed, axisEquation, frameEquation } from '../elements/drives/drive';
import type {
  Characteristic,
  Assembly,
  CouplingKind,
  DriveInfo,
  GaugeKind,
  Channel,
  JointInfo,
  JointKind,
  JointSides,
  LoadKind,
  Outline,
  ShapeKind,
} from '../elements/declarations';
import { freedomOf } from '../elements/freedoms';
import type { Constraint, Prescription } from '../equations/constraints';
import { type DrivenCourse, Eased } from '../equations/courses';
import { Formula } from '../equations/magnitude';
import { Hold } from '../equations/friction';
import { Memories, type Memory } from '../equations/memory';
import { Switch } from '../equations/switch';
import { TeethForce } from '../equations/teeth';
import type { Watch } from '../equations/watch';
import { compatible } from '../quantity/dimension';
import { askedDimension } from '../model/rules';
import { Coupled } from '../equations/coupled';
import type { Force } from '../equations/forces';
import { Tracked } from '../equations/tracked';
import { Freedom } from '../equations/freedom';
import type { Kinematics } from '../equations/kinematics';
import type { Program } from '../formula/program';
import { FormulaError } from '../formula/parse';
import { inWords } from '../quantity/dimension';
import { cube } from '../quantity/elementary';
import { type MassProperties, NO_MASS, combine, withDensity } from '../geometry/mass';
import { Surface } from '../geometry/gap';
import type { Solid } from '../geometry/solid';
import {
  type Mat3,
  type Vec3,
  add,
  apply,
  applyT,
  mul,
  norm,
  quaternion,
  scaleM,
  sub,
  transpose,
  triad,
  unit,
  IDENTITY,
} from '../geometry/vector';
import type { Model } from '../model/document';
import type { Family } from '../model/families';
import { unitOfGauge } from '../model/gauge-units';
import { type Layout, layOut } from '../model/layout';
import { type Resolution, type ResolvedElement, leftOut, resolve } from '../model/resolve';
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
  /** What its shapes alone come to. */
  shapes: MassProperties;
}

/** A shape: its mass, and its mesh in ground axes as drawn. */
export interface ShapeInfo {
  name: string;
  body: string;
  mesh: Solid['mesh'];
  surface: Solid['surface'];
  mass: MassProperties;
  /** m³. */
  volume: number;
}

/** Facets of a full turn where surfaces are measured. */
const FINE = 192;

export interface Mechanism {
  model: Model;
  resolution: Resolution;
  layout: Layout;
  bodies: readonly BodyInfo[];
  shapes: readonly ShapeInfo[];
  joints: readonly JointInfo[];
  drives: readonly (DriveInfo & { course: DrivenCourse; prescribes: Prescribed; condition: Program | undefined })[];
  couplings: readonly { name: string; coordinates: readonly Tracked[]; constraint: Constraint; spread: Force | undefined }[];
  starts: readonly StartInfo[];
  switches: readonly { family: 'drives' | 'joints'; name: string; switch: Switch }[];
  watches: readonly { element: { family: Family; name: string }; watch: Watch }[];
  /** Coordinates that count whole turns along the run. */
  counters: readonly Tracked[];
  system: System;
  /** What elements remember of a run; recorded with each state. */
  memories: Memories;
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
  /** What a load gives over what it feels; undefined where it declares nothing of the kind. */
  characteristic(load: string): Characteristic | undefined;
}

/** Given start values of a freedom, each with the row that enforces it while the machine is assembled. */
export interface StartInfo {
  name: string;
  /** The joint, and which of its coordinates. */
  joint: string;
  freedom: Freedom['type'];
  strict: boolean;
  position: Constraint | undefined;
  speed: Constraint | undefined;
}

export interface Built {
  resolution: Resolution;
  /** Present unless an error stands in the way. */
  mechanism: Mechanism | undefined;
  diagnoses: Diagnosis[];
  /** What can be drawn even when the mechanism is not complete. */
  shapes: readonly ShapeInfo[];
  bodies: readonly BodyInfo[];
  layout: Layout;
  ground: string;
}

const still: Prescription = { f: 0, f1: 0, f2: 0, at() {} };

/** Builds what can be built and says what stands in the way. Never throws for a fault of the model. */
export function build(given: Model): Built {
  const resolution = resolve(given);
  const { model } = resolution;
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
        const known = diagnoses.some(
          (x) => x.code === d.code && x.message === d.message && d.element !== undefined && x.element?.name === d.element.name,
        );
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
  const solids = new Map<string, Solid | undefined>();
  const solid = (name: string): Solid => {
    const e = elements.shapes.find((x) => x.name === name);
    if (e && !solids.has(name)) {
      solids.set(name, undefined);
      solids.set(
        name,
        attempt(e, () => (e.kind as ShapeKind).solid(v(e), { ...drawing, solid })),
      );
    }
    const found = solids.get(name);
    if (!found)
      throw new Refusal([
        {
          code: 'shape-unusable',
          severity: 'error',
          message: `The shape “${name}” is in error, or made of itself.`,
          element: { family: 'shapes', name },
        },
      ]);
    return found;
  };
  // what is part of another shape counts there alone
  const parts = new Set(
    elements.shapes.flatMap((s) =>
      Object.entries(s.kind.fields).flatMap(([key, f]) =>
        f.type === 'refs' && f.family === 'shapes' ? ((s.values[key] as string[] | undefined) ?? []) : [],
      ),
    ),
  );
  const shapes = elements.shapes.flatMap((s): ShapeInfo[] => {
    const made = attempt(s, () => solid(s.name));
    if (!made || parts.has(s.name)) return [];
    const { body, material: named } = s.values as { body: string; material?: string };
    const material = named ?? bodyMaterial.get(body);
    const mass = material === undefined ? NO_MASS : withDensity(made.mass, density.get(material) ?? 0);
    return [{ name: s.name, body, mass, volume: made.mass.mass, mesh: made.mesh, surface: made.surface }];
  });

  const bodies = elements.bodies.flatMap((b): BodyInfo[] => attempt(b, () => [bodyInfo(b, layout, shapes)]) ?? []);
  for (const b of bodies) diagnoses.push(...massFaults(b, model));

  const names = [...bodies.map((b) => b.name), model.ground];
  const index = (name: string): number => {
    const i = names.indexOf(name);
    if (i < 0)
      throw new Refusal([
        { code: 'body-unusable', severity: 'error', message: `The body “${name}” is in error.`, element: { family: 'bodies', name } },
      ]);
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
    if (first === second)
      throw new Refusal([
        {
          code: 'joint-one-body',
          severity: 'error',
          message: `It connects “${first}” with itself.`,
          remedy: 'Choose two different bodies.',
        },
      ]);
    const [pa, pb] = placesOf(values.at as readonly string[]);
    const axis = apply(layout.body(values.axisIn ?? model.ground).turn, values.axis ?? [0, 0, 1]);
    const frame = triad(axis);
    const [a, b] = [index(first), index(second)];
    const inBody = (i: number): Mat3 => mul(transpose(poseOf(i).turn), frame);
    const cross = values.cross && unit(applyT(poseOf(b).turn, apply(layout.body(values.axisIn ?? model.ground).turn, values.cross)));
    const drawn = norm(sub(layout.point(pb ?? pa), layout.point(pa)));
    const sides: JointSides = {
      a,
      b,
      sa: place(pa, first),
      sb: place(pb ?? pa, second),
      fa: inBody(a),
      fb: inBody(b),
      second: cross,
      drawn,
    };
    const measure = (type: Freedom['type'], course: Prescription) =>
      kind.measure?.(sides, v(j), { place }, type, course) ?? axisEquation(type, sides, course);
    const freedoms = new Map(kind.freedoms.map((type) => [type, new Freedom(type, measure(type, still))]));
    return { name: j.name, kind, sides, bodies: [first, second], constraints: kind.equations(sides, v(j), { place }), freedoms, measure };
  }

  const jointNamed = (name: string): JointInfo => {
    const j = joints.find((x) => x.name === name);
    if (!j)
      throw new Refusal([
        {
          code: 'joint-unusable',
          severity: 'error',
          message: `The joint “${name}” is in error or switched off.`,
          element: { family: 'joints', name },
        },
      ]);
    return j;
  };

  const drives = elements.drives.flatMap(
    (d) =>
      attempt(d, () => {
        const values = d.values as unknown as DriveValues;
        const target = values.on === 'frames' ? frameTarget(values) : jointTarget(values);
        const { type } = target.freedom;
        const law = values.ease === undefined ? values.value : new Eased(values.value, values.ease);
        const course = PRESCRIPTIONS[values.prescribes].course(law, target.freedom);
        return [
          {
            name: d.name,
            ...target,
            type,
            course,
            prescribes: values.prescribes,
            condition: values.while,
            constraint: target.equation(course),
          },
        ];
      }) ?? [],
  );

  function jointTarget(values: DriveValues) {
    const joint = jointNamed(values.joint);
    const freedom = freedomOf(joint, values.freedom, 'to drive');
    return { joint, bodies: joint.bodies, freedom, equation: (c: Prescription) => joint.measure(freedom.type, c) };
  }
  function frameTarget(values: DriveValues) {
    const [first, second] = values.bodies;
    if (first === second)
      throw new Refusal([
        {
          code: 'drive-one-body',
          severity: 'error',
          message: `It drives “${first}” against itself.`,
          remedy: 'Choose two different bodies.',
        },
      ]);
    const [pa, pb] = values.at;
    const upright = values.axis[0] === 0 && values.axis[1] === 0 && values.axis[2] > 0;
    const frame = upright ? IDENTITY : triad(values.axis);
    const inBody = (i: number): Mat3 => mul(transpose(poseOf(i).turn), frame);
    const sides = {
      a: index(first),
      b: index(second),
      sa: place(pa, first),
      sb: place(pb ?? pa, second),
      fa: inBody(index(first)),
      fb: inBody(index(second)),
    };
    const equation = (c: Prescription) => frameEquation(values.along, sides, c);
    return { joint: undefined, bodies: values.bodies, freedom: new Freedom(FRAME_FREEDOMS[values.along].type, equation(still)), equation };
  }

  const starts = elements.starts.flatMap(
    (e) =>
      attempt(e, () => {
        const values = e.values as { joint: string; freedom: string; position?: number; speed?: number; kept: string };
        const joint = jointNamed(values.joint);
        const { type } = freedomOf(joint, values.freedom, 'to start');
        const row = (f: number, f1: number) => {
          const course = new Hold();
          course.f = f;
          course.f1 = f1;
          return joint.measure(type, course);
        };
        const info: StartInfo = {
          name: e.name,
          joint: joint.name,
          freedom: type,
          strict: values.kept === 'strict',
          position: values.position === undefined ? undefined : row(values.position, 0),
          speed: values.speed === undefined ? undefined : row(0, values.speed),
        };
        return [{ ...info, of: joint }];
      }) ?? [],
  );

  const late: { system?: System } = {};
  const hold = (c: Constraint, on: boolean) => late.system!.hold(c, on);
  const counters = new Map<Freedom, Tracked>();
  const tracked = (f: Freedom): Tracked => {
    const known = counters.get(f) ?? new Tracked(f);
    counters.set(f, known);
    return known;
  };
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
    if (!found)
      throw new Refusal([
        { code: 'element-unusable', severity: 'error', message: `“${name}” is in error or switched off.`, element: { family, name } },
      ]);
    return found;
  };
  const assembly: Assembly = {
    energy: {
      kinetic,
      potential,
      closing: (K) => closingError(ledgers, K),
      stored: (load, K, t) => byName(forces, load, 'loads').force.energy?.(K, t) ?? 0,
      fed: (load, K, t) => byName(loadLedgers, load, 'loads').fed(K, t),
      work: (drive, K) => byName(ledgers.drives, drive, 'drives').work(K),
    },
    ...drawing,
    index,
    place,
    direction,
    bodies,
    forces,
    joint: jointNamed,
    tracked,
    outline: (name) => outlineOf(byName(elements.loads, name, 'loads')),
    hold,
    table(name, x, y) {
      const t = resolution.tables.get(name);
      if (!t)
        throw new Refusal([
          {
            code: 'table-unusable',
            severity: 'error',
            message: `The table “${name}” is in error or switched off.`,
            element: { family: 'tables', name },
          },
        ]);
      if (!compatible(t.dims[0], x) || !compatible(t.dims[1], y))
        throw new Refusal([
          {
            code: 'table-units',
            severity: 'error',
            message: `The table “${name}” gives ${inWords(t.dims[1])} for ${inWords(t.dims[0])}; here ${inWords(y)} for ${inWords(x)} is needed.`,
            remedy: 'Correct the units of the table, or choose another.',
          },
        ]);
      return t;
    },
    compiled(text, asker) {
      try {
        return resolution.compile(text, (name) =>
          elements.gauges.some((g) => g.name === name) ? assembly.channelOf(name, asker).dim : undefined,
        );
      } catch (e) {
        if (!(e instanceof FormulaError)) throw e;
        throw new Refusal([
          {
            code: e.code,
            severity: 'error',
            message: e.message,
            path: ['gauges', model.gauges.findIndex((g) => g.name === asker), 'value'],
            element: { family: 'gauges', name: asker },
          },
        ]);
      }
    },
    channelOf(name, asker) {
      const circle = asking.indexOf(name);
      if (name === asker || circle >= 0)
        throw new Refusal([
          {
            code: 'gauge-circle',
            severity: 'error',
            message: `The gauges depend on each other: ${[...asking.slice(Math.max(0, circle)), asker, name].filter((x, i, all) => i === 0 || all[i - 1] !== x).join(' → ')}.`,
            element: { family: 'gauges', name: asker },
            remedy: 'Take one of them out of the other’s formula.',
          },
        ]);
      asking.push(asker);
      try {
        return channelNamed(name);
      } finally {
        asking.pop();
      }
    },
    magnitude: (p) =>
      new Formula(
        p,
        p.inputs.map((input) => ({ input, read: reader(input.gauge) })),
      ),
    coupling: (name) => byName(couplings, name, 'couplings'),
    drive(name) {
      const d = drives.find((x) => x.name === name);
      if (!d)
        throw new Refusal([
          {
            code: 'drive-unusable',
            severity: 'error',
            message: `The drive “${name}” is in error or switched off.`,
            element: { family: 'drives', name },
          },
        ]);
      return d;
    },
    frictionsOn: (joint) => forces.flatMap(({ force }) => (force.lock?.joint === joint ? [force] : [])),
    drivesOn: (joint) => drives.filter((d) => d.joint?.name === joint).map((d) => d.constraint),
    surface(body, shape) {
      const { turn, origin, centre } = poseOf(index(body)),
        corners: number[] = [],
        indices: number[] = [];
      for (const s of shapes)
        if (s.body === body && (shape === undefined || s.name === shape)) {
          const own = s.surface(FINE),
            first = corners.length / 3;
          for (let i = 0; i < own.positions.length; i += 3)
            corners.push(...sub(applyT(turn, sub([own.positions[i]!, own.positions[i + 1]!, own.positions[i + 2]!], origin)), centre));
          for (const i of own.indices) indices.push(first + i);
        }
      return new Surface(corners, indices);
    },
    home: (body) => {
      const b = poseOf(index(body));
      return sub([0, 0, 0], b.centre);
    },
  };
  const outlineOf = (l: (typeof elements.loads)[number]): Outline => (l.kind as LoadKind).outline(v(l), assembly);
  const gaugeOf = new Map(elements.gauges.map((g) => [g.name, g]));
  /** Gauges that wait for others. */
  const asking: string[] = [];
  function channelNamed(name: string): Channel {
    const g = gaugeOf.get(name);
    if (!g)
      throw new Refusal([
        {
          code: 'gauge-unusable',
          severity: 'error',
          message: `The gauge “${name}” is in error or switched off.`,
          element: { family: 'gauges', name },
        },
      ]);
    const { loads, ...channel } = (g.kind as GaugeKind).channel(v(g), assembly, name);
    const raw = model.gauges[g.index]!,
      dim = channel.dim ?? askedDimension(g.kind.reads, g.kind.fields, raw, model)!,
      unit = unitOfGauge(model, raw, dim) ?? channel.unit;
    return { ...channel, ...(loads ? { loads } : {}), dim, ...(unit === undefined ? {} : { unit }) };
  }
  /** A gauge as a function of posture and motion, for formulas. */
  function reader(gauge: string): (K: Kinematics, t: number) => number {
    const g = elements.gauges.find((x) => x.name === gauge);
    if (!g)
      throw new Refusal([
        {
          code: 'gauge-unusable',
          severity: 'error',
          message: `The gauge “${gauge}” is in error or switched off.`,
          element: { family: 'gauges', name: gauge },
        },
      ]);
    const channel = (g.kind as GaugeKind).channel(v(g), assembly, g.name);
    for (const f of channel.angles ?? []) tracked(f);
    const none = new Float64Array(0);
    let at: Kinematics;
    const snapshot = {
      t: 0,
      K: undefined as never as Kinematics,
      acceleration: none,
      G: none,
      multipliers: none,
      angle: (f: Freedom) => counters.get(f)!.value(at),
    };
    return (K, t) => {
      at = snapshot.K = K;
      snapshot.t = t;
      return channel.read(snapshot);
    };
  }

  const couplings = elements.couplings.flatMap(
    (c) =>
      attempt(c, () => {
        const { terms, teeth } = (c.kind as CouplingKind).relation(v(c), assembly);
        const coordinates = terms.map((t) => tracked(t.freedom));
        const constraint = new Coupled(
          coordinates,
          terms.map((t) => t.factor),
        );
        const [one, two] = terms;
        const spread =
          teeth && one && two
            ? new TeethForce(constraint, [one.freedom, two.freedom], [one.factor, two.factor], teeth.meshing, teeth.pressure, teeth.helix)
            : undefined;
        return [
          { name: c.name, coordinates, constraint, terms, spread, joints: terms.map((t) => joints.findIndex((j) => j.name === t.joint)) },
        ];
      }) ?? [],
  );
  for (const l of elements.loads) {
    const force = attempt(l, () => (l.kind as LoadKind).force(v(l), assembly, l.name));
    if (!force) continue;
    forces.push({ name: l.name, force });
    loadLedgers.push(new LoadLedger(l.name, force, bodies.length));
  }
  const switches = [
    ...drives.flatMap((d) =>
      d.condition
        ? [
            {
              family: 'drives' as const,
              name: d.name,
              switch: new Switch(d.name, assembly.magnitude(d.condition), d.course, (on) => hold(d.constraint, on)),
            },
          ]
        : [],
    ),
    ...elements.joints.flatMap((e) => {
      const condition = (e.values as { while?: Program }).while,
        j = condition && joints.find((x) => x.name === e.name);
      return condition && j
        ? [
            {
              family: 'joints' as const,
              name: j.name,
              switch: new Switch(j.name, assembly.magnitude(condition), undefined, (on) => j.constraints.forEach((c) => hold(c, on))),
            },
          ]
        : [];
    }),
  ];
  const before = diagnoses.length;
  const readable = elements.gauges.filter((g) => attempt(g, () => channelNamed(g.name)));
  for (let i = before; i < diagnoses.length; i++) diagnoses[i] = leftOut(diagnoses[i]!);

  if (diagnoses.some((d) => d.severity === 'error'))
    return { resolution, mechanism: undefined, diagnoses, shapes, bodies, layout, ground: model.ground };

  /** What waits for a joint, or for all of them when it belongs to none. */
  const afterJoint = (j: JointInfo | undefined): number[] => (j ? [joints.indexOf(j)] : joints.map((_, k) => k));
  const groups: Group[] = [
    ...joints.map((j): Group => ({
      name: j.name,
      family: 'joints',
      a: j.sides.a,
      b: j.sides.b,
      rows: j.constraints.reduce((s, c) => s + c.rows, 0),
      constraints: j.constraints,
    })),
    ...couplings.map((c): Group => ({
      name: c.name,
      family: 'couplings',
      a: c.constraint.a,
      b: c.constraint.b,
      others: c.constraint.more.flat(),
      rows: 1,
      constraints: [c.constraint],
      after: c.joints,
    })),
    ...drives.map((d): Group => ({
      name: d.name,
      family: 'drives',
      a: d.constraint.a,
      b: d.constraint.b,
      rows: 1,
      constraints: [d.constraint],
      after: afterJoint(d.joint),
      ...(d.joint ? {} : { last: true as const }),
    })),
    ...starts.flatMap((s) =>
      [s.position, s.speed].flatMap((c): Group[] =>
        c ? [{ name: s.name, family: 'starts', a: c.a, b: c.b, rows: 1, constraints: [c], after: afterJoint(s.of) }] : [],
      ),
    ),
    ...forces.flatMap(({ name, force: { lock } }): Group[] =>
      lock
        ? [
            {
              name,
              family: 'loads',
              a: lock.constraint.a,
              b: lock.constraint.b,
              rows: 1,
              constraints: [lock.constraint],
              after: afterJoint(jointNamed(lock.joint)),
            },
          ]
        : [],
    ),
  ];
  const system = new System(
    bodies.length,
    masses,
    inertias,
    groups,
    [...forces.map((f) => f.force), ...couplings.flatMap((c) => c.spread ?? [])],
    [...drives.map((d) => d.course), ...counters.values(), ...forces.flatMap((f) => f.force.extras ?? []), ...ledgerStates(ledgers)],
  );
  late.system = system;
  for (const s of starts) for (const c of [s.position, s.speed]) if (c) system.hold(c, false);
  for (const {
    force: { lock },
  } of forces)
    if (lock) system.hold(lock.constraint, false);
  for (const l of ledgers.loads) l.carried = system;
  for (const d of ledgers.drives) d.multipliers = system.multipliers;
  draw(system, bodies);
  /** Whether rows hold that can be switched. */
  const switched = (c: Constraint): Memory => ({
    cells: 1,
    keep: (out, at) => (out[at] = system.ldlt.off[c.row] ? 0 : 1),
    recall: (from, at) => hold(c, from[at] === 1),
  });
  const memories = new Memories([
    ...groups.flatMap((g) => g.constraints.flatMap((c) => c.memory ?? [])),
    ...joints.flatMap((j) => [...j.freedoms.values()].flatMap((f) => f.equation.memory ?? [])),
    ...drives.flatMap((d) => (d.condition ? [switched(d.constraint), ...(d.course.memory ? [d.course.memory] : [])] : [])),
    ...switches.map((s) => s.switch),
    ...switches.flatMap((s) => (s.family === 'joints' ? joints.find((j) => j.name === s.name)!.constraints.map(switched) : [])),
    ...forces.flatMap(({ force: { memory, lock } }) => [...(memory ? [memory] : []), ...(lock ? [switched(lock.constraint)] : [])]),
  ]);
  const angles = joints.flatMap((j) => [...j.freedoms.values()].filter((f) => f.type === 'rotation'));
  const reach = [...elements.points.map((p) => layout.point(p.name)), ...bodies.map((b) => add(b.origin, apply(b.turn, b.centre)))];
  const size = Math.max(1e-3, ...reach.map((p) => Math.max(...p.map((x, k) => Math.abs(x - reach[0]![k]!)))));
  const mechanism: Mechanism = {
    model,
    resolution,
    layout,
    bodies,
    shapes,
    joints,
    drives,
    couplings: couplings.map((c) => ({ name: c.name, coordinates: c.coordinates, constraint: c.constraint, spread: c.spread })),
    starts,
    switches,
    counters: [...counters.values()],
    system,
    memories,
    watches: [
      ...switches.map((x) => ({ element: { family: x.family, name: x.name }, watch: x.switch })),
      ...forces.flatMap(({ name, force }) =>
        (force.watches ?? []).map((watch) => ({ element: { family: 'loads' as const, name }, watch })),
      ),
    ],
    ledgers,
    assembly,
    angles,
    size,
    gauges: readable.map((g) => g.name),
    outlines: elements.loads.map((l) => ({ load: l.name, outline: outlineOf(l) })),
    characteristic(name) {
      const l = elements.loads.find((x) => x.name === name);
      return l && (l.kind as LoadKind).characteristic?.(v(l), assembly);
    },
    channel: channelNamed,
  };
  return { resolution, mechanism, diagnoses, shapes, bodies, layout, ground: model.ground };
}

interface DriveValues {
  on: string;
  joint: string;
  freedom: string;
  bodies: [string, string];
  at: [string, string?];
  along: FrameFreedom;
  axis: Vec3;
  prescribes: Prescribed;
  value: Program;
  ease?: number;
  while?: Program;
}

/** The one or two places of a joint: a follower of many points counts by its first. */
const placesOf = (at: readonly string[]): [string, string?] => (at.length === 2 ? [at[0]!, at[1]!] : [at[0]!]);

function bodyInfo(b: ResolvedElement, layout: Layout, shapes: readonly ShapeInfo[]): BodyInfo {
  const v = b.values as { mass?: number; centre?: Vec3; inertia?: Vec3; products?: Vec3 };
  const pose = layout.body(b.name);
  const all = combine(shapes.filter((s) => s.body === b.name).map((s) => s.mass));
  const back = transpose(pose.turn);
  const shape = {
    mass: all.mass,
    centre: all.mass > 0 ? apply(back, sub(all.centre, pose.origin)) : ([0, 0, 0] as Vec3),
    inertia: mul(mul(back, all.inertia), pose.turn),
  };
  const mass = v.mass ?? shape.mass;
  const centre = v.centre ?? shape.centre;
  const own = shape.mass > 0 ? scaleM(shape.inertia, mass / shape.mass) : shape.inertia;
  // moments typed in without products have none; products typed in alone stand beside the moments of the shapes
  const [xx, yy, zz] = v.inertia ?? [own[0], own[4], own[8]],
    [xy, yz, zx] = v.products ?? (v.inertia ? [0, 0, 0] : [own[1], own[5], own[2]]);
  return { name: b.name, mass, centre, inertia: [xx, xy, zx, xy, yy, yz, zx, yz, zz], origin: pose.origin, turn: pose.turn, shapes: shape };
}

/** Bodies without mass or with an impossible inertia make the equations singular: refused by name. */
function massFaults(b: BodyInfo, model: Model): Diagnosis[] {
  const index = model.bodies.findIndex((x) => x.name === b.name);
  const at = (field: string): Pick<Diagnosis, 'path' | 'element'> => ({
    path: ['bodies', index, field],
    element: { family: 'bodies' as Family, name: b.name },
  });
  if (!(b.mass > 0)) {
    return [
      {
        code: 'mass-zero',
        severity: 'error',
        message: 'The body has no mass.',
        why: 'A free body without mass has no equation of motion.',
        remedy: 'Give it a shape with a material, or type in mass and inertia.',
        ...at('mass'),
      },
    ];
  }
  const [xx, xy, xz, , yy, yz, , , zz] = b.inertia;
  const minor = xx * yy - xy * xy;
  const det = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
  const scale = Math.max(xx, yy, zz);
  if (!(xx > 0 && minor > 1e-14 * scale * scale && det > 1e-20 * cube(scale))) {
    return [
      {
        code: 'inertia-zero',
        severity: 'error',
        message: 'The body has mass, but its moment of inertia is zero or negative about some axis.',
        why: 'It could spin up without any torque.',
        remedy: 'Give it a shape with a material, or type in its inertia.',
        ...at('inertia'),
      },
    ];
  }
  if (xx + yy < zz * (1 - 1e-9) || yy + zz < xx * (1 - 1e-9) || zz + xx < yy * (1 - 1e-9)) {
    return [
      {
        code: 'inertia-triangle',
        severity: 'warning',
        message: 'No real body has this inertia: one moment is larger than the sum of the other two.',
        remedy: 'Check the typed values and their axes.',
        ...at('inertia'),
      },
    ];
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
