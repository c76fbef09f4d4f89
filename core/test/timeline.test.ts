/** Formulas of time seen as timelines. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { D, type Model, build } from '../src/index';
import {
  type Timeline,
  addSegment,
  dropSegment,
  levels,
  mirrored,
  moveSegment,
  readTimeline,
  reversed,
  setLevel,
  timelineAt,
  writeTimeline,
} from '../src/formula/timeline';
import { model } from './models';

const none = () => undefined;
const e = (list: readonly object[]) => list as never;
const read = (text: string) => readTimeline(text, D.angle, 'deg', none);
const DEG = Math.PI / 180;

const O = { name: 'O' };
/** What the engine makes of a formula: samples of the drive over the run. */
function samples(formula: string, parameters: object[] = []): { t: number; v: number }[] {
  const m: Model = {
    ...model('x', {
      parameters: e(parameters),
      points: e([O]),
      bodies: e([{ name: 'B', mass: '1 kg', inertia: ['1 kg*m^2', '1 kg*m^2', '1 kg*m^2'] }]),
      joints: e([{ name: 'J', kind: 'revolute', bodies: ['Ground', 'B'], at: ['O'] }]),
      drives: e([{ name: 'D', joint: 'J', prescribes: 'position', value: formula }]),
    }),
  };
  const live = build(m).resolution.live.get('$.drives[0].value')!,
    until = build(m).resolution.run.until;
  return [...live.samples!].map((v, i, all) => ({ t: (until * i) / (all.length - 1), v }));
}

const segments = fc.array(
  fc.record({
    pause: fc.integer({ min: 0, max: 400 }),
    length: fc.integer({ min: 5, max: 400 }),
    rise: fc.integer({ min: -180, max: 180 }),
    shape: fc.constantFrom('ramp' as const, 'S-curve' as const, 'cubic S-curve' as const),
  }),
  { maxLength: 5 },
);
const lines = fc
  .record({ start: fc.integer({ min: -90, max: 90 }), list: segments, repeats: fc.boolean() })
  .map(({ start, list, repeats }): Timeline => {
    let t = 0;
    const made = list.map(({ pause, length, rise, shape }) => {
      const from = t + pause / 1000;
      t = from + length / 1000;
      return { from, to: t, rise: rise * DEG, shape };
    });
    return { unit: 'deg', dim: D.angle, start: start * DEG, segments: made, ...(repeats && made.length > 0 ? { repeat: t + 0.1 } : {}) };
  });
const alike = (a: Timeline, b: Timeline, until = 4) => {
  for (let t = 0.0005; t < until; t += 0.0317) expect(timelineAt(a, t)).toBeCloseTo(timelineAt(b, t), 8);
};

