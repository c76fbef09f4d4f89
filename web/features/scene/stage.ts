/** The stage the machine stands on: camera, light, floor; frames are drawn only when something has changed. */
import * as THREE from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { Look } from '@/state/scene/view';
import type { Picture } from '@/workers/protocol';
import { Machine, upright } from './machine';
import type { Skeleton } from './skeleton';
import { type Ink, Rings, Symbols } from './symbols';

/** How wide is what is seen where nothing has a size, m. */
const SMALL = 0.2;

export type View = 'iso' | 'front' | 'top' | 'side';
export type Up = 'x' | 'y' | 'z';

/** Directions from which a standard view looks, z up. */
const FROM: Record<View, readonly [number, number, number]> = {
  iso: [0.75, -1.5, 0.8],
  front: [0, -1, 0],
  top: [0, -0.0001, 1],
  side: [1, 0, 0],
};
/** The turn of z up into another axis up: x and y are those of a right-handed drawing. */
const UPRIGHT: Record<Up, (v: readonly [number, number, number]) => THREE.Vector3> = {
  z: ([x, y, z]) => new THREE.Vector3(x, y, z),
  y: ([x, y, z]) => new THREE.Vector3(x, z, -y),
  x: ([x, y, z]) => new THREE.Vector3(z, x, y),
};
const FIELD = 30;

/** Whether WebGL is drawn by the processor: smoothing edges then costs several times the rest of a frame. */
function softwareRendered(): boolean {
  const gl = document.createElement('canvas').getContext('webgl2');
  const info = gl?.getExtension('WEBGL_debug_renderer_info');
  const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
  gl?.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software/i.test(name);
}

/** Beyond this a frame is taken for lost rather than late, ms. */
const LONGEST_FRAME = 500;

export class Stage {
  readonly renderer: THREE.WebGLRenderer;
  readonly scene = new THREE.Scene();
  private readonly parallel = new THREE.OrthographicCamera(-1, 1, 1, -1, -100, 100);
  private readonly perspective = new THREE.PerspectiveCamera(FIELD, 1, 0.01, 100);
  camera: THREE.OrthographicCamera | THREE.PerspectiveCamera = this.parallel;
  private controls: OrbitControls;
  machine: Machine | undefined;
  private symbols: Symbols | undefined;
  private skeleton: Skeleton | undefined;
  private floor: THREE.GridHelper | undefined;
  private scenery = '';
  private posture: Float64Array | undefined;
  private look: Look | undefined;
  private up: Up = 'z';
  private cut: THREE.Plane | undefined;
  private marks: { bodies: ReadonlySet<number>; joints: readonly string[]; points: readonly string[] } = {
    bodies: new Set(),
    joints: [],
    points: [],
  };
  private wanted = false;
  private fence: WebGLSync | null = null;
  private drawnAt = 0;
  /** The user has turned or moved the view: it is no longer fitted on its own. */
  private touched = false;
  /** Frames drawn since the start, and draw calls of the last one. */
  frames = 0;
  calls = 0;
  /** Called after each frame: the view may have changed. */
  readonly afterFrame = new Set<() => void>();
  /** Called when the machine has taken another posture, or is another. */
  readonly followers = new Set<() => void>();

