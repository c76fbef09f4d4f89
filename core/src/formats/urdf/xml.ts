/** Nodes of a URDF file, and the numbers in them. */
import { XMLParser } from 'fast-xml-parser';
import { type Diagnosis, refuse as refused } from '../../diagnosis';
import { type Mat3, type Vec3, add, apply, fromRollPitchYaw, mul } from '../../geometry/vector';

export interface Pose {
  at: Vec3;
  turn: Mat3;
}
export type Node = Record<string, unknown>;

/** @throws Refusal always */
export const refuse = (message: string): never => refused({ code: 'urdf', message });

/** Nodes of a name, of which there may be none, one or several. */
export const list = (x: unknown): Node[] => (x === undefined || x === '' ? [] : ((Array.isArray(x) ? x : [x]) as Node[]));
/** The first node of a name. */
export const one = (x: unknown): Node | undefined => list(x)[0];
/** An attribute of a node. */
export const text = (n: Node | undefined, key: string): string | undefined =>
  n?.[`@${key}`] === undefined ? undefined : String(n[`@${key}`]);
/** A name as the model takes it. */
export const clean = (s: string): string =>
  s
    .replace(/[\p{C}<>"“”]/gu, ' ')
    .trim()
    .slice(0, 80) || 'part';

/** @param what begins the sentence of a refusal */
export function numbers(s: string | undefined, count: number, what: string, fallback: readonly number[]): number[] {
  if (s === undefined) return [...fallback];
  const v = s.trim().split(/\s+/).map(Number);
  if (v.length !== count || v.some((x) => !Number.isFinite(x)))
    refuse(`${what} needs ${count} number${count === 1 ? '' : 's'}, not “${s.slice(0, 60)}”.`);
  return v;
}
/** The origin of a node: place in m, and rotation from roll, pitch and yaw in rad. @throws Refusal when they are no numbers */
export function poseOf(n: Node | undefined, what: string): Pose {
  const o = one(n?.origin);
  return {
    at: numbers(text(o, 'xyz'), 3, `The origin of ${what}`, [0, 0, 0]) as unknown as Vec3,
    turn: fromRollPitchYaw(numbers(text(o, 'rpy'), 3, `The origin of ${what}`, [0, 0, 0]) as unknown as Vec3),
  };
}

/** A single number; zero where it is left out. */
export const number = (s: string | undefined, what: string, fallback = 0): number => numbers(s, 1, what, [fallback])[0]!;

/** A pose within another. */
export const compose = (a: Pose, b: Pose): Pose => ({ at: add(a.at, apply(a.turn, b.at)), turn: mul(a.turn, b.turn) });
/** Without the last digits, which rounding made. */
export const tidy = (x: number): number => Number(x.toPrecision(12)) + 0;
/** The same for several. */
export const vector = (v: readonly number[]): number[] => v.map(tidy);

/** @throws Refusal when it is no XML, or describes no robot */
export function robotIn(source: string): Node {
  if (source.length > 30e6) refuse('The file is larger than 30 MB.');
  if (/<!(DOCTYPE|ENTITY)/i.test(source)) refuse('The file declares entities of its own, which are not read.');
  let robot: unknown;
  try {
    ({ robot } = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', processEntities: false }).parse(source) as Node);
  } catch (e) {
    refuse(`The file is no XML: ${e instanceof Error ? e.message : 'it is damaged'}.`);
  }
  return robot ? (robot as Node) : refuse('The file describes no robot.');
}

/** What of a file is not in the model, or the other way round. */
export const leftOut = (name: string, what: string): Diagnosis => ({
  code: 'urdf-left-out',
  severity: 'note',
  message: `“${clean(name)}”: ${what} is left out.`,
});
