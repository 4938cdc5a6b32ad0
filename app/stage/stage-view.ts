import * as THREE from 'three';
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh';
import type { Point } from '#core/shape/cut';
import { BodyGeometries } from './body-geometries';
import { Displacement } from './displacement';
import { Eye } from './eye';
import { FrameGate } from './frame-gate';
import { InstancedBody } from './instanced-body';
import { pickFace, pointerIn } from './picking';
import { StagePointer } from './pointer';
import { SectionCaps } from './section-caps';
import { Shifter } from './shifter';
import { StageLabels } from './stage-labels';
import type { StageTool, ToolStage } from './stage-tool';
import { drawsInSoftware, Surroundings } from './surroundings';
import type { Direction, SectionPlane, StageFacePick, StageLabel, StagePick, StageScene } from './types';

THREE.Mesh.prototype.raycast = acceleratedRaycast;
THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree;

const NO_SHIFT = new THREE.Vector3();
/** Milliseconds without a change after which a picture is still. */
const STILL_PAUSE = 350;
/** Seconds that a movement goes on in one frame at most; drawn in software, where frames take long, it is over sooner for it. */
const LONGEST_STEP = { card: 0.1, software: 0.5 };
const AXES = { x: new THREE.Vector3(1, 0, 0), y: new THREE.Vector3(0, 1, 0), z: new THREE.Vector3(0, 0, 1) };

export interface StageCallbacks {
  onPick(pick: StagePick | StageFacePick | null): void;
  /** The selected bodies were shifted by hand, mm from where they belong. */
  onShift(by: Point): void;
  onHover(pick: StagePick | null): void;
  /** A name was typed at a label. */
  onName(row: number, name: string): void;
  /** Bodies still to come, and bodies whose shape could not be fetched. */
  onLoading(left: number, failed: number): void;
}

/**
 * The 3D view, in plain three.js. Repeated bodies are drawn as instances: two draw calls for each distinct body (faces
 * and edges), however often it is placed. A frame is drawn only when something changed.
 */
export class StageView implements ToolStage {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly eye: Eye;
  private readonly geometries = new BodyGeometries();
  private readonly model = new THREE.Group();
  private readonly surroundings: Surroundings;
  private readonly clock = new THREE.Timer();
  private readonly resizeObserver: ResizeObserver;
  private readonly plane = new THREE.Plane();
  private readonly caps: SectionCaps;
  private tool: StageTool | null = null;
  bodies: InstancedBody[] = [];
  private bounds = new THREE.Box3();
  private section: SectionPlane | null = null;
  private hidden: ReadonlySet<number> = new Set();
  private selected: ReadonlySet<number> = new Set();
  private edges = true;
  private hovered: number | null = null;
  private readonly displacement = new Displacement();
  private readonly shifter: Shifter;
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
  private loadNumber = 0;
  private running = true;
  /**
   * Drawing without a graphics card: multisampled lines come out wrong there, so edges are smoothed by drawing a still
   * picture at twice the size instead.
   */
  private readonly isSoftware = drawsInSoftware();
  private stillTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly gate: FrameGate | null;
  /** Whether the eye was under way in the last frame. */
  private isMoving = false;
  /** Bodies of the scene that have not arrived. */
  private arriving = 0;

