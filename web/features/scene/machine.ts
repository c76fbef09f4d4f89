/**
 * The machine in two draw calls: all solids in one geometry and all their edges in another. A small texture holds the
 * pose and colour of every body; playing writes into it and touches nothing else.
 */
import * as THREE from 'three';
import type { Picture } from '@/workers/protocol';
import { GROUND_COLOUR, bodyColour } from './palette';

/** Four texels a body: the three rows of its pose, then its colour. The first body is the ground. */
const TEXELS = 4;

const POSE_CODE = /* glsl */ `
  attribute float bodyIndex;
  uniform sampler2D poses;
  varying vec4 bodyColour;
  mat4 poseOf(float i) {
    int x = int(i) * ${TEXELS};
    vec4 a = texelFetch(poses, ivec2(x, 0), 0), b = texelFetch(poses, ivec2(x + 1, 0), 0), c = texelFetch(poses, ivec2(x + 2, 0), 0);
    bodyColour = texelFetch(poses, ivec2(x + 3, 0), 0);
    return mat4(a.x, b.x, c.x, 0.0, a.y, b.y, c.y, 0.0, a.z, b.z, c.z, 0.0, a.w, b.w, c.w, 1.0);
  }
`;

function posed<T extends THREE.Material>(material: T, poses: { value: THREE.DataTexture }, edges: boolean): T {
  material.onBeforeCompile = (shader) => {
    shader.uniforms.poses = poses;
    shader.vertexShader = POSE_CODE + shader.vertexShader
      .replace('#include <beginnormal_vertex>', 'mat4 pose = poseOf(bodyIndex); vec3 objectNormal = mat3(pose) * normal;')
      .replace('#include <begin_vertex>', `${edges ? 'mat4 pose = poseOf(bodyIndex);' : ''} vec3 transformed = (pose * vec4(position, 1.0)).xyz;`);
    shader.fragmentShader = `varying vec4 bodyColour;\n${shader.fragmentShader}`.replace(
      'vec4 diffuseColor = vec4( diffuse, opacity );',
      edges ? 'vec4 diffuseColor = vec4(mix(bodyColour.rgb * 0.42, vec3(0.58, 0.056, 0.011), bodyColour.a), opacity);' : 'vec4 diffuseColor = vec4(mix(bodyColour.rgb, bodyColour.rgb * 1.25 + vec3(0.05, 0.01, 0.0), bodyColour.a), opacity);',
    );
  };
  return material;
}

/** Lets the camera's clipping see a geometry whose bodies move about. */
const unbounded = <T extends THREE.Object3D>(object: T): T => {
  object.frustumCulled = false;
  return object;
};

export class Machine {
  readonly group = new THREE.Group();
  private readonly data: Float32Array;
  private readonly texture: THREE.DataTexture;
  private readonly matrices: THREE.Matrix4[];
  private readonly solids: { geometry: THREE.BufferGeometry; body: number; name: string }[] = [];
  private readonly disposables: { dispose(): void }[] = [];

  constructor(readonly picture: Picture) {
    const n = picture.bodies.length + 1;
    this.data = new Float32Array(4 * TEXELS * n);
    this.matrices = Array.from({ length: n }, () => new THREE.Matrix4());
    this.texture = new THREE.DataTexture(this.data, TEXELS * n, 1, THREE.RGBAFormat, THREE.FloatType);
    this.disposables.push(this.texture);
    for (let i = 0; i < n; i++) {
      const c = new THREE.Color(i === 0 ? GROUND_COLOUR : bodyColour(i - 1));
      this.data.set([c.r, c.g, c.b, 0], 4 * (TEXELS * i + 3));
    }
    this.write(0);
    this.build();
    this.pose(picture.posture);
  }

