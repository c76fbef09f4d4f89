/** Edges, faces and corners of the selected bodies under the pointer, and how they are lit. */
import * as THREE from 'three';
import type { Features, MeshEdge } from '@vim-pivot/core';
import { type PickedPlace, alike } from '@/state/scene/places';
import { exploreWorker } from '@/workers/client';
import type { DrawnShape } from '@/workers/protocol';
import type { Stage } from './stage';

const EDGE_REACH = 5;
const CENTRE_REACH = 7;
/** A mesh with more corners in its edges than this is felt by its faces only. */
const MOST = 20_000;

interface Felt {
  positions: Float32Array;
  indices: Uint32Array;
  features: Features | undefined;
  asked: Promise<Features>;
}
/** What was found in the shapes of a picture. */
const cache = new WeakMap<DrawnShape, Felt>();

const direction = (a: readonly number[]): [number, number, number] => [a[0]!, a[1]!, a[2]!];

function edgePlace(s: DrawnShape, e: MeshEdge, what: 'edge' | 'end', at: readonly number[]): PickedPlace {
  return {
    what,
    type: what === 'end' ? 'end' : e.type,
    shape: s.name,
    body: s.body,
    at: direction(at),
    length: e.length,
    line: e.line,
    ...(what === 'edge' && e.axis ? { axis: direction(e.axis) } : {}),
    ...(what === 'edge' && e.radius ? { radius: e.radius } : {}),
  };
}

function facePlace(s: DrawnShape, { positions, indices, features }: Felt, face: number): PickedPlace {
  const f = features!.faces[face]!,
    corners: number[] = [];
  features!.faceOf.forEach((x, t) => {
    if (x === face) for (let k = 0; k < 3; k++) for (let c = 0; c < 3; c++) corners.push(positions[3 * indices[3 * t + k]! + c]!);
  });
  return {
    what: 'face',
    type: f.type,
    shape: s.name,
    body: s.body,
    at: direction(f.at),
    area: f.area,
    sheet: Float32Array.from(corners),
    ...(f.axis ? { axis: direction(f.axis) } : {}),
    ...(f.radius ? { radius: f.radius } : {}),
    ...(f.hollow ? { hollow: true } : {}),
  };
}

/** Corners, edges and faces of a shape, sought once. */
function feltIn(stage: Stage, s: DrawnShape): Felt | undefined {
  const known = cache.get(s);
  if (known || !stage.machine) return known;
  const { position, triangles } = stage.machine.picture.mesh;
  const positions = position.slice(3 * s.vertex[0], 3 * (s.vertex[0] + s.vertex[1]));
  const indices = triangles.slice(s.triangle[0], s.triangle[0] + s.triangle[1]).map((i) => i - s.vertex[0]);
  const felt: Felt = {
    positions,
    indices,
    features: undefined,
    asked: exploreWorker()
      .ask({ type: 'features', positions, indices }, 'features')
      .then((r) => (felt.features = r.features)),
  };
  cache.set(s, felt);
  return felt;
}

/** Middles of the round edges of all that is shown, with the direction of their axes: relative to the body's centre of mass, in its axes. */
export async function roundEdges(stage: Stage): Promise<{ body: number; at: readonly number[]; axis: readonly number[] }[]> {
  const { machine } = stage;
  const shapes = machine?.picture.shapes.filter((s) => machine.shows(s.body) && s.triangle[1] < 3 * MOST) ?? [];
  const found = await Promise.all(shapes.map(async (s) => ({ s, features: await feltIn(stage, s)?.asked })));
  return found.flatMap(
    ({ s, features }) =>
      features?.edges.flatMap((e) => (e.type === 'circle' && e.axis ? [{ body: s.body, at: e.at, axis: e.axis }] : [])) ?? [],
  );
}

export class EdgePicker {
  private readonly group = new THREE.Group();
  private disposables: { dispose(): void }[] = [];
  private hovered: PickedPlace | undefined;
  private picked: readonly PickedPlace[] = [];

  constructor(
    private readonly stage: Stage,
    private readonly colour: string,
  ) {
    this.group.renderOrder = 3;
    stage.scene.add(this.group);
    stage.followers.add(this.follow);
  }

  private of(s: DrawnShape): Felt | undefined {
    return feltIn(this.stage, s);
  }

