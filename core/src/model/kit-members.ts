/** Instances of kits written out: the members of each, under names of their own, with mounts replaced by the bodies they stand for. */
import { isPattern, matching } from './patterns';
import { Refusal } from '../diagnosis';
import { renameAll } from '../formula/parse';
import { readAssigned } from './assigned';
import { type Model, type RawElement, contentOf } from './document';
import type { Expansion, Renaming } from './expansion';
import { rewritten } from './expansion';
import { FAMILIES, type Family, onlyShows } from './families';
import { inFormulas, memberName } from './instance-names';
import { type Placing, placingsOf } from './instances';
import { kindOf } from './kinds';
import { resolveParameters } from './parameters';
import { byFamily } from './switched-off';

/** Kits within kits. */
const DEEPEST = 12;
/** Shared by all, not brought by each. */
const COMMON: ReadonlySet<Family> = new Set(['kits']);

const standsIn = (b: RawElement): boolean => !!kindOf('bodies', b)?.standsIn;

/** What an instance gives its kit: values of parameters, and bodies for mounts. */
interface Given {
  values: ReadonlyMap<string, string>;
  on: ReadonlyMap<string, string>;
}

/** All instances of kits that stand in the model, with those within them. */
export function bringMembers(to: Expansion): void {
  for (const e of [...to.model.instances]) if (kindOf('instances', e)?.makes !== 'mirrored') members(to, e, placingsOf(e), []);
}

function members(to: Expansion, e: RawElement, outer: readonly Placing[], within: readonly string[]): void {
  const { model } = to;
  const kind = kindOf('instances', e),
    kit = model.kits.find((k) => k.name === e.kit);
  if (e.off || !kit || !kind?.makes) return;
  if (within.includes(kit.name) || within.length >= DEEPEST)
    return to.fault(
      e.name,
      'kit-circle',
      `The kit “${kit.name}” contains itself: ${[...within, kit.name].join(' → ')}.`,
      'Take the instance out of the kit.',
    );
  const many = kind.makes === 'many';
  const count = many ? countOf(to, e) : 1;
  if (count === undefined) return;
  to.counts.set(e.name, count);
  const given = readGiven(e);
  if (!given) return;
  const content = contentOf(kit);
  checkGiven(to, e.name, kit.name, content, given);
  for (let i = 0; i < count; i++) {
    if (to.tooLarge) return to.refuseSize(e.name);
    const placings = [{ instance: e.name, member: i }, ...outer];
    bring(to, content, memberName(e.name, many, i), placings, given, [...within, kit.name]);
    if (many && e.joined !== undefined && e.joined !== 'none') joinToNeighbour(to, e, content, i, count, placings);
  }
}

/** Undefined where it cannot be read: that is told where fields are checked. */
function readGiven(e: RawElement): Given | undefined {
  try {
    return { values: readAssigned(e.values as string | undefined), on: readAssigned(e.on as string | undefined) };
  } catch (error) {
    if (error instanceof Refusal) return undefined;
    throw error;
  }
}

function checkGiven(to: Expansion, instance: string, kit: string, content: Model, { values, on }: Given): void {
  const mounts = content.bodies.filter(standsIn).map((b) => b.name);
  for (const n of values.keys())
    if (!content.parameters.some((p) => p.name === n))
      to.fault(
        instance,
        'kit-value',
        `The kit “${kit}” has no parameter “${n}”.`,
        'Take it out of the values, or choose one that is there.',
      );
  for (const n of on.keys())
    if (!mounts.includes(n))
      to.fault(instance, 'kit-mount', `The kit “${kit}” has no mount “${n}”.`, 'Take it out, or choose one that is there.');
}

function countOf(to: Expansion, e: RawElement): number | undefined {
  const raw = e.count ?? 3;
  let n = Number(raw);
  if (typeof raw === 'string' && !Number.isFinite(n)) {
    // a formula of the parameters brought so far
    const { parameters, tables } = to.model;
    const name = 'number_of_members';
    const found = new Map<string, { value: number }>();
    resolveParameters({ parameters: [...parameters, { name, value: raw }], tables }, [], found as never, new Set());
    n = found.get(`$.parameters[${parameters.length}].value`)?.value ?? NaN;
  }
  if (Number.isInteger(n) && n >= 1 && n <= 10_000) return n;
  to.fault(e.name, 'kit-count', `The number of members must be a whole number from 1 to 10000, not ${String(raw)}.`);
  return undefined;
}

