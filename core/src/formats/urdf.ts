/**
 * URDF, the open description of robots as trees of links and joints (wiki.ros.org/urdf/XML), read and written. Links become bodies with the mass,
 * centre and inertia they state; joints stand where the tree puts them at its zero position.
 */
export { readUrdf } from './urdf/read';
export { writeUrdf } from './urdf/write';
