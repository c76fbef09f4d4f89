/**
 * The public face of the core. Reading model files and writing CSV stand apart, in `@vim-pivot/core/file` and `/csv`: their libraries are large and
 * seldom needed.
 */
export * from './diagnosis';
export * from './quantity/dimension';
export * from './quantity/units';
export { CONSTANTS, FUNCTIONS } from './formula/functions';
export { FormulaError, parse, renameIn } from './formula/parse';
export { amountOf } from './formula/amount';
export { type Binding, compile } from './formula/compile';
export { Program } from './formula/program';
export * from './model/document';
export * from './model/families';
export type * from './model/fields';
export { type Kind, kindOf, kindsOf } from './model/kinds';
export { matching } from './model/patterns';
export { rename, renameInInstances } from './model/rename';
export { homeOf } from './model/instance-names';
export { placingsOf } from './model/instances';
export { kitOf } from './model/kit-of';
export { geometriesOf, needs } from './model/stored';
export { independent } from './model/independent';
export { type LiveValue, type Resolution, resolve } from './model/resolve';
export type { Features, MeshEdge, MeshFace } from './geometry/features';
export { type Geometry, type MeshReport, geometryOf, inspect, weld } from './geometry/mesh';
export { sidesOf } from './geometry/sides';
export type { Mesh } from './geometry/solid';
export { bytesOf, contentName, geometryFrom } from './geometry/bytes';
export { geometryNamed } from './geometry/store';
export { provideGeometry } from './geometry/provide';
import { bringContacts } from './contacts';
import { bringGaps } from './surfaces';
import './elements';
export type { Channel, Characteristic, JointSides, Outline, Sign, Snapshot } from './elements/declarations';
export { build } from './system/build';
export type { Built, BodyInfo, Mechanism, ShapeInfo } from './system/mechanism';
export { assemble, frictionless } from './solve/assemble';
export { type Mobility, mobility } from './solve/mobility';
export { simulate } from './solve/dynamics';
export type { RunEvent, RunOptions } from './solve/run-events';
export type { Happening } from './solve/events';
export { type FreeMotion, freeMotions } from './solve/motions';
export { pull } from './solve/pull';
export * from './model/run-settings';
export * from './results/record';
export * from './results/scores';
export * from './results/score-faults';
export { RUN_STATUSES, type RunStatus } from './results/status';
export { type BodyLoad, type BodyLoads, bodyLoads, snapshotChannel } from './results/body-loads';
export { Readings, times, withGauges } from './results/readings';
export { type Report, check } from './checks/check';
export { runModel, type FinishedRun } from './studies/run-model';
export * from './results/measures';
export { Pace, holdUp } from './solve/hold-up';
export { recordCount } from './solve/record-times';

bringGaps();
bringContacts();
