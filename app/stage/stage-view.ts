import * as THREE from 'three';
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh';
import type { Point } from '#core/geometry/shape/cut';
import { Displacement } from './displacement';
import { Eye } from './eye';
import { FramePainter, type Picture } from './frame-painter';
import { Handle } from './handle';
import type { InstancedBody } from './instanced-body';
import { type FaceHit, pickFace, pointerIn } from './picking';
import { StagePointer } from './pointer';
import { type LoadingStage, SceneLoader } from './scene-loader';
import { SectionCaps } from './section-caps';
import { StageLabels } from './stage-labels';
import type { StageTool, ToolStage } from './stage-tool';
import { Surroundings } from './surroundings';
import { isSamePose, type Pose, type StageTwins, type TwinView } from './twins';
import type { Direction, SectionPlane, StageFacePick, StageLabel, StagePick, StageScene } from './types';

THREE.Mesh.prototype.raycast = acceleratedRaycast;
THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree;

const NO_SHIFT = new THREE.Vector3();
/** Seconds that a movement goes on in one frame at most; drawn in software, where frames take long, it is over sooner for it. */
const LONGEST_STEP = { card: 0.1, software: 0.5 };
export interface StageCallbacks {
  onPick(pick: StagePick | StageFacePick | null, isAdded: boolean): void;
  /** A menu was asked for, at a place of the window. */
  onMenu(pick: StagePick | null, at: [x: number, y: number]): void;
  /** The selected bodies were shifted by hand, mm from where they belong. */
  onShift(by: Point): void;
  /** The eye has come to rest: from what is looked at to where it is. */
  onSeenFrom(towards: Point): void;
  onHover(pick: StagePick | null): void;
  /** A name was typed at a label. */
  onName(row: number, name: string): void;
  /** Bodies still to come, and bodies whose shape could not be fetched; what is wrong with them, where that is known. */
  onLoading(left: number, failed: number, trouble: string | null): void;
}

/**
 * The 3D view, in plain three.js. Repeated bodies are drawn as instances: for each distinct body one draw call for each level of
 * detail in use, and one for the edges, however often it is placed. A frame is drawn only when something changed, with as many
 * triangles as leave turning fluid; at rest it is drawn again as finely as it can be seen.
 */
export class StageView implements ToolStage, TwinView, LoadingStage, Picture {
  readonly scene = new THREE.Scene();
  readonly eye: Eye;
  private readonly painter: FramePainter;
  private readonly loader = new SceneLoader(this);
  private readonly model = new THREE.Group();
  private readonly surroundings: Surroundings;
  private readonly clock = new THREE.Timer();
  private readonly resizeObserver: ResizeObserver;
  private readonly plane = new THREE.Plane();
  private readonly caps: SectionCaps;
  private tool: StageTool | null = null;
  bodies: InstancedBody[] = [];
  readonly bounds = new THREE.Box3();
  private section: SectionPlane | null = null;
  private hidden: ReadonlySet<number> = new Set();
  private selected: ReadonlySet<number> = new Set();
  private edges = true;
  private isSeeThrough = false;
  private colours: ReadonlyMap<number, THREE.Color> = new Map();
  private hovered: number | null = null;
  private readonly displacement = new Displacement();
  /** Whether anything is shown elsewhere than where it belongs. */
  private isOff = false;
  private readonly shifter: Handle;
  private isShifting = false;
  /** Middle of each row where it belongs. */
  private readonly middles = new Map<number, THREE.Vector3>();
  private readonly labels: StageLabels;
  private readonly pointer: StagePointer;
  /**
   * Whether the eye was brought to the model: a scene that is replaced while it loads leaves that to the next, and one
   * of which only a part was there is looked at again when there is more, unless somebody has moved the eye.
   */
  private framed: 'no' | 'partly' | 'wholly' = 'no';
  private needsFrame = true;
  private running = true;
  /** Whether the eye was under way in the last frame. */
  private isMoving = false;
  private poses: ReadonlyMap<number, THREE.Matrix4> = new Map();
  private twins: StageTwins | null = null;
  /** Where this one and its twins looked from last. */
  private pose: Pose | null = null;

