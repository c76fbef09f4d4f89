/**
 * A formula of time that holds, goes to another value and holds again, seen as a timeline: `90 deg*smootherstep(0.5 s, 1 s, t) - 90 deg*linearstep(2
 * s, 3 s, t)`.
 * The formula is what is kept; a timeline is read from it and written back.
 */
import { type Dimension, D, compatible, divide, identical, multiply } from '../quantity/dimension';
import { readUnit } from '../quantity/units';
import { type Node, parse } from './parse';

/** How a segment goes from one value to the next, with the function that does it. */
export const SEGMENT_SHAPES = { ramp: 'linearstep', 'S-curve': 'smootherstep', 'cubic S-curve': 'smoothstep' } as const;
export type SegmentShape = keyof typeof SEGMENT_SHAPES;

export interface Segment {
  /** Where it begins and ends, s. Before and after, the value holds. */
  from: number;
  to: number;
  /** By how much the value changes, SI. */
  rise: number;
  /** What stands for the change in the formula, where it is more than a number: a parameter. */
  text?: string | undefined;
  shape: SegmentShape;
}

export interface Timeline {
  /** Unit in which values are written. */
  unit: string;
  dim: Dimension;
  /** Value before the first segment, SI. */
  start: number;
  startText?: string | undefined;
  segments: Segment[];
  /** It begins anew after this time, s. */
  repeat?: number | undefined;
}

/** What a name stands for. */
export type Known = (name: string) => { value: number; dim: Dimension } | undefined;

interface Constant {
  value: number;
  dim: Dimension;
  /** Whether parameters have a part in it. */
  named: boolean;
}

/** A part of a formula in which time has no part; undefined when it is something else. */
function constant(n: Node, known: Known): Constant | undefined {
  if (n.kind === 'number') return { value: n.value, dim: D.none, named: false };
  if (n.kind === 'name') {
    const own = n.unit ? undefined : known(n.name);
    if (own) return { ...own, named: true };
    const unit = readUnit(n.name);
    return unit && n.name !== 't' ? { value: unit.factor, dim: unit.dim, named: false } : undefined;
  }
  if (n.kind !== 'call') return undefined;
  const [a, b] = n.args.map((x) => constant(x, known));
  if (!a || (n.args.length > 1 && !b)) return undefined;
  const named = a.named || !!b?.named;
  switch (n.name) {
    case 'negate':
      return { ...a, value: -a.value };
    case 'multiply':
      return { value: a.value * b!.value, dim: multiply(a.dim, b!.dim), named };
    case 'divide':
      return { value: a.value / b!.value, dim: divide(a.dim, b!.dim), named };
    case 'add':
      return identical(a.dim, b!.dim) ? { value: a.value + b!.value, dim: a.dim, named } : undefined;
    case 'subtract':
      return identical(a.dim, b!.dim) ? { value: a.value - b!.value, dim: a.dim, named } : undefined;
    default:
      return undefined;
  }
}

/** Time itself, or time that begins anew: the period then. */
function clock(n: Node, known: Known): { repeat?: number } | undefined {
  if (n.kind === 'name' && n.name === 't') return {};
  if (n.kind !== 'call' || n.name !== 'mod' || n.args[0]?.kind !== 'name' || n.args[0].name !== 't') return undefined;
  const period = constant(n.args[1]!, known);
  return period && identical(period.dim, D.time) && period.value > 0 && !period.named ? { repeat: period.value } : undefined;
}

const shapeOf = (name: string): SegmentShape | undefined =>
  (Object.keys(SEGMENT_SHAPES) as SegmentShape[]).find((s) => SEGMENT_SHAPES[s] === name);

/** The terms of a sum, with their signs. */
function terms(n: Node, sign: 1 | -1 = 1): { node: Node; sign: 1 | -1 }[] {
  if (n.kind !== 'call') return [{ node: n, sign }];
  if (n.name === 'add' || n.name === 'subtract')
    return [...terms(n.args[0]!, sign), ...terms(n.args[1]!, n.name === 'add' ? sign : (-sign as 1 | -1))];
  if (n.name === 'negate') return terms(n.args[0]!, -sign as 1 | -1);
  return [{ node: n, sign }];
}