describe('a timeline', () => {
  it('is read from the formula, and written as one that is the same for the engine', () => {
    fc.assert(
      fc.property(lines, (line) => {
        const text = writeTimeline(line),
          back = read(text)!;
        expect(back).toBeDefined();
        alike(line, back);
        expect(writeTimeline(back)).toBe(text);
      }),
    );
    const line = read('10 deg + 90 deg*smootherstep(0.1 s, 0.4 s, t) - 45 deg*linearstep(0.5 s, 0.7 s, t)')!;
    for (const { t, v } of samples(writeTimeline(line))) expect(v).toBeCloseTo(timelineAt(line, t), 9);
    const again = { ...line, repeat: 0.8 };
    for (const { t, v } of samples(writeTimeline(again)))
      if (Math.abs(t / 0.8 - Math.round(t / 0.8)) > 1e-6) expect(v).toBeCloseTo(timelineAt(again, t), 9);
  });
  it('keeps parameters and units as they are written', () => {
    const known = (n: string) => (n === 'swing' ? { value: 0.5, dim: D.angle } : undefined);
    const line = readTimeline('swing*smoothstep(0 s, 0.4 s, t) - 2*swing*smoothstep(500 ms, 1 s, t)', D.angle, 'deg', known)!;
    expect(levels(line)).toEqual([0, 0.5, -0.5]);
    expect(writeTimeline(line)).toBe('swing*smoothstep(0 s, 0.4 s, t) - 2*swing*smoothstep(0.5 s, 1 s, t)');
    expect(read('1.5 rad*linearstep(0 s, 1 s, t)')!.unit).toBe('rad');
    expect(writeTimeline(readTimeline('(100 mm/s)*linearstep(0 s, 1 s, t)', D.speed, 'mm/s', none)!)).toBe(
      '(100 mm/s)*linearstep(0 s, 1 s, t)',
    );
  });
  it.each([
    'sin(t/1 s) * 1 deg',
    '90 deg*smoothstep(0 s, 1 s, 2*t)',
    '90 mm*smoothstep(0 s, 1 s, t)',
    '90 deg*smoothstep(0 s, 1 s, t) + 5 deg*linearstep(0.5 s, 2 s, t)',
    '90 deg*smoothstep(0 s,',
    'lift(t)',
    '90 deg*smoothstep(1 s, 1 s, t)',
    '5 deg*linearstep(0 s, 1 s, t) + 5 deg*linearstep(1 s, 2 s, mod(t, 3 s))',
  ])('“%s” is none', (text) => {
    expect(read(text)).toBeUndefined();
  });
});

describe('hands on a timeline', () => {
  it('segments stay in order and apart, wherever an end is drawn', () => {
    fc.assert(
      fc.property(
        lines,
        fc.nat(),
        fc.constantFrom('from' as const, 'to' as const, 'both' as const),
        fc.double({ min: -1, max: 5, noNaN: true }),
        (line, n, what, t) => {
          fc.pre(line.segments.length > 0);
          const moved = moveSegment(line, n % line.segments.length, what, t);
          moved.segments.forEach((s, k) => {
            expect(s.to).toBeGreaterThan(s.from);
            expect(s.from).toBeGreaterThanOrEqual((moved.segments[k - 1]?.to ?? 0) - 1e-12);
            if (moved.repeat !== undefined) expect(s.to).toBeLessThanOrEqual(moved.repeat + 1e-12);
          });
          expect(levels(moved)).toEqual(levels(line));
        },
      ),
    );
  });
  it('one value that holds is set, the others stay', () => {
    fc.assert(
      fc.property(lines, fc.nat(), fc.double({ min: -3, max: 3, noNaN: true }), (line, n, value) => {
        const k = n % (line.segments.length + 1),
          now = levels(setLevel(line, k, value));
        levels(line).forEach((v, i) => expect(now[i]).toBeCloseTo(i === k ? value : v, 9));
      }),
    );
  });
  it('a segment added comes last, and taken out leaves the last value where another follows', () => {
    fc.assert(
      fc.property(lines, fc.nat(), (line, n) => {
        const more = addSegment(line, 4, 1);
        expect(more.segments.at(-1)!.from).toBeGreaterThanOrEqual(line.segments.at(-1)?.to ?? 0);
        fc.pre(line.segments.length > 1);
        const k = n % (line.segments.length - 1);
        expect(levels(dropSegment(line, k)).at(-1)).toBeCloseTo(levels(line).at(-1)!, 9);
      }),
    );
  });
  it('backwards twice, and mirrored twice, it is as it was', () => {
    fc.assert(
      fc.property(lines, (line) => {
        alike(reversed(reversed(line, 4), 4), line);
        alike(mirrored(mirrored(line)), line);
        const end = line.repeat ?? 4;
        for (let t = 0.0005; t < end; t += 0.0713) {
          expect(timelineAt(reversed(line, 4), t)).toBeCloseTo(timelineAt(line, end - t), 8);
          expect(timelineAt(mirrored(line), t)).toBeCloseTo(-timelineAt(line, t), 9);
        }
      }),
    );
  });
});
