/**
 * What a page's engine needs from the start: resolving, building, checking, reading. A bundler takes everything a file names for reachable, so what comes later
 * (the solver, kits made of a selection, loads on a body) must not be named here: it has entries of its own.
 */
export { Refusal, refuse, type Diagnosis, jsonPath } from './diagnosis';
export { D, type Dimension } from './quantity/dimension';
export { formatNumber, formatQuantity, showComma, showIn, shownUnit, unitNames, unitOf, usesComma } from './quantity/units';
export { CONSTANTS, FUNCTIONS } from './formula/functions';
export { FAMILIES, type Family } from './model/families';
export type { Model } from './model/document';
export { type Kind, kindOf, kindsOf } from './model/kinds';
export { resolve } from './model/resolve';
export { geometriesOf, needs } from './model/stored';
export { geometryNamed } from './geometry/store';
import './elements';
export type { Channel, JointSides } from './elements/declarations';
export { build } from './system/build';
export type { Mechanism } from './system/mechanism';
export { assemble, frictionless } from './solve/assemble';
export { freeMotions } from './solve/motions';
export { type RecordLayout, layoutOfWidth, recordLayout, startFrom } from './results/record';
export { check } from './checks/check';
