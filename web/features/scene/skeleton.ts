/**
 * The mechanism as a kinematic diagram in space: members as lines between their joints, joints as symbols after ISO 3952 from their
 * declarations, the frame hatched. Strokes hang on bodies by the same textures as the solids, so that playing costs nothing more.
 */
import * as THREE from 'three';
import { kindsOf } from '@vim-pivot/core/page';
import { spotsOf } from '@/state/scene/strokes';
import type { Side } from '@/workers/protocol';
import { type Machine, posed, texelOf, unbounded } from './machine';

const SIDES = 5;
type Line = THREE.Vector3[];

/** Pointer position on a canvas. */
interface Screen {
  onScreen(p: THREE.Vector3): [number, number];
}

export class Skeleton {
  readonly group = new THREE.Group();
  private readonly disposables: { dispose(): void }[] = [];
  private readonly segments: { body: number; a: THREE.Vector3; b: THREE.Vector3 }[] = [];
  private readonly positions: number[] = [];
  /** The body each corner belongs to. */
  private readonly owners: number[] = [];
  private readonly indices: number[] = [];
  private readonly size: number;

  constructor(
    readonly machine: Machine,
    private readonly up: THREE.Vector3,
  ) {
    this.size = 0.022 * machine.picture.size;
    this.members();
    this.joints();
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.Float32BufferAttribute(this.positions, 3));
    geometry.setAttribute('body', new THREE.BufferAttribute(Uint16Array.from(this.owners.flatMap(texelOf)), 2));
    const paints = new THREE.BufferAttribute(new Uint8Array(4 * this.owners.length), 4, true);
    geometry.setAttribute('paint', paints);
    const repaint = () => {
      this.owners.forEach((b, k) => (paints.array as Uint8Array).set(machine.paintOf(b, undefined, machine.shows(b) ? 1 : 0), 4 * k));
      paints.needsUpdate = true;
    };
    repaint();
    machine.repainted = repaint;
    geometry.setIndex(this.indices);
    const material = posed(new THREE.MeshBasicMaterial(), machine.poses, 'stroke');
    this.disposables.push(geometry, material);
    this.group.add(unbounded(new THREE.Mesh(geometry, material)));
  }

  /** A line as a tube fixed in a body. */
  private stroke(body: number, line: Line, radius: number): void {
    const d = new THREE.Vector3(),
      u = new THREE.Vector3(),
      v = new THREE.Vector3(),
      p = new THREE.Vector3();
    for (let k = 0; k + 1 < line.length; k++) {
      const a = line[k]!,
        b = line[k + 1]!;
      d.subVectors(b, a);
      if (d.lengthSq() === 0) continue;
      d.normalize();
      u.set(Math.abs(d.x) < 0.6 ? 1 : 0, Math.abs(d.x) < 0.6 ? 0 : 1, 0)
        .cross(d)
        .normalize();
      v.crossVectors(d, u);
      const first = this.positions.length / 3;
      for (const end of [a, b]) {
        for (let i = 0; i < SIDES; i++) {
          const w = (2 * Math.PI * i) / SIDES;
          p.copy(end)
            .addScaledVector(u, radius * Math.cos(w))
            .addScaledVector(v, radius * Math.sin(w));
          this.positions.push(p.x, p.y, p.z);
          this.owners.push(body);
        }
      }
      for (let i = 0; i < SIDES; i++) {
        const j = (i + 1) % SIDES;
        this.indices.push(first + i, first + j, first + SIDES + j, first + i, first + SIDES + j, first + SIDES + i);
      }
    }
  }

  /** Members: a line between two joints, a closed outline through more, a line to the centre of mass from a single one. */
  private members(): void {
    const { joints, outlines, bodies } = this.machine.picture;
    const places = new Map<number, THREE.Vector3[]>(bodies.map((_, i) => [i, []]));
    const add = (body: number, at: readonly [number, number, number]) => {
      const list = places.get(body),
        p = new THREE.Vector3(...at);
      if (list && !list.some((q) => q.distanceTo(p) < 0.2 * this.size)) list.push(p);
    };
    for (const j of joints) for (const s of j.sides) add(s.body, s.at);
    for (const { outline } of outlines) if (outline.type === 'coil') for (const s of [outline.from, outline.to]) add(s.body, s.at);
    for (const [body, list] of places) {
      if (list.length === 1) list.push(new THREE.Vector3());
      const round = list.length > 2 ? inOrder(list) : list;
      for (let k = 0; k < (round.length > 2 ? round.length : 1); k++) {
        const a = round[k],
          b = round[(k + 1) % round.length];
        if (!a || !b || a === b) continue;
        const d = new THREE.Vector3().subVectors(b, a),
          l = d.length();
        this.segments.push({ body, a, b });
        // it ends at the rims of its pins
        const gap = l > 3 * this.size ? this.size : 0;
        d.normalize();
        this.stroke(body, [a.clone().addScaledVector(d, gap), b.clone().addScaledVector(d, -gap)], 0.22 * this.size);
      }
    }
  }

  private joints(): void {
    const kinds = new Map(kindsOf('joints').map((k) => [k.kind, k]));
    for (const j of this.machine.picture.joints) {
      for (const s of kinds.get(j.kind)?.symbol ?? []) {
        const side = j.sides[s.on === 'a' ? 0 : 1];
        this.stroke(
          side.body,
          spotsOf(s).map((p) => this.inSide(side, p)),
          0.13 * this.size,
        );
      }
      for (const side of j.sides) if (side.body < 0) this.hatch(side);
    }
  }

  private inSide({ at, frame: f }: Side, [x, y, z]: readonly [number, number, number]): THREE.Vector3 {
    const s = this.size;
    return new THREE.Vector3(
      at[0] + s * (f[0]! * x + f[1]! * y + f[2]! * z),
      at[1] + s * (f[3]! * x + f[4]! * y + f[5]! * z),
      at[2] + s * (f[6]! * x + f[7]! * y + f[8]! * z),
    );
  }

  /** The frame under a joint. */
  private hatch({ at, frame }: Side): void {
    const s = this.size,
      axis = new THREE.Vector3(frame[2], frame[5], frame[8]);
    const along = new THREE.Vector3().crossVectors(this.up, axis);
    if (along.lengthSq() < 1e-6) along.set(this.up.y, this.up.z, this.up.x).cross(this.up);
    along.normalize();
    const spot = (x: number, z: number) => new THREE.Vector3(...at).addScaledVector(along, s * x).addScaledVector(this.up, s * z);
    this.stroke(-1, [spot(-1.9, -1.9), spot(1.9, -1.9)], 0.13 * s);
    this.stroke(-1, [spot(-0.75, -0.7), spot(-1.2, -1.9)], 0.13 * s);
    this.stroke(-1, [spot(0.75, -0.7), spot(1.2, -1.9)], 0.13 * s);
    for (let x = -1.5; x <= 1.9; x += 0.85) this.stroke(-1, [spot(x, -1.9), spot(x - 0.7, -2.7)], 0.09 * s);
  }

  /** The member nearest to a place on the canvas. */
  pick(
    x: number,
    y: number,
    screen: Screen,
  ): { body: number; shape: string; index: number; triangle: number; where: THREE.Vector3 } | undefined {
    let best: { body: number; shape: string; index: number; triangle: number; where: THREE.Vector3 } | undefined,
      least = 7;
    for (const s of this.segments) {
      if (!this.machine.shows(s.body)) continue;
      const m = this.machine.matrix(s.body),
        a = s.a.clone().applyMatrix4(m),
        b = s.b.clone().applyMatrix4(m);
      const [ax, ay] = screen.onScreen(a),
        [bx, by] = screen.onScreen(b);
      const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
      const t = l2 > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2)) : 0;
      const away = Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y);
      if (away >= least) continue;
      least = away;
      best = { body: s.body, shape: '', index: -1, triangle: -1, where: a.lerp(b, t) };
    }
    return best;
  }

  dispose(): void {
    this.machine.repainted = undefined;
    for (const d of this.disposables) d.dispose();
  }
}

/** Points in the order in which they lie round their middle, seen along their plane's normal. */
function inOrder(points: readonly THREE.Vector3[]): THREE.Vector3[] {
  const middle = points.reduce((s, p) => s.add(p), new THREE.Vector3()).divideScalar(points.length);
  const x = points[0]!.clone().sub(middle),
    normal = new THREE.Vector3();
  for (const p of points) {
    const n = new THREE.Vector3().crossVectors(x, p.clone().sub(middle));
    if (n.lengthSq() > normal.lengthSq()) normal.copy(n);
  }
  const y = new THREE.Vector3().crossVectors(normal, x);
  const angle = (p: THREE.Vector3) => {
    const d = p.clone().sub(middle);
    return Math.atan2(d.dot(y) / (y.length() || 1), d.dot(x) / (x.length() || 1));
  };
  return [...points].sort((a, b) => angle(a) - angle(b));
}