/**
 * Reads a formula as a timeline.
 * @param dim of the value
 * @param usual unit for values where the formula names none
 * @returns undefined when it is none, or its segments overlap
 */
export function readTimeline(text: string, dim: Dimension, usual: string, known: Known): Timeline | undefined {
  let root: Node;
  try {
    root = parse(text);
  } catch {
    return undefined;
  }
  const slice = (n: Node) => text.slice(n.at, n.end);
  const line: Timeline = { unit: usual, dim, start: 0, segments: [] };
  let units: string | undefined, repeats: { repeat?: number } | undefined;
  /** The unit written beside the first number counts for all. */
  const note = (n: Node) => {
    const unit = /^[-−\d.eE+\s]*([a-zA-Z°µ][^*()]*)$/.exec(slice(n))?.[1]?.trim();
    if (units === undefined && unit && compatible(readUnit(unit)?.dim ?? D.none, dim) && readUnit(unit)) units = unit;
  };
  for (const { node, sign } of terms(root)) {
    const fixed = constant(node, known);
    if (fixed) {
      // a plain zero has any unit
      if (!compatible(fixed.dim, dim) && fixed.value !== 0) return undefined;
      note(node);
      line.start += sign * fixed.value;
      if (fixed.named) line.startText = line.startText === undefined && sign > 0 ? slice(node) : undefined;
      continue;
    }
    const bare = node.kind === 'call' && shapeOf(node.name) ? node : undefined;
    const call =
      bare ?? (node.kind === 'call' && node.name === 'multiply' ? node.args.find((a) => a.kind === 'call' && shapeOf(a.name)) : undefined);
    if (call?.kind !== 'call') return undefined;
    const factor = bare || node.kind !== 'call' ? undefined : node.args.find((a) => a !== call)!,
      size = factor ? constant(factor, known) : { value: 1, dim: D.none, named: false };
    const [from, to] = [constant(call.args[0]!, known), constant(call.args[1]!, known)],
      when = clock(call.args[2] ?? call, known);
    if (
      !size ||
      !compatible(size.dim, dim) ||
      !from ||
      !to ||
      !when ||
      from.named ||
      to.named ||
      !identical(from.dim, D.time) ||
      !identical(to.dim, D.time) ||
      !(to.value > from.value) ||
      from.value < 0
    )
      return undefined;
    if (repeats && repeats.repeat !== when.repeat) return undefined;
    repeats = when;
    if (factor) note(factor);
    line.segments.push({
      from: from.value,
      to: to.value,
      rise: sign * size.value,
      shape: shapeOf(call.name)!,
      ...(factor && size.named ? { text: sign < 0 ? `-${slice(factor)}` : slice(factor) } : {}),
    });
  }
  line.segments.sort((a, b) => a.from - b.from);
  if (line.segments.some((s, k) => k > 0 && s.from < line.segments[k - 1]!.to - 1e-12)) return undefined;
  if (repeats?.repeat !== undefined) line.repeat = repeats.repeat;
  if (units !== undefined) line.unit = units;
  return line;
}

const short = (x: number): string => String(Number(x.toPrecision(10)));

