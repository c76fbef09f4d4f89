/**
 * The machine in as many draw calls as it has materials: all solids, all that is seen through, all edges, on one set of corners. A small
 * texture holds the pose of every body; playing writes into it and touches nothing else. Corners carry their paint.
 */
import * as THREE from 'three';
import type { Picture } from '@/workers/protocol';
import type { Look } from '@/state/scene/view';
import { GROUND_COLOUR, bodyColour } from '@/state/document/colours';

/** Three texels a body: the rows of its pose. The first body is the ground. */
const TEXELS = 3;
/** Texels in a row, a multiple of that. */
const ROW = 1536;

const CODE = /* glsl */ `
  attribute vec2 body;
  attribute vec4 paint;
  uniform sampler2D poses;
  varying vec3 ink;
  varying float marked;
  varying float seen;
  mat4 take() {
    ivec2 t = ivec2(body);
    vec4 a = texelFetch(poses, t, 0), b = texelFetch(poses, t + ivec2(1, 0), 0), c = texelFetch(poses, t + ivec2(2, 0), 0);
    ink = paint.rgb * paint.rgb;
    float state = paint.a * 255.0;
    marked = step(127.5, state);
    seen = (state - 128.0 * marked) / 127.0;
    return mat4(a.x, b.x, c.x, 0.0, a.y, b.y, c.y, 0.0, a.z, b.z, c.z, 0.0, a.w, b.w, c.w, 1.0);
  }
`;

/** Which shapes a material draws. */
type Part = 'solid' | 'clear' | 'edge' | 'stroke';

const COLOUR: Record<Part, string> = {
  solid: 'if (seen < 0.99) discard; vec4 diffuseColor = vec4(mix(ink, ink * 1.25 + vec3(0.05, 0.01, 0.0), marked) * lit, 1.0);',
  clear:
    'if (seen < 0.01 || seen > 0.99) discard; vec4 diffuseColor = vec4(mix(ink, ink * 1.25 + vec3(0.05, 0.01, 0.0), marked) * lit, seen);',
  edge: 'if (seen < 0.01) discard; vec4 diffuseColor = vec4(mix(ink * 0.42, vec3(0.58, 0.056, 0.011), marked), 1.0);',
  stroke: 'if (seen < 0.01) discard; vec4 diffuseColor = vec4(mix(ink, vec3(0.58, 0.056, 0.011), marked), 1.0);',
};
/** Where a cut opens a solid its inside is hatched, as on a drawing. */
const HATCH =
  'if (!gl_FrontFacing && seen > 0.99) { float h = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0); gl_FragColor = vec4(mix(ink * 0.75 + 0.12, ink * 0.3, step(7.3, h)), 1.0); }';

type Poses = { value: THREE.DataTexture };

/** Light from above, a sun over the left shoulder and a weak fill; worked out at the corners, which costs far less than at every pixel. */
const LIGHT = /* glsl */ `
  uniform mat3 upright;
  varying vec3 lit;
  vec3 lightOn(vec3 n) {
    vec3 m = transpose(upright) * n;
    vec3 sky = mix(vec3(0.623, 0.578, 0.479), vec3(1.0), 0.5 * m.z + 0.5) * 2.3;
    float sun = max(0.0, dot(m, vec3(-0.2673, -0.5345, 0.8018))), side = max(0.0, dot(m, vec3(0.8165, 0.4082, 0.4082)));
    return (sky + sun * 2.1 * vec3(1.0, 0.955, 0.871) + side * 0.7 * vec3(0.855, 0.905, 1.0)) / 3.14159;
  }
`;
/** The turn of the drawing with z up into the one with another axis up. */
export const upright = { value: new THREE.Matrix3() };

/** Makes a material take poses from the texture and its paint from the corners. */
export function posed<T extends THREE.Material>(material: T, poses: Poses, part: Part): T {
  const lit = part === 'solid' || part === 'clear';
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, { poses, upright });
    shader.vertexShader =
      (lit ? CODE + LIGHT : CODE) +
      shader.vertexShader.replace(
        '#include <begin_vertex>',
        `mat4 pose = take(); ${lit ? 'lit = lightOn(mat3(pose) * normal);' : ''} vec3 transformed = (pose * vec4(position, 1.0)).xyz;`,
      );
    shader.fragmentShader =
      `varying vec3 ink;\nvarying float marked;\nvarying float seen;\n${lit ? 'varying vec3 lit;\n' : ''}${shader.fragmentShader}`.replace(
        'vec4 diffuseColor = vec4( diffuse, opacity );',
        COLOUR[part],
      );
    if (part === 'solid')
      shader.fragmentShader = shader.fragmentShader.replace('#include <dithering_fragment>', `#include <dithering_fragment>\n${HATCH}`);
  };
  material.customProgramCacheKey = () => part;
  return material;
}

