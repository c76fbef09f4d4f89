/** The registry: every kind of element there is. Adding a kind is adding a file and a line here. */
import { register } from '../model/kinds';
import { body, kit, material, mount, parameter, point } from './basics';
import { mirror } from './instances/mirror';
import { path } from './instances/path';
import { ring } from './instances/ring';
import { row } from './instances/row';
import { single } from './instances/single';
import { coupler } from './couplings/coupler';
import { gearPair } from './couplings/gear-pair';
import { rack } from './couplings/rack';
import { drive } from './drives/drive';
import { angleGauge } from './gauges/angle';
import { bodyMotion } from './gauges/body-motion';
import { distanceGauge } from './gauges/distance';
import { gapGauge } from './gauges/gap';
import { formulaGauge } from './gauges/formula-gauge';
import { loadForce } from './gauges/load-force';
import { loadReading } from './gauges/load-reading';
import { momentum } from './gauges/momentum';
import { contactReading } from './gauges/contact-reading';
import { couplingEffort } from './gauges/coupling-effort';
import { driveEffort } from './gauges/drive-effort';
import { energy } from './gauges/energy';
import { jointCoordinate } from './gauges/joint-coordinate';
import { jointReaction } from './gauges/joint-reaction';
import { loadEnergy } from './gauges/load-energy';
import { pointMotion } from './gauges/point-motion';
import { cam } from './joints/cam';
import { constantVelocity } from './joints/constant-velocity';
import { cylindrical } from './joints/cylindrical';
import { distance } from './joints/distance';
import { fixed } from './joints/fixed';
import { parallelAxes } from './joints/parallel-axes';
import { perpendicularAxes } from './joints/perpendicular-axes';
import { planar } from './joints/planar';
import { pointOnCurve } from './joints/point-on-curve';
import { pointOnLine } from './joints/point-on-line';
import { pointOnPlane } from './joints/point-on-plane';
import { prismatic } from './joints/prismatic';
import { revolute } from './joints/revolute';
import { sameOrientation } from './joints/same-orientation';
import { screw } from './joints/screw';
import { spherical } from './joints/spherical';
import { universal } from './joints/universal';
import { actuator } from './loads/actuator';
import { beam } from './loads/beam';
import { bushing } from './loads/bushing';
import { cable } from './loads/cable';
import { contact } from './loads/contact';
import { drag } from './loads/drag';
import { field } from './loads/field';
import { float } from './loads/float';
import { force } from './loads/force';
import { gravity } from './loads/gravity';
import { jointFriction } from './loads/joint-friction';
import { jointSpring } from './loads/joint-spring';
import { jointStop } from './loads/joint-stop';
import { lineForce } from './loads/line-force';
import { spring } from './loads/spring';
import { torque } from './loads/torque';
import { limit } from './limits/limit';
import { score } from './scores/score';
import { working } from './workings/working';
import { sheet } from './sheets/sheet';
import { chartTile, motionTile, noteTile, numberTile, pictureTile, tableTile } from './sheets/tiles';
import { start } from './starts/start';
import { table } from './tables/table';
import { box } from './shapes/box';
import { capsule } from './shapes/capsule';
import { combined } from './shapes/combined';
import { cone } from './shapes/cone';
import { cylinder } from './shapes/cylinder';
import { extrudedProfile } from './shapes/extruded-profile';
import { floor } from './shapes/floor';
import { gearBlank } from './shapes/gear-blank';
import { link } from './shapes/link';
import { mesh } from './shapes/mesh';
import { plate } from './shapes/plate';
import { revolvedProfile } from './shapes/revolved-profile';
import { sphere } from './shapes/sphere';
import { taperedBar } from './shapes/tapered-bar';
import { torus } from './shapes/torus';
import { tube } from './shapes/tube';
import { wheel } from './shapes/wheel';
import { wire } from './shapes/wire';

export const KINDS = [
  parameter,
  table,
  point,
  material,
  body,
  mount,
  link,
  taperedBar,
  plate,
  box,
  cylinder,
  tube,
  cone,
  sphere,
  capsule,
  torus,
  floor,
  wheel,
  gearBlank,
  extrudedProfile,
  revolvedProfile,
  wire,
  mesh,
  combined,
  revolute,
  prismatic,
  cylindrical,
  spherical,
  fixed,
  universal,
  planar,
  constantVelocity,
  screw,
  pointOnLine,
  pointOnPlane,
  parallelAxes,
  perpendicularAxes,
  sameOrientation,
  distance,
  pointOnCurve,
  cam,
  coupler,
  gearPair,
  rack,
  start,
  drive,
  gravity,
  force,
  torque,
  lineForce,
  spring,
  jointSpring,
  jointFriction,
  jointStop,
  contact,
  actuator,
  bushing,
  field,
  beam,
  cable,
  drag,
  float,
  pointMotion,
  bodyMotion,
  distanceGauge,
  gapGauge,
  angleGauge,
  loadForce,
  loadReading,
  contactReading,
  momentum,
  formulaGauge,
  jointCoordinate,
  jointReaction,
  driveEffort,
  couplingEffort,
  energy,
  loadEnergy,
  score,
  limit,
  working,
  sheet,
  chartTile,
  motionTile,
  tableTile,
  numberTile,
  noteTile,
  pictureTile,
  kit,
  single,
  row,
  ring,
  path,
  mirror,
] as const;

register(KINDS as never);