  constructor(
    readonly canvas: HTMLCanvasElement,
    private readonly callbacks: StageCallbacks,
    labelLayer: HTMLElement,
  ) {
    this.labels = new StageLabels(labelLayer, {
      onPick: (row) => callbacks.onPick({ row, name: '' }, false),
      onName: callbacks.onName,
    });
    this.eye = new Eye(canvas, () => this.redraw());
    this.eye.controls.addEventListener('controlstart', () => {
      this.framed = 'wholly';
    });

    this.painter = new FramePainter(canvas, this);
    const { renderer, isSoftware } = this.painter;
    this.surroundings = new Surroundings(this.scene, this.eye.camera, renderer, isSoftware);
    this.scene.add(this.model);
    this.caps = new SectionCaps(this.plane);
    this.scene.add(this.caps.group);

    this.shifter = new Handle(this.scene, this.eye.camera, canvas, {
      onDrag: (by) => {
        this.displacement.drag(by);
        this.refresh();
        this.callbacks.onShift(this.shiftOfSelected);
      },
      onDragging: (is) => {
        this.holdEye(is);
        if (!is) this.placeShifter();
      },
      onChange: () => this.redraw(),
    });

    this.pointer = new StagePointer(canvas, {
      onPress: (event) => this.turnAboutWhatIsUnder(event),
      onClick: (event) => this.click(event),
      onMenu: (event) =>
        this.callbacks.onMenu(this.hitUnder(event)?.pick ?? null, [event.clientX, event.clientY]),
      onHover: (event) => this.lookUnder(event),
      onLeave: () => this.hover(null),
      pause: () => (this.tool?.takesPointer ? 30 : 80),
    });
    this.resizeObserver = new ResizeObserver(() => this.resize());
    this.resizeObserver.observe(canvas.parentElement!);
    this.resize();
    requestAnimationFrame(this.frame);
  }

  /** Shows another scene; bodies appear as their files arrive. The view is kept when `keepView`. */
  setScene(scene: StageScene, keepView: boolean): Promise<void> {
    // The same model with news in it: what is drawn stays until all of the new is there.
    const inOneStep = keepView && this.bodies.length > 0;
    if (!keepView) this.framed = 'no';
    return this.loader.load(scene, inOneStep);
  }

  removeBody(body: InstancedBody): void {
    this.bodies = this.bodies.filter((other) => other !== body);
    this.model.remove(body.group);
    body.dispose();
    body.geometry.dispose();
  }

  clear(): void {
    for (const body of this.bodies) body.dispose();
    this.bodies = [];
    this.model.clear();
    this.caps.clear();
    this.bounds.makeEmpty();
    this.middles.clear();
    this.redraw();
  }

  standInsAreThere(): void {
    if (this.framed === 'no') this.look('corner', false);
  }

  hasLoaded(isWhole: boolean): void {
    if (this.framed === 'wholly' || this.bounds.isEmpty()) return;
    this.look('corner', false);
    this.framed = isWhole ? 'wholly' : 'partly';
  }

  onLoading(left: number, failed: number, trouble: string | null): void {
    this.callbacks.onLoading(left, failed, trouble);
  }

  setHidden(rows: ReadonlySet<number>): void {
    this.hidden = rows;
    this.refresh();
  }

  setSelected(rows: ReadonlySet<number>): void {
    this.selected = rows;
    this.refresh();
    this.placeShifter();
  }

  /** Offers a handle to shift the selected bodies along an axis, or takes it away. */
  setShifting(on: boolean): void {
    this.isShifting = on;
    this.placeShifter();
  }

  /** Shifts the selected bodies for a look, mm. Nothing but the picture changes. */
  shiftSelected(by: Point): void {
    this.displacement.shift(this.selected, by);
    this.refresh();
    this.placeShifter();
  }

  /** How far the selected bodies are shifted; the first counts. */
  get shiftOfSelected(): Point {
    return this.displacement.shiftOf(this.selected);
  }

  /** Puts all bodies back where they belong. */
  putBack(): void {
    this.displacement.putBack();
    this.refresh();
    this.placeShifter();
  }

  private placeShifter(): void {
    this.displacement.hold(this.selected);
    const box = this.isShifting ? this.boxOf((row) => this.selected.has(row)) : new THREE.Box3();
    const [first] = this.selected;
    const shift = first === undefined ? null : this.displacement.of(first);
    this.shifter.put(box.isEmpty() ? null : box.getCenter(new THREE.Vector3()).add(shift ?? NO_SHIFT));
    this.redraw();
  }