/** The formula of a timeline. */
export function writeTimeline(line: Timeline): string {
  const factor = readUnit(line.unit)?.factor ?? 1,
    time = line.repeat === undefined ? 't' : `mod(t, ${short(line.repeat)} s)`;
  const quantity = (v: number) => `${short(v / factor)}${line.unit ? ` ${line.unit}` : ''}`;
  const parts: string[] = [];
  const add = (text: string) => void parts.push(parts.length === 0 ? text : text.startsWith('-') ? `- ${text.slice(1)}` : `+ ${text}`);
  if (line.startText !== undefined) add(line.startText);
  else if (line.start !== 0 || line.segments.length === 0) add(quantity(line.start));
  // a quotient of units binds less than the product it stands in
  const held = (q: string) => (/[/*]/.test(line.unit) ? `(${q})` : q);
  for (const s of line.segments) {
    const size = s.text ?? (s.rise < 0 ? `-${held(quantity(-s.rise))}` : held(quantity(s.rise)));
    add(`${size}*${SEGMENT_SHAPES[s.shape]}(${short(s.from)} s, ${short(s.to)} s, ${time})`);
  }
  return parts.join(' ');
}

/** Share of the change that is done at a share of the time. */
const SHARE: Readonly<Record<SegmentShape, (q: number) => number>> = {
  ramp: (q) => q,
  'S-curve': (q) => q * q * q * (10 + q * (6 * q - 15)),
  'cubic S-curve': (q) => q * q * (3 - 2 * q),
};

/** Its value at a time, SI. */
export function timelineAt(line: Timeline, t: number): number {
  const at = line.repeat === undefined ? t : t - Math.floor(t / line.repeat) * line.repeat;
  return line.segments.reduce(
    (v, s) => v + s.rise * (at <= s.from ? 0 : at >= s.to ? 1 : SHARE[s.shape]((at - s.from) / (s.to - s.from))),
    line.start,
  );
}

/** The values that hold: before the first segment, then after each. */
export const levels = (line: Timeline): number[] => line.segments.reduce((list, s) => [...list, list.at(-1)! + s.rise], [line.start]);

/** Shortest segment, s. */
const SHORTEST = 1e-3;
const withSegment = (line: Timeline, k: number, change: Partial<Segment>): Timeline => ({
  ...line,
  segments: line.segments.map((s, i) => (i === k ? { ...s, ...change } : s)),
});

/** Moves the beginning, the end, or all of a segment to a time; it stays between its neighbours. */
export function moveSegment(line: Timeline, k: number, what: 'from' | 'to' | 'both', t: number): Timeline {
  const s = line.segments[k]!,
    least = line.segments[k - 1]?.to ?? 0,
    most = line.segments[k + 1]?.from ?? line.repeat ?? Infinity;
  if (what === 'from') return withSegment(line, k, { from: Math.min(Math.max(t, least), s.to - SHORTEST) });
  if (what === 'to') return withSegment(line, k, { to: Math.max(Math.min(t, most), s.from + SHORTEST) });
  const length = s.to - s.from,
    from = Math.max(least, Math.min(t, most - length));
  return withSegment(line, k, { from, to: from + length });
}

const freed = (s: Segment, rise: number): Segment => ({ ...s, rise, text: undefined });
/** Sets a value that holds; those after it stay. @param k 0: before the first segment */
export function setLevel(line: Timeline, k: number, value: number): Timeline {
  const shift = value - levels(line)[k]!;
  const segments = line.segments.map((s, i) => (i === k - 1 ? freed(s, s.rise + shift) : i === k ? freed(s, s.rise - shift) : s));
  return k === 0 ? { ...line, start: value, startText: undefined, segments } : { ...line, segments };
}

/** A further segment behind the last one. */
export function addSegment(line: Timeline, until: number, rise: number): Timeline {
  const last = line.segments.at(-1)?.to ?? 0,
    end = line.repeat ?? Math.max(until, last + 1),
    room = Math.max(end - last, SHORTEST * 4);
  return { ...line, segments: [...line.segments, { from: last + 0.25 * room, to: last + 0.5 * room, rise, shape: 'S-curve' }] };
}
/** Takes a segment out; the values after it stay where another segment can make up for it. */
export function dropSegment(line: Timeline, k: number): Timeline {
  const gone = line.segments[k]!;
  return { ...line, segments: line.segments.flatMap((s, i) => (i === k ? [] : i === k + 1 ? [freed(s, s.rise + gone.rise)] : [s])) };
}

/** Backwards in time, over its period, or up to a time. */
export function reversed(line: Timeline, until: number): Timeline {
  const end = line.repeat ?? Math.max(until, line.segments.at(-1)?.to ?? 0);
  return {
    ...line,
    start: levels(line).at(-1)!,
    startText: undefined,
    segments: line.segments.map((s): Segment => freed({ ...s, from: end - s.to, to: end - s.from }, -s.rise)).reverse(),
  };
}
/** With the other sign. */
export function mirrored(line: Timeline): Timeline {
  return {
    ...line,
    start: -line.start + 0,
    startText: undefined,
    segments: line.segments.map((s) => ({
      ...s,
      rise: -s.rise,
      ...(s.text === undefined ? {} : { text: s.text.startsWith('-') ? s.text.slice(1) : `-${s.text}` }),
    })),
  };
}
