/**
 * The machine in as many draw calls as it has materials: all solids, all that is seen through, all edges. Two small textures hold the
 * pose of every body and the paint of every shape; playing writes into the first and touches nothing else.
 */
import * as THREE from 'three';
import type { Picture } from '@/workers/protocol';
import type { Look } from '@/state/view';
import { GROUND_COLOUR, bodyColour } from './palette';

/** Three texels a body: the rows of its pose. The first body is the ground. */
const POSE_TEXELS = 3;
/** Two texels a shape: colour and mark; how much is seen of it (0 hidden, 1 solid). */
const PAINT_TEXELS = 2;
/** Texels in a row, a multiple of both. */
const ROW = 1536;

const CODE = /* glsl */ `
  attribute vec2 owner;
  uniform sampler2D poses;
  uniform sampler2D paints;
  varying vec4 paint;
  varying float seen;
  vec4 texel(sampler2D s, int t) { return texelFetch(s, ivec2(t % ${ROW}, t / ${ROW}), 0); }
  mat4 poseOf(float i) {
    int t = int(i) * ${POSE_TEXELS};
    vec4 a = texel(poses, t), b = texel(poses, t + 1), c = texel(poses, t + 2);
    return mat4(a.x, b.x, c.x, 0.0, a.y, b.y, c.y, 0.0, a.z, b.z, c.z, 0.0, a.w, b.w, c.w, 1.0);
  }
  mat4 take() {
    int t = int(owner.y) * ${PAINT_TEXELS};
    paint = texel(paints, t);
    seen = texel(paints, t + 1).x;
    return poseOf(owner.x);
  }
`;

/** Which shapes a material draws. */
type Part = 'solid' | 'clear' | 'edge' | 'stroke';

const COLOUR: Record<Part, string> = {
  solid: 'if (seen < 0.99) discard; vec4 diffuseColor = vec4(mix(paint.rgb, paint.rgb * 1.25 + vec3(0.05, 0.01, 0.0), paint.a), 1.0);',
  clear: 'if (seen < 0.01 || seen > 0.99) discard; vec4 diffuseColor = vec4(mix(paint.rgb, paint.rgb * 1.25 + vec3(0.05, 0.01, 0.0), paint.a), seen);',
  edge: 'if (seen < 0.01) discard; vec4 diffuseColor = vec4(mix(paint.rgb * 0.42, vec3(0.58, 0.056, 0.011), paint.a), 1.0);',
  stroke: 'if (seen < 0.01) discard; vec4 diffuseColor = vec4(mix(paint.rgb, vec3(0.58, 0.056, 0.011), paint.a), 1.0);',
};
/** Where a cut opens a solid its inside is hatched, as on a drawing. */
const HATCH = 'if (!gl_FrontFacing && seen > 0.99) { float h = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0); gl_FragColor = vec4(mix(paint.rgb * 0.75 + 0.12, paint.rgb * 0.3, step(7.3, h)), 1.0); }';

export interface Textures {
  poses: { value: THREE.DataTexture };
  paints: { value: THREE.DataTexture };
}

/** Makes a material take poses and paints from the textures. */
export function posed<T extends THREE.Material>(material: T, textures: Textures, part: Part): T {
  const lit = part === 'solid' || part === 'clear';
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, textures);
    shader.vertexShader = CODE + shader.vertexShader
      .replace('#include <beginnormal_vertex>', 'mat4 pose = take(); vec3 objectNormal = mat3(pose) * normal;')
      .replace('#include <begin_vertex>', `${lit ? '' : 'mat4 pose = take();'} vec3 transformed = (pose * vec4(position, 1.0)).xyz;`);
    shader.fragmentShader = `varying vec4 paint;\nvarying float seen;\n${shader.fragmentShader}`.replace('vec4 diffuseColor = vec4( diffuse, opacity );', COLOUR[part]);
    if (part === 'solid') shader.fragmentShader = shader.fragmentShader.replace('#include <dithering_fragment>', `#include <dithering_fragment>\n${HATCH}`);
  };
  material.customProgramCacheKey = () => part;
  return material;
}

/** Lets the camera's clipping see a geometry whose bodies move about. */
export const unbounded = <T extends THREE.Object3D>(object: T): T => {
  object.frustumCulled = false;
  return object;
};

function dataTexture(texels: number): THREE.DataTexture {
  const rows = Math.max(1, Math.ceil(texels / ROW));
  return new THREE.DataTexture(new Float32Array(4 * ROW * rows), ROW, rows, THREE.RGBAFormat, THREE.FloatType);
}