  setLabels(labels: readonly StageLabel[]): void {
    this.labels.set(labels);
    this.redraw();
  }

  /** Pulls bodies apart for a look, away from the middle of the model. Nothing but the picture changes. */
  setSpread(spread: number): void {
    this.displacement.pullApart(spread);
    this.refresh();
  }

  /** Puts a tool on the stage, in place of the one that is there. */
  setTool(tool: StageTool | null): void {
    if (this.tool) {
      this.tool.detach();
      this.scene.remove(this.tool.group);
    }
    this.tool = tool;
    if (tool) {
      this.scene.add(tool.group);
      tool.attach(this);
    }
    this.redraw();
  }

  setEdges(on: boolean): void {
    this.edges = on;
    for (const body of this.bodies) body.showEdges(on);
    this.redraw();
  }

  /** Makes all faint but what is selected. */
  setSeeThrough(on: boolean): void {
    this.isSeeThrough = on;
    this.refresh();
  }

  /** Gives rows colours that are not their own. */
  setColours(colours: ReadonlyMap<number, string>): void {
    this.colours = new Map([...colours].map(([row, colour]) => [row, new THREE.Color(colour)]));
    this.refresh();
  }

  /** Looks from where others do, and they from where this one does. @returns what ends it */
  turnWith(twins: StageTwins): () => void {
    this.twins = twins;
    const leave = twins.join(this);
    return () => {
      this.twins = null;
      leave();
    };
  }

  /** Looks from where a twin does. */
  follow(pose: Pose): void {
    this.pose = pose;
    this.framed = 'wholly';
    this.eye.put(pose);
    this.redraw();
  }

  private tellTwins(): void {
    if (!this.twins || this.bodies.length === 0) return;
    const { pose } = this.eye;
    if (isSamePose(this.pose, pose)) return;
    this.pose = pose;
    this.twins.tell(this, pose);
  }

  /** Moves rows from where they belong, as a mechanism does. @param poses row-major */
  setPoses(poses: ReadonlyMap<number, readonly number[]>): void {
    this.poses = new Map(
      [...poses].map(([row, pose]) => [row, new THREE.Matrix4().fromArray(pose as number[]).transpose()]),
    );
    this.refresh();
    if (this.section) this.applySection();
  }

  setSection(section: SectionPlane | null): void {
    this.section = section;
    this.applySection();
  }

  /** The section across an axis that takes away the half nearer to the eye, so that the cut is seen. */
  sectionTowardsEye(axis: 'x' | 'y' | 'z'): SectionPlane {
    const centre = this.bounds.getCenter(new THREE.Vector3());
    const side = this.eye.camera.position[axis] < centre[axis] ? -1 : 1;
    const normal = { x: [side, 0, 0], y: [0, side, 0], z: [0, 0, side] }[axis] as unknown as Point;
    return { normal, at: side * centre[axis] };
  }

  /** How far the model reaches along a direction, mm from the origin; null while nothing of it is there. */
  reachAlong(direction: Point): [least: number, most: number] | null {
    if (this.bounds.isEmpty()) return null;
    const along = new THREE.Vector3(...direction);
    const reaches = cornersOf(this.bounds).map((corner) => corner.dot(along));
    return [Math.min(...reaches), Math.max(...reaches)];
  }

  /** Turns the eye about what it looks at, degrees; nearer for a factor below 1. */
  turn(right: number, up: number, factor = 1): void {
    this.eye.turn(right, up, factor);
    this.framed = 'wholly';
    this.redraw();
  }

  /** As a click in the middle of the picture, for those who use the keys. */
  clickMiddle(): void {
    const { left, top, width, height } = this.canvas.getBoundingClientRect();
    this.click(new PointerEvent('pointerup', { clientX: left + width / 2, clientY: top + height / 2 }));
  }

  /** Looks again as before the last move. */
  lookBack(): void {
    this.eye.back();
    this.redraw();
  }