  constructor(
    readonly canvas: HTMLCanvasElement,
    private ink: Ink & { line: string },
    private readonly moved: () => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: !softwareRendered(), alpha: true });
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.camera.position.set(...FROM.iso);
    this.controls = this.control();
  }

  private control(): OrbitControls {
    this.camera.up.copy(UPRIGHT[this.up]([0, 0, 1]));
    const controls = new OrbitControls(this.camera, this.canvas);
    controls.enableDamping = false;
    controls.addEventListener('change', () => this.draw());
    controls.addEventListener('start', () => (this.touched = true));
    return controls;
  }

  /** Asks for a frame. */
  readonly draw = (): void => {
    if (this.wanted) return;
    this.wanted = true;
    requestAnimationFrame(this.frame);
  };

  /** What has left the scene since it was drawn. */
  private readonly worn: { dispose(): void }[] = [];
  private readonly rings = new Rings();

  /** Draws, unless the graphics processor is still at the last frame: waiting for it would hold up the page. */
  private readonly frame = (): void => {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    if (this.fence && gl.getSyncParameter(this.fence, gl.SYNC_STATUS) !== gl.SIGNALED && performance.now() - this.drawnAt < LONGEST_FRAME) {
      requestAnimationFrame(this.frame);
      return;
    }
    if (this.fence) gl.deleteSync(this.fence);
    this.wanted = false;
    this.renderer.render(this.scene, this.camera);
    this.fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    this.drawnAt = performance.now();
    this.frames++;
    this.calls = this.renderer.info.render.calls;
    this.moved();
    for (const f of this.afterFrame) f();
    for (const x of this.worn.splice(0)) x.dispose();
  };

  resize(width: number, height: number): void {
    if (width === 0 || height === 0) return;
    this.renderer.setSize(width, height, false);
    const half = (this.parallel.top - this.parallel.bottom) / 2;
    this.parallel.left = (-half * width) / height;
    this.parallel.right = (half * width) / height;
    this.parallel.updateProjectionMatrix();
    this.perspective.aspect = width / height;
    this.perspective.updateProjectionMatrix();
    if (!this.touched) this.fit();
    this.draw();
  }

  /** @param scene identifies what is shown: another project is looked at as a whole, an edit keeps the view */
  show(picture: Picture | undefined, scene: string): void {
    if (!picture) {
      if (this.scenery === scene) return;
      this.scenery = '';
      this.clear();
      this.draw();
      return;
    }
    if (this.machine?.picture === picture) return;
    this.posture = undefined;
    const first = this.scenery !== scene;
    this.scenery = scene;
    this.build(picture);
    // a machine that has outgrown the view is seen whole again, unless the user has chosen the view
    if (first || (!this.touched && this.outgrown())) this.fit();
    this.draw();
  }

  private outgrown(): boolean {
    const box = this.machine?.bounds();
    if (!box || box.isEmpty()) return false;
    return [0, 1, 2, 3, 4, 5, 6, 7].some((i) => {
      const p = new THREE.Vector3(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z).project(
        this.camera,
      );
      return Math.abs(p.x) > 1 || Math.abs(p.y) > 1;
    });
  }

  private build(picture: Picture): void {
    this.clear();
    this.machine = new Machine(picture);
    if (this.posture) this.machine.pose(this.posture);
    this.machine.mark(this.marks.bodies);
    this.symbols = new Symbols(this.machine, this.ink, this.look?.style === 'skeleton', this.rings);
    this.symbols.mark(this.marks.joints, this.marks.points);
    this.scene.add(this.machine.group, this.symbols.group);
    if (this.look) this.see(this.look);
    for (const f of this.followers) f();
  }

  private clear(): void {
    for (const x of [this.machine, this.symbols, this.skeleton]) {
      if (!x) continue;
      this.scene.remove(x.group);
      // only once what takes its place is drawn: the shaders they have in common are not made anew
      this.worn.push(x);
    }
    this.machine = this.symbols = this.skeleton = undefined;
  }

  theme(ink: Ink & { line: string }): void {
    this.ink = ink;
    const picture = this.machine?.picture;
    this.floor?.removeFromParent();
    this.floor?.dispose();
    this.floor = undefined;
    if (picture) {
      this.build(picture);
      this.layFloor();
    }
    this.draw();
  }

  /** Hidden and see-through bodies, solids or skeleton, lens and section. */
  see(look: Look): void {
    const before = this.look;
    this.look = look;
    this.machine?.see(look);
    const plane =
      look.cut &&
      new THREE.Plane(
        new THREE.Vector3().setComponent('xyz'.indexOf(look.cut.axis), look.cut.flip ? 1 : -1),
        look.cut.flip ? -look.cut.at : look.cut.at,
      );
    this.cut = plane;
    this.renderer.clippingPlanes = plane ? [plane] : [];
    const lens = look.lens === 'perspective' ? this.perspective : this.parallel;
    if (lens !== this.camera) this.changeLens(lens);
    if (before && before.style !== look.style && this.machine) {
      this.symbols?.group.removeFromParent();
      this.symbols?.dispose();
      this.symbols = new Symbols(this.machine, this.ink, look.style === 'skeleton', this.rings);
      this.symbols.mark(this.marks.joints, this.marks.points);
      this.scene.add(this.symbols.group);
    }
    if (look.style === 'skeleton') void this.drawSkeleton();
    else {
      this.skeleton?.group.removeFromParent();
      this.skeleton?.dispose();
      this.skeleton = undefined;
    }
    this.draw();
  }

  private async drawSkeleton(): Promise<void> {
    const { machine } = this;
    const { Skeleton } = await import('./skeleton');
    if (!machine || machine !== this.machine || this.look?.style !== 'skeleton' || this.skeleton?.machine === machine) return;
    this.skeleton?.group.removeFromParent();
    this.skeleton?.dispose();
    this.skeleton = new Skeleton(machine, UPRIGHT[this.up]([0, 0, 1]));
    this.scene.add(this.skeleton.group);
    this.draw();
  }

  private changeLens(lens: THREE.OrthographicCamera | THREE.PerspectiveCamera): void {
    lens.position.copy(this.camera.position);
    lens.up.copy(this.camera.up);
    this.camera = lens;
    this.controls.object = lens;
    this.fit(undefined, true);
    for (const f of this.followers) f();
  }

  /** The axis that points up. */
  erect(up: Up): void {
    if (up === this.up) return;
    this.up = up;
    const column = (k: number) => UPRIGHT[up]([k === 0 ? 1 : 0, k === 1 ? 1 : 0, k === 2 ? 1 : 0]);
    upright.value.setFromMatrix4(new THREE.Matrix4().makeBasis(column(0), column(1), column(2)));
    for (const c of [this.parallel, this.perspective]) c.up.copy(UPRIGHT[up]([0, 0, 1]));
    // the controls learn of the axis only when they are made
    const { target } = this.controls;
    this.controls.dispose();
    this.controls = this.control();
    this.controls.target.copy(target);
    this.skeleton?.group.removeFromParent();
    this.skeleton?.dispose();
    this.skeleton = undefined;
    if (this.look?.style === 'skeleton') void this.drawSkeleton();
    this.fit('iso');
  }

  /** @param posture seven numbers a body; nothing is drawn when it is the one shown */
  pose(posture: Float64Array): void {
    if (this.posture?.length === posture.length && this.posture.every((x, i) => x === posture[i])) return;
    this.posture = posture.slice();
    const before = this.ridden === undefined || !this.machine ? undefined : this.machine.matrix(this.ridden.body).clone();
    this.machine?.pose(posture);
    if (before) this.carry(before);
    this.symbols?.update();
    for (const f of this.followers) f();
    this.draw();
  }

  private ridden: { body: number; turning: boolean } | undefined;

  /** The camera goes with a body (left out: it stands still); turning with it, the body stands still and all else moves. */
  ride(body: string | undefined, turning: boolean): void {
    const i = body === undefined ? -1 : (this.machine?.picture.bodies.indexOf(body) ?? -1);
    this.ridden = i < 0 ? undefined : { body: i, turning };
    if (!this.ridden || !turning) this.camera.up.copy(UPRIGHT[this.up]([0, 0, 1]));
  }

  /** Moves the camera as the body it goes with has moved. @param before pose of the body then */
  private carry(before: THREE.Matrix4): void {
    const now = this.machine!.matrix(this.ridden!.body),
      { target } = this.controls;
    if (this.ridden!.turning) {
      const moved = now.clone().multiply(before.invert());
      this.camera.position.applyMatrix4(moved);
      target.applyMatrix4(moved);
      this.camera.up.transformDirection(moved);
      this.camera.lookAt(target);
    } else {
      const way = new THREE.Vector3().setFromMatrixPosition(now).sub(new THREE.Vector3().setFromMatrixPosition(before));
      this.camera.position.add(way);
      target.add(way);
    }
    this.camera.updateMatrixWorld();
  }

  /** The posture on the stage as text, for the browser tests. */
  shownPosture(): string {
    return this.posture ? Array.from(this.posture, (x) => x.toFixed(6)).join(' ') : '';
  }

  mark(bodies: ReadonlySet<number>, joints: readonly string[], points: readonly string[]): void {
    this.marks = { bodies, joints, points };
    this.machine?.mark(bodies);
    this.symbols?.mark(joints, points);
    this.draw();
  }

  private layFloor(): void {
    const box = this.machine?.bounds();
    if (!box || box.isEmpty()) return;
    const size = 10 ** Math.ceil(Math.log10(Math.max(...box.getSize(new THREE.Vector3()).toArray(), 1e-3))) * 2;
    this.floor?.removeFromParent();
    this.floor?.dispose();
    this.floor = new THREE.GridHelper(size, 40, this.ink.line, this.ink.line);
    const up = UPRIGHT[this.up]([0, 0, 1]);
    this.floor.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), up);
    this.floor.position.copy(up).multiplyScalar(box.min.dot(up) - 1e-4 * size);
    const material = this.floor.material as THREE.Material;
    material.transparent = true;
    material.opacity = 0.65;
    this.scene.add(this.floor);
  }

  /** The box round the machine, m; something of a size when there is none. */
  box(): THREE.Box3 {
    const box = this.machine?.bounds() ?? new THREE.Box3();
    if (box.isEmpty()) box.set(new THREE.Vector3(-0.2, -0.2, 0), new THREE.Vector3(0.2, 0.2, 0.2));
    return box;
  }

  /** Direction from the middle to the camera. */
  from(): THREE.Vector3 {
    return this.camera.position.clone().sub(this.controls.target).normalize();
  }

  /** Looks at all that the machine reaches in these postures. @param postures each seven numbers a body */
  fitMotion(postures: Iterable<Float64Array>): void {
    const { machine, posture } = this,
      box = this.box();
    if (!machine || !posture) return;
    for (const p of postures) {
      machine.pose(p);
      box.union(machine.bounds());
    }
    machine.pose(posture);
    this.fit(undefined, false, box);
  }

  /** The view stays as it is, however large the machine becomes. */
  stay(): void {
    this.touched = true;
  }

  /**
   * Looks at the whole machine.
   * @param from a standard view, or a direction of the ground
   * @param keep the direction and what is in the middle stay
   * @param box what is to be seen, m
   */
  fit(from?: View | readonly [number, number, number], keep = false, box = this.box()): void {
    const { width, height } = this.canvas;
    if (width === 0 || height === 0) return;
    if (!keep) this.touched = false;
    const centre = keep ? this.controls.target.clone() : box.getCenter(new THREE.Vector3());
    // a single point is looked at from as far as something of a size: from where it stands there is no direction
    const reach = box.getSize(new THREE.Vector3()).length() || SMALL;
    const direction =
      typeof from === 'object'
        ? new THREE.Vector3(...from)
        : from
          ? UPRIGHT[this.up](FROM[from])
          : this.camera.position.clone().sub(this.controls.target);
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(direction.normalize(), 3 * reach);
    this.camera.zoom = 1;
    this.camera.lookAt(centre);
    this.camera.updateMatrixWorld();
    // extent of the box as the camera sees it
    const seen = new THREE.Box3();
    for (let i = 0; i < 8; i++) {
      seen.expandByPoint(
        new THREE.Vector3(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z).applyMatrix4(
          this.camera.matrixWorldInverse,
        ),
      );
    }
    const extent = seen.getSize(new THREE.Vector3());
    const aspect = width / height;
    const half = 0.62 * (Math.max(extent.y, extent.x / aspect) || SMALL);
    if (this.camera instanceof THREE.PerspectiveCamera) {
      const away = half / Math.tan((FIELD * Math.PI) / 360) + extent.z / 2;
      this.camera.position.copy(centre).addScaledVector(direction, away);
      Object.assign(this.camera, { near: away / 100, far: away + 20 * reach });
    } else
      Object.assign(this.camera, {
        near: -20 * reach,
        far: 20 * reach,
        top: half,
        bottom: -half,
        left: -half * aspect,
        right: half * aspect,
      });
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
    this.controls.update();
    this.layFloor();
    this.draw();
  }

  /** Turns the view about the middle of the screen, rad; for the keyboard. */
  turn(sideways: number, upwards: number): void {
    const offset = this.camera.position.clone().sub(this.controls.target);
    const up = this.camera.up;
    offset.applyAxisAngle(up, -sideways);
    const right = new THREE.Vector3().crossVectors(offset, up).normalize();
    const angle = offset.angleTo(up) - upwards;
    if (angle > 0.02 && angle < Math.PI - 0.02) offset.applyAxisAngle(right, upwards);
    this.camera.position.copy(this.controls.target).add(offset);
    this.touched = true;
    this.controls.update();
    this.draw();
  }
  /** Comes nearer by a factor; for the keyboard. */
  zoom(factor: number): void {
    this.camera.zoom *= factor;
    this.camera.updateProjectionMatrix();
    this.touched = true;
    this.draw();
  }

  /** A place of the ground on the canvas, CSS pixels. */
  onScreen(p: THREE.Vector3): [number, number] {
    const v = p.clone().project(this.camera);
    return [((v.x + 1) / 2) * this.canvas.clientWidth, ((1 - v.y) / 2) * this.canvas.clientHeight];
  }
  /** Length at a place that a CSS pixel covers, m. */
  pixel(at: THREE.Vector3): number {
    const height = this.canvas.clientHeight || 1;
    if (this.camera instanceof THREE.OrthographicCamera) return (this.camera.top - this.camera.bottom) / this.camera.zoom / height;
    return (2 * this.camera.position.distanceTo(at) * Math.tan((FIELD * Math.PI) / 360)) / this.camera.zoom / height;
  }
  /** The line of sight through a place on the canvas (CSS pixels). */
  sight(x: number, y: number): THREE.Raycaster {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2), this.camera);
    return ray;
  }
  /** Where something fixed in a body is now. */
  spotOf(s: { body: number; at: readonly [number, number, number] }): THREE.Vector3 {
    return new THREE.Vector3(...s.at).applyMatrix4(this.machine!.matrix(s.body));
  }

  /** What is under a place on the canvas (CSS pixels). @param beneath past joints, at what is under them */
  pick(
    x: number,
    y: number,
    beneath = false,
  ):
    | { joint: string }
    | { point: string }
    | { body: number; shape: string; index: number; triangle: number; where: THREE.Vector3 }
    | undefined {
    if (!this.machine) return undefined;
    const near = (s: { body: number; at: readonly [number, number, number] }, reach: number) => {
      const at = this.spotOf(s);
      if (this.cut && this.cut.distanceToPoint(at) < 0) return false;
      const [px, py] = this.onScreen(at);
      return Math.hypot(px - x, py - y) < reach;
    };
    const joint = beneath ? undefined : this.machine.picture.joints.find((j) => near(j.place, 9));
    if (joint) return { joint: joint.name };
    const point = this.machine.picture.points.find((p) => near(p, 6));
    if (point) return { point: point.name };
    return this.machine.pick(this.sight(x, y), this.cut) ?? this.skeleton?.pick(x, y, this);
  }

  /** Takes hold of a body under a place on the canvas: its index and the place held, relative to its centre of mass in body axes. */
  hold(x: number, y: number): { body: number; at: [number, number, number] } | undefined {
    const hit = this.look?.style === 'skeleton' ? this.skeleton?.pick(x, y, this) : this.machine?.pick(this.sight(x, y), this.cut);
    if (!hit || hit.body < 0) return undefined;
    const at = hit.where.clone().applyMatrix4(this.machine!.matrix(hit.body).clone().invert());
    this.plane.setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new THREE.Vector3()), hit.where);
    return { body: hit.body, at: [at.x, at.y, at.z] };
  }
  private readonly plane = new THREE.Plane();

  /** Where the pointer is, in the plane through the place held, square to the line of sight. */
  reach(x: number, y: number): [number, number, number] | undefined {
    const p = this.sight(x, y).ray.intersectPlane(this.plane, new THREE.Vector3());
    return p ? [p.x, p.y, p.z] : undefined;
  }
  /** Where a body's centre of mass is on the canvas (CSS pixels), for the browser tests. */
  spot(body: string): [number, number] | undefined {
    const i = this.machine?.picture.bodies.indexOf(body) ?? -1;
    return i < 0 ? undefined : this.onScreen(this.spotOf({ body: i, at: [0, 0, 0] }));
  }
  /** Where a point is on the canvas (CSS pixels), for the browser tests. */
  pointSpot(name: string): [number, number] | undefined {
    const p = this.machine?.picture.points.find((x) => x.name === name);
    return p && this.onScreen(this.spotOf(p));
  }
  /** Looking round is held while a body is dragged. */
  steady(on: boolean): void {
    this.controls.enabled = !on;
  }

  /** Draws at once, so that the canvas can be read in the same turn. */
  now(): HTMLCanvasElement {
    this.renderer.render(this.scene, this.camera);
    return this.canvas;
  }

  /** What photographs need. @returns undefined while nothing is shown */
  get exposed(): { renderer: THREE.WebGLRenderer; scene: THREE.Scene; camera: THREE.Camera; canvas: HTMLCanvasElement } | undefined {
    return this.machine && this.canvas.width > 0 ? this : undefined;
  }

  dispose(): void {
    this.clear();
    for (const x of [...this.worn, this.rings, this.controls, this.renderer]) x.dispose();
  }
}