/** Lets the camera's clipping see a geometry whose bodies move about. */
export const unbounded = <T extends THREE.Object3D>(object: T): T => {
  object.frustumCulled = false;
  return object;
};

export interface SolidMesh {
  /** Its own triangles on the corners of all. */
  geometry: THREE.BufferGeometry;
  box: THREE.Box3;
  body: number;
  name: string;
}

/** Texel at which a body's pose begins. */
export const texelOf = (body: number): [number, number] => [(TEXELS * (body + 1)) % ROW, Math.floor((TEXELS * (body + 1)) / ROW)];

export class Machine {
  readonly group = new THREE.Group();
  readonly poses: Poses;
  private readonly matrices: THREE.Matrix4[];
  readonly solids: SolidMesh[] = [];
  private readonly disposables: { dispose(): void }[] = [];
  private clearMesh: THREE.Mesh | undefined;
  private solidMaterial!: THREE.MeshBasicMaterial;
  private solidGeometry!: THREE.BufferGeometry;
  private paints!: Uint8Array;
  private marked: ReadonlySet<number> = new Set();
  private look: Look | undefined;
  /** Told when bodies are painted anew. */
  repainted: (() => void) | undefined;

  constructor(readonly picture: Picture) {
    const n = picture.bodies.length + 1;
    this.matrices = Array.from({ length: n }, () => new THREE.Matrix4());
    const rows = Math.ceil((TEXELS * n) / ROW);
    this.poses = { value: new THREE.DataTexture(new Float32Array(4 * ROW * rows), ROW, rows, THREE.RGBAFormat, THREE.FloatType) };
    this.disposables.push(this.poses.value);
    this.write(0);
    this.build();
    this.paint();
    this.pose(picture.posture);
  }

