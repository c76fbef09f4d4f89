/** The tree of links and joints, and where each link stands at the zero position. */
import { IDENTITY } from '../../geometry/vector';
import { type Node, type Pose, clean, list, one, poseOf, refuse, text, compose } from './xml';

export interface UrdfJoint {
  name: string;
  j: Node;
  parent: string;
  child: string;
  type: string;
}
export interface Tree {
  root: string;
  links: ReadonlyMap<string, Node>;
  joints: readonly UrdfJoint[];
  poses: ReadonlyMap<string, Pose>;
}

/** @throws Refusal when it is no tree */
export function treeOf(robot: Node): Tree {
  const links = new Map(list(robot.link).map((l) => [text(l, 'name') ?? refuse('A link has no name.'), l]));
  const joints = list(robot.joint).map((j): UrdfJoint => {
    const name = text(j, 'name') ?? refuse('A joint has no name.'),
      parent = text(one(j.parent), 'link'),
      child = text(one(j.child), 'link');
    if (!parent || !child || !links.has(parent) || !links.has(child))
      return refuse(`The joint “${clean(name)}” refers to a link that is not there.`);
    return { name, j, parent, child, type: text(j, 'type') ?? '' };
  });
  const above = new Map(joints.map((j) => [j.child, j]));
  if (above.size < joints.length) refuse('A link hangs on two joints: that is no tree.');
  const roots = [...links.keys()].filter((l) => !above.has(l));
  if (roots.length !== 1) refuse(roots.length === 0 ? CIRCLE : `The file has ${roots.length} roots; a robot has one.`);
  const root = roots[0]!;
  return { root, links, joints, poses: standing(root, joints) };
}

const CIRCLE = 'The links hang on each other in a circle.';

/** Each link from the one it hangs on. */
function standing(root: string, joints: readonly UrdfJoint[]): Map<string, Pose> {
  const poses = new Map<string, Pose>([[root, { at: [0, 0, 0], turn: IDENTITY }]]);
  for (let left = joints, grown = true; left.length > 0;) {
    if (!grown) refuse(CIRCLE);
    const next = left.filter((j) => !poses.has(j.parent));
    for (const j of left)
      if (poses.has(j.parent)) poses.set(j.child, compose(poses.get(j.parent)!, poseOf(j.j, `joint “${clean(j.name)}”`)));
    grown = next.length < left.length;
    left = next;
  }
  return poses;
}