  constructor(
    readonly canvas: HTMLCanvasElement,
    private readonly callbacks: StageCallbacks,
    labelLayer: HTMLElement,
  ) {
    this.labels = new StageLabels(labelLayer, {
      onPick: (row) => callbacks.onPick({ row, name: '' }),
      onName: callbacks.onName,
    });
    this.renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: !this.isSoftware,
      alpha: true,
      stencil: true,
      preserveDrawingBuffer: true,
    });
    this.gate = this.isSoftware ? new FrameGate(this.renderer.getContext() as WebGL2RenderingContext) : null;
    this.renderer.setPixelRatio(this.isSoftware ? 1 : Math.min(2, window.devicePixelRatio));
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.toneMappingExposure = 1.05;
    this.renderer.localClippingEnabled = true;
    this.eye = new Eye(canvas, () => this.redraw());
    this.eye.controls.addEventListener('controlstart', () => {
      this.framed = 'wholly';
    });

    this.surroundings = new Surroundings(this.scene, this.eye.camera, this.renderer, this.isSoftware);
    this.scene.add(this.model);
    this.caps = new SectionCaps(this.plane);
    this.scene.add(this.caps.group);

    this.shifter = new Shifter(this.scene, this.eye.camera, canvas, {
      onDrag: (by) => {
        this.displacement.drag(by);
        this.refresh();
        this.callbacks.onShift(this.shiftOfSelected);
      },
      onDragging: (is) => {
        this.eye.controls.enabled = !is;
        if (!is) this.placeShifter();
      },
      onChange: () => this.redraw(),
    });

    this.pointer = new StagePointer(canvas, {
      onClick: (event) => this.click(event),
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
  async setScene(scene: StageScene, keepView: boolean): Promise<void> {
    const load = ++this.loadNumber;
    // The same model with news in it: what is drawn stays until all of the new is there.
    const inOneStep = keepView && this.bodies.length > 0;
    const arrived: InstancedBody[] = [];
    if (!inOneStep) this.clear();
    const instances = new Map<
      number,
      { row: number; name: string; matrix: THREE.Matrix4; tone?: 'ghost' | 'faint' | 'focus' }[]
    >();
    for (const { row, body, placement, name, tone } of scene.instances) {
      const matrix = new THREE.Matrix4().fromArray(placement as number[]).transpose();
      const list = instances.get(body);
      if (list) list.push({ row, name, matrix, tone });
      else instances.set(body, [{ row, name, matrix, tone }]);
    }
    let left = instances.size;
    let failed = 0;
    if (!keepView) this.framed = 'no';
    this.arriving = left;
    this.callbacks.onLoading(left, 0);
    await Promise.all(
      [...instances].map(async ([number, placed]) => {
        const { url, node, ...appearance } = scene.bodies[number]!;
        const geometry = url === null ? null : await this.geometries.get(url, node);
        if (load !== this.loadNumber) return;
        this.arriving = --left;
        if (!geometry) failed++;
        else if (inOneStep) arrived.push(new InstancedBody(geometry, appearance, placed));
        else this.addBody(new InstancedBody(geometry, appearance, placed));
        if (inOneStep && left === 0) {
          this.clear();
          for (const body of arrived) this.addBody(body);
        }
        if (this.framed !== 'wholly' && left === 0 && !this.bounds.isEmpty()) {
          this.look('corner', false);
          this.framed = failed === 0 ? 'wholly' : 'partly';
        }
        this.callbacks.onLoading(left, failed);
      }),
    );
  }

  private clear(): void {
    for (const body of this.bodies) body.dispose();
    this.bodies = [];
    this.model.clear();
    this.caps.clear();
    this.bounds.makeEmpty();
    this.middles.clear();
    this.redraw();
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

  setSection(section: SectionPlane | null): void {
    this.section = section;
    this.applySection();
  }

  /** The section across an axis that takes away the half nearer to the eye, so that the cut is seen. */
  sectionTowardsEye(axis: SectionPlane['axis']): SectionPlane {
    const centre = this.bounds.getCenter(new THREE.Vector3());
    return { axis, at: 0.5, flipped: this.eye.camera.position[axis] < centre[axis] };
  }

  /** Looks at everything that is shown from a standard direction. */
  look(direction: Direction, animated = true): void {
    this.eye.look(direction, this.boxOfShown(), animated);
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

  get camera(): THREE.Camera {
    return this.eye.camera;
  }

  /** Number of draw calls of the last frame. */
  get drawCalls(): number {
    return this.renderer.info.render.calls;
  }

  get bodyCount(): number {
    return this.bodies.length;
  }

  dispose(): void {
    this.running = false;
    clearTimeout(this.stillTimer);
    this.loadNumber++;
    this.resizeObserver.disconnect();
    this.eye.dispose();
    this.pointer.dispose();
    for (const body of this.bodies) body.dispose();
    this.labels.dispose();
    this.setTool(null);
    this.shifter.dispose();
    this.surroundings.dispose();
    this.geometries.dispose();
    this.renderer.dispose();
  }

  private addBody(body: InstancedBody): void {
    this.bodies.push(body);
    this.model.add(body.faces);
    if (body.lines) this.model.add(body.lines);
    body.showEdges(this.edges);
    for (const row of body.rows)
      this.middles.set(row, body.bounds((other) => other === row).getCenter(new THREE.Vector3()));
    body.update(this.hidden, this.selected);
    this.tool?.bodiesChanged();
    this.bounds.union(body.bounds());
    this.surroundings.standUnder(this.bounds);
    this.applySection();
    this.redraw();
  }

  private refresh(): void {
    const isOff = this.displacement.layOut(this.middles, this.bounds.getCenter(new THREE.Vector3()));
    for (const body of this.bodies)
      body.update(this.hidden, this.selected, isOff ? this.displacement.of : null);
    this.redraw();
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
    const low = this.bounds.min[section.axis];
    const high = this.bounds.max[section.axis];
    const position = low + (high - low) * section.at;
    const normal = AXES[section.axis].clone().multiplyScalar(section.flipped ? 1 : -1);
    this.plane.set(normal, section.flipped ? -position : position);
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
    this.renderer.setSize(width, height, false);
    this.eye.resize(width, height);
    // Another size empties the canvas: what is there is drawn at once, so that the model does not blink. Without a
    // graphics card that would take longer than the blink.
    if (this.bodies.length > 0 && !this.isSoftware) this.draw();
    this.redraw();
  }

  redraw(): void {
    this.needsFrame = true;
  }

  private readonly frame = (time: number): void => {
    if (!this.running) return;
    requestAnimationFrame(this.frame);
    const isBusy = this.gate?.isBusy ?? false;
    this.canvas.dataset.busy = isBusy || this.needsFrame ? '1' : '0';
    if (isBusy) return;
    this.clock.update(time);
    const moved = this.eye.controls.update(
      Math.min(LONGEST_STEP[this.isSoftware ? 'software' : 'card'], this.clock.getDelta()),
    );
    this.isMoving = moved;
    if (!moved && !this.needsFrame) return;
    this.needsFrame = false;
    this.draw();
    this.layOutLabels();
    this.canvas.dataset.drawCalls = String(this.drawCalls);
    this.canvas.dataset.bodies = String(this.bodyCount);
  };

  private draw(): void {
    this.eye.closeIn(this.bounds);
    if (this.isSoftware) {
      this.renderer.setPixelRatio(1);
      this.canvas.dataset.fine = '0';
      clearTimeout(this.stillTimer);
      this.stillTimer = setTimeout(() => this.drawFinely(), STILL_PAUSE);
    }
    this.renderer.render(this.scene, this.eye.camera);
    this.gate?.drawn();
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

  private drawFinely(): void {
    if (!this.running) return;
    // Not while it moves, or more is on its way.
    if (this.gate?.isBusy || this.needsFrame || this.isMoving || this.arriving > 0) {
      this.stillTimer = setTimeout(() => this.drawFinely(), STILL_PAUSE);
      return;
    }
    this.renderer.setPixelRatio(2);
    this.renderer.render(this.scene, this.eye.camera);
    this.gate?.drawn();
    this.canvas.dataset.fine = '1';
  }

  rayOf(event: PointerEvent): THREE.Raycaster {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(pointerIn(this.canvas, event), this.eye.camera);
    return ray;
  }

  private pick(event: PointerEvent): StageFacePick | null {
    return pickFace(
      this.bodies,
      this.rayOf(event),
      (point) => this.section !== null && this.plane.distanceToPoint(point) < 0,
    );
  }

  private click(event: PointerEvent): void {
    if (this.shifter.isGrabbed) return;
    if (this.tool?.takesPointer) this.tool.click(event);
    else this.callbacks.onPick(this.pick(event));
  }

  private lookUnder(event: PointerEvent): void {
    if (this.tool?.takesPointer) this.tool.move(event);
    else this.hover(this.pick(event));
  }

  /** The body under the pointer is named even where its label found no room. */
  private hover(pick: StagePick | null): void {
    this.callbacks.onHover(pick);
    if (this.hovered === (pick?.row ?? null)) return;
    this.hovered = pick?.row ?? null;
    this.layOutLabels();
  }
}
