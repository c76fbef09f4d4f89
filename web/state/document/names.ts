/** Names made by the program: they say what a thing is, from what it hangs on, and follow it until somebody types another. */
import { type Family, type Kind, type Model, type RawElement, familyOf, kindOf } from '@vim-pivot/core/page';

const named = (v: unknown): string[] => [v].flat().filter((x): x is string => typeof x === 'string' && x !== '');

/** Families after whose elements others are named, the nearest first. */
const AFTER: readonly Family[] = ['joints', 'drives', 'loads', 'couplings', 'gauges', 'bodies', 'points'];

/** A joint by its name, or the joint on which an element of another family acts. */
function jointOf(family: Family, name: string | undefined, model: Model): RawElement | undefined {
  const e = model[family].find((x) => x.name === name);
  return family === 'joints' || !e ? e : model.joints.find((j) => j.name === e.joint);
}

function nounOf(kind: Kind, after: string | undefined, family: Family | undefined, model: Model): string {
  const { noun } = kind;
  if (typeof noun === 'string') return noun;
  const joint = family && jointOf(family, after, model);
  if (noun) return noun[(joint && kindOf('joints', joint)?.freedoms?.[0]) ?? 'rotation'];
  const words = kind.label.split(' '),
    label = kind.label.charAt(0).toLowerCase() + kind.label.slice(1);
  // a drive torque or force of Motor is its torque or force
  return family && words.length > 1 && words[0]!.toLowerCase() === familyOf(family).one ? words.slice(1).join(' ') : label;
}

/** What an element is called for what it refers to: “Crank to Rod”, “Ram travel”, “A to B spring”. */
export function nameFor(kind: Kind, e: RawElement, model: Model): string {
  const refs = new Map<Family, string[]>();
  for (const [key, f] of Object.entries(kind.fields))
    if (f.type === 'ref' || f.type === 'refs') refs.set(f.family, [...(refs.get(f.family) ?? []), ...named(e[key])]);
  const pair = (list: string[] | undefined) => (list?.length === 2 && list[0] !== list[1] ? `${list[0]} to ${list[1]}` : undefined);
  if (kind.family === 'joints') return pair(refs.get('bodies')) ?? kind.label;
  if (kind.family === 'shapes') {
    const [body] = refs.get('bodies') ?? [];
    return body === undefined ? kind.label : `${body} ${nounOf(kind, undefined, undefined, model)}`;
  }
  if (
    kind.family !== 'loads' &&
    kind.family !== 'drives' &&
    kind.family !== 'gauges' &&
    kind.family !== 'starts' &&
    kind.family !== 'scores' &&
    kind.family !== 'limits'
  )
    return kind.label;
  const between =
    kind.family === 'loads' || kind.family === 'gauges'
      ? refs.get('joints')?.length
        ? undefined
        : (pair(refs.get('points')) ?? pair(refs.get('bodies')))
      : undefined;
  if (between) return `${between} ${nounOf(kind, undefined, undefined, model)}`;
  const family = AFTER.find((f) => (refs.get(f)?.length ?? 0) > 0),
    after = family && refs.get(family)![0];
  return after === undefined ? kind.label : `${after} ${nounOf(kind, after, family, model)}`;
}

/** What a new body is called that is made with its first shape: between two points after them. */
export function bodyNameFor(kind: Kind, e: RawElement): string {
  const points = Object.entries(kind.fields).flatMap(([key, f]) =>
    (f.type === 'ref' || f.type === 'refs') && f.family === 'points' ? named(e[key]) : [],
  );
  return points.length === 2 ? `${points[0]} to ${points[1]}` : points.length === 1 ? `${kind.label} at ${points[0]}` : kind.label;
}

/** A name without the number that tells it from others of the same name. */
export const unnumbered = (name: string): string => name.replace(/ \d+$/, '');
