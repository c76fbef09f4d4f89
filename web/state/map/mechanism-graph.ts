/** The mechanism as a graph: bodies and what joins them. What an instance brings is one node until it is unfolded. */
import { type Model, homeOf, kindOf } from '@vim-pivot/core/page';
import type { Within } from '../../workers/protocol';

export interface GraphNode {
  id: string;
  name: string;
  ground: boolean;
  off: boolean;
  loads: string[];
  /** How many bodies are folded into it: it is an instance. */
  folded?: number;
  /** The instance that brings it. */
  of?: string;
}
export interface GraphLink {
  id: string;
  /** Joints it stands for: to a folded instance they may be several. */
  joints: string[];
  /** Nodes it joins. */
  a: string;
  b: string;
  kind: string;
  off: boolean;
  drives: string[];
  /** Several between the same two are drawn side by side. */
  bend: number;
}

/** No body is called so: names have no line breaks. */
const idOf = (instance: string): string => `\n${instance}`;

/**
 * @param brought names of the bodies that instances bring
 * @param unfolded instances whose bodies are shown one by one
 */
export function graphOf(
  model: Model,
  brought: readonly string[],
  within: Within,
  unfolded: ReadonlySet<string>,
): { nodes: GraphNode[]; links: GraphLink[] } {
  const loads = loadsOf(model),
    home = new Map(brought.map((b) => [b, homeOf(model, 'bodies', b)?.name ?? '']));
  const folded = new Map<string, number>();
  for (const h of home.values()) if (!unfolded.has(h)) folded.set(h, (folded.get(h) ?? 0) + 1);
  const node = (name: string, more: Partial<GraphNode> = {}): GraphNode => ({
    id: name,
    name,
    ground: false,
    off: false,
    loads: loads.get(name) ?? [],
    ...more,
  });
  const nodes = [
    node(model.ground, { ground: true }),
    ...model.bodies.map((b) => node(b.name, { off: !!b.off })),
    ...[...folded].map(([name, bodies]) => node(name, { id: idOf(name), folded: bodies })),
    ...brought.filter((b) => unfolded.has(home.get(b)!)).map((b) => node(b, { of: home.get(b)! })),
  ];
  const known = new Set(nodes.map((n) => n.id));
  const standsFor = (body: unknown): string => (known.has(String(body)) ? String(body) : idOf(home.get(String(body)) ?? ''));
  return { nodes, links: linksOf(model, within, known, standsFor) };
}

function loadsOf(model: Model): Map<string, string[]> {
  const out = new Map<string, string[]>();
  for (const l of model.loads) {
    if (l.off) continue;
    for (const body of new Set([l.body, ...(Array.isArray(l.bodies) ? l.bodies : [])].map(String)))
      out.set(body, [...(out.get(body) ?? []), l.name]);
  }
  return out;
}

function linksOf(model: Model, within: Within, known: ReadonlySet<string>, standsFor: (body: unknown) => string): GraphLink[] {
  const links: GraphLink[] = [],
    between = new Map<string, GraphLink[]>();
  const add = (joint: string, bodies: unknown, kind: string, off: boolean, own: boolean) => {
    const [a, b] = (Array.isArray(bodies) ? bodies : []).map(standsFor);
    if (a === undefined || b === undefined || !known.has(a) || !known.has(b) || a === b) return;
    const key = [a, b].sort().join('\n\n'),
      others = between.get(key) ?? [],
      folded = a.startsWith('\n') || b.startsWith('\n');
    // what an instance brings to join it with something else is one line while it is folded
    const same = !own && folded ? others.find((l) => !model.joints.some((j) => j.name === l.id)) : undefined;
    if (same) return void same.joints.push(joint);
    const drives = model.drives.filter((d) => d.joint === joint && !d.off).map((d) => d.name);
    const link: GraphLink = { id: joint, joints: [joint], a, b, kind, off, drives, bend: others.length };
    links.push(link);
    between.set(key, [...others, link]);
  };
  for (const j of model.joints) add(j.name, j.bodies, kindOf('joints', j)?.label ?? '', !!j.off, true);
  for (const j of within.joints) add(j.name, j.bodies, j.kind, false, false);
  return links;
}
