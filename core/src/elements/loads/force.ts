import { forceInBody, forceInGround } from '../../equations/laws/on-body';
import { StatedForce, taken } from '../../equations/laws/stated-force';
import { unit } from '../../geometry/vector';
import { choice, quantity, ref, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { load } from './load';

export const force = load({
  kind: 'force',
  label: 'Force',
  tells: ['effort'],
  help: 'A force at a point of a body.',
  fields: {
    body: ref('bodies', 'On', 'The body it pushes.'),
    at: ref('points', 'At', 'Where it acts, fixed in that body.'),
    direction: vector(D.none, 'Direction', 'Direction as drawn, ground axes.', { direction: true, default: [0, 0, 1] }),
    follows: choice(
      { ground: 'the ground', body: 'the body' },
      'Direction fixed in',
      'Whether the direction stays or turns with the body.',
    ),
    magnitude: quantity(
      D.force,
      'Magnitude',
      'A value or a formula of time t; positive pushes along the direction. Gauges may be used as {Name}.',
      { time: true, gauges: true },
    ),
  },
  force: (v, m) => {
    const carrier = v.follows === 'body' ? v.body : m.ground;
    return new StatedForce(
      v.follows === 'body' ? forceInBody : forceInGround,
      [{ bodies: [m.index(v.body)], values: [...m.place(v.at, v.body), ...m.direction(unit(v.direction), carrier)] }],
      [taken(m.magnitude(v.magnitude))],
      { readings: { turns: () => false, positive: { effort: 'Positive along its direction.' } } },
    );
  },
  outline: (v, m) => {
    const carrier = v.follows === 'body' ? v.body : m.ground;
    return {
      type: 'arrow',
      at: { body: m.index(v.body), at: m.place(v.at, v.body) },
      direction: m.direction(unit(v.direction), carrier),
      carrier: m.index(carrier),
    };
  },
});
