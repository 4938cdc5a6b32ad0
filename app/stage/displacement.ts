import * as THREE from 'three';
import type { Point } from '#core/geometry/shape/cut';

/**
 * Where rows are drawn, off where they belong: pulled apart from the middle of the model, and shifted by hand. Nothing
 * but the picture knows of it.
 */
export class Displacement {
  private spread = 0;
  private readonly byHand = new Map<number, THREE.Vector3>();
  /** What rows were shifted by when they were taken hold of. */
  private readonly held = new Map<number, THREE.Vector3>();
  private readonly drawn = new Map<number, THREE.Vector3>();

  /** @param spread 0 leaves all together; 1 doubles each body's distance from the middle */
  pullApart(spread: number): void {
    this.spread = spread;
  }

  /** Shifts rows to so far from where they belong, mm. */
  shift(rows: Iterable<number>, by: Point): void {
    for (const row of rows) this.byHand.set(row, new THREE.Vector3(...by));
  }

  /** Takes hold of rows: what is dragged from now on counts from where they are. */
  hold(rows: Iterable<number>): void {
    this.held.clear();
    for (const row of rows) this.held.set(row, this.byHand.get(row)?.clone() ?? new THREE.Vector3());
  }

  /** Drags what is held, mm from where it was taken hold of. */
  drag(by: THREE.Vector3): void {
    for (const [row, from] of this.held) this.byHand.set(row, from.clone().add(by));
  }

  putBack(): void {
    this.byHand.clear();
  }

  /** How far rows are shifted by hand, mm; the first counts. */
  shiftOf(rows: Iterable<number>): Point {
    for (const row of rows) {
      const by = this.byHand.get(row);
      return by ? [by.x, by.y, by.z] : [0, 0, 0];
    }
    return [0, 0, 0];
  }

  /**
   * Works out where everything is drawn. @param middles of the rows where they belong
   * @returns whether anything is off its place
   */
  layOut(middles: ReadonlyMap<number, THREE.Vector3>, centre: THREE.Vector3): boolean {
    this.drawn.clear();
    if (this.spread > 0)
      for (const [row, middle] of middles)
        this.drawn.set(row, middle.clone().sub(centre).multiplyScalar(this.spread));
    for (const [row, by] of this.byHand) this.drawn.set(row, this.drawn.get(row)?.add(by) ?? by.clone());
    return this.drawn.size > 0;
  }

  /** How far a row is drawn from where it belongs; null where it is in its place. */
  readonly of = (row: number): THREE.Vector3 | null => this.drawn.get(row) ?? null;
}
