/** Joints and loads drawn over the machine: pins as rings, slides as bars, drives as turning arrows, springs as coils. */
import * as THREE from 'three';
import { kindOf } from '@vim-pivot/core/page';
import type { Picture } from '@/workers/protocol';
import type { Machine } from './machine';

/** A place fixed in a body. */
interface Spot {
  body: number;
  at: readonly [number, number, number];
}

export interface Ink {
  ink: string;
  sheet: string;
  accent: string;
  calm: string;
}

const MOST_POINTS = 300;
const COIL_TURNS = 9;
const COIL_POINTS = COIL_TURNS * 12 + 5;
/** Of a bent beam. */
const BENT_POINTS = 13;
const ARC_POINTS = 28;
const SPIRAL_TURNS = 2.5,
  SPIRAL_POINTS = 61;
/** Radius of a spiral, and how far behind a slide its coil begins, in parts of the machine's size. */
const SPIRAL = 0.05,
  BEHIND = 0.12;

/** Two directions square to one and to each other. */
function across(d: THREE.Vector3, u: THREE.Vector3, v: THREE.Vector3): void {
  u.set(0, 1, 0).cross(d);
  if (u.lengthSq() < 1e-6) u.set(1, 0, 0).cross(d);
  u.normalize();
  v.crossVectors(d, u);
}

/** Discs with a rim, drawn as points of fixed size on the screen. Those of one scene are drawn once, whatever machines it shows. */
export class Rings {
  private readonly made = new Map<string, THREE.CanvasTexture>();

  of(ink: string, sheet: string): THREE.CanvasTexture {
    const key = `${ink} ${sheet}`,
      ring = this.made.get(key) ?? drawRing(ink, sheet);
    this.made.set(key, ring);
    return ring;
  }
  dispose(): void {
    for (const ring of this.made.values()) ring.dispose();
    this.made.clear();
  }
}

function drawRing(ink: string, sheet: string): THREE.CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 64;
  const g = canvas.getContext('2d')!;
  g.beginPath();
  g.arc(32, 32, 22, 0, 2 * Math.PI);
  g.fillStyle = sheet;
  g.fill();
  g.lineWidth = 11;
  g.strokeStyle = ink;
  g.stroke();
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}

export class Symbols {
  readonly group = new THREE.Group();
  private readonly disposables: { dispose(): void }[] = [];
  private readonly updates: (() => void)[] = [];
  private readonly selectedPins: THREE.Points;

  constructor(
    private readonly machine: Machine,
    private readonly ink: Ink,
    /** A skeleton draws the joints itself. */
    skeleton: boolean,
    private readonly rings: Rings,
  ) {
    const { picture } = machine;
    if (!skeleton) {
      // hundreds of them would be a clutter; what is picked is ringed all the same
      if (picture.points.length <= MOST_POINTS)
        this.pins(
          picture.points.map((p) => ({ body: p.body, at: p.at })),
          ink.ink,
          6,
        );
      this.pins(
        picture.joints.filter((j) => !j.driven).map((j) => j.place),
        ink.ink,
        11,
      );
      this.pins(
        picture.joints.filter((j) => j.driven).map((j) => j.place),
        ink.accent,
        15,
      );
    }
    this.selectedPins = this.pins([], ink.accent, 17);
    for (const j of picture.joints) if (j.driven) this.turning(j);
    for (const o of picture.outlines)
      if (o.outline.type === 'coil') this.coil(o.outline);
      else if (o.outline.type === 'arrow') this.arrow(o.outline);
      else if (o.outline.type === 'line') this.path(o.outline.through);
      else if (o.outline.type === 'bent') this.bent(o.outline);
      else if (o.outline.type === 'wound') this.wound(o.outline);
    this.update();
  }

  private keep<T extends { dispose(): void }>(x: T): T {
    this.disposables.push(x);
    return x;
  }

  private pins(places: readonly Spot[], colour: string, size: number): THREE.Points {
    const geometry = this.keep(new THREE.BufferGeometry());
    const texture = this.rings.of(colour, this.ink.sheet);
    const material = this.keep(
      new THREE.PointsMaterial({ size, map: texture, sizeAttenuation: false, transparent: true, alphaTest: 0.4, depthTest: false }),
    );
    const points = new THREE.Points(geometry, material);
    points.frustumCulled = false;
    points.renderOrder = size; // larger symbols over smaller ones
    this.group.add(points);
    this.follow(points, places);
    return points;
  }

  private follow(points: THREE.Points, places: readonly Spot[]): void {
    const at = new Float32Array(3 * places.length);
    const attribute = new THREE.BufferAttribute(at, 3);
    points.geometry.setAttribute('position', attribute);
    points.visible = places.length > 0;
    const p = new THREE.Vector3();
    this.updates.push(() => {
      places.forEach((s, i) =>
        p
          .set(...s.at)
          .applyMatrix4(this.machine.matrix(s.body))
          .toArray(at, 3 * i),
      );
      attribute.needsUpdate = true;
    });
  }

