import type { TopoDS_Shape } from 'replicad-opencascadejs';

/** Edges or vertices that were met, found again by what tells them from most others, and then by identity. */
export class Met<Kind extends TopoDS_Shape> {
  private readonly known = new Map<string, Kind[]>();

  /** Whether one is met for the first time. It is kept, or deleted when it is not. */
  isNew(shape: Kind, key: string): boolean {
    const alike = this.known.get(key);
    if (alike?.some((other) => other.IsSame(shape))) {
      shape.delete();
      return false;
    }
    if (alike) alike.push(shape);
    else this.known.set(key, [shape]);
    return true;
  }

  [Symbol.dispose](): void {
    for (const shapes of this.known.values()) for (const shape of shapes) shape.delete();
  }
}
