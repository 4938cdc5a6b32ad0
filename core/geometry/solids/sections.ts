import type { Manifold } from 'manifold-3d';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { Vector3 } from '#core/product/matrix';
import { isWithin, type Outline } from '#core/product/outline';
import { manifoldLibrary, solidOf } from './manifold';

/** Points across a hole in a section that are looked at, each way. */
const ACROSS = 80;

/** A point in what a section leaves open, and how much of it the point stands for, mm². */
interface Open {
  point: Vector3;
  area: number;
}

/**
 * How much is filled of what outlines hold and nobody reaches, in sections through a point, across x, y and z: 1 where there is nothing hidden
 * but material.
 * @param outside is asked once, where something is open: whether a ball from outside comes to a point
 */
export async function sectionsOf(
  mesh: SolidMesh,
  at: Vector3,
  outside: () => Promise<(point: Vector3) => boolean>,
): Promise<[number, number, number]> {
  const planes = ([0, 1, 2] as const).map((axis) => ({ axis, at: at[axis] }));
  return (await filledIn(mesh, planes, outside)) as [number, number, number];
}

/** The same in sections anywhere. */
export async function filledIn(
  mesh: SolidMesh,
  planes: readonly { axis: 0 | 1 | 2; at: number }[],
  outside: () => Promise<(point: Vector3) => boolean>,
): Promise<number[]> {
  const library = await manifoldLibrary();
  const solid = solidOf(library, mesh);
  if (!solid) return planes.map(() => 0);
  const sections = planes.map(({ axis, at }) => sectionAcross(solid, axis, at));
  solid.delete();
  if (sections.every(({ open }) => open.length === 0)) return planes.map(() => 1);
  const isOutside = await outside();
  return sections.map(({ material, open }) => {
    const hidden = open.reduce((sum, { point, area }) => (isOutside(point) ? sum : sum + area), 0);
    return material === 0 ? 1 : material / (material + hidden);
  });
}

/** The area of a section, mm², and what holes in it leave open. What lies beside all outlines is outside, however narrow. */
function sectionAcross(solid: Manifold, axis: 0 | 1 | 2, height: number): { material: number; open: Open[] } {
  // Turned so that the axis points up: (x, y, z) becomes (y, z, x) and (z, x, y).
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3] as [0 | 1 | 2, 0 | 1 | 2];
  const columns = [0, 1, 2].map((from) => [u, v, axis].map((to) => (to === from ? 1 : 0)));
  const turn = [...columns.flatMap((column) => [...column, 0]), 0, 0, 0, 1];
  const turned = solid.transform(turn as Parameters<Manifold['transform']>[0]);
  const outlines = turned.slice(height).toPolygons();
  turned.delete();
  const sized = outlines.map((outline) => ({ outline, area: areaOf(outline) }));
  const holes = sized.filter(({ area }) => area < 0).sort((a, b) => b.area - a.area);
  const open: Open[] = [];
  for (const [n, { outline }] of holes.entries()) {
    const smaller = holes.slice(0, n).map((hole) => hole.outline);
    const [low, high] = rangeOf(outline);
    const steps = [0, 1].map((k) => (high[k]! - low[k]!) / ACROSS) as [number, number];
    for (let i = 0; i < ACROSS; i++)
      for (let k = 0; k < ACROSS; k++) {
        const [a, b] = [low[0] + steps[0] * (i + 0.5), low[1] + steps[1] * (k + 0.5)];
        if (!isWithin([outline], a, b) || isWithin(outlines, a, b)) continue;
        if (smaller.some((hole) => isWithin([hole], a, b))) continue;
        const point: [number, number, number] = [0, 0, 0];
        [point[u], point[v], point[axis]] = [a, b, height];
        open.push({ point, area: steps[0] * steps[1] });
      }
  }
  return { material: sized.reduce((sum, { area }) => sum + area, 0), open };
}

function areaOf(outline: Outline): number {
  let area = 0;
  for (let n = 0, last = outline.length - 1; n < outline.length; last = n++)
    area += (outline[last]![0]! * outline[n]![1]! - outline[n]![0]! * outline[last]![1]!) / 2;
  return area;
}

function rangeOf(points: Outline): [low: [number, number], high: [number, number]] {
  const along = (n: number, best: (...values: number[]) => number) =>
    points.reduce((value, point) => best(value, point[n]!), best());
  return [
    [along(0, Math.min), along(1, Math.min)],
    [along(0, Math.max), along(1, Math.max)],
  ];
}
