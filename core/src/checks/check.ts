/** The checks of a model: everything that can be said before a run. */
import type { Diagnosis } from '../diagnosis';
import { Refusal, bounded } from '../diagnosis';
import { PRESCRIPTIONS } from '../elements/drives/drive';
import { bodiesOf } from './bodies-of';
import { contactFaults } from './contact';
import type { Model } from '../model/document';
import type { Family } from '../model/families';
import { homeOf } from '../model/instance-names';
import { lintMechanism, lintModel } from './lint';
import { assemble, frictionless } from '../solve/assemble';
import { type Mobility, mobility } from '../solve/mobility';
import { withoutInertia } from '../solve/without-inertia';
import { scoreFaults } from '../results/score-faults';
import { build } from '../system/build';
import type { Built, Mechanism } from '../system/mechanism';
import { where } from '../model/where';

export interface Report {
  built: Built;
  diagnoses: Diagnosis[];
  /** Start state; absent when the mechanism cannot be assembled. */
  start?: Float64Array;
  mobility?: Mobility;
}

/** Builds, assembles and checks a model. Never throws for a fault of the model. @param early is told of the start state as soon as it is known */
export function check(model: Model, early?: (built: Built, start: Float64Array) => void): Report {
  const built = build(model);
  const started: Diagnosis[] = [];
  let assembled: Float64Array | undefined, fault: Refusal | undefined;
  try {
    if (built.mechanism) {
      if (built.mechanism.bodies.length > 0) {
        const { diagnoses } = assemble(built.mechanism),
          { K } = built.mechanism.system;
        assembled = new Float64Array(K.whole.size);
        K.storeWhole(assembled);
        started.push(...diagnoses);
      } else assembled = new Float64Array(built.mechanism.system.K.whole.size);
      early?.(built, assembled);
    }
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    fault = e;
  }
  const diagnoses = [...built.diagnoses, ...lintModel(built.resolution.model)];
  const { mechanism } = built;
  if (!mechanism) return { built, diagnoses: sorted(model, diagnoses) };
  diagnoses.push(
    ...started,
    ...driveFaults(mechanism),
    ...unconnected(mechanism),
    ...contactFaults(mechanism),
    ...lintMechanism(mechanism),
    ...scoreFaults(mechanism),
  );
  if (mechanism.bodies.length === 0) {
    diagnoses.push({
      code: 'model-empty',
      severity: 'note',
      message: 'There is no body yet.',
      remedy: 'Add points, then a body with a shape between them.',
    });
    return { built, diagnoses: sorted(model, diagnoses), start: new Float64Array(mechanism.system.K.whole.size) };
  }
  try {
    if (fault || !assembled) throw fault ?? new Error('a mechanism with bodies is assembled');
    const y = assembled;
    frictionless(mechanism);
    const found = mobility(mechanism);
    diagnoses.push(...found.diagnoses, ...[withoutInertia(mechanism)].filter((d) => d !== undefined));
    return { built, diagnoses: sorted(model, diagnoses), start: y, mobility: found };
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    return { built, diagnoses: sorted(model, [...diagnoses, ...e.diagnoses]) };
  }
}

const RANK = { error: 0, warning: 1, note: 2 } as const;
/** Errors first; what is wrong in a kit is told once, at the first instance that shows it. */
function sorted(model: Model, list: Diagnosis[]): Diagnosis[] {
  const told = new Set<string>();
  const kept =
    model.instances.length === 0
      ? list
      : list.filter((d) => {
          if (
            !d.element ||
            homeOf(model, d.element.family as Family, d.element.name)?.family !== 'instances' ||
            d.element.family === 'instances'
          )
            return true;
          const key = `${d.code}/${d.element.family}/${d.element.name.slice(d.element.name.lastIndexOf('/') + 1)}`;
          return !told.has(key) && told.add(key);
        });
  return kept.map(bounded).sort((a, b) => RANK[a.severity] - RANK[b.severity]);
}

/** A drive whose formula jumps where its motion must be smooth. */
function driveFaults(m: Mechanism): Diagnosis[] {
  const { until } = m.resolution.run;
  return m.drives.flatMap((d): Diagnosis[] => {
    const { smooth } = PRESCRIPTIONS[d.prescribes];
    if (smooth === 0) return [];
    const p = d.course.law;
    let size = 0,
      slope = 0;
    for (let i = 0; i <= 200; i++) {
      p.at((until * i) / 200);
      size = Math.max(size, Math.abs(p.v));
      slope = Math.max(slope, Math.abs(p.d));
    }
    const scale = [size, Math.max(slope, size / until)];
    return p.kinks(0, until).flatMap((k): Diagnosis[] => {
      const order = [0, 1].slice(0, smooth).find((o) => Math.abs(k.jump[o as 0 | 1]) > 1e-6 * scale[o]! + 1e-12);
      if (order === undefined) return [];
      const what = order === 0 ? `The ${d.prescribes} jumps` : 'The position has a corner, so its speed jumps';
      return [
        {
          code: 'drive-jump',
          severity: 'error',
          message: `${what} at t = ${Number(k.t.toPrecision(6))} s.`,
          why: 'A sudden change of speed would need an infinite force.',
          remedy: 'Use smoothstep or smootherstep to pass from one value to the other.',
          ...where(m.model, 'drives', d.name, 'value'),
          time: k.t,
        },
      ];
    });
  });
}

/** Bodies that no joint and no load but gravity ties to anything. */
function unconnected(m: Mechanism): Diagnosis[] {
  const tied = new Set<string>([...m.joints.flatMap((j) => j.bodies), ...m.resolution.elements.loads.flatMap(bodiesOf)]);
  return m.bodies
    .filter((b) => !tied.has(b.name))
    .map((b) => ({
      code: 'body-loose',
      severity: 'warning',
      message: 'The body is tied to nothing: no joint, no spring and no contact holds it.',
      why: 'It will fall or fly off.',
      remedy: 'Add a joint, a spring or a contact, or switch it off.',
      ...where(m.model, 'bodies', b.name),
      fix: { label: 'Switch it off', changes: [{ family: 'bodies', name: b.name, field: 'off', value: true }] },
    }));
}
