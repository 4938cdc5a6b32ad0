import * as THREE from 'three';
import { sidesOf } from '#core/product/box';
import { BodyGeometries, boxGeometry } from './body-geometries';
import { InstancedBody, type PlacedBody } from './instanced-body';
import type { StageScene } from './types';

/** Files that are fetched at once: browsers take no more from one server. */
const FETCHED_AT_ONCE = 6;

/** Where the bodies of a scene go as they arrive. */
export interface LoadingStage {
  addBody(body: InstancedBody): void;
  removeBody(body: InstancedBody): void;
  /** Takes all bodies away. */
  clear(): void;
  /** A box stands for every body: one knows where to look from. */
  standInsAreThere(): void;
  /** Everything has come that can be had; whether that is the whole. */
  hasLoaded(isWhole: boolean): void;
  /** Bodies still to come, and bodies whose shape could not be fetched; what is wrong with them, where that is known. */
  onLoading(left: number, failed: number, trouble: string | null): void;
}

/** Fetches the bodies of a scene, those first that take up most of the picture. */
export class SceneLoader {
  private readonly geometries = new BodyGeometries();
  private loadNumber = 0;
  /** Bodies of the scene that have not arrived. */
  arriving = 0;

  constructor(private readonly stage: LoadingStage) {}

  /**
   * Loads a scene; one that is still being loaded is given up.
   * @param inOneStep what is there stays until all of the new is there; otherwise boxes stand for what has not arrived
   */
  async load(scene: StageScene, inOneStep: boolean): Promise<void> {
    const load = ++this.loadNumber;
    const arrived: InstancedBody[] = [];
    if (!inOneStep) this.stage.clear();
    const instances = placedByBody(scene);
    let left = instances.size;
    let failed = 0;
    let trouble: string | null = null;
    this.arriving = left;
    this.stage.onLoading(left, 0, null);
    const standIns = inOneStep ? new Map<number, InstancedBody>() : this.standIn(scene, instances);
    const fetchOne = async (number: number, placed: PlacedBody[]) => {
      const { url, node, isOlder, mesh, ...appearance } = scene.bodies[number]!;
      const getting = url === null ? null : this.geometries.get(url, node, mesh);
      const geometry = await getting?.catch((error: Error) => {
        trouble = error.message;
        return null;
      });
      if (load !== this.loadNumber) return;
      this.arriving = --left;
      const body =
        geometry &&
        new InstancedBody(geometry, appearance, placed, isOlder || mesh ? null : { url: url!, node });
      if (!body && url !== null) failed++;
      const standIn = standIns.get(number);
      if (standIn) this.stage.removeBody(standIn);
      if (body && inOneStep) arrived.push(body);
      else if (body) this.stage.addBody(body);
      if (inOneStep && left === 0) {
        this.stage.clear();
        for (const each of arrived) this.stage.addBody(each);
      }
      if (left === 0) this.stage.hasLoaded(failed === 0);
      this.stage.onLoading(left, failed, trouble);
    };
    const waiting = [...instances].sort(
      ([a, one], [b, other]) => bulk(scene, b, other) - bulk(scene, a, one),
    );
    const fetchRest = async () => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        await fetchOne(...next);
        if (load !== this.loadNumber) return;
      }
    };
    await Promise.all(Array.from({ length: FETCHED_AT_ONCE }, fetchRest));
  }

  /** Boxes stand for what is being fetched, as far as its size is known; they tell where to look from, too. */
  private standIn(
    scene: StageScene,
    instances: ReadonlyMap<number, PlacedBody[]>,
  ): Map<number, InstancedBody> {
    const made = new Map<number, InstancedBody>();
    for (const [number, placed] of instances) {
      const { url, node: _, box, ...appearance } = scene.bodies[number]!;
      if (url === null || !box) continue;
      const faint = placed.map((instance) => ({ ...instance, tone: instance.tone ?? ('standIn' as const) }));
      made.set(number, new InstancedBody(boxGeometry(box), { colour: appearance.colour }, faint, null));
    }
    for (const body of made.values()) this.stage.addBody(body);
    if (made.size > 0 && made.size === instances.size) this.stage.standInsAreThere();
    return made;
  }

  dispose(): void {
    this.loadNumber++;
    this.geometries.dispose();
  }
}

/** Where each body of a scene is placed. */
function placedByBody({ instances }: StageScene): Map<number, PlacedBody[]> {
  const placed = new Map<number, PlacedBody[]>();
  for (const { row, body, placement, name, tone } of instances) {
    const matrix = new THREE.Matrix4().fromArray(placement as number[]).transpose();
    const list = placed.get(body);
    if (list) list.push({ row, name, matrix, tone });
    else placed.set(body, [{ row, name, matrix, tone }]);
  }
  return placed;
}

/** How much of the picture a body may take up: its box with all its placings. */
function bulk(scene: StageScene, number: number, placed: readonly PlacedBody[]): number {
  const { box } = scene.bodies[number]!;
  if (!box) return 0;
  const [x, y, z] = sidesOf(box);
  return placed.length * (x * x + y * y + z * z);
}