  /** Looks at everything that is shown from a standard direction. */
  look(direction: Direction, animated = true): void {
    this.eye.look(direction, this.boxOfShown(), animated);
    this.framed = 'wholly';
    this.redraw();
  }

  /** Looks from somewhere that was kept. */
  lookAs(pose: Pose): void {
    this.eye.put(pose);
    this.framed = 'wholly';
    this.redraw();
  }

  /** Looks straight at a plane, at all that is shown. */
  lookAlong(normal: Point): void {
    this.eye.lookAlong(normal, this.boxOfShown());
    this.framed = 'wholly';
    this.redraw();
  }

  /** Moves near, keeping the direction: to the given rows, or to all that is shown. */
  fit(rows?: ReadonlySet<number>): void {
    this.eye.fit(rows ? this.boxOf((row) => rows.has(row)) : this.boxOfShown());
    this.framed = 'wholly';
    this.redraw();
  }

  /** The left button turns the model about the point that it was pressed at: that stays under the pointer. */
  private turnAboutWhatIsUnder(event: PointerEvent): void {
    if (this.isGrabbed) return;
    const hit = event.button === 0 ? this.hitUnder(event) : null;
    if (hit) this.eye.turnAbout(hit.pick.point);
    else this.eye.settle();
  }

  /** Goes to what is under the pointer, if there is anything. */
  goToUnder(event: MouseEvent): void {
    const hit = this.tool?.takesPointer ? null : this.hitUnder(event);
    if (hit) this.fit(new Set([hit.pick.row]));
  }

  /** A picture of what is shown, as large as somebody wants it: PNG. @param size pixels; as large as it is shown unless it is said */
  async snapshot(size?: readonly [width: number, height: number]): Promise<Blob> {
    const { width, height } = this.canvas;
    const picture = this.painter.snapshot(...(size ?? [width, height]));
    this.painter.restorePixels();
    this.resize();
    return picture;
  }

  get camera(): THREE.Camera {
    return this.eye.camera;
  }

  dispose(): void {
    this.running = false;
    this.loader.dispose();
    this.resizeObserver.disconnect();
    this.eye.dispose();
    this.pointer.dispose();
    for (const body of this.bodies) body.dispose();
    this.labels.dispose();
    this.setTool(null);
    this.shifter.dispose();
    this.surroundings.dispose();
    this.painter.dispose();
  }

  addBody(body: InstancedBody): void {
    this.bodies.push(body);
    this.model.add(body.group);
    body.showEdges(this.edges);
    for (const [row, box] of body.boxesByRow()) this.middles.set(row, box.getCenter(new THREE.Vector3()));
    this.show(body);
    this.tool?.bodiesChanged();
    this.bounds.union(body.bounds());
    this.surroundings.standUnder(this.bounds);
    this.applySection();
    this.redraw();
  }

  private refresh(): void {
    this.isOff = this.displacement.layOut(this.middles, this.bounds.getCenter(new THREE.Vector3()));
    for (const body of this.bodies) this.show(body);
    this.redraw();
  }

  private show(body: InstancedBody): void {
    const { hidden, selected, isSeeThrough, colours, poses } = this;
    const shiftOf = this.isOff ? this.displacement.of : null;
    body.update({ hidden, selected, isSeeThrough, colours, shiftOf, poses });
  }

  private applySection(): void {
    const { section } = this;
    this.surroundings.showShadow(section === null);
    if (!section || this.bounds.isEmpty()) {
      for (const body of this.bodies) body.clip(null);
      this.caps.clear();
      this.redraw();
      return;
    }
    this.plane.set(new THREE.Vector3(...section.normal).negate(), section.at);
    for (const body of this.bodies) body.clip(this.plane);
    this.caps.show(this.bodies, this.bounds);
    this.redraw();
  }

  private boxOfShown(): THREE.Box3 {
    return this.boxOf((row) => !this.hidden.has(row));
  }

  private boxOf(wanted: (row: number) => boolean): THREE.Box3 {
    const box = new THREE.Box3();
    for (const body of this.bodies) box.union(body.bounds(wanted));
    return box;
  }

