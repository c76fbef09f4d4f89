/** The analyses beyond the dynamic run. They stand apart because they bring a library for eigenvalues along. */
// what the engine has from the start stays in one piece, which is smaller
import './engine';
export { analyse } from './solve/run';
export { type Equilibrium, equilibrium } from './solve/statics';
export { type Equilibria, equilibria } from './solve/equilibria';
export { type Mode, type Modes, modes } from './solve/modes';
export { type LinearSystem, type Root, frequencyResponse, linearSystem, poles, zeros } from './solve/linear-system';
export { type Range, type RangeEnd, range } from './solve/ranges';
export { type FittedMode, type Identified, identify } from './results/identify';
export { ANALYSES, analysed, declared } from './studies/analyses';
export {
  type About,
  type Analysis,
  type Curves,
  type Declared,
  type Found,
  type Given,
  type Item,
  type Shown,
  type Setting,
  type Table,
} from './studies/analyses/analysis';
