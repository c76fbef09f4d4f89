/** What can stand on a sheet. */
import { choice, grid, quantity, ref, refs, text } from '../../model/fields';
import { D } from '../../quantity/dimension';
import type { Kind } from '../../model/kinds';

/** Columns of a sheet. */
export const SHEET_COLUMNS = 12;

const ON = {
  sheet: ref('sheets', 'Sheet', 'The sheet it stands on.'),
  place: grid(4, 1, 1, 'Place', `Column, row, width and height, on a sheet of ${SHEET_COLUMNS} columns.`, {
    default: [[0, 0, 6, 8]],
    byHand: true,
  }),
} as const;
const GAUGES = refs('gauges', 0, 24, 'Gauges', 'What it shows.', { optional: true });

export const chartTile = {
  family: 'tiles',
  kind: 'chart',
  label: 'Chart',
  help: 'Curves of any number of gauges, one axis for each unit; over the time, over another gauge, or as a spectrum or histogram.',
  fields: {
    ...ON,
    gauges: GAUGES,
    as: choice(
      { curves: 'curves', envelope: 'envelopes (through the peaks)', spectrum: 'spectrum', histogram: 'histogram' },
      'Shown as',
      'What is made of the courses.',
    ),
    over: ref('gauges', 'Over', 'The gauge along the horizontal axis. Left out: the time.', {
      optional: true,
      when: { field: 'as', is: ['curves'] },
    }),
    runs: choice(
      { all: 'the run shown and those overlaid', difference: 'difference to the baseline run', one: 'only the run shown' },
      'Runs',
      'Which runs are drawn.',
    ),
    apart: choice({ no: 'all in one', yes: 'one below the other' }, 'Curves', 'Whether curves share a field.'),
    vertical: choice(
      { linear: 'linear', log: 'logarithmic' },
      'Vertical',
      'Its scale. A logarithmic one shows sizes, without their signs.',
    ),
    horizontal: choice({ linear: 'linear', log: 'logarithmic' }, 'Horizontal', 'Its scale.'),
    window: choice(
      { hann: 'Hann', 'flat-top': 'flat top', rectangular: 'none' },
      'Window',
      'Hann tells frequencies apart, flat top reads amplitudes, none is for whole periods.',
      { when: { field: 'as', is: ['spectrum'] } },
    ),
    bins: quantity(D.none, 'Classes', 'How many classes the range is cut into.', {
      default: 40,
      range: 'positive',
      when: { field: 'as', is: ['histogram'] },
    }),
    from: quantity(
      D.time,
      'From',
      'Only what was recorded from here on counts: a machine often starts otherwise than it goes on. Left out: from the start.',
      { optional: true, when: { field: 'as', is: ['envelope', 'spectrum', 'histogram'] } },
    ),
    to: quantity(D.time, 'Until', 'Only what was recorded up to here counts. Left out: to the end.', {
      optional: true,
      when: { field: 'as', is: ['envelope', 'spectrum', 'histogram'] },
    }),
    title: text('Title', 'Stands above the curves, also in pictures of the chart. Left out: none.', { optional: true }),
    low: quantity(
      undefined,
      'Vertical from',
      'Lower end of the vertical axis: a number with a unit sets the axis of that unit. Left out: what the curves need.',
      { optional: true },
    ),
    high: quantity(undefined, 'Vertical to', 'Upper end of the vertical axis.', { optional: true }),
    left: quantity(
      undefined,
      'Horizontal from',
      'Left end of the horizontal axis: a time, a frequency, or a value of the gauge over which it is drawn. Left out: all.',
      { optional: true },
    ),
    right: quantity(undefined, 'Horizontal to', 'Right end of the horizontal axis.', { optional: true }),
    legend: choice({ yes: 'shown', no: 'hidden' }, 'Legend', 'Names of the curves.'),
    digits: quantity(D.none, 'Digits', 'Significant digits of numbers at the axes. Left out: as many as are needed.', {
      optional: true,
      range: 'positive',
    }),
  },
} as const satisfies Kind;

export const motionTile = {
  family: 'tiles',
  kind: 'motion',
  label: 'Motion',
  help: 'The moving machine, seen from where you like.',
  fields: {
    ...ON,
    view: choice({ iso: 'iso', front: 'front', top: 'top', side: 'side' }, 'Seen from', 'It can be turned with the mouse.'),
    follow: ref('bodies', 'Camera goes with', 'The camera follows this body. Left out: it stands still.', { optional: true }),
    turning: choice(
      { no: 'it only follows', yes: 'it also turns with it' },
      'Camera',
      'Fixed to the body, the body stands still and the rest moves.',
      { when: { field: 'follow' } },
    ),
  },
} as const satisfies Kind;

export const tableTile = {
  family: 'tiles',
  kind: 'table',
  label: 'Table',
  help: 'Gauges in rows: their values at the time and at the cursors, lowest, highest and mean.',
  fields: { ...ON, gauges: GAUGES },
} as const satisfies Kind;

export const numberTile = {
  family: 'tiles',
  kind: 'number',
  label: 'Number',
  help: 'One number, large: a score, or a gauge at the time.',
  fields: {
    ...ON,
    score: ref('scores', 'Score', 'Left out: the gauge at the time.', { optional: true }),
    gauge: ref('gauges', 'Gauge', 'Where no score is named.', { optional: true }),
  },
} as const satisfies Kind;

export const noteTile = {
  family: 'tiles',
  kind: 'note',
  label: 'Note',
  help: 'Words on the sheet: those of its own note.',
  fields: ON,
} as const satisfies Kind;

export const pictureTile = {
  family: 'tiles',
  kind: 'picture',
  label: 'Picture',
  help: 'A picture from a file, kept with the project.',
  fields: { ...ON, image: text('Picture', 'PNG, JPEG or WebP, as a data address.', { optional: true, picture: true, byHand: true }) },
} as const satisfies Kind;