  /** Rings the selected joints and points. */
  mark(marked: readonly string[], spots: readonly string[]): void {
    const { joints, points } = this.machine.picture;
    this.follow(this.selectedPins, [
      ...joints.filter((j) => marked.includes(j.name)).map((j) => j.place),
      ...points.filter((p) => spots.includes(p.name)),
    ]);
    this.update();
  }

  private line(count: number, colour: string, over: boolean): { at: Float32Array; done: () => void } {
    const geometry = this.keep(new THREE.BufferGeometry());
    const at = new Float32Array(3 * count);
    const attribute = new THREE.BufferAttribute(at, 3);
    geometry.setAttribute('position', attribute);
    const line = new THREE.Line(geometry, this.keep(new THREE.LineBasicMaterial({ color: colour, depthTest: !over, transparent: true })));
    line.frustumCulled = false;
    line.renderOrder = over ? 2 : 1;
    this.group.add(line);
    return { at, done: () => (attribute.needsUpdate = true) };
  }

  /** An arc with a head round the axis of a driven joint, in the positive sense. */
  private turning(j: Picture['joints'][number]): void {
    const { at, done } = this.line(ARC_POINTS + 3, this.ink.accent, true);
    const r = 0.09 * this.machine.picture.size;
    const axis = new THREE.Vector3(),
      u = new THREE.Vector3(),
      v = new THREE.Vector3(),
      centre = new THREE.Vector3(),
      p = new THREE.Vector3();
    const put = (i: number, angle: number, radius: number) =>
      p
        .copy(centre)
        .addScaledVector(u, radius * Math.cos(angle))
        .addScaledVector(v, radius * Math.sin(angle))
        .toArray(at, 3 * i);
    const travel = kindOf('joints', j)?.freedoms?.[0] === 'translation';
    this.updates.push(() => {
      const m = this.machine.matrix(j.a);
      centre.set(...j.place.at).applyMatrix4(this.machine.matrix(j.place.body));
      axis.set(...j.axis).transformDirection(m);
      u.set(0, 0, 1).cross(axis);
      if (u.lengthSq() < 1e-6) u.set(1, 0, 0);
      u.normalize();
      v.crossVectors(axis, u);
      const end = 1.5 * Math.PI;
      for (let i = 0; i < ARC_POINTS; i++) {
        if (travel)
          p.copy(centre)
            .addScaledVector(axis, 2 * r * (i / (ARC_POINTS - 1)))
            .addScaledVector(v, 0.4 * r)
            .toArray(at, 3 * i);
        else put(i, (end * i) / (ARC_POINTS - 1), r);
      }
      if (travel) {
        const tip = p.clone();
        p.copy(tip)
          .addScaledVector(axis, -0.5 * r)
          .addScaledVector(v, 0.25 * r)
          .toArray(at, 3 * ARC_POINTS);
        tip.toArray(at, 3 * (ARC_POINTS + 1));
        p.copy(tip)
          .addScaledVector(axis, -0.5 * r)
          .addScaledVector(v, -0.25 * r)
          .toArray(at, 3 * (ARC_POINTS + 2));
      } else {
        put(ARC_POINTS, end - 0.42, 1.22 * r);
        put(ARC_POINTS + 1, end, r);
        put(ARC_POINTS + 2, end - 0.42, 0.78 * r);
      }
      done();
    });
  }

  private coil(o: { from: Spot; to: Spot }): void {
    this.helix((from, to) => {
      from.set(...o.from.at).applyMatrix4(this.machine.matrix(o.from.body));
      to.set(...o.to.at).applyMatrix4(this.machine.matrix(o.to.body));
    });
  }

  /** A coil between two places with straight ends. @param ends tells where they are now */
  private helix(ends: (from: THREE.Vector3, to: THREE.Vector3) => void): void {
    const { at, done } = this.line(COIL_POINTS, this.ink.calm, false);
    const a = new THREE.Vector3(),
      b = new THREE.Vector3(),
      d = new THREE.Vector3(),
      u = new THREE.Vector3(),
      v = new THREE.Vector3(),
      p = new THREE.Vector3();
    const r = 0.018 * this.machine.picture.size;
    this.updates.push(() => {
      ends(a, b);
      const length = d.subVectors(b, a).length();
      d.normalize();
      across(d, u, v);
      for (let i = 0; i < COIL_POINTS; i++) {
        const x = i / (COIL_POINTS - 1);
        const inside = x > 0.12 && x < 0.88;
        const angle = ((x - 0.12) / 0.76) * COIL_TURNS * 2 * Math.PI;
        p.copy(a).addScaledVector(d, length * x);
        if (inside) p.addScaledVector(u, r * Math.cos(angle)).addScaledVector(v, r * Math.sin(angle));
        p.toArray(at, 3 * i);
      }
      done();
    });
  }

