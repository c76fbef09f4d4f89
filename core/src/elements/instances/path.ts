import { refuse } from '../../diagnosis';
import { curves } from '../../equations/curves/curves';
import type { Curve } from '../../geometry/curve';
import { type Vec3, cross, dot, fromColumns, norm, scale, sub, unit } from '../../geometry/vector';
import { choice, grid, quantity, refs, vector } from '../../model/fields';
import { D } from '../../quantity/dimension';
import { radiiAt } from '../joints/curve';
import { COUNT, JOINED, OF_KIT, instance } from './instance';

export const path = instance({
  kind: 'path',
  label: 'Row along a path',
  makes: 'many',
  needs: 'curves',
  help: 'A kit repeated along a path through points, or as a belt or chain round wheels: each member’s x is along its chord, its z on the side of the normal. Of a belt the normal is the axis of the wheels, and −y points outwards.',
  fields: {
    ...OF_KIT,
    ...COUNT,
    through: refs('points', 2, 2000, 'Path through', 'Points of the path in order, in the ground (in a kit: in its own axes).'),
    ends: choice(
      { open: 'open', closed: 'closed' },
      'Path',
      'A closed path goes on from its last point to its first; the last member is then joined to the first.',
    ),
    course: choice(
      { smooth: 'smooth, through all points', rounded: 'straight lines, corners rounded', wheels: 'a belt round wheels at the points' },
      'Course',
      'How the path goes from point to point. A belt is closed and goes round the wheels counter-clockwise about the normal, which is the direction of their axes.',
    ),
    corner: quantity(D.length, 'Radius', 'Radius of the arc at each corner, or of the wheels.', {
      range: 'positive',
      default: '20 mm',
      when: { field: 'course', is: ['rounded', 'wheels'] },
    }),
    corners: grid(
      1,
      0,
      2000,
      'Radii, mm',
      'One for each point in order, instead of the one radius. A wheel outside the belt has a negative one.',
      { optional: true, when: { field: 'course', is: ['rounded', 'wheels'] } },
    ),
    spacing: choice(
      { even: 'even chords, from end to end', chord: 'a given chord', along: 'a given length along the path' },
      'Spacing',
      'A chord is the straight distance between the origins of neighbours.',
    ),
    chord: quantity(D.length, 'Distance', 'From one member’s origin to the next.', {
      range: 'positive',
      default: '50 mm',
      when: { field: 'spacing', is: ['chord', 'along'] },
    }),
    normal: vector(D.none, 'Normal', 'Side to which the members’ z points.', { direction: true, default: [0, 0, 1] }),
    ...JOINED,
  },
  members(v, count, at) {
    const belt = v.course === 'wheels',
      closed = v.ends === 'closed' || belt;
    if (belt && v.through.length < 2) refuse({ code: 'belt-wheels', message: 'A belt needs at least two wheels.' });
    if (closed && !belt && v.through.length < 3) refuse({ code: 'curve-points', message: 'A closed path needs at least three points.' });
    const points = v.through.map(at);
    points.forEach((p, i) => {
      const next = i + 1 < points.length ? i + 1 : closed ? 0 : -1;
      if (next >= 0 && norm(sub(p, points[next]!)) < 1e-9)
        refuse({
          code: 'curve-points',
          message: `“${v.through[i]!}” and “${v.through[next]!}” are at the same place, so the path has no direction there.`,
          remedy: 'Leave one of them out.',
        });
    });
    const { Spline, rounded, roundWheels, chords, fittingChord, pathLength } = curves();
    const radii = () => radiiAt(points.length, v.corner ?? 0, v.corners);
    const curve: Curve = belt
      ? roundWheels(points, radii(), v.normal, v.through)
      : v.course === 'rounded'
        ? rounded(points, radii(), closed, v.through)
        : new Spline(points, closed);
    const chord = v.spacing === 'even' ? fittingChord(curve, count) : v.chord;
    const places = chords(curve, chord, count, v.spacing === 'along' ? 'length' : 'chord');
    if (places.length <= count)
      refuse({
        code: 'path-short',
        message: `The path is ${(pathLength(curve) * 1000).toPrecision(5)} mm long: only ${places.length - 1} of ${count} members have room on it.`,
        remedy: 'Make it longer, take a shorter distance or fewer members, or space them evenly.',
      });
    const gap = norm(sub(places[count]!, places[0]!));
    if (closed && v.joined !== 'none' && gap > 1e-6 * chord)
      refuse({
        code: 'path-gap',
        message: `${count} chords of ${(chord * 1000).toPrecision(6)} mm do not close the path: ${(gap * 1000).toPrecision(3)} mm are left over.`,
        remedy: `A chord of ${(fittingChord(curve, count) * 1000).toPrecision(8)} mm closes it; or space them evenly.`,
      });
    return Array.from({ length: count }, (_, i) => {
      const origin = places[i]!,
        x = unit(sub(places[i + 1]!, origin));
      const z = sub(v.normal, scale(x, dot(v.normal, x)));
      if (norm(z) < 1e-9 * norm(v.normal))
        refuse({
          code: 'path-normal',
          message: `The normal lies along the path at member ${i + 1}.`,
          remedy: 'Choose a normal that stands square to the path.',
        });
      return { origin, turn: fromColumns(x, cross(unit(z), x) as Vec3, unit(z)) };
    });
  },
});
