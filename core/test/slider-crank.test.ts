/** Slider-crank at constant speed against its closed form: motion, every pin load, torque and power. */
import { describe, expect, it } from 'vitest';
import { Readings, runModel } from '../src';
import { sliderCrank } from './models';

const r = 0.05,
  l = 0.2,
  w = (300 * Math.PI) / 30,
  g = 9.81;
const m1 = 1.2,
  m2 = 0.8,
  m3 = 1.5,
  J2 = 3e-3,
  c1 = r / 2,
  c2 = 0.4 * l;

/** Planar Newton-Euler by hand at crank angle q; loads act on the second body of each joint. */
function closedForm(q: number) {
  const s = Math.sin(q),
    c = Math.cos(q);
  const sb = (-r * s) / l,
    cb = Math.sqrt(1 - sb * sb); // rod angle b below the axis
  const b1 = (-r * w * c) / (l * cb);
  const b2 = (r * w * w * s + l * sb * b1 * b1) / (l * cb);
  const x = r * c + l * cb;
  const v = -r * w * s - l * sb * b1;
  const a = -r * w * w * c - l * cb * b1 * b1 - l * sb * b2;
  // accelerations of the centres
  const a1x = -c1 * w * w * c,
    a1y = -c1 * w * w * s;
  const a2x = -r * w * w * c - c2 * (cb * b1 * b1 + sb * b2),
    a2y = -r * w * w * s + c2 * (-sb * b1 * b1 + cb * b2);
  // wrist load on the slider (X, Y); the rail carries −Y plus the weight
  const X = m3 * a;
  // rod: moments about the crank pin give Y of the rod on the slider
  const I = J2 * b2 + m2 * c2 * (cb * a2y - sb * a2x) + m2 * g * c2 * cb;
  const Y = (-I + X * l * sb) / (l * cb);
  const px = m2 * a2x + X,
    py = m2 * a2y + m2 * g + Y; // crank on rod
  const bx = m1 * a1x + px,
    by = m1 * a1y + m1 * g + py; // ground on crank
  const torque = m1 * g * c1 * c + r * c * py - r * s * px;
  return {
    x,
    v,
    a,
    'Wrist x': X,
    'Wrist y': Y,
    'Crank joint x': px,
    'Crank joint y': py,
    'Bearing x': bx,
    'Bearing y': by,
    'Slide x': 0,
    'Slide y': m3 * g - Y,
    Torque: torque,
    Power: torque * w,
  };
}

describe('slider-crank at constant speed', () => {
  const run = runModel(sliderCrank(r, l));
  const angle = run.gauge('Angle');
  const reference = Array.from(angle, (q) => closedForm(q));

  it.each(Object.keys(closedForm(0)))('%s agrees with the closed form to 1e-6 of its range', (name) => {
    const key = name as keyof ReturnType<typeof closedForm>;
    const ours = run.gauge(name);
    const size = Math.max(1, ...reference.map((x) => Math.abs(x[key])));
    const scale = name === 'Slide x' ? 1 : Math.max(...reference.map((x) => Math.abs(x[key]))) || size;
    for (let i = 0; i < ours.length; i++) expect(Math.abs(ours[i]! - reference[i]![key]) / scale).toBeLessThan(1e-6);
  });

  it('turns at the prescribed speed and counts whole turns', () => {
    expect(angle.at(-1)!).toBeCloseTo(w * 0.4, 9);
    expect(angle.at(-1)! / (2 * Math.PI)).toBeGreaterThan(1.9);
  });

  it('holds the constraints at every recorded time', () => {
    const { width } = run.layout;
    const readings = new Readings(run.mechanism, run.layout);
    for (const chunk of run.chunks)
      for (let p = 0; p < chunk.length; p += width) {
        const { position, velocity } = readings.residuals(chunk.subarray(p, p + width));
        expect(position).toBeLessThan(1e-8);
        expect(velocity).toBeLessThan(1e-7);
      }
  });

  it('stands still at t = 0 when its drive starts smoothly', () => {
    const m = sliderCrank(r, l);
    m.drives[0]!.value = '300 rpm * smoothstep(0 s, 0.1 s, t)';
    const start = runModel(m, { until: 0.2 });
    expect(start.gauge('v')[0]).toBe(0);
    expect(Math.abs(start.gauge('v')[1]!)).toBeLessThan(0.01);
    // at rest: the crank's own weight and the share of the rod that the crank pin carries
    expect(start.gauge('Bearing y')[0]!).toBeCloseTo((m1 + m2 * (1 - c2 / l)) * g, 6);
  });

  it('records at the times asked for, whatever the steps', () => {
    expect(run.time.length).toBe(401);
    run.time.forEach((t, i) => expect(t).toBeCloseTo(i * 1e-3, 12));
    const coarse = runModel(sliderCrank(r, l), { every: 0.1 });
    expect(coarse.end.statistics.steps).toBe(run.end.statistics.steps);
    expect(coarse.gauge('x').at(-1)).toBeCloseTo(run.gauge('x').at(-1)!, 12);
  });
});
