import type { Diagnosis } from '../../diagnosis';
import { type Model, complete } from '../../model/document';
import { readJoint } from './read-joint';
import { type Put, readBody, readShapes } from './read-link';
import { treeOf } from './tree';
import { clean, robotIn, text } from './xml';

/** @returns the model, and what of the file it leaves out. @throws Refusal */
export function readUrdf(source: string): { model: Model; left: Diagnosis[] } {
  const robot = robotIn(source);
  const { root, links, joints, poses } = treeOf(robot);
  const model = complete({
    format: 'vim-pivot-model',
    version: 1,
    name: clean(text(robot, 'name') ?? 'Robot'),
    ground: clean(root),
    run: { until: '2 s', every: '1 ms', accuracy: 1e-5 },
    loads: [{ name: 'Gravity', kind: 'gravity' }],
  });
  const put: Put = (family, e) => void model[family].push(e);
  const left: Diagnosis[] = [];
  for (const [name, l] of links) {
    if (name !== root) readBody(put, clean(name), l, poses.get(name)!);
    left.push(...readShapes(put, name, l, name === root));
  }
  for (const j of joints) left.push(...readJoint(put, j, joints));
  return { model, left };
}
