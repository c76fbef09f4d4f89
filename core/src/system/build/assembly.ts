/** What elements may ask about the machine they belong to, while it is being built and afterwards. */
import { refuse } from '../../diagnosis';
import type { Assembly, DriveInfo, JointInfo, LoadKind } from '../../elements/declarations';
import { unusable, usable } from '../../elements/usable';
import type { Constraint } from '../../equations/constraint';
import type { Table } from '../../formula/table';
import type { Layout } from '../../model/layout';
import type { Resolution } from '../../model/resolve';
import { type Dimension, compatible, inWords } from '../../quantity/dimension';
import { valuesOf } from './attempts';
import type { BodyInfo } from './bodies';
import type { Counters } from './counters';
import type { CouplingInfo } from './couplings';
import type { Energies } from './energies';
import type { Gauges } from './gauges';
import type { BodyPlaces } from './places';
import type { ShapeInfo } from './shapes';

/** Parts of a machine; couplings and loads may still be coming when it is asked. */
export interface Known {
  resolution: Resolution;
  layout: Layout;
  places: BodyPlaces;
  bodies: readonly BodyInfo[];
  shapes: readonly ShapeInfo[];
  joints: readonly JointInfo[];
  drives: readonly DriveInfo[];
  couplings: readonly CouplingInfo[];
  energies: Energies;
  carried: Assembly['carried'];
  counters: Counters;
  gauges: Gauges;
  size: number;
  hold(c: Constraint, on: boolean): void;
}

/** The questions that elements may ask, answered from the parts of a machine. */
export function assemblyOf(known: Known): Assembly {
  const { resolution, layout, places, bodies, shapes, joints, drives, couplings, energies, counters, gauges, size, hold } = known;
  const { forces } = energies;
  const assembly: Assembly = {
    point: layout.point,
    body: layout.body,
    ground: resolution.model.ground,
    index: places.index,
    place: places.place,
    direction: places.direction,
    home: places.home,
    surface: (body, shape, round) =>
      places.surface(
        body,
        shapes.filter((s) => s.body === body && (shape === undefined || s.name === shape)),
        round,
      ),
    forms: (body) =>
      places.forms(
        body,
        shapes.filter((s) => s.body === body),
      ),
    bodies,
    forces,
    carried: known.carried,
    size,
    joined: neighbours(joints),
    later(load) {
      const { loads } = resolution.elements,
        at = loads.findIndex((l) => l.name === load);
      return loads.slice(at + 1).flatMap((l) => (l.kind === loads[at]?.kind ? [valuesOf(l)] : []));
    },
    joint: (name) => usable(joints, name, 'joints'),
    drive: (name) => usable(drives, name, 'drives'),
    coupling: (name) => usable(couplings, name, 'couplings'),
    drivesOn: (joint) => drives.filter((d) => d.joint?.name === joint).map((d) => d.constraint),
    frictionsOn: (joint) => forces.flatMap(({ force }) => (force.sticks && force.holding?.joint === joint ? [force] : [])),
    outline: (name) => {
      const load = usable(resolution.elements.loads, name, 'loads');
      return (load.kind as LoadKind).outline(valuesOf(load), assembly);
    },
    tracked: counters.of,
    hold,
    table: (name, x, y) => tableFor(resolution, name, x, y),
    energy: energies.readings,
    magnitude: gauges.magnitude,
    compiled: gauges.compiled,
    channelOf: gauges.channelFor,
  };
  return assembly;
}

/** Whether two bodies are on one joint, or are fixed to one another by several. */
function neighbours(joints: readonly JointInfo[]): (one: string, other: string) => boolean {
  const on = new Set(joints.flatMap(({ bodies: [a, b] }) => [`${a}\n${b}`, `${b}\n${a}`])),
    block = new Map<string, string>(),
    blockOf = (body: string): string => {
      const within = block.get(body);
      return within === undefined ? body : blockOf(within);
    };
  for (const { kind, bodies: [a, b] } of joints) if (kind.leaves === 0 && blockOf(a) !== blockOf(b)) block.set(blockOf(a), blockOf(b)); // prettier-ignore
  return (one, other) => on.has(`${one}\n${other}`) || blockOf(one) === blockOf(other);
}

/** @throws Refusal when the table is in error, or its units do not fit */
function tableFor({ tables }: Resolution, name: string, x: Dimension, y: Dimension): Table {
  const t = tables.get(name) ?? unusable(name, 'tables');
  if (!compatible(t.dims[0], x) || !compatible(t.dims[1], y))
    refuse({
      code: 'table-units',
      message: `The table “${name}” gives ${inWords(t.dims[1])} for ${inWords(t.dims[0])}; here ${inWords(y)} for ${inWords(x)} is needed.`,
      remedy: 'Correct the units of the table, or choose another.',
    });
  return t;
}