  private resize(): void {
    const parent = this.canvas.parentElement!;
    const [width, height] = [Math.max(1, parent.clientWidth), Math.max(1, parent.clientHeight)];
    this.painter.renderer.setSize(width, height, false);
    this.eye.resize(width, height);
    // Another size empties the canvas: what is there is drawn at once, so that the model does not blink. Without a
    // graphics card that would take longer than the blink.
    if (this.bodies.length > 0 && !this.painter.isSoftware) this.painter.draw('still');
    this.redraw();
  }

  holdEye(is: boolean): void {
    this.eye.controls.enabled = !is;
  }

  redraw(): void {
    this.needsFrame = true;
  }

  private readonly frame = (time: number): void => {
    if (!this.running) return;
    requestAnimationFrame(this.frame);
    const { isBusy, isSoftware } = this.painter;
    this.canvas.dataset.busy = isBusy || this.needsFrame ? '1' : '0';
    if (isBusy) return;
    this.clock.update(time);
    const moved = this.eye.advance(
      Math.min(LONGEST_STEP[isSoftware ? 'software' : 'card'], this.clock.getDelta()),
    );
    // The picture is the last one already, whether or not it is drawn once more.
    if (this.isMoving && !moved) this.tellSeenFrom();
    this.isMoving = moved;
    this.tellTwins();
    // What was drawn coarsely while it moved is filled in as soon as it rests; in software that is the still picture.
    const fillsIn = this.painter.isCoarse && !moved && !isSoftware;
    if (!moved && !this.needsFrame && !fillsIn) return;
    this.needsFrame = false;
    if (!moved) this.tellSeenFrom();
    this.painter.draw(fillsIn || (!moved && !isSoftware) ? 'still' : 'moving');
    this.layOutLabels();
    this.canvas.dataset.drawCalls = String(this.painter.drawCalls);
    this.canvas.dataset.bodies = String(this.bodies.length);
  };

  private tellSeenFrom(): void {
    const { at, target } = this.eye.pose;
    this.callbacks.onSeenFrom([at[0] - target[0], at[1] - target[1], at[2] - target[2]]);
  }

  /** Whether it moves or is held, or more is on its way. */
  get isUnderWay(): boolean {
    return this.needsFrame || this.isMoving || this.eye.isHeld || this.loader.arriving > 0;
  }

  private layOutLabels(): void {
    const { clientWidth, clientHeight } = this.canvas;
    const anchor = (row: number) => {
      const middle = this.middles.get(row);
      if (!middle || this.hidden.has(row)) return null;
      const shift = this.displacement.of(row);
      return shift ? middle.clone().add(shift) : middle;
    };
    const first = this.hovered === null ? this.selected : new Set([this.hovered, ...this.selected]);
    this.labels.layOut(this.eye.camera, clientWidth, clientHeight, anchor, first);
  }

  rayOf(event: MouseEvent): THREE.Raycaster {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(pointerIn(this.canvas, event), this.eye.camera);
    return ray;
  }

  hitUnder(event: MouseEvent): FaceHit | null {
    return pickFace(
      this.bodies,
      this.rayOf(event),
      (point) => this.section !== null && this.plane.distanceToPoint(point) < 0,
    );
  }

  /** Whether the pointer is on a handle. */
  private get isGrabbed(): boolean {
    return this.shifter.isGrabbed || (this.tool?.isGrabbed ?? false);
  }

  private click(event: PointerEvent): void {
    if (this.isGrabbed) return;
    if (this.tool?.takesPointer) this.tool.click(event);
    else
      this.callbacks.onPick(
        this.hitUnder(event)?.pick ?? null,
        event.ctrlKey || event.metaKey || event.shiftKey,
      );
  }

  private lookUnder(event: PointerEvent): void {
    if (this.tool?.takesPointer) this.tool.move(event);
    else this.hover(this.hitUnder(event)?.pick ?? null);
  }

  /** The body under the pointer is named even where its label found no room. */
  private hover(pick: StagePick | null): void {
    this.callbacks.onHover(pick);
    if (this.hovered === (pick?.row ?? null)) return;
    this.hovered = pick?.row ?? null;
    this.layOutLabels();
  }
}

function cornersOf({ min, max }: THREE.Box3): THREE.Vector3[] {
  return Array.from(
    { length: 8 },
    (_, n) => new THREE.Vector3((n & 1 ? max : min).x, (n & 2 ? max : min).y, (n & 4 ? max : min).z),
  );
}