/** Adds the elements of a kit under the name of a member. */
function bring(to: Expansion, content: Model, member: string, placings: readonly Placing[], given: Given, within: readonly string[]): void {
  const renaming = underMember(content, member, to.model.ground, given.on);
  for (const { key: family } of FAMILIES) {
    if (COMMON.has(family) || onlyShows(family)) continue;
    for (const e of content[family]) {
      const kind = kindOf(family, e);
      if (kind?.standsIn) continue;
      const copy = rewritten(family, e, renaming.name(family, e.name), renaming);
      if (family === 'parameters' && given.values.has(e.name)) copy.value = given.values.get(e.name)!;
      to.bring(family, copy, placings);
      if (family === 'instances' && kind?.makes !== 'mirrored') members(to, copy, placings, within);
    }
  }
}

/** Names of a kit's elements as a member brings them. */
function underMember(content: Model, member: string, ground: string, on: ReadonlyMap<string, string>): Renaming {
  const own = byFamily((key) => new Set(content[key].map((x) => x.name)));
  const prefix = inFormulas(member);
  const inner = content.instances.map((x) => x.name);
  const innerInFormulas = inner.map(inFormulas);
  /** The body of the machine that one of the kit stands for. */
  const host = (body: string): string | undefined =>
    body === content.ground ? ground : content.bodies.some((b) => b.name === body && standsIn(b)) ? (on.get(body) ?? ground) : undefined;
  const name = (family: Family, n: string): string => {
    if (COMMON.has(family)) return n;
    const stands = family === 'bodies' ? host(n) : undefined;
    if (stands !== undefined) return stands;
    // of the kit itself, or of an instance within it
    if (
      own[family].has(n) ||
      (isPattern(n) && matching(n, own[family]).length > 0) ||
      inner.some((b) => n.startsWith(`${b}/`) || n.startsWith(`${b} `))
    )
      return family === 'parameters' || family === 'tables' ? `${prefix}.${n}` : `${member}/${n}`;
    return n;
  };
  /** Of an instance within, or of one of its members. */
  const isInner = (first: string): boolean =>
    first !== '' && innerInFormulas.some((x) => first === x || (first.startsWith(`${x}_`) && /^_\d+$/.test(first.slice(x.length))));
  const formula = (text: string): string =>
    renameAll(text, (n, what) => {
      if (what === 'gauge') return name('gauges', n);
      if (own[what === 'call' ? 'tables' : 'parameters'].has(n)) return `${prefix}.${n}`;
      return isInner(n.slice(0, Math.max(0, n.indexOf('.')))) ? `${prefix}_${n}` : n;
    });
  return {
    name,
    formula,
    // what is given in the axes of a mount or of the ground is given in the kit's own
    ref: (f, n) => (f.family === 'bodies' && f.optional && host(n) !== undefined ? undefined : name(f.family, n)),
  };
}

/** A joint between a member and the one before it; the first of a closed row to the last. */
function joinToNeighbour(to: Expansion, e: RawElement, content: Model, i: number, count: number, placings: readonly Placing[]): void {
  const closed = (e.ends === 'closed' || e.course === 'wheels') && count > 2;
  if (i === 0 && !closed) return;
  const links = content.bodies.filter((b) => !standsIn(b)).map((b) => b.name);
  const link = (e.link as string | undefined) || links[0];
  if (link === undefined || !links.includes(link)) {
    if (i <= 1)
      to.fault(
        e.name,
        'kit-link',
        link === undefined ? 'The kit has no body that could be joined to its neighbours.' : `The kit has no body “${link}”.`,
        'Name one of its bodies as the joined body.',
      );
    return;
  }
  const before = memberName(e.name, true, (i + count - 1) % count),
    here = memberName(e.name, true, i);
  const name = `${here}/joint to ${before}`;
  const kind = String(e.joined);
  const axis = 'axis' in (kindOf('joints', { kind })?.fields ?? {}) ? { axis: [0, 0, 1] } : {};
  to.bring('points', { name, at: [0, 0, 0] }, placings);
  to.bring('joints', { name, kind, bodies: [`${before}/${link}`, `${here}/${link}`], at: [name], ...axis }, placings);
}
