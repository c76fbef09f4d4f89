/** The registry: every kind of element there is. Adding a kind is adding a file and a line here. */
import { register } from '../model/kinds';
import { body, material, parameter, point } from './basics';
import { drive } from './drives/drive';
import { driveEffort } from './gauges/drive-effort';
import { energy } from './gauges/energy';
import { jointCoordinate } from './gauges/joint-coordinate';
import { jointReaction } from './gauges/joint-reaction';
import { pointMotion } from './gauges/point-motion';
import { cylindrical } from './joints/cylindrical';
import { fixed } from './joints/fixed';
import { prismatic } from './joints/prismatic';
import { revolute } from './joints/revolute';
import { spherical } from './joints/spherical';
import { force } from './loads/force';
import { gravity } from './loads/gravity';
import { spring } from './loads/spring';
import { box } from './shapes/box';
import { cylinder } from './shapes/cylinder';
import { link } from './shapes/link';
import { plate } from './shapes/plate';
import { sphere } from './shapes/sphere';

export const KINDS = [
  parameter, point, material, body,
  link, plate, box, cylinder, sphere,
  revolute, prismatic, cylindrical, spherical, fixed,
  drive,
  gravity, force, spring,
  pointMotion, jointCoordinate, jointReaction, driveEffort, energy,
] as const;

register(KINDS as never);