  private build(): void {
    const { shapes, mesh } = this.picture;
    const vertices = mesh.position.length / 3;
    const body = new Uint16Array(2 * vertices),
      words = new Uint32Array(body.buffer);
    this.paints = new Uint8Array(4 * vertices);
    const position = new THREE.BufferAttribute(mesh.position, 3);
    for (const s of shapes) {
      const [x, y] = texelOf(s.body),
        [from, count] = s.vertex;
      const box = new THREE.Box3(new THREE.Vector3(...s.box[0]), new THREE.Vector3(...s.box[1]));
      // two numbers of 16 bits at once: a shape may have a million corners
      words.fill(x | (y << 16), from, from + count);
      const own = new THREE.BufferGeometry();
      own.setAttribute('position', position);
      own.setIndex(new THREE.BufferAttribute(mesh.triangles.subarray(s.triangle[0], s.triangle[0] + s.triangle[1]), 1));
      own.boundingBox = box;
      own.boundingSphere = box.getBoundingSphere(new THREE.Sphere());
      this.solids.push({ geometry: own, box, body: s.body, name: s.name });
    }
    const corners = {
      position,
      normal: new THREE.BufferAttribute(mesh.normal, 3),
      body: new THREE.BufferAttribute(body, 2),
      paint: new THREE.BufferAttribute(this.paints, 4, true),
    };
    const on = (index: Uint32Array) => {
      const g = new THREE.BufferGeometry();
      for (const [name, attribute] of Object.entries(corners)) g.setAttribute(name, attribute);
      g.setIndex(new THREE.BufferAttribute(index, 1));
      g.boundingSphere = new THREE.Sphere(); // bodies move: none would hold, and looking for one takes time
      this.disposables.push(g);
      return g;
    };
    const solid = (this.solidGeometry = on(mesh.triangles)),
      lines = on(mesh.edge);
    const face = (this.solidMaterial = posed(
      new THREE.MeshBasicMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }),
      this.poses,
      'solid',
    ));
    const edge = posed(new THREE.LineBasicMaterial(), this.poses, 'edge');
    this.disposables.push(face, edge);
    this.group.add(unbounded(new THREE.Mesh(solid, face)), unbounded(new THREE.LineSegments(lines, edge)));
  }

  private write(i: number): void {
    const e = this.matrices[i]!.elements,
      data = this.poses.value.image.data as Float32Array;
    for (let r = 0; r < 3; r++) for (let c = 0; c < 4; c++) data[4 * (TEXELS * i + r) + c] = e[4 * c + r]!;
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
    this.poses.value.needsUpdate = true;
  }

  /** Pose of a body; −1 is the ground. */
  matrix(body: number): THREE.Matrix4 {
    return this.matrices[body < 0 || body >= this.picture.bodies.length ? 0 : body + 1]!;
  }

  /** Marks bodies as selected. */
  mark(selected: ReadonlySet<number>): void {
    if (selected.size === 0 && this.marked.size === 0) return;
    this.marked = selected;
    this.paint();
  }

  /** How bodies are seen: hidden, seen through. */
  see(look: Look): void {
    this.look = look;
    this.paint();
  }

  private readonly colour = new THREE.Color();
  /** Four bytes of paint: the roots of linear red, green and blue; how much is seen (0 to 127), and 128 when marked. */
  paintOf(body: number, own: string | undefined, seen: number): [number, number, number, number] {
    const c = this.colour.set(own ?? (body < 0 ? GROUND_COLOUR : (this.picture.colours[body] ?? bodyColour(body))));
    const root = (x: number) => Math.round(255 * Math.sqrt(x));
    return [root(c.r), root(c.g), root(c.b), Math.round(127 * seen) + (this.marked.has(body) ? 128 : 0)];
  }

  private paint(): void {
    const { picture, look } = this,
      words = new Uint32Array(this.paints.buffer);
    let clear = false;
    for (const s of picture.shapes) {
      const name = picture.bodies[s.body] ?? '';
      const seen = look?.style === 'skeleton' || look?.hidden.includes(name) ? 0 : look?.clear.includes(name) ? 0.28 : 1;
      clear ||= seen > 0 && seen < 1;
      const paint = this.paintOf(s.body, s.colour, seen);
      words.fill((paint[0] | (paint[1] << 8) | (paint[2] << 16) | (paint[3] << 24)) >>> 0, s.vertex[0], s.vertex[0] + s.vertex[1]);
    }
    this.solidGeometry.getAttribute('paint').needsUpdate = true;
    const side = look?.cut ? THREE.DoubleSide : THREE.FrontSide;
    if (side !== this.solidMaterial.side) {
      this.solidMaterial.side = side;
      this.solidMaterial.needsUpdate = true;
    }
    if (clear && !this.clearMesh) {
      const material = posed(new THREE.MeshBasicMaterial({ transparent: true, depthWrite: false }), this.poses, 'clear');
      this.disposables.push(material);
      this.clearMesh = unbounded(new THREE.Mesh(this.solidGeometry, material));
      this.clearMesh.renderOrder = 1;
      this.group.add(this.clearMesh);
    }
    if (this.clearMesh) this.clearMesh.visible = clear;
    this.repainted?.();
  }

  /** Whether a body is drawn at all. */
  shows(body: number): boolean {
    return !this.look?.hidden.includes(this.picture.bodies[body] ?? '');
  }

  /** The body and shape under a ray, the nearest first; what a cut takes away is not there. */
  pick(
    raycaster: THREE.Raycaster,
    cut?: THREE.Plane,
  ): { body: number; shape: string; where: THREE.Vector3; index: number; triangle: number } | undefined {
    let best: { body: number; shape: string; where: THREE.Vector3; distance: number; index: number; triangle: number } | undefined;
    const mesh = new THREE.Mesh();
    this.solids.forEach((s, index) => {
      if (!this.shows(s.body)) return;
      mesh.geometry = s.geometry;
      mesh.matrixWorld.copy(this.matrix(s.body));
      const hit = raycaster.intersectObject(mesh, false).find((h) => !cut || cut.distanceToPoint(h.point) >= 0);
      if (hit && (!best || hit.distance < best.distance))
        best = { body: s.body, shape: s.name, where: hit.point, distance: hit.distance, index, triangle: hit.faceIndex ?? -1 };
    });
    return best;
  }

  /** Box round the machine in its present posture, m. */
  bounds(): THREE.Box3 {
    const box = new THREE.Box3();
    for (const s of this.solids) if (this.shows(s.body)) box.union(s.box.clone().applyMatrix4(this.matrix(s.body)));
    for (const p of this.picture.points) box.expandByPoint(this.p.set(...p.at).applyMatrix4(this.matrix(p.body)));
    for (const j of this.picture.joints) box.expandByPoint(this.p.set(...j.place.at).applyMatrix4(this.matrix(j.place.body)));
    return box;
  }

  dispose(): void {
    for (const d of this.disposables) d.dispose();
    for (const s of this.solids) s.geometry.dispose();
  }
}