/** Edges found once for a mesh; a mesh that an edit leaves as it is keeps them. */
interface Known {
  positions: Float32Array;
  edges: Float32Array;
}
const same = (a: Float32Array, b: Float32Array): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};
let known = new Map<string, Known>();
function edgesOf(name: string, geometry: THREE.BufferGeometry, positions: Float32Array, keep: Map<string, Known>): Float32Array {
  const before = known.get(name);
  if (before && same(before.positions, positions)) {
    keep.set(name, before);
    return before.edges;
  }
  const found = new THREE.EdgesGeometry(geometry, 35);
  const edges = found.getAttribute('position').array as Float32Array;
  found.dispose();
  keep.set(name, { positions, edges });
  return edges;
}

export interface SolidMesh {
  geometry: THREE.BufferGeometry;
  body: number;
  name: string;
}

export class Machine {
  readonly group = new THREE.Group();
  readonly textures: Textures;
  private readonly matrices: THREE.Matrix4[];
  readonly solids: SolidMesh[] = [];
  private readonly disposables: { dispose(): void }[] = [];
  private clearMesh: THREE.Mesh | undefined;
  private solidMaterial!: THREE.MeshLambertMaterial;
  private marked: ReadonlySet<number> = new Set();
  private look: Look | undefined;
  private solidGeometry!: THREE.BufferGeometry;

  constructor(readonly picture: Picture) {
    const n = picture.bodies.length + 1;
    this.matrices = Array.from({ length: n }, () => new THREE.Matrix4());
    this.textures = { poses: { value: dataTexture(POSE_TEXELS * n) }, paints: { value: dataTexture(PAINT_TEXELS * (picture.shapes.length + n)) } };
    this.disposables.push(this.textures.poses.value, this.textures.paints.value);
    this.write(0);
    this.build();
    this.paint();
    this.pose(picture.posture);
  }

