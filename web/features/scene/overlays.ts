/** Drawn over the machine: ghosts of other postures and runs, paths of points, arrows of forces and speeds, and where a gauge reads. */
import * as THREE from 'three';
import type { Sign } from '@vim-pivot/core';
import type { Track } from '@/state/runs/track';
import type { Picture } from '@/workers/protocol';
import { Machine } from './machine';
import type { Stage } from './stage';

/** The longest arrow of a run beside the size of the machine. */
const LONGEST = 0.25;
const HEAD = 0.18;
/** Records that a path is drawn through at most. */
const MOST = 3000;
/** Times at which the largest speed of a run is looked for. */
const LOOKS = 200;

/** A force that acts at an instant: ground axes, N and m. */
export interface Arrow {
  load: boolean;
  force: readonly [number, number, number];
  at: readonly [number, number, number];
}

export interface Wanted {
  /** Postures that stand still. */
  ghosts: readonly Float64Array[];
  /** Tracks of other runs. */
  others: readonly Track[];
  paths: readonly string[];
  /** The largest force of the run, N; 0: none are drawn. */
  force: number;
  speeds: boolean;
  scale: number;
  signs: readonly Sign[];
}

export interface Colours {
  force: string;
  load: string;
  speed: string;
  path: string;
  sign: string;
}

export class Overlays {
  private readonly group = new THREE.Group();
  private ghosts: Machine[] = [];
  private others: { machine: Machine; track: Track }[] = [];
  private wanted: Wanted = { ghosts: [], others: [], paths: [], force: 0, speeds: false, scale: 1, signs: [] };
  private track: Track | undefined;
  private time = 0;
  private arrows: THREE.LineSegments;
  private readonly paths = new THREE.Group();
  private sign: THREE.LineSegments;
  private fast = 0;
  private acting: readonly Arrow[] = [];
  private readonly out: Float64Array;

  constructor(
    private readonly stage: Stage,
    private readonly picture: Picture,
    private readonly colours: Colours,
  ) {
    this.out = new Float64Array(7 * picture.bodies.length);
    this.arrows = this.segments(true);
    this.sign = this.segments(false);
    this.group.add(this.paths);
    stage.scene.add(this.group);
    stage.followers.add(this.follow);
  }

  private segments(coloured: boolean): THREE.LineSegments {
    const s = new THREE.LineSegments(
      new THREE.BufferGeometry(),
      new THREE.LineBasicMaterial(
        coloured
          ? { vertexColors: true, depthTest: false, transparent: true }
          : { color: this.colours.sign, depthTest: false, transparent: true },
      ),
    );
    s.frustumCulled = false;
    s.renderOrder = 3;
    this.group.add(s);
    return s;
  }

  dispose(): void {
    this.stage.followers.delete(this.follow);
    for (const m of [...this.ghosts, ...this.others.map((o) => o.machine)]) m.dispose();
    this.group.traverse((o) => {
      if (!(o instanceof THREE.Line)) return;
      o.geometry.dispose();
      (o.material as THREE.Material).dispose();
    });
    this.group.removeFromParent();
    this.stage.draw();
  }

  /** A pale twin of the machine, without what stands still. */
  private twin(posture: Float64Array): Machine {
    const m = new Machine(this.picture);
    m.see({ style: 'solid', lens: 'parallel', hidden: [''], clear: this.picture.bodies, labels: [] });
    m.pose(posture);
    this.group.add(m.group);
    return m;
  }

  /** @param track of the run shown */
  set(wanted: Wanted, track: Track | undefined): void {
    const before = this.wanted;
    this.wanted = wanted;
    this.track = track;
    if (wanted.ghosts !== before.ghosts) {
      for (const g of this.ghosts) {
        g.group.removeFromParent();
        g.dispose();
      }
      this.ghosts = wanted.ghosts.filter((p) => p.length === this.out.length).map((p) => this.twin(p));
    }
    if (wanted.others !== before.others) {
      for (const { machine } of this.others) {
        machine.group.removeFromParent();
        machine.dispose();
      }
      this.others = wanted.others.map((t) => ({ machine: this.twin(this.picture.posture), track: t }));
    }
    this.drawPaths();
    this.fast = wanted.speeds && track ? this.fastest(track) : 0;
    this.at(this.time);
  }