  private build(): void {
    const { shapes } = this.picture;
    let vertices = 0, triangles = 0;
    for (const s of shapes) {
      vertices += s.positions.length / 3;
      triangles += s.indices.length;
    }
    const position = new Float32Array(3 * vertices), normal = new Float32Array(3 * vertices), body = new Float32Array(vertices);
    const index = new Uint32Array(triangles);
    const edgePosition: number[] = [], edgeBody: number[] = [];
    let v = 0, t = 0;
    for (const s of shapes) {
      position.set(s.positions, 3 * v);
      normal.set(s.normals, 3 * v);
      body.fill(s.body + 1, v, v + s.positions.length / 3);
      for (let k = 0; k < s.indices.length; k++) index[t + k] = s.indices[k]! + v;
      const own = new THREE.BufferGeometry();
      own.setAttribute('position', new THREE.BufferAttribute(s.positions, 3));
      own.setIndex(new THREE.BufferAttribute(s.indices, 1));
      own.computeBoundingSphere();
      this.solids.push({ geometry: own, body: s.body, name: s.name });
      const edges = new THREE.EdgesGeometry(own, 35);
      const list = edges.getAttribute('position').array;
      for (let k = 0; k < list.length; k++) edgePosition.push(list[k]!);
      for (let k = 0; k < list.length / 3; k++) edgeBody.push(s.body + 1);
      edges.dispose();
      v += s.positions.length / 3;
      t += s.indices.length;
    }
    const solid = new THREE.BufferGeometry();
    solid.setAttribute('position', new THREE.BufferAttribute(position, 3));
    solid.setAttribute('normal', new THREE.BufferAttribute(normal, 3));
    solid.setAttribute('bodyIndex', new THREE.BufferAttribute(body, 1));
    solid.setIndex(new THREE.BufferAttribute(index, 1));
    const lines = new THREE.BufferGeometry();
    lines.setAttribute('position', new THREE.Float32BufferAttribute(edgePosition, 3));
    lines.setAttribute('bodyIndex', new THREE.Float32BufferAttribute(edgeBody, 1));
    const poses = { value: this.texture };
    const face = posed(new THREE.MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }), poses, false);
    const edge = posed(new THREE.LineBasicMaterial(), poses, true);
    this.disposables.push(solid, lines, face, edge);
    this.group.add(unbounded(new THREE.Mesh(solid, face)), unbounded(new THREE.LineSegments(lines, edge)));
  }

  private write(i: number): void {
    const e = this.matrices[i]!.elements;
    for (let r = 0; r < 3; r++) for (let c = 0; c < 4; c++) this.data[4 * (TEXELS * i + r) + c] = e[4 * c + r]!;
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
    this.texture.needsUpdate = true;
  }

  /** Pose of a body; −1 is the ground. */
  matrix(body: number): THREE.Matrix4 {
    return this.matrices[body < 0 || body >= this.picture.bodies.length ? 0 : body + 1]!;
  }

  /** Marks bodies as selected. */
  mark(selected: ReadonlySet<number>): void {
    for (let i = 0; i < this.matrices.length; i++) this.data[4 * (TEXELS * i + 3) + 3] = selected.has(i - 1) ? 1 : 0;
    this.texture.needsUpdate = true;
  }

  /** The body and shape under a ray, the nearest first. */
  pick(raycaster: THREE.Raycaster): { body: number; shape: string; where: THREE.Vector3 } | undefined {
    let best: { body: number; shape: string; where: THREE.Vector3; distance: number } | undefined;
    for (const s of this.solids) {
      const mesh = new THREE.Mesh(s.geometry);
      mesh.matrixWorld.copy(this.matrix(s.body));
      const hit = raycaster.intersectObject(mesh, false)[0];
      if (hit && (!best || hit.distance < best.distance)) best = { body: s.body, shape: s.name, where: hit.point, distance: hit.distance };
    }
    return best;
  }

  /** Box round the machine in its present posture, m. */
  bounds(): THREE.Box3 {
    const box = new THREE.Box3();
    for (const s of this.solids) {
      const sphere = s.geometry.boundingBox ?? (s.geometry.computeBoundingBox(), s.geometry.boundingBox!);
      box.union(sphere.clone().applyMatrix4(this.matrix(s.body)));
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