  private build(): void {
    const { shapes } = this.picture;
    let vertices = 0, triangles = 0, ends = 0;
    const edges: Float32Array[] = [];
    const keep = new Map<string, Known>();
    for (const s of shapes) {
      vertices += s.positions.length / 3;
      triangles += s.indices.length;
      const own = new THREE.BufferGeometry();
      own.setAttribute('position', new THREE.BufferAttribute(s.positions, 3));
      own.setIndex(new THREE.BufferAttribute(s.indices, 1));
      this.solids.push({ geometry: own, body: s.body, name: s.name });
      const list = edgesOf(s.name, own, s.positions, keep);
      edges.push(list);
      ends += list.length / 3;
    }
    known = keep;
    const position = new Float32Array(3 * vertices), normal = new Float32Array(3 * vertices), owner = new Float32Array(2 * vertices);
    const index = new Uint32Array(triangles);
    const edgePosition = new Float32Array(3 * ends), edgeOwner = new Float32Array(2 * ends);
    let v = 0, t = 0, e = 0;
    shapes.forEach((s, i) => {
      position.set(s.positions, 3 * v);
      normal.set(s.normals, 3 * v);
      const count = s.positions.length / 3;
      for (let k = 0; k < count; k++) {
        owner[2 * (v + k)] = s.body + 1;
        owner[2 * (v + k) + 1] = i;
      }
      for (let k = 0; k < s.indices.length; k++) index[t + k] = s.indices[k]! + v;
      edgePosition.set(edges[i]!, 3 * e);
      for (let k = 0; k < edges[i]!.length / 3; k++, e++) {
        edgeOwner[2 * e] = s.body + 1;
        edgeOwner[2 * e + 1] = i;
      }
      v += count;
      t += s.indices.length;
    });
    const solid = (this.solidGeometry = new THREE.BufferGeometry());
    solid.setAttribute('position', new THREE.BufferAttribute(position, 3));
    solid.setAttribute('normal', new THREE.BufferAttribute(normal, 3));
    solid.setAttribute('owner', new THREE.BufferAttribute(owner, 2));
    solid.setIndex(new THREE.BufferAttribute(index, 1));
    const lines = new THREE.BufferGeometry();
    lines.setAttribute('position', new THREE.BufferAttribute(edgePosition, 3));
    lines.setAttribute('owner', new THREE.BufferAttribute(edgeOwner, 2));
    const face = (this.solidMaterial = posed(new THREE.MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }), this.textures, 'solid'));
    const edge = posed(new THREE.LineBasicMaterial(), this.textures, 'edge');
    this.disposables.push(solid, lines, face, edge);
    this.group.add(unbounded(new THREE.Mesh(solid, face)), unbounded(new THREE.LineSegments(lines, edge)));
  }

  private write(i: number): void {
    const e = this.matrices[i]!.elements, data = this.textures.poses.value.image.data as Float32Array;
    for (let r = 0; r < 3; r++) for (let c = 0; c < 4; c++) data[4 * (POSE_TEXELS * i + r) + c] = e[4 * c + r]!;
  }

  private readonly p = new THREE.Vector3();
  private readonly q = new THREE.Quaternion();
  private readonly one = new THREE.Vector3(1, 1, 1);

  /** @param posture seven numbers a body: position of the centre of mass, quaternion w x y z */
  pose(posture: Float64Array): void {
    for (let i = 1; i < this.matrices.length; i++) {
      const o = 7 * (i - 1);
      this.p.set(posture[o]!, posture[o + 1]!, posture[o + 2]!);
      this.q.set(posture[o + 4]!, posture[o + 5]!, posture[o + 6]!, posture[o + 3]!);
      this.matrices[i]!.compose(this.p, this.q, this.one);
      this.write(i);
    }
    this.textures.poses.value.needsUpdate = true;
  }

  /** Pose of a body; −1 is the ground. */
  matrix(body: number): THREE.Matrix4 {
    return this.matrices[body < 0 || body >= this.picture.bodies.length ? 0 : body + 1]!;
  }

  /** Slot of a body's own paint, for what is drawn of it besides its shapes. */
  slotOf(body: number): number {
    return this.picture.shapes.length + body + 1;
  }

  /** Marks bodies as selected. */
  mark(selected: ReadonlySet<number>): void {
    this.marked = selected;
    this.paint();
  }

  /** How bodies are seen: hidden, seen through. */
  see(look: Look): void {
    this.look = look;
    this.paint();
  }

  private paint(): void {
    const { picture, look } = this;
    const data = this.textures.paints.value.image.data as Float32Array;
    const colour = new THREE.Color();
    const name = (body: number) => picture.bodies[body] ?? '';
    const seen = (body: number) => (look?.hidden.includes(name(body)) ? 0 : look?.clear.includes(name(body)) ? 0.28 : 1);
    let clear = false;
    const put = (slot: number, body: number, own: string | undefined, alpha: number) => {
      colour.set(own ?? (body < 0 ? GROUND_COLOUR : (picture.colours[body] ?? bodyColour(body))));
      data.set([colour.r, colour.g, colour.b, this.marked.has(body) ? 1 : 0, alpha], 4 * PAINT_TEXELS * slot);
      clear ||= alpha > 0 && alpha < 1;
    };
    picture.shapes.forEach((s, i) => put(i, s.body, s.colour, look?.style === 'skeleton' ? 0 : seen(s.body)));
    for (let b = -1; b < picture.bodies.length; b++) put(this.slotOf(b), b, undefined, seen(b) > 0 ? 1 : 0);
    this.textures.paints.value.needsUpdate = true;
    this.solidMaterial.side = look?.cut ? THREE.DoubleSide : THREE.FrontSide;
    this.solidMaterial.needsUpdate = true;
    if (clear && !this.clearMesh) {
      const material = posed(new THREE.MeshLambertMaterial({ transparent: true, depthWrite: false }), this.textures, 'clear');
      this.disposables.push(material);
      this.clearMesh = unbounded(new THREE.Mesh(this.solidGeometry, material));
      this.clearMesh.renderOrder = 1;
      this.group.add(this.clearMesh);
    }
    if (this.clearMesh) this.clearMesh.visible = clear;
  }

  /** Whether a body is drawn at all. */
  shows(body: number): boolean {
    return !this.look?.hidden.includes(this.picture.bodies[body] ?? '');
  }

  /** The body and shape under a ray, the nearest first; what a cut takes away is not there. */
  pick(raycaster: THREE.Raycaster, cut?: THREE.Plane): { body: number; shape: string; where: THREE.Vector3; index: number; triangle: number } | undefined {
    let best: { body: number; shape: string; where: THREE.Vector3; distance: number; index: number; triangle: number } | undefined;
    const mesh = new THREE.Mesh();
    this.solids.forEach((s, index) => {
      if (!this.shows(s.body)) return;
      mesh.geometry = s.geometry;
      mesh.matrixWorld.copy(this.matrix(s.body));
      const hit = raycaster.intersectObject(mesh, false).find((h) => !cut || cut.distanceToPoint(h.point) >= 0);
      if (hit && (!best || hit.distance < best.distance)) best = { body: s.body, shape: s.name, where: hit.point, distance: hit.distance, index, triangle: hit.faceIndex ?? -1 };
    });
    return best;
  }

  /** Box round the machine in its present posture, m. */
  bounds(): THREE.Box3 {
    const box = new THREE.Box3();
    for (const s of this.solids) {
      if (!this.shows(s.body)) continue;
      const own = s.geometry.boundingBox ?? (s.geometry.computeBoundingBox(), s.geometry.boundingBox!);
      box.union(own.clone().applyMatrix4(this.matrix(s.body)));
    }
    for (const p of this.picture.points) box.expandByPoint(new THREE.Vector3(...p.at).applyMatrix4(this.matrix(p.body)));
    for (const j of this.picture.joints) box.expandByPoint(new THREE.Vector3(...j.place.at).applyMatrix4(this.matrix(j.place.body)));
    return box;
  }

  dispose(): void {
    for (const d of this.disposables) d.dispose();
    for (const s of this.solids) s.geometry.dispose();
  }
}
