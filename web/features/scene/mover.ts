/** Moving points and bodies in the scene: by handles along the axes, or a point freely in the plane most square to the line of sight. */
import { Matrix4, Object3D, Plane, Vector3 } from 'three';
import { TransformControls } from 'three/addons/controls/TransformControls.js';
import { Refusal } from '@vim-pivot/core/page';
import type { Selected } from '@/state/document/document';
import { gesture, useDocument } from '@/state/document/document';
import { stepFor } from '@/state/scene/grid-step';
import { coordinatesOf, moveBody, snapped, writePoint } from '@/state/scene/place';
import type { Stage } from './stage';

export type Handles = 'move' | 'turn';

/** Lines of the snapping grid are at least this far apart on the screen, CSS pixels. */
const GRID = 8;
/** A step of turning by the keyboard, deg. */
const TURN = 5;
/** Other points draw a coordinate onto theirs within this, CSS pixels. */
const REACH = 6;

export class Mover {
  private readonly controls: TransformControls;
  private readonly proxy = new Object3D();
  private target: Selected | undefined;
  private hand: ReturnType<typeof gesture> | undefined;
  private begun:
    | {
        proxy: Matrix4;
        model: NonNullable<ReturnType<typeof useDocument.getState>['model']>;
        live: ReturnType<typeof useDocument.getState>['live'];
      }
    | undefined;
  private readonly plane = new Plane();
  private free = false;
  /** What is to have the handles once the hand has let go. */
  private after: { target: Selected | undefined; handles: Handles } | undefined;

  constructor(
    private readonly stage: Stage,
    private readonly say: (text: string | undefined) => void,
    colours: readonly [string, string, string, string],
  ) {
    this.controls = new TransformControls(stage.camera, stage.canvas);
    this.controls.setSize(0.75);
    this.controls.setColors(...colours);
    stage.scene.add(this.proxy, this.controls.getHelper());
    this.controls.attach(this.proxy);
    this.controls.addEventListener('change', stage.draw);
    this.controls.addEventListener('dragging-changed', (e) => (e.value ? this.begin() : this.end()));
    this.controls.addEventListener('objectChange', () => this.moved(false));
    stage.followers.add(this.follow);
  }

  /** The pointer is on a handle. */
  get busy(): boolean {
    return this.free || this.controls.dragging || this.controls.axis !== null;
  }

  /** @param target a point, or a body of the scene */
  show(target: Selected | undefined, handles: Handles): void {
    // a hand that moves something keeps hold of it, whatever a run shows meanwhile
    this.after = this.hand && { target, handles };
    if (this.hand) return;
    this.target = target;
    this.controls.setMode(handles === 'turn' ? 'rotate' : 'translate');
    this.controls.camera = this.stage.camera;
    this.controls.enabled = !!target;
    this.controls.getHelper().visible = !!target;
    if (target) this.controls.attach(this.proxy);
    else this.controls.detach();
    this.follow();
    this.stage.draw();
  }

  /** Puts the handles where their target is. */
  private readonly follow = (): void => {
    if (!this.target || this.hand) return;
    this.controls.camera = this.stage.camera;
    const at = this.spot();
    if (!at) return;
    this.proxy.position.copy(at);
    this.proxy.quaternion.identity();
    this.proxy.updateMatrixWorld();
  };

  private spot(): Vector3 | undefined {
    const { machine } = this.stage;
    if (!machine || !this.target) return undefined;
    const { family, name } = this.target;
    if (family === 'points') {
      const p = machine.picture.points.find((x) => x.name === name);
      return p && this.stage.spotOf(p);
    }
    const i = machine.picture.bodies.indexOf(name);
    return i < 0 ? undefined : this.stage.spotOf({ body: i, at: [0, 0, 0] });
  }

  private begin(): void {
    const { model, live } = useDocument.getState();
    if (!model) return;
    this.stage.steady(true);
    this.proxy.updateMatrixWorld();
    this.begun = { proxy: this.proxy.matrixWorld.clone(), model, live };
    this.hand = gesture();
  }

  private end(): void {
    this.stage.steady(false);
    this.hand = this.begun = undefined;
    this.free = false;
    this.say(undefined);
    const { after } = this;
    if (after) this.show(after.target, after.handles);
    else this.follow();
  }

