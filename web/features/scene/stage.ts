/** The stage the machine stands on: camera, light, floor; frames are drawn only when something has changed. */
import * as THREE from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { Picture } from '@/workers/protocol';
import { Machine } from './machine';
import { type Ink, Symbols } from './symbols';

export type View = 'iso' | 'front' | 'top' | 'side';

/** Directions from which a standard view looks, z up. */
const FROM: Record<View, readonly [number, number, number]> = { iso: [0.75, -1.5, 0.8], front: [0, -1, 0], top: [0, -0.0001, 1], side: [1, 0, 0] };

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
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, -100, 100);
  private readonly controls: OrbitControls;
  private machine: Machine | undefined;
  private symbols: Symbols | undefined;
  private floor: THREE.GridHelper | undefined;
  private scenery = '';
  private posture: Float64Array | undefined;
  private wanted = false;
  private fence: WebGLSync | null = null;
  private drawnAt = 0;
  /** The user has turned or moved the view: it is no longer fitted on its own. */
  private touched = false;
  /** Frames drawn since the start. */
  frames = 0;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private ink: Ink & { line: string },
    private readonly moved: (camera: THREE.Camera) => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: !softwareRendered(), alpha: true });
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.camera.up.set(0, 0, 1);
    this.camera.position.set(...FROM.iso);
    const sun = new THREE.DirectionalLight('#fffaf0', 2.1);
    sun.position.set(-1, -2, 3);
    const fill = new THREE.DirectionalLight('#eef3ff', 0.7);
    fill.position.set(2, 1, 1);
    this.scene.add(new THREE.HemisphereLight('#ffffff', '#cfc8b8', 2.3), sun, fill);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.draw());
    this.controls.addEventListener('start', () => (this.touched = true));
  }

  /** Asks for a frame. */
  draw(): void {
    if (this.wanted) return;
    this.wanted = true;
    requestAnimationFrame(this.frame);
  }

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
    this.moved(this.camera);
  };

  resize(width: number, height: number): void {
    if (width === 0 || height === 0) return;
    this.renderer.setSize(width, height, false);
    const half = (this.camera.top - this.camera.bottom) / 2;
    this.camera.left = (-half * width) / height;
    this.camera.right = (half * width) / height;
    this.camera.updateProjectionMatrix();
    if (!this.touched) this.fit();
    this.draw();
  }

  /** @param scene identifies what is shown: another project is looked at as a whole, an edit keeps the view */
  show(picture: Picture | undefined, scene: string): void {
    if (!picture) {
      if (this.scenery === scene) return;
      this.scenery = '';
      this.clear();
      this.machine = undefined;
      this.symbols = undefined;
      this.draw();
      return;
    }
    if (this.machine?.picture === picture) return;
    this.posture = undefined;
    const first = this.scenery !== scene;
    this.scenery = scene;
    this.clear();
    this.machine = new Machine(picture);
    this.symbols = new Symbols(this.machine, this.ink);
    this.scene.add(this.machine.group, this.symbols.group);
    if (first) this.fit();
    this.draw();
  }

  private clear(): void {
    for (const x of [this.machine, this.symbols]) {
      if (!x) continue;
      this.scene.remove(x.group);
      x.dispose();
    }
  }

  theme(ink: Ink & { line: string }): void {
    this.ink = ink;
    const picture = this.machine?.picture;
    if (this.floor) {
      this.scene.remove(this.floor);
      this.floor.dispose();
      this.floor = undefined;
    }
    if (picture) {
      this.clear();
      this.machine = undefined;
      this.machine = new Machine(picture);
      if (this.posture) this.machine.pose(this.posture);
      this.symbols = new Symbols(this.machine, ink);
      this.scene.add(this.machine.group, this.symbols.group);
      this.layFloor();
    }
    this.draw();
  }

  /** @param posture seven numbers a body; nothing is drawn when it is the one shown */
  pose(posture: Float64Array): void {
    if (this.posture?.length === posture.length && this.posture.every((x, i) => x === posture[i])) return;
    this.posture = posture.slice();
    this.machine?.pose(posture);
    this.symbols?.update();
    this.draw();
  }

  /** The posture on the stage as text, for the browser tests. */
  shownPosture(): string {
    return this.posture ? Array.from(this.posture, (x) => x.toFixed(6)).join(' ') : '';
  }

  mark(bodies: ReadonlySet<number>, joints: readonly string[], points: readonly string[]): void {
    this.machine?.mark(bodies);
    this.symbols?.mark(joints, points);
    this.draw();
  }

  private layFloor(): void {
    const box = this.machine?.bounds();
    if (!box || box.isEmpty()) return;
    const size = 10 ** Math.ceil(Math.log10(Math.max(...box.getSize(new THREE.Vector3()).toArray(), 1e-3))) * 2;
    if (this.floor) {
      this.scene.remove(this.floor);
      this.floor.dispose();
    }
    this.floor = new THREE.GridHelper(size, 40, this.ink.line, this.ink.line);
    this.floor.rotation.x = Math.PI / 2;
    this.floor.position.set(0, 0, box.min.z - 1e-4 * size);
    (this.floor.material as THREE.Material).transparent = true;
    (this.floor.material as THREE.Material).opacity = 0.65;
    this.scene.add(this.floor);
  }

  /** Looks at the whole machine. */
  fit(from?: View): void {
    const box = this.machine?.bounds() ?? new THREE.Box3();
    if (box.isEmpty()) box.set(new THREE.Vector3(-0.2, -0.2, 0), new THREE.Vector3(0.2, 0.2, 0.2));
    const { width, height } = this.canvas;
    if (width === 0 || height === 0) return;
    this.touched = false;
    const centre = box.getCenter(new THREE.Vector3());
    const reach = box.getSize(new THREE.Vector3()).length();
    const direction = from ? new THREE.Vector3(...FROM[from]) : this.camera.position.clone().sub(this.controls.target);
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(direction.normalize(), 3 * reach);
    this.camera.near = -20 * reach;
    this.camera.far = 20 * reach;
    this.camera.zoom = 1;
    this.camera.lookAt(centre);
    this.camera.updateMatrixWorld();
    // extent of the box as the camera sees it
    const seen = new THREE.Box3();
    for (let i = 0; i < 8; i++) {
      seen.expandByPoint(new THREE.Vector3(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z).applyMatrix4(this.camera.matrixWorldInverse));
    }
    const extent = seen.getSize(new THREE.Vector3());
    const aspect = width / height;
    const half = 0.62 * Math.max(extent.y, extent.x / aspect);
    Object.assign(this.camera, { top: half, bottom: -half, left: -half * aspect, right: half * aspect });
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.layFloor();
    this.draw();
  }

  /** What is under a place on the canvas (CSS pixels). */
  pick(x: number, y: number): { joint: string } | { point: string } | { body: number; shape: string } | undefined {
    if (!this.machine) return undefined;
    const w = this.canvas.clientWidth, h = this.canvas.clientHeight;
    const p = new THREE.Vector3();
    for (const j of this.machine.picture.joints) {
      p.set(...j.place.at).applyMatrix4(this.machine.matrix(j.place.body)).project(this.camera);
      if (Math.hypot(((p.x + 1) / 2) * w - x, ((1 - p.y) / 2) * h - y) < 9) return { joint: j.name };
    }
    for (const q of this.machine.picture.points) {
      p.set(...q.at).applyMatrix4(this.machine.matrix(q.body)).project(this.camera);
      if (Math.hypot(((p.x + 1) / 2) * w - x, ((1 - p.y) / 2) * h - y) < 6) return { point: q.name };
    }
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / w) * 2 - 1, 1 - (y / h) * 2), this.camera);
    return this.machine.pick(ray);
  }

  /** Takes hold of a body under a place on the canvas: its index and the place held, relative to its centre of mass in body axes. */
  hold(x: number, y: number): { body: number; at: [number, number, number] } | undefined {
    const w = this.canvas.clientWidth, h = this.canvas.clientHeight;
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / w) * 2 - 1, 1 - (y / h) * 2), this.camera);
    const hit = this.machine?.pick(ray);
    if (!hit || hit.body < 0) return undefined;
    const at = hit.where.clone().applyMatrix4(this.machine!.matrix(hit.body).clone().invert());
    this.plane.setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new THREE.Vector3()), hit.where);
    return { body: hit.body, at: [at.x, at.y, at.z] };
  }
  private readonly plane = new THREE.Plane();

  /** Where the pointer is, in the plane through the place held, square to the line of sight. */
  reach(x: number, y: number): [number, number, number] | undefined {
    const w = this.canvas.clientWidth, h = this.canvas.clientHeight;
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / w) * 2 - 1, 1 - (y / h) * 2), this.camera);
    const p = ray.ray.intersectPlane(this.plane, new THREE.Vector3());
    return p ? [p.x, p.y, p.z] : undefined;
  }
  /** Where a body's centre of mass is on the canvas (CSS pixels), for the browser tests. */
  spot(body: string): [number, number] | undefined {
    const i = this.machine?.picture.bodies.indexOf(body) ?? -1;
    if (i < 0) return undefined;
    const p = new THREE.Vector3().applyMatrix4(this.machine!.matrix(i)).project(this.camera);
    return [((p.x + 1) / 2) * this.canvas.clientWidth, ((1 - p.y) / 2) * this.canvas.clientHeight];
  }
  /** Looking round is held while a body is dragged. */
  steady(on: boolean): void {
    this.controls.enabled = !on;
  }

  dispose(): void {
    this.clear();
    this.controls.dispose();
    this.renderer.dispose();
  }
}
