import { AXIS_JOINT, ON_AXIS_WORDS, joint, onAxis } from './joint';
import { SLOT } from '../../model/symbol';

export const pointOnLine = joint({
  kind: 'point-on-line',
  label: 'Point on line',
  help: 'The second body’s point stays on the axis, a line fixed in the first body, and is free otherwise.',
  fields: AXIS_JOINT,
  freedoms: ['translation'],
  leaves: 4,
  symbol: SLOT,
  holds: ON_AXIS_WORDS,
  equations: onAxis,
});