  /** The forces at the time shown. */
  act(arrows: readonly Arrow[]): void {
    this.acting = arrows;
    this.at(this.time);
  }

  /** Points of moving bodies. */
  private moving(): Picture['points'] {
    return this.picture.points.filter((p) => p.body >= 0);
  }

  private fastest(track: Track): number {
    let most = 0;
    for (let i = 0; i <= LOOKS; i++)
      for (const p of this.moving()) most = Math.max(most, this.speed(track, p, (track.end * i) / LOOKS).length());
    return most;
  }

  private readonly q = new THREE.Quaternion();
  /** Where something fixed in a body is, in a posture. */
  private where(posture: Float64Array, body: number, at: readonly [number, number, number]): THREE.Vector3 {
    const v = new THREE.Vector3(...at);
    if (body < 0) return v;
    const o = 7 * body;
    this.q.set(posture[o + 4]!, posture[o + 5]!, posture[o + 6]!, posture[o + 3]!);
    return v.applyQuaternion(this.q).add(new THREE.Vector3(posture[o], posture[o + 1], posture[o + 2]));
  }

  /** Speed of a point at a time, by its places a record before and after. */
  private speed(track: Track, p: Picture['points'][number], t: number): THREE.Vector3 {
    const h = track.end / Math.max(1, track.count - 1),
      from = Math.max(0, t - h),
      to = Math.min(track.end, t + h);
    track.at(from, this.out);
    const a = this.where(this.out, p.body, p.at);
    track.at(to, this.out);
    return this.where(this.out, p.body, p.at)
      .sub(a)
      .divideScalar(Math.max(1e-12, to - from));
  }

  private drawn = '';
  private drawPaths(): void {
    const { track } = this,
      key = `${this.wanted.paths.join('\n')}/${track?.count ?? 0}/${track?.end ?? 0}`;
    if (key === this.drawn) return;
    this.drawn = key;
    for (const c of [...this.paths.children]) {
      const l = c as THREE.Line;
      l.geometry.dispose();
      (l.material as THREE.Material).dispose();
      l.removeFromParent();
    }
    if (!track || track.count < 2) return;
    const n = Math.min(MOST, track.count);
    for (const name of this.wanted.paths) {
      const p = this.picture.points.find((x) => x.name === name);
      if (!p) continue;
      const at = new Float32Array(3 * n);
      for (let i = 0; i < n; i++) {
        track.at((track.end * i) / (n - 1), this.out);
        this.where(this.out, p.body, p.at).toArray(at, 3 * i);
      }
      const g = new THREE.BufferGeometry();
      g.setAttribute('position', new THREE.BufferAttribute(at, 3));
      const line = new THREE.Line(g, new THREE.LineBasicMaterial({ color: this.colours.path, depthTest: false, transparent: true }));
      line.frustumCulled = false;
      line.renderOrder = 2;
      this.paths.add(line);
    }
  }

  /** Stands at a time of the run. */
  at(time: number): void {
    this.time = time;
    // for a moment, while another is built, there is none on the stage
    if (!this.stage.machine) return;
    for (const { machine, track } of this.others) {
      const posture = new Float64Array(this.out.length);
      track.at(Math.min(time, track.end), posture);
      machine.pose(posture);
    }
    const lines: number[] = [],
      paint: number[] = [];
    const arrow = (from: THREE.Vector3, along: THREE.Vector3, colour: THREE.Color) => {
      if (along.length() < 1e-9 * this.picture.size) return;
      arrowLines(from, along, lines);
      while (paint.length < lines.length) paint.push(colour.r, colour.g, colour.b);
    };
    const longest = LONGEST * this.picture.size * this.wanted.scale,
      { force } = this.wanted;
    if (force > 0)
      for (const a of this.acting)
        arrow(
          new THREE.Vector3(...a.at),
          new THREE.Vector3(...a.force).multiplyScalar(longest / force),
          new THREE.Color(a.load ? this.colours.load : this.colours.force),
        );
    if (this.fast > 0 && this.track)
      for (const p of this.moving())
        arrow(
          this.stage.spotOf(p),
          this.speed(this.track, p, time).multiplyScalar(longest / this.fast),
          new THREE.Color(this.colours.speed),
        );
    put(this.arrows, lines, paint);
    this.drawSign();
    this.stage.draw();
  }