  /** What of the given bodies is under a place on the canvas (CSS pixels). */
  feel(x: number, y: number, bodies: ReadonlySet<number>): PickedPlace | undefined {
    const { machine } = this.stage;
    if (!machine) return undefined;
    const hit = this.stage.pick(x, y);
    if (hit && ('joint' in hit || 'point' in hit)) return undefined;
    const under = hit && 'body' in hit && hit.index >= 0 ? hit : undefined;
    if (under && !bodies.has(under.body)) return undefined;
    let best: PickedPlace | undefined,
      least = EDGE_REACH;
    const p = new THREE.Vector3(),
      ahead = this.stage.camera.getWorldDirection(new THREE.Vector3());
    const depth = (at: THREE.Vector3) => at.dot(ahead);
    machine.picture.shapes.forEach((s, index) => {
      // an edge behind the face under the pointer is not meant
      if (!bodies.has(s.body) || !machine.shows(s.body) || (under && under.index !== index)) return;
      const f = this.of(s)?.features;
      if (!f || f.edges.reduce((n, e) => n + e.line.length, 0) > 3 * MOST) return;
      const m = machine.matrix(s.body);
      const screen = (line: readonly number[], k: number): [number, number] =>
        this.stage.onScreen(p.set(line[k]!, line[k + 1]!, line[k + 2]!).applyMatrix4(m));
      const seen = (at: THREE.Vector3) => !under || depth(at) < depth(under.where) + 8 * this.stage.pixel(at);
      for (const e of f.edges) {
        const make = (what: 'edge' | 'end', at: readonly number[]) => edgePlace(s, e, what, at);
        if (e.radius && e.type !== 'curve') {
          const [cx, cy] = screen(e.at, 0);
          if (Math.hypot(cx - x, cy - y) < CENTRE_REACH && seen(p)) return void (best = make('edge', e.at));
        }
        let [ax, ay] = screen(e.line, 0);
        if (e.type === 'straight') {
          for (const k of [0, e.line.length - 3]) {
            const [ex, ey] = screen(e.line, k);
            if (Math.hypot(ex - x, ey - y) < least + 1 && seen(p)) {
              least = Math.hypot(ex - x, ey - y) - 1;
              best = make('end', e.line.slice(k, k + 3));
            }
          }
        }
        for (let k = 3; k < e.line.length; k += 3) {
          const [bx, by] = screen(e.line, k);
          const l2 = (bx - ax) ** 2 + (by - ay) ** 2;
          const t = l2 > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / l2)) : 0;
          const away = Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y);
          if (away < least && seen(p)) {
            least = away;
            best = make('edge', e.at);
          }
          [ax, ay] = [bx, by];
        }
      }
    });
    if (best || !under) return best;
    const s = machine.picture.shapes[under.index]!;
    const felt = this.of(s),
      f = felt?.features;
    const face = f && f.faceOf[under.triangle];
    return felt && face !== undefined && face >= 0 ? facePlace(s, felt, face) : undefined;
  }

  /** The edge or face after the last one picked, of the given bodies; for the keyboard. */
  async next(bodies: ReadonlySet<number>, last: PickedPlace | undefined, back: boolean): Promise<PickedPlace | undefined> {
    const shapes = this.stage.machine?.picture.shapes.filter((s) => bodies.has(s.body)) ?? [];
    const all: PickedPlace[] = [];
    for (const s of shapes) {
      const felt = this.of(s),
        f = felt && (await felt.asked);
      if (!f) continue;
      all.push(...f.edges.map((e) => edgePlace(s, e, 'edge', e.at)), ...f.faces.map((_, face) => facePlace(s, felt, face)));
    }
    const at = last ? all.findIndex((p) => alike(p, last)) : back ? 0 : -1;
    return all[(at + (back ? all.length - 1 : 1)) % all.length];
  }

  light(hovered: PickedPlace | undefined, picked: readonly PickedPlace[]): void {
    if (hovered === this.hovered && picked === this.picked) return;
    this.hovered = hovered;
    this.picked = picked;
    this.group.clear();
    for (const d of this.disposables) d.dispose();
    this.disposables = [];
    const { machine } = this.stage;
    if (machine)
      for (const [p, strong] of [...picked.map((q) => [q, true] as const), ...(hovered ? [[hovered, false] as const] : [])])
        this.draw(p, strong);
    this.follow();
    this.stage.draw();
  }

  private draw(p: PickedPlace, strong: boolean): void {
    const add = (o: THREE.Object3D, g: THREE.BufferGeometry, m: THREE.Material) => {
      o.matrixAutoUpdate = false;
      o.frustumCulled = false;
      o.renderOrder = 4;
      o.userData.body = p.body;
      this.group.add(o);
      this.disposables.push(g, m);
    };
    const color = this.colour;
    if (p.sheet) {
      const g = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(p.sheet, 3));
      const m = new THREE.MeshBasicMaterial({
        color,
        transparent: true,
        opacity: strong ? 0.55 : 0.3,
        depthTest: true,
        side: THREE.DoubleSide,
        polygonOffset: true,
        polygonOffsetFactor: -2,
        polygonOffsetUnits: -2,
      });
      add(new THREE.Mesh(g, m), g, m);
    }
    if (p.line && p.what === 'edge') {
      const g = new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute([...p.line], 3));
      const m = new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true, opacity: strong ? 1 : 0.7 });
      add(new THREE.Line(g, m), g, m);
    }
    // a mark at the middle of what is round, and at ends
    if (p.radius || p.what === 'end') {
      const g = new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(p.at, 3));
      const m = new THREE.PointsMaterial({ color, size: strong ? 9 : 7, sizeAttenuation: false, depthTest: false, transparent: true });
      add(new THREE.Points(g, m), g, m);
    }
  }

  private readonly follow = (): void => {
    const { machine } = this.stage;
    if (machine) for (const o of this.group.children) o.matrix.copy(machine.matrix(o.userData.body as number));
    for (const o of this.group.children) o.matrixWorldNeedsUpdate = true;
  };

  dispose(): void {
    this.stage.followers.delete(this.follow);
    this.group.removeFromParent();
    for (const d of this.disposables) d.dispose();
  }
}