  /** The cubic between two places that leaves and reaches them in directions fixed in their bodies. */
  private bent({ from, to, along }: Extract<Picture['outlines'][number]['outline'], { type: 'bent' }>): void {
    const { at, done } = this.line(BENT_POINTS, this.ink.calm, false),
      [a, b, c, d] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()],
      p = new THREE.Vector3();
    this.updates.push(() => {
      const [first, second] = [this.machine.matrix(from.body), this.machine.matrix(to.body)];
      a.set(...from.at).applyMatrix4(first);
      b.set(...to.at).applyMatrix4(second);
      c.set(...along[0]).transformDirection(first);
      d.set(...along[1]).transformDirection(second);
      const length = a.distanceTo(b);
      for (let i = 0; i < BENT_POINTS; i++) {
        const x = i / (BENT_POINTS - 1),
          y = 1 - x;
        p.copy(a)
          .multiplyScalar(y * y * (1 + 2 * x))
          .addScaledVector(b, x * x * (3 - 2 * x))
          .addScaledVector(c, length * x * y * y)
          .addScaledVector(d, -length * x * x * y)
          .toArray(at, 3 * i);
      }
      done();
    });
  }

  /** A spring in a joint: a flat spiral about its axis, or a coil along it from behind its place up to the other body. */
  private wound(o: Extract<Picture['outlines'][number]['outline'], { type: 'wound' }>): void {
    const { size } = this.machine.picture;
    const base = new THREE.Vector3(),
      axis = new THREE.Vector3();
    const place = (s: Spot, out: THREE.Vector3) => out.set(...s.at).applyMatrix4(this.machine.matrix(s.body));
    if (!o.turns) {
      this.helix((from, to) => {
        axis.set(...o.axis).transformDirection(this.machine.matrix(o.carrier));
        place(o.at, from).addScaledVector(axis, -BEHIND * size);
        place(o.to, to);
      });
      return;
    }
    const { at, done } = this.line(SPIRAL_POINTS, this.ink.calm, true);
    const u = new THREE.Vector3(),
      v = new THREE.Vector3(),
      p = new THREE.Vector3();
    this.updates.push(() => {
      place(o.at, base);
      axis.set(...o.axis).transformDirection(this.machine.matrix(o.carrier));
      across(axis, u, v);
      for (let i = 0; i < SPIRAL_POINTS; i++) {
        const x = i / (SPIRAL_POINTS - 1),
          angle = x * SPIRAL_TURNS * 2 * Math.PI,
          r = SPIRAL * size * (0.25 + 0.75 * x);
        p.copy(base)
          .addScaledVector(u, r * Math.cos(angle))
          .addScaledVector(v, r * Math.sin(angle))
          .toArray(at, 3 * i);
      }
      done();
    });
  }

  private path(through: readonly { body: number; at: readonly [number, number, number] }[]): void {
    const { at, done } = this.line(through.length, this.ink.calm, false);
    const p = new THREE.Vector3();
    this.updates.push(() => {
      through.forEach((s, i) =>
        p
          .set(...s.at)
          .applyMatrix4(this.machine.matrix(s.body))
          .toArray(at, 3 * i),
      );
      done();
    });
  }

  private arrow(o: {
    at: { body: number; at: readonly [number, number, number] };
    direction: readonly [number, number, number];
    carrier: number;
  }): void {
    const { at, done } = this.line(5, this.ink.accent, true);
    const tip = new THREE.Vector3(),
      d = new THREE.Vector3(),
      u = new THREE.Vector3(),
      p = new THREE.Vector3();
    const l = 0.22 * this.machine.picture.size;
    this.updates.push(() => {
      tip.set(...o.at.at).applyMatrix4(this.machine.matrix(o.at.body));
      d.set(...o.direction).transformDirection(this.machine.matrix(o.carrier));
      u.set(0, 1, 0).cross(d);
      if (u.lengthSq() < 1e-6) u.set(1, 0, 0).cross(d);
      u.normalize();
      p.copy(tip).addScaledVector(d, -l).toArray(at, 0);
      tip.toArray(at, 3);
      p.copy(tip)
        .addScaledVector(d, -0.18 * l)
        .addScaledVector(u, 0.08 * l)
        .toArray(at, 6);
      tip.toArray(at, 9);
      p.copy(tip)
        .addScaledVector(d, -0.18 * l)
        .addScaledVector(u, -0.08 * l)
        .toArray(at, 12);
      done();
    });
  }

  update(): void {
    for (const u of this.updates) u();
  }

  dispose(): void {
    for (const d of this.disposables) d.dispose();
  }
}