  private drawSign(): void {
    if (!this.stage.machine) return;
    const lines: number[] = [],
      n = this.picture.bodies.length;
    const own = (b: number) => (b >= n ? -1 : b);
    for (const sign of this.wanted.signs) {
      const from = this.stage.spotOf({ body: own(sign.at.body), at: sign.at.at as [number, number, number] }),
        size = 0.2 * this.picture.size;
      const axes = new THREE.Matrix4().extractRotation(this.stage.machine!.matrix(own(sign.carrier)));
      if (sign.to)
        lines.push(
          ...from.toArray(),
          ...this.stage.spotOf({ body: own(sign.to.body), at: sign.to.at as [number, number, number] }).toArray(),
        );
      else if (sign.direction) {
        const d = new THREE.Vector3(...sign.direction).applyMatrix4(axes).normalize();
        arrowLines(from, d.clone().multiplyScalar(size), lines);
        if (sign.turning) turnLines(from, d, 0.45 * size, lines);
      } else
        for (const d of [
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 1],
        ] as const)
          arrowLines(from, new THREE.Vector3(...d).applyMatrix4(axes).multiplyScalar(0.6 * size), lines);
    }
    put(this.sign, lines);
  }

  private readonly follow = (): void => this.drawSign();
}

/** A shaft, and a head of four strokes. */
function arrowLines(from: THREE.Vector3, along: THREE.Vector3, out: number[]): void {
  const tip = from.clone().add(along),
    length = along.length(),
    d = along.clone().divideScalar(length);
  const u = new THREE.Vector3(Math.abs(d.x) < 0.9 ? 1 : 0, Math.abs(d.x) < 0.9 ? 0 : 1, 0).cross(d).normalize(),
    v = d.clone().cross(u);
  out.push(...from.toArray(), ...tip.toArray());
  for (const [a, b] of [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const)
    out.push(
      ...tip.toArray(),
      ...tip
        .clone()
        .addScaledVector(d, -HEAD * length)
        .addScaledVector(u, 0.4 * HEAD * length * a)
        .addScaledVector(v, 0.4 * HEAD * length * b)
        .toArray(),
    );
}

/** Most of a turn about a direction by the right hand, with a head. */
function turnLines(centre: THREE.Vector3, d: THREE.Vector3, radius: number, out: number[]): void {
  const u = new THREE.Vector3(Math.abs(d.x) < 0.9 ? 1 : 0, Math.abs(d.x) < 0.9 ? 0 : 1, 0).cross(d).normalize(),
    v = d.clone().cross(u),
    N = 28,
    end = 1.6 * Math.PI;
  const at = (a: number, r: number) =>
    centre
      .clone()
      .addScaledVector(u, r * Math.cos(a))
      .addScaledVector(v, r * Math.sin(a));
  for (let i = 0; i < N; i++) out.push(...at((end * i) / N, radius).toArray(), ...at((end * (i + 1)) / N, radius).toArray());
  for (const r of [0.82, 1.18]) out.push(...at(end, radius).toArray(), ...at(end - 0.3, r * radius).toArray());
}

function put(segments: THREE.LineSegments, lines: readonly number[], paint?: readonly number[]): void {
  segments.geometry.dispose();
  segments.geometry = new THREE.BufferGeometry();
  segments.geometry.setAttribute('position', new THREE.BufferAttribute(Float32Array.from(lines), 3));
  if (paint) segments.geometry.setAttribute('color', new THREE.BufferAttribute(Float32Array.from(paint), 3));
  segments.visible = lines.length > 0;
}
