/** What a reader of geometry needs of the core: welding, looking over, mass, and giving it to models. No elements. */
export { type MeshReport, doubt, inspect, massOf, weld } from './geometry/mesh';
export { contentName } from './geometry/bytes';
export { sidesOf } from './geometry/sides';
export { type Enclosure, LOOKED_AT, enclosure } from './geometry/crossing';
export { type MeshFault, meshFaults } from './geometry/faults';
export { provideGeometry } from './geometry/provide';