  /** Takes hold of the selected point under the pointer. */
  grab(x: number, y: number): boolean {
    const at = this.target?.family === 'points' && !this.controls.axis ? this.spot() : undefined;
    if (!at) return false;
    const [px, py] = this.stage.onScreen(at);
    if (Math.hypot(px - x, py - y) > 8) return false;
    const sight = this.stage.sight(x, y).ray.direction;
    const k = [0, 1, 2].reduce((best, i) => (Math.abs(sight.getComponent(i)) > Math.abs(sight.getComponent(best)) ? i : best), 0);
    this.plane.setFromNormalAndCoplanarPoint(new Vector3().setComponent(k, 1), at);
    this.free = true;
    this.begin();
    return true;
  }
  drag(x: number, y: number, loose: boolean): void {
    if (!this.free) return;
    const p = this.stage.sight(x, y).ray.intersectPlane(this.plane, new Vector3());
    if (!p) return;
    this.proxy.position.copy(p);
    this.moved(loose);
    this.stage.draw();
  }
  /** Moves, or turns, what the handles are on by a step along or about an axis of the ground; for the keyboard. @returns whether there is something to move */
  nudge(axis: number, sign: 1 | -1): boolean {
    if (!this.target || this.hand) return false;
    this.follow();
    this.begin();
    if (this.controls.getMode() === 'rotate')
      this.proxy.rotateOnWorldAxis(new Vector3().setComponent(axis, 1), (sign * TURN * Math.PI) / 180);
    else
      this.proxy.position.setComponent(
        axis,
        this.proxy.position.getComponent(axis) + sign * stepFor(GRID * this.stage.pixel(this.proxy.position)),
      );
    this.moved(false);
    this.end();
    return true;
  }
  drop(): void {
    if (this.free) this.end();
  }

  private moved(loose: boolean): void {
    const { begun, hand, target } = this;
    if (!begun || !hand || !target) return;
    this.proxy.updateMatrixWorld();
    if (target.family === 'points') this.movePoint(target.name, loose);
    else {
      const motion = this.proxy.matrixWorld.clone().multiply(begun.proxy.clone().invert());
      let stays: string | undefined;
      try {
        hand.set(`Move ${target.name}`, (m) => {
          stays = moveBody(m, begun.live, target.name, motion, begun.model);
        });
        this.say(stays && `Stays behind: ${stays}`);
      } catch (e) {
        if (!(e instanceof Refusal)) throw e;
        this.say(e.message);
      }
    }
  }

  private movePoint(name: string, loose: boolean): void {
    const { stage, begun, hand } = this;
    const known = coordinatesOf(begun!.model, begun!.live, name);
    const { machine } = stage;
    if (!known || !machine) return;
    const from = new Vector3().setFromMatrixPosition(begun!.proxy);
    const pixel = stage.pixel(from);
    const moves = [0, 1, 2].map((k) => Math.abs(this.proxy.position.getComponent(k) - from.getComponent(k)) > 1e-9);
    const others = machine.picture.points.filter((p) => p.name !== name).map((p) => ({ name: p.name, at: stage.spotOf(p).toArray() }));
    const step = stepFor(GRID * pixel);
    const to = loose
      ? { at: this.proxy.position.toArray(), onto: [] }
      : snapped(this.proxy.position.toArray(), others, step, REACH * pixel, moves);
    const shift = new Vector3(...to.at).sub(from);
    // into the axes in which the point is given
    const body = machine.picture.bodies.indexOf(known.body);
    shift.applyMatrix4(new Matrix4().extractRotation(machine.matrix(body)).transpose());
    const at = known.at.map((x, k) => x + shift.getComponent(k));
    hand!.set(`Move ${name}`, (m) => writePoint(m, name, at, known.held));
    const held = known.held.flatMap((h, k) => (h && Math.abs(shift.getComponent(k)) > 1e-9 ? ['xyz'[k]!] : []));
    const words = at.map((x, k) => `${'xyz'[k]} ${known.held[k] ? 'held' : `${Number((1000 * x).toFixed(3))}`}`).join('  ');
    this.say(
      `${name}: ${words} mm${to.onto.length > 0 ? ` · on ${to.onto.join(', ')}` : ''}${held.length > 0 ? ` · ${held.join(', ')} is a formula and stays` : ''}`,
    );
  }

  dispose(): void {
    this.stage.followers.delete(this.follow);
    this.controls.getHelper().removeFromParent();
    this.proxy.removeFromParent();
    this.controls.dispose();
  }
}
