/** From a model to its numeric system, one pass for each family: places, masses, joints, drives, couplings, loads, gauges. */
import '../elements';
import type { Diagnosis } from '../diagnosis';
import type { Assembly, LoadKind } from '../elements/declarations';
import type { Constraint } from '../equations/constraint';
import { OwnBodies } from '../equations/coordinates/own';
import type { Model } from '../model/document';
import { type Layout, layOut } from '../model/layout';
import { type Resolution, leftOut, resolve } from '../model/resolve';
import { assemblyOf } from './build/assembly';
import { Attempts, valuesOf } from './build/attempts';
import { type BodyInfo, bodyInfo, draw, massFaults, sizeOf } from './build/bodies';
import { bearing, carriedBy } from './build/carried';
import { Counters } from './build/counters';
import { type CouplingInfo, couplingInfo } from './build/couplings';
import { driveInfo } from './build/drives';
import { Energies } from './build/energies';
import { Gauges } from './build/gauges';
import { type Parts, groupsOf, startRows } from './build/groups';
import { jointInfo, reachOf } from './build/joints';
import { memoriesOf } from './build/memories';
import { BodyPlaces } from './build/places';
import { type ShapeInfo, drawnShapes } from './build/shapes';
import { startInfo } from './build/starts';
import { switchesOf } from './build/switches';
import { ledgerStates } from './ledger';
import type { Built, Mechanism } from './mechanism';
import { System } from './system';

/**
 * Builds what can be built and says what stands in the way. Never throws for a fault of the model.
 * @param like values of a model that differs from it in a few alone
 */
export function build(given: Model, like?: Resolution): Built {
  const resolution = resolve(given, like);
  const { model, elements } = resolution;
  const layout = layOut(resolution);
  const attempts = new Attempts(resolution.diagnoses);
  // places, with their faults, before anything that hangs on them
  const points = attempts.each(elements.points, (p) => layout.point(p.name));
  attempts.each(elements.bodies, (b) => layout.body(b.name));
  const shapes = drawnShapes(resolution, layout, attempts);
  const bodies = attempts.each(elements.bodies, (b) => bodyInfo(b, layout, shapes));
  const bears = bearing(model);
  for (const b of bodies) attempts.diagnoses.push(...massFaults(b, model, bears.has(b.name)));
  const mechanism = mechanismOf(resolution, layout, shapes, bodies, sizeOf(points, bodies), attempts);
  return { resolution, mechanism, diagnoses: attempts.diagnoses, shapes, bodies, layout, ground: model.ground };
}

/** Undefined where an error stands in the way; all that can be found is looked for nevertheless. */
function mechanismOf(
  resolution: Resolution,
  layout: Layout,
  shapes: readonly ShapeInfo[],
  drawn: readonly BodyInfo[],
  size: number,
  attempts: Attempts,
): Mechanism | undefined {
  const { model, elements } = resolution,
    bodies = drawn.map((b) => ({ ...b }));
  const places = new BodyPlaces(bodies, layout, model.ground);
  const joints = attempts.each(elements.joints, (j) => jointInfo(j, places, layout, model.ground));
  const drives = attempts.each(elements.drives, (d) => driveInfo(d, joints, places));
  const starts = attempts.each(elements.starts, (s) => startInfo(s, joints));

  const masses = Float64Array.from(bodies, (b) => b.mass),
    inertias = Float64Array.from(bodies.flatMap((b) => [...b.inertia])),
    carried: Assembly['carried'][number][] = [];
  const energies = new Energies(masses, inertias, drives, carried);
  const { ledgers, forces } = energies;
  const counters = new Counters();
  const couplings: CouplingInfo[] = [];
  const gauges = new Gauges(resolution, () => assembly);
  // the system comes last; nothing is switched before it is there
  const hold = (c: Constraint, on: boolean) => system.hold(c, on);
  const known = { resolution, layout, places, bodies, shapes, joints, drives, couplings, energies, carried, counters, gauges, size, hold };
  const assembly = assemblyOf(known);
  couplings.push(...attempts.each(elements.couplings, (c) => couplingInfo(c, assembly)));
  carried.push(...carriedBy(elements.loads, assembly, bodies, inertias, attempts));
  for (const l of elements.loads) {
    const force = attempts.at(l, () => (l.kind as LoadKind).force(valuesOf(l), assembly, l.name));
    if (force) energies.add(l.name, force);
  }
  const switches = switchesOf(drives, joints, elements.joints, assembly, (list, t) => list.flatMap((c) => system.stand(c, t)));
  const readable = readableGauges(resolution, gauges, attempts);
  if (attempts.failed) return undefined;

  const angles = joints.flatMap((j) => [...j.freedoms.values()].filter((f) => f.type === 'rotation'));
  const parts: Parts = { joints, couplings, drives, starts, forces, carried };
  const system = new System(
    bodies.length,
    masses,
    inertias,
    groupsOf(parts),
    // powers are told in this order
    [...forces.map((f) => f.force), ...couplings.flatMap((c) => c.spread ?? [])],
    [...drives.map((d) => d.course), ...counters.all, ...forces.flatMap((f) => f.force.extras ?? []), ...ledgerStates(ledgers)],
    size,
    reachOf(joints, bodies.length),
    angles,
    new OwnBodies(
      bodies.length,
      bodies.map((b) => b.own),
    ),
  );
  // rows of start values hold while the machine is assembled, those of frictions while they stick
  for (const c of starts.flatMap(startRows)) hold(c, false);
  for (const { force } of forces) if (force.holding) hold(force.holding.constraint, false);
  for (const l of ledgers.loads) l.powers = system.powers;
  for (const d of ledgers.drives) d.multipliers = system.multipliers;
  draw(system, bodies);
  return {
    model,
    resolution,
    layout,
    bodies,
    shapes,
    joints,
    drives,
    couplings,
    starts,
    switches,
    watches: [
      ...switches.map((x) => ({ element: { family: x.family, name: x.name }, watch: x.switch })),
      ...joints.flatMap(({ name, constraints }) =>
        constraints.flatMap(({ watch }) => (watch ? [{ element: { family: 'joints' as const, name }, watch }] : [])),
      ),
      ...forces.flatMap(({ name, force }) =>
        (force.watches ?? []).map((watch) => ({ element: { family: 'loads' as const, name }, watch })),
      ),
    ],
    counters: counters.all,
    system,
    memories: memoriesOf(system, parts, switches),
    ledgers,
    assembly,
    angles,
    size,
    taken: false,
    // what could be built can be built again
    apart: () => mechanismOf(resolution, layout, shapes, drawn, size, new Attempts([]))!,
    channel: gauges.channel,
    gauges: readable,
    outlines: elements.loads.map((l) => ({ load: l.name, outline: assembly.outline(l.name) })),
    characteristic(name) {
      const l = elements.loads.find((x) => x.name === name);
      return l && (l.kind as LoadKind).characteristic?.(valuesOf(l), assembly, name);
    },
  };
}

/** Names of the gauges that can be read; one that cannot stops nothing and is listed. */
function readableGauges({ elements }: Resolution, gauges: Gauges, attempts: Attempts): string[] {
  const before = attempts.diagnoses.length;
  const names = attempts.each(elements.gauges, ({ name }) => (gauges.channel(name), name));
  attempts.diagnoses.splice(before, Infinity, ...attempts.diagnoses.slice(before).map((d: Diagnosis) => leftOut(d)));
  return names;
}
