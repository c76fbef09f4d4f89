import type { Family } from '@vim-pivot/core/page';
import { familyLabel } from '@/state/document/elements';

/** What an empty tab tells a newcomer. */
const TEACH: Partial<Record<Family, string>> = {
  parameters: 'A parameter is a named quantity for use in formulas, such as arm = 40 mm.',
  tables: 'A table makes data points into a function for formulas: lift(t).',
  points: 'Points come first: name the pins and centres, and everything else hangs on them.',
  materials: 'A material gives shapes their density.',
  bodies: 'A body moves as one piece. Give it shapes between points, or type in its mass and inertia.',
  shapes: 'A shape gives a body its look and its mass: a link bar between two points, a plate, a box.',
  joints: 'A joint connects two bodies at a point and leaves some freedoms.',
  couplings: 'A coupling ties joint coordinates together: a belt, a gear ratio, a rack, a differential.',
  starts: 'A start value says where a joint stands, and how fast it moves, when the run begins.',
  drives: 'A drive prescribes the motion of a joint as a formula of time.',
  loads: 'Loads push and pull: gravity, forces, springs.',
  gauges: 'A gauge names a reading: a joint’s travel, a pin load, a torque.',
  scores: 'A score is one number from a gauge: a peak, a mean, a settling time.',
  limits: 'A limit is what a gauge must keep to: a motor’s rated torque, a pin’s allowed load.',
  workings: 'A working is a value worked out by hand, beside the score that was measured.',
  kits: 'A kit is a mechanism of its own that is put in as often as wanted: pick bodies and make a kit of them.',
  instances: 'An instance puts a kit into the machine, once, in a row, a ring or along a path; a mirror is one too.',
};

export const Teach = ({ family }: { family: Family }) => <>{`No ${familyLabel(family).toLowerCase()} yet. ${TEACH[family] ?? ''}`}</>;
